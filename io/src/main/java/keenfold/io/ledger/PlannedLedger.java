package keenfold.io.ledger;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.data.ValueException;
import keenfold.core.run.Comparison;
import keenfold.core.run.Shard;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.io.InputException;
import keenfold.io.ledger.table.AboutTable;
import keenfold.io.plan.Plan;
import keenfold.io.table.Fingerprint;
import keenfold.io.table.LoadedData;

/**
 * A ledger that is locked and open to take the fits of a plan, which is in force in it.
 *
 * @param file of the ledger
 * @param lock of its one writer
 * @param connection to it
 * @param comparison whose fits it takes
 * @param inForce what the plan changed about it, and which ids things have in it
 */
record PlannedLedger(
        Path file, LedgerLock lock, Connection connection, Comparison comparison, PlanChange.InForce inForce) {
    /** Brings a plan into force in an open ledger. */
    private interface Opening {
        PlanChange.InForce of(Connection connection) throws SQLException;
    }

    /** Opens a ledger that holds what {@code kept} says, or makes it. */
    static PlannedLedger open(
            Path file,
            Plan plan,
            List<LoadedData> data,
            Comparison comparison,
            Results.Kept kept,
            Optional<Shard> shard) {
        return open(file, shard.isPresent(), comparison, connection -> {
            if (LedgerFile.number(connection, "SELECT count(*) FROM plan") == 0) {
                return begun(file, connection, plan, data, comparison, kept, shard);
            }
            requireWhole(connection);
            Head.check(file, connection);
            PlanChange change = new PlanChange(file, connection, Instant.now());
            change.requireShard(shard);
            return change.to(plan, data, comparison);
        });
    }

    /**
     * Opens a ledger to which candidates made elsewhere are added, and data sets; nothing of that is committed yet.
     *
     * @param plan with all candidates and data sets
     * @param known how many candidates are there
     * @param tasks all of them, further ones last
     * @param further the data of those
     */
    static PlannedLedger extended(Path file, Plan plan, int known, List<Task> tasks, List<LoadedData> further) {
        Comparison comparison =
                new Comparison(tasks, plan.candidates(), plan.seed().orElse(0L));
        return open(file, false, comparison, connection -> {
            Head.check(file, connection);
            return new PlanChange(file, connection, Instant.now()).extended(plan, known, tasks, further);
        });
    }

    private static PlannedLedger open(Path file, boolean shared, Comparison comparison, Opening opening) {
        LedgerLock lock = LedgerLock.of(file);
        try {
            Connection connection = LedgerFile.openForWriting(file, shared);
            try {
                connection.setAutoCommit(false);
                PlanChange.InForce inForce = opening.of(connection);
                Head.seal(connection);
                return new PlannedLedger(file, lock, connection, comparison, inForce);
            } catch (SQLException | RuntimeException e) {
                connection.close();
                throw e;
            }
        } catch (SQLException e) {
            lock.close();
            throw LedgerFile.unusable(file, e);
        } catch (ValueException e) {
            lock.close();
            throw new InputException(file.toString(), String.valueOf(e.getMessage()), e);
        } catch (RuntimeException e) {
            lock.close();
            throw e;
        }
    }

    /** Lets go of it without a fit. */
    void close() {
        try {
            connection.close();
        } catch (SQLException e) {
            throw LedgerFile.unusable(file, e);
        } finally {
            lock.close();
        }
    }

    private static PlanChange.InForce begun(
            Path file,
            Connection connection,
            Plan plan,
            List<LoadedData> data,
            Comparison comparison,
            Results.Kept kept,
            Optional<Shard> shard)
            throws SQLException {
        Head.write(connection, plan, data, comparison, Instant.now());
        AboutTable.add(connection, AboutTable.KEPT, kept.name());
        if (shard.isPresent()) {
            AboutTable.add(connection, AboutTable.SHARD, shard.get().toString());
        }
        // Rows that are held back may have been looked at through a ledger beside this one. Shards lie beside many that
        // are
        // being written, and are not trained from.
        for (LoadedData loaded : data) {
            if (loaded.heldBack().isPresent() && shard.isEmpty()) {
                DataSet held = loaded.heldBack().get();
                Openings.takeOver(file, connection, Fingerprint.ofHeldBack(held));
            }
        }
        return new PlanChange.InForce(
                LedgerChange.none(1),
                IntStream.range(0, comparison.tasks().size()).boxed().toList(),
                IntStream.range(0, comparison.candidates().size()).boxed().toList());
    }

    /** Nothing is written to a damaged file: what is sound of it would be lost in what is written over it. */
    private static void requireWhole(Connection connection) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("PRAGMA quick_check(1)")) {
            String said = row.next() ? row.getString(1) : "";
            if (!said.equals("ok")) {
                throw new SQLException("[SQLITE_CORRUPT] " + said);
            }
        }
    }
}

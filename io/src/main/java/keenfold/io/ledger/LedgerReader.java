package keenfold.io.ledger;

import java.io.IOException;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.HalfFit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.io.InputException;
import keenfold.io.Reason;
import keenfold.io.ShellWords;
import keenfold.io.ledger.table.AboutTable;
import keenfold.io.ledger.table.DataSetTable;
import keenfold.io.ledger.table.PlanTable;
import keenfold.io.ledger.table.Stated;
import keenfold.io.ledger.table.StatedTable;
import keenfold.io.ledger.table.StoredFits;
import keenfold.io.plan.Plan;
import keenfold.io.sqlite.WriteAheadLog;

/** Reads ledgers; a writer may be at work meanwhile. */
public final class LedgerReader {
    private final Path file;
    private final Connection connection;

    private LedgerReader(Path file, Connection connection) {
        this.file = file;
        this.connection = connection;
    }

    /**
     * Reads a ledger.
     *
     * @throws InputException if it is none, is of a newer format, or is damaged
     */
    public static LedgerContent read(Path file) {
        try (Connection connection = LedgerFile.openForReading(file)) {
            LedgerReader reader = new LedgerReader(file, connection);
            try {
                return reader.content();
            } catch (IllegalArgumentException e) {
                // Whatever is made of the values of a ledger checks them.
                throw reader.hurt(String.valueOf(e.getMessage()));
            }
        } catch (SQLException e) {
            throw LedgerFile.unreadable(file, e);
        }
    }

    /** Returns what was lost of a ledger without the database saying so, in words; none as a rule. */
    public static List<String> damage(Path file) {
        try {
            return WriteAheadLog.isCutShort(file)
                    ? List.of(file + "-wal, the journal that an interrupted writer left, is damaged in the middle: what"
                            + " was written after that is lost; run does those fits again")
                    : List.of();
        } catch (IOException e) {
            throw new InputException(file.toString(), "cannot be read: " + Reason.ofReading(e), e);
        }
    }

    /** Reads only the plan of a ledger. */
    public static Plan plan(Path file) {
        try (Connection connection = LedgerFile.openForReading(file)) {
            return new LedgerReader(file, connection).plan();
        } catch (SQLException e) {
            throw LedgerFile.unreadable(file, e);
        }
    }

    /** Reads only the fingerprints of a ledger's data sets, in plan order. */
    public static List<String> fingerprints(Path file) {
        try (Connection connection = LedgerFile.openForReading(file)) {
            return DataSetTable.fingerprints(connection);
        } catch (SQLException e) {
            throw LedgerFile.unreadable(file, e);
        }
    }

    /** Reads the data sets of an open ledger, with their splits. */
    static List<Task> tasks(Path file, Connection connection, Plan plan) throws SQLException {
        LedgerReader reader = new LedgerReader(file, connection);
        List<Task> tasks = new ArrayList<>();
        for (int t = 0; t < plan.data().size(); t++) {
            tasks.add(reader.task(t, plan));
        }
        return tasks;
    }

    /**
     * Reads the fits of runs on halves of the rows, of which there may be ten times as many as of the run itself; only one
     * method of testing needs them.
     */
    public static List<HalfFit> halves(Path file) {
        try (Connection connection = LedgerFile.openForReading(file)) {
            LedgerReader reader = new LedgerReader(file, connection);
            try {
                return reader.stored(reader.plan()).ofHalves();
            } catch (IllegalArgumentException e) {
                throw reader.hurt(String.valueOf(e.getMessage()));
            }
        } catch (SQLException e) {
            throw LedgerFile.unreadable(file, e);
        }
    }

    private StoredFits stored(Plan plan) throws SQLException {
        return new StoredFits(connection, plan, tasks(file, connection, plan), kept());
    }

    private LedgerContent content() throws SQLException {
        Plan plan = plan();
        List<Task> tasks = tasks(file, connection, plan);
        List<Candidate> candidates = plan.candidates();
        StoredFits stored = new StoredFits(connection, plan, tasks, kept());
        List<Fit> fits;
        try {
            fits = stored.ofSplits();
        } catch (IllegalArgumentException e) {
            throw hurt(String.valueOf(e.getMessage()));
        }
        int all = fits.size() + stored.countOfHalves();
        int counted = stored.counted();
        if (counted != all) {
            throw hurt(all + " fits are there, and " + counted + " in their index");
        }
        int expected = tasks.stream()
                .mapToInt(t -> t.splits().count() * candidates.size())
                .sum();
        return new LedgerContent(
                plan,
                new Results(tasks, candidates, fits, plan.seed().orElse(0L), List.of(), kept()),
                expected,
                stated(plan),
                damage(file));
    }

    private List<Stated> stated(Plan plan) throws SQLException {
        try {
            return StatedTable.read(connection, plan);
        } catch (IllegalArgumentException e) {
            throw hurt(String.valueOf(e.getMessage()));
        }
    }

    private Results.Kept kept() throws SQLException {
        String text = AboutTable.get(connection, AboutTable.KEPT);
        return text.isEmpty() ? Results.Kept.PROBABILITIES : Results.Kept.valueOf(text);
    }

    private Plan plan() throws SQLException {
        return PlanTable.read(connection, file);
    }

    private Task task(int id, Plan plan) throws SQLException {
        try {
            return DataSetTable.read(connection, id, plan).orElseThrow(() -> damaged("data set " + (id + 1)));
        } catch (IllegalArgumentException e) {
            throw hurt("data set " + (id + 1) + ": " + e.getMessage());
        }
    }

    private InputException damaged(String what) {
        return hurt(what + " does not agree with its checksum");
    }

    private InputException hurt(String how) {
        return new InputException(
                file.toString(),
                "the ledger is damaged: " + how + "; keenfold merge "
                        + ShellWords.quoted(file.toString())
                        + " -o NEW.kfl rescues what is sound, and run does the rest");
    }
}

package keenfold.io.ledger;

import java.io.IOException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.DataSet;
import keenfold.io.InputException;
import keenfold.io.ledger.table.DataSetTable;
import keenfold.io.ledger.table.Event;
import keenfold.io.ledger.table.HistoryTable;
import keenfold.io.ledger.table.Opening;
import keenfold.io.ledger.table.OpeningTable;
import keenfold.io.sqlite.SqliteFile;
import keenfold.io.table.Fingerprint;

/**
 * When rows that were held back were looked at, and by which candidate. A ledger remembers it of the rows, not of itself: what
 * the ledgers beside it remember of the same rows is taken over.
 */
public final class Openings {
    private Openings() {}

    /** Returns the openings of the held-back rows of a data set that a ledger knows of, the first one first. */
    public static List<Opening> of(Path ledger, String dataset) {
        try (Connection connection = LedgerFile.openForReading(ledger)) {
            return known(connection, dataset);
        } catch (SQLException e) {
            throw LedgerFile.unreadable(ledger, e);
        }
    }

    private static List<Opening> known(Connection connection, String dataset) throws SQLException {
        Optional<String> rows = DataSetTable.heldBack(connection, dataset);
        return OpeningTable.read(connection).stream()
                .filter(o -> o.heldBack().isPresent()
                        ? o.heldBack().equals(rows)
                        : o.dataset().equals(dataset))
                .toList();
    }

    /**
     * Writes down that held-back rows are opened, before they are looked at, so that no look is forgotten.
     *
     * @param held the rows
     * @param now the time
     * @return all openings of these rows that are known of, this one last
     * @throws keenfold.io.InputException if the ledger cannot be written, or another program writes to it
     */
    public static List<Opening> add(Path ledger, String dataset, DataSet held, String candidate, Instant now) {
        try (WritableLedger open = WritableLedger.of(ledger)) {
            Connection connection = open.connection();
            String rows = Fingerprint.ofHeldBack(held);
            DataSetTable.setHeldBack(connection, dataset, rows);
            takeOver(ledger, connection, rows);
            // To the millisecond, by which one look is told from the next wherever it is written down.
            String at = now.truncatedTo(ChronoUnit.MILLIS).toString();
            Opening opening = new Opening(at, dataset, Optional.of(rows), candidate, Optional.empty());
            OpeningTable.add(connection, opening);
            List<Opening> all = known(connection, dataset);
            HistoryTable.add(
                    connection,
                    Event.of(now, Event.HOLDOUT, dataset, "by " + candidate + "; seen " + times(all.size())));
            open.commit();
            return all;
        } catch (SQLException e) {
            throw LedgerFile.unusable(ledger, e);
        }
    }

    /** Says how often in words. */
    public static String times(int count) {
        return count == 1 ? "once" : count == 2 ? "twice" : count + " times";
    }

    /** Writes into a ledger what the ledgers beside it remember of rows that it holds back. */
    static void takeOver(Path ledger, Connection connection, String rows) throws SQLException {
        Path folder = Optional.ofNullable(ledger.toAbsolutePath().getParent()).orElse(Path.of(""));
        List<Path> beside = new ArrayList<>();
        try (DirectoryStream<Path> files = Files.newDirectoryStream(folder, "*.kfl")) {
            files.forEach(beside::add);
        } catch (IOException e) {
            // A folder that cannot be listed shows no other ledgers.
            return;
        }
        beside.sort(null);
        for (Path other : beside) {
            if (!other.getFileName().equals(ledger.getFileName())) {
                OpeningTable.join(connection, ofOther(other, rows), String.valueOf(other.getFileName()));
            }
        }
    }

    /** Openings of the same rows through another ledger; none if it cannot be read. */
    private static List<Opening> ofOther(Path other, String rows) {
        if (!Files.isRegularFile(other)) {
            return List.of();
        }
        try (Connection connection = SqliteFile.open(other, SqliteFile.Access.READ)) {
            // One that is being written is not waited for.
            LedgerFile.run(connection, "PRAGMA busy_timeout = 0");
            LedgerFile.check(other, connection);
            return OpeningTable.read(connection).stream()
                    .filter(o -> o.heldBack().equals(Optional.of(rows)))
                    .toList();
        } catch (SQLException | InputException e) {
            // It may be written just now, or be damaged, which is said where it is read itself.
            return List.of();
        }
    }
}

package keenfold.io.ledger;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;

/** When the holdout of a data set was opened, and by which candidate: a ledger remembers it. */
public final class Openings {
    /**
     * One opening.
     *
     * @param at when, in UTC, as ISO 8601
     * @param candidate by which
     */
    public record Opening(String at, String candidate) {}

    private Openings() {}

    /** Returns the openings of a data set so far, the first one first. */
    public static List<Opening> of(Path ledger, String dataset) {
        try (Connection connection = LedgerFile.openForReading(ledger)) {
            return read(connection, dataset);
        } catch (SQLException e) {
            throw LedgerFile.unreadable(ledger, e);
        }
    }

    private static List<Opening> read(Connection connection, String dataset) throws SQLException {
        List<Opening> openings = new ArrayList<>();
        try (PreparedStatement query = connection.prepareStatement("SELECT o.opened_at, o.candidate FROM opening o"
                + " JOIN dataset d ON d.id = o.dataset WHERE d.name = ? ORDER BY o.id")) {
            query.setString(1, dataset);
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    openings.add(new Opening(row.getString(1), row.getString(2)));
                }
            }
        }
        return openings;
    }

    /**
     * Writes down that a holdout is opened, before it is looked at, so that no look is forgotten.
     *
     * @param now the time
     * @return all openings, this one last
     * @throws keenfold.io.InputException if the ledger cannot be written, or another program writes to it
     */
    public static List<Opening> add(Path ledger, String dataset, String candidate, Instant now) {
        // So that a ledger that is not there is no new one.
        of(ledger, dataset);
        LedgerLock lock = LedgerLock.of(ledger);
        try (Connection connection = LedgerFile.openForWriting(ledger)) {
            LedgerFile.run(connection, "PRAGMA synchronous=FULL");
            connection.setAutoCommit(false);
            Head.check(ledger, connection);
            try (PreparedStatement insert = connection.prepareStatement("INSERT INTO opening (opened_at, dataset,"
                    + " candidate) SELECT ?, id, ? FROM dataset WHERE name = ?")) {
                insert.setString(1, now.truncatedTo(ChronoUnit.SECONDS).toString());
                insert.setString(2, candidate);
                insert.setString(3, dataset);
                insert.executeUpdate();
            }
            Head.seal(connection);
            connection.commit();
            connection.setAutoCommit(true);
            LedgerFile.run(connection, "PRAGMA journal_mode=DELETE");
            return read(connection, dataset);
        } catch (SQLException e) {
            throw LedgerFile.unusable(ledger, e);
        } finally {
            lock.close();
        }
    }
}

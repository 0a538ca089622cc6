package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** The table {@code opening}: when rows that were held back were looked at, here or through a ledger beside this one. */
public final class OpeningTable {
    private OpeningTable() {}

    /** Reads all openings, the first one first. */
    public static List<Opening> read(Connection connection) throws SQLException {
        List<Opening> openings = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(
                        "SELECT at, dataset, held_back_fingerprint, candidate, ledger FROM opening ORDER BY at, id")) {
            while (row.next()) {
                openings.add(new Opening(
                        row.getString(1),
                        row.getString(2),
                        Optional.ofNullable(row.getString(3)),
                        row.getString(4),
                        Optional.ofNullable(row.getString(5))));
            }
        }
        return openings;
    }

    /** Writes an opening down. */
    public static void add(Connection connection, Opening opening) throws SQLException {
        Rows.write(
                connection,
                "INSERT INTO opening (at, dataset, held_back_fingerprint, candidate, ledger) VALUES (?, ?, ?, ?, ?)",
                opening.at(),
                opening.dataset(),
                opening.heldBack().orElse(null),
                opening.candidate(),
                opening.ledger().orElse(null));
    }

    /** Writes those openings down that are not there yet, as seen through another ledger. */
    public static void join(Connection connection, List<Opening> others, String ledger) throws SQLException {
        List<Opening> own = read(connection);
        for (Opening other : others) {
            if (own.stream().noneMatch(other::same)) {
                Opening seen = new Opening(
                        other.at(),
                        other.dataset(),
                        other.heldBack(),
                        other.candidate(),
                        Optional.of(other.ledger().orElse(ledger)));
                add(connection, seen);
                own.add(seen);
            }
        }
    }
}

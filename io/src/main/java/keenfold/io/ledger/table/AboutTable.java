package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;

/** The table {@code about}: facts about the file, by key. */
public final class AboutTable {
    /** Whether fits are scored on their training rows too. */
    public static final String TRAIN_SCORES = "train scores";

    /** What of the predictions is there. */
    public static final String KEPT = "kept";

    /** Which share of a comparison is there, if it is one. */
    public static final String SHARD = "shard";

    private AboutTable() {}

    /** Returns a fact, empty if it is not there. */
    public static String get(Connection connection, String key) throws SQLException {
        try (PreparedStatement query = connection.prepareStatement("SELECT value FROM about WHERE key = ?")) {
            query.setString(1, key);
            try (ResultSet row = query.executeQuery()) {
                return row.next() ? row.getString(1) : "";
            }
        }
    }

    /** Writes a fact that is not there yet. */
    public static void add(Connection connection, String key, String value) throws SQLException {
        Rows.write(connection, "INSERT INTO about VALUES (?, ?)", key, value);
    }

    /** Writes a fact, in the place of what was there. */
    public static void put(Connection connection, String key, String value) throws SQLException {
        Rows.write(connection, "INSERT OR REPLACE INTO about VALUES (?, ?)", key, value);
    }

    /** Takes a fact away. */
    public static void remove(Connection connection, String key) throws SQLException {
        Rows.write(connection, "DELETE FROM about WHERE key = ?", key);
    }
}

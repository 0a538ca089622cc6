package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;

/** Writes single rows. */
final class Rows {
    private Rows() {}

    static void write(Connection connection, String command, Object... values) throws SQLException {
        try (PreparedStatement row = connection.prepareStatement(command)) {
            set(row, values);
            row.executeUpdate();
        }
    }

    static void set(PreparedStatement row, Object... values) throws SQLException {
        for (int i = 0; i < values.length; i++) {
            row.setObject(i + 1, values[i]);
        }
    }
}

package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;

/** Writes single rows, and reads single numbers. */
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

    static int number(Connection connection, String query) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet result = statement.executeQuery(query)) {
            return result.next() ? result.getInt(1) : 0;
        }
    }
}

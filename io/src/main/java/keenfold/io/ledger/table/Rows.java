package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.OptionalInt;
import org.jspecify.annotations.Nullable;

/** Writes single rows, and reads single numbers. */
final class Rows {
    private Rows() {}

    static void write(Connection connection, String command, @Nullable Object... values) throws SQLException {
        try (PreparedStatement row = connection.prepareStatement(command)) {
            set(row, values);
            row.executeUpdate();
        }
    }

    static void set(PreparedStatement row, @Nullable Object... values) throws SQLException {
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

    /** A place in the plan, of a column that may hold none. */
    static OptionalInt place(ResultSet row, int column) throws SQLException {
        int place = row.getInt(column);
        return row.wasNull() ? OptionalInt.empty() : OptionalInt.of(place);
    }

    static @Nullable Integer orNull(OptionalInt place) {
        return place.isPresent() ? place.getAsInt() : null;
    }
}

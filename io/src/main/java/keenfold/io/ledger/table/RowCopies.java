package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Collections;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Copies rows of one database into a table of another. */
public final class RowCopies {
    private RowCopies() {}

    /**
     * Copies what a query gives.
     *
     * @param query that gives as many columns as the table has
     * @param changed values that stand in the place of those read, by the number of their column, from 1; negative for null
     */
    public static void copy(Connection from, String query, Connection into, String table, Map<Integer, Integer> changed)
            throws SQLException {
        try (Statement statement = from.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            int columns = row.getMetaData().getColumnCount();
            String marks = String.join(", ", Collections.nCopies(columns, "?"));
            try (PreparedStatement write = into.prepareStatement("INSERT INTO " + table + " VALUES (" + marks + ")")) {
                while (row.next()) {
                    for (int c = 1; c <= columns; c++) {
                        write.setObject(c, value(row, c, changed));
                    }
                    write.executeUpdate();
                }
            }
        }
    }

    private static @Nullable Object value(ResultSet row, int column, Map<Integer, Integer> changed)
            throws SQLException {
        Integer other = changed.get(column);
        if (other == null) {
            return row.getObject(column);
        }
        return other < 0 ? null : other;
    }
}

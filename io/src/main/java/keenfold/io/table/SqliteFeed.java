package keenfold.io.table;

import java.io.IOException;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import keenfold.core.data.Decimals;
import keenfold.core.data.Suggestion;
import keenfold.io.InputException;
import keenfold.io.Reason;
import keenfold.io.sqlite.SqliteFile;

/** A table, a view or the result of a query of an SQLite file, which is only read. */
final class SqliteFeed implements TableFeed {
    private final Path file;
    private final String shown;
    private final Optional<String> part;

    SqliteFeed(Path file, String shown, Optional<String> part) {
        this.file = file;
        this.shown = shown;
        this.part = part;
    }

    @Override
    public void feed(TableSink intake) {
        try (Connection connection = SqliteFile.open(file, SqliteFile.Access.READ)) {
            SqliteFile.limitSteps(connection, SqliteFile.stepLimit(file));
            feed(connection, intake);
        } catch (SQLException e) {
            if (SqliteFile.interrupted(e)) {
                throw new InputException(
                        shown,
                        "the query or view does far more work than a file of this size holds data, and may have no end;"
                                + " store what it gives in a table (CREATE TABLE ... AS SELECT ...) and name that one",
                        e);
            }
            throw new InputException(shown, "the database cannot be read: " + e.getMessage(), e);
        } catch (IOException e) {
            throw new InputException(shown, "the database cannot be read: " + Reason.ofReading(e), e);
        }
    }

    private void feed(Connection connection, TableSink intake) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet rows = statement.executeQuery(query(connection))) {
            ResultSetMetaData about = rows.getMetaData();
            List<String> names = new ArrayList<>();
            for (int c = 1; c <= about.getColumnCount(); c++) {
                names.add(about.getColumnLabel(c));
            }
            intake.header(names, "");
            long row = 0;
            while (rows.next()) {
                row++;
                for (int c = 0; c < names.size(); c++) {
                    value(rows.getObject(c + 1), c, names.get(c), row, intake);
                }
            }
        }
    }

    private void value(
            @org.jspecify.annotations.Nullable Object value, int column, String name, long row, TableSink intake) {
        if (value == null) {
            intake.missing(column);
        } else if (value instanceof Double number) {
            // The driver's own text of a number keeps fifteen digits only.
            intake.value(column, number.isInfinite() ? number.toString() : Decimals.exact(number), row);
        } else if (value instanceof byte[]) {
            throw new InputException(
                    shown + ", row " + row + ", column \"" + name + "\"",
                    "holds bytes (a BLOB); expected numbers or text, so leave the column out of a query: "
                            + "FILE#SELECT ... FROM ...");
        } else {
            intake.value(column, value.toString(), row);
        }
    }

    private String query(Connection connection) throws SQLException {
        List<String> tables = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet names =
                        statement.executeQuery("SELECT name FROM sqlite_master WHERE type IN ('table', 'view')"
                                + " AND name NOT LIKE 'sqlite_%' ORDER BY name")) {
            while (names.next()) {
                tables.add(names.getString(1));
            }
        }
        if (part.isPresent() && part.get().toLowerCase(Locale.ROOT).matches("(select|with)\\s.*")) {
            return part.get();
        }
        if (part.isEmpty() && tables.size() != 1) {
            if (tables.contains("fold_scores") && tables.contains("plan")) {
                throw new InputException(
                        shown, "is a ledger, not a table of rows: scores, contrast and pick read what it holds");
            }
            throw new InputException(
                    shown,
                    "a database of " + tables.size() + " tables; say which one: FILE#TABLE, TABLE one of "
                            + String.join(", ", tables));
        }
        String table = part.orElseGet(() -> tables.get(0));
        if (!tables.contains(table)) {
            throw new InputException(shown, "there is no table \"" + table + "\"" + Suggestion.hint(table, tables));
        }
        return "SELECT * FROM \"" + table.replace("\"", "\"\"") + "\"";
    }
}

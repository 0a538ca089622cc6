package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;

/** The table {@code history}: what happened to a ledger, and what was noted, by time. */
public final class HistoryTable {
    private HistoryTable() {}

    /** Reads all events, the first one first. */
    public static List<Event> read(Connection connection) throws SQLException {
        List<Event> events = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery("SELECT at, event, subject, details FROM history ORDER BY at, id")) {
            while (row.next()) {
                events.add(new Event(row.getString(1), row.getString(2), row.getString(3), row.getString(4)));
            }
        }
        return events;
    }

    /** Writes an event down, after all others. */
    public static void add(Connection connection, Event event) throws SQLException {
        Rows.write(
                connection,
                "INSERT INTO history (at, event, subject, details) VALUES (?, ?, ?, ?)",
                event.at(),
                event.event(),
                event.subject(),
                event.details());
    }
}

package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import keenfold.io.InputException;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.plan.PlanWriter;

/**
 * What a plan said of evidence and pick before the first fit, and each later change: in the table {@code about}, under the
 * keys {@code stated 0001}, {@code stated 0002} and so on. A value is a time, a number of fits, and the two sections as a plan has them,
 * each in a line of its own.
 */
public final class StatedTable {
    /** What the keys begin with. */
    public static final String KEY = "stated ";

    private StatedTable() {}

    /** Writes down what the plan of a new ledger says, or of one that has no fit yet. */
    public static void begin(Connection connection, Plan plan, Instant now) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute("DELETE FROM about WHERE key LIKE '" + KEY + "%'");
        }
        add(connection, time(now), 0, PlanWriter.stated(plan));
    }

    /**
     * Writes down a change, if there is one.
     *
     * @param before the plan that the ledger had
     * @param now the plan that it is given
     */
    public static void change(Connection connection, Plan before, Plan now, int fits, Instant time)
            throws SQLException {
        if (fits == 0) {
            begin(connection, now, time);
            return;
        }
        List<String> there = values(connection);
        if (there.isEmpty()) {
            // A ledger from before this was written down: what it says is all that is known.
            add(connection, "", 0, PlanWriter.stated(before));
            there = values(connection);
        }
        String sections = PlanWriter.stated(now);
        if (!there.get(there.size() - 1).endsWith("\n" + sections)) {
            add(connection, time(time), fits, sections);
        }
    }

    private static String time(Instant now) {
        return now.truncatedTo(ChronoUnit.SECONDS).toString();
    }

    private static void add(Connection connection, String at, int fits, String sections) throws SQLException {
        int number = values(connection).size() + 1;
        AboutTable.add(
                connection,
                String.format(java.util.Locale.ROOT, "%s%04d", KEY, number),
                at + "\n" + fits + "\n" + sections);
    }

    /** Adds what another ledger has, of a part of the same fits, and this one has not. */
    public static void join(Connection connection, Connection other) throws SQLException {
        for (String value : values(other)) {
            String[] lines = value.split("\n", 3);
            boolean known = values(connection).stream()
                    .anyMatch(v -> v.split("\n", 3)[2].equals(lines[2])
                            && (v.split("\n", 3)[1].equals("0") == lines[1].equals("0")));
            if (!known) {
                add(connection, lines[0], Integer.parseInt(lines[1]), lines[2]);
            }
        }
    }

    private static List<String> values(Connection connection) throws SQLException {
        List<String> values = new ArrayList<>();
        try (PreparedStatement query =
                connection.prepareStatement("SELECT value FROM about WHERE key LIKE ? ORDER BY key")) {
            query.setString(1, KEY + "%");
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    values.add(row.getString(1));
                }
            }
        }
        return values;
    }

    /**
     * Reads what was stated, in order; nothing of a ledger from before this was written down.
     *
     * @param plan of the ledger
     * @throws IllegalArgumentException if it cannot be read
     */
    public static List<Stated> read(Connection connection, Plan plan) throws SQLException {
        List<Stated> all = new ArrayList<>();
        for (String value : values(connection)) {
            String[] lines = value.split("\n", 3);
            if (lines.length < 3) {
                throw new IllegalArgumentException("what was stated beforehand cannot be read");
            }
            try {
                Plan then = PlanReader.parse("what was stated", PlanWriter.withStated(plan, lines[2]));
                all.add(new Stated(lines[0], Integer.parseInt(lines[1]), then.evidence(), then.choosing()));
            } catch (InputException e) {
                throw new IllegalArgumentException("what was stated beforehand cannot be read: " + e.getMessage(), e);
            }
        }
        return all;
    }
}

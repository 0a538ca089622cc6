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
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import keenfold.core.data.Checks;
import keenfold.io.InputException;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.plan.PlanWriter;

/**
 * What a plan said of evidence and pick before the first fit, and each later change: in the table {@code about}, under the
 * keys {@code stated 0001}, {@code stated 0002} and so on. A value is a time, a number of fits, and the two sections as a plan
 * has them, each in a line of its own.
 */
public final class StatedTable {
    /** What the keys begin with. */
    public static final String KEY = "stated ";

    /** Of more changes the last takes the place of the one before it. */
    private static final int MOST = 1000;

    /** A time, a number of fits, the sections. */
    private static final Pattern VALUE = Pattern.compile("(?s)([^\n]*)\n(\\d{1,9})\n(.*)");

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
            put(connection, Math.min(there.size() + 1, MOST), time(time), fits, sections);
        }
    }

    private static String time(Instant now) {
        return now.truncatedTo(ChronoUnit.SECONDS).toString();
    }

    private static void add(Connection connection, String at, int fits, String sections) throws SQLException {
        put(connection, values(connection).size() + 1, at, fits, sections);
    }

    private static void put(Connection connection, int number, String at, int fits, String sections)
            throws SQLException {
        AboutTable.put(
                connection,
                String.format(java.util.Locale.ROOT, "%s%04d", KEY, number),
                at + "\n" + fits + "\n" + sections);
    }

    /**
     * Adds what another ledger has, of a part of the same fits, and this one has not.
     *
     * @throws IllegalArgumentException if what the other has cannot be read
     */
    public static void join(Connection connection, Connection other) throws SQLException {
        List<String> own = values(connection);
        for (String value : values(other)) {
            Matcher entry = entry(value);
            boolean known = own.stream().map(StatedTable::entry).anyMatch(o -> alike(o, entry));
            if (!known && own.size() < MOST) {
                add(connection, entry.group(1), Integer.parseInt(entry.group(2)), entry.group(3));
                own.add(value);
            }
        }
    }

    /** Whether two say the same, both before the first fit or both after it. */
    private static boolean alike(Matcher one, Matcher other) {
        return one.group(3).equals(other.group(3))
                && (Integer.parseInt(one.group(2)) == 0) == (Integer.parseInt(other.group(2)) == 0);
    }

    private static Matcher entry(String value) {
        Matcher entry = VALUE.matcher(value);
        Checks.that(entry.matches(), "what was stated beforehand cannot be read");
        return entry;
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
        Checks.that(values.size() <= MOST, "evidence and pick are stated %d times", values.size());
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
            Matcher entry = entry(value);
            try {
                Plan then = PlanReader.parse("what was stated", PlanWriter.withStated(plan, entry.group(3)));
                all.add(new Stated(entry.group(1), Integer.parseInt(entry.group(2)), then.evidence(), then.choosing()));
            } catch (InputException e) {
                throw new IllegalArgumentException("what was stated beforehand cannot be read: " + e.getMessage(), e);
            }
        }
        return all;
    }
}

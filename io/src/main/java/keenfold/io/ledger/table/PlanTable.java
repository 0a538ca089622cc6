package keenfold.io.ledger.table;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Checks;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.plan.PlanWriter;

/** The table {@code plan}: each plan that the ledger was filled by, the last one in force. */
public final class PlanTable {
    /** No ledger has more versions: a number that somebody wrote into a file must not decide how much is read. */
    private static final int MOST = 10_000;

    private PlanTable() {}

    /** Reads all versions, the one in force last. */
    public static List<PlanVersion> versions(Connection connection) throws SQLException {
        List<PlanVersion> versions = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("SELECT id, at, program, fits, yaml FROM plan ORDER BY id")) {
            while (row.next()) {
                versions.add(new PlanVersion(
                        row.getInt(1), row.getString(2), row.getString(3), row.getInt(4), row.getString(5)));
                Checks.that(versions.size() <= MOST, "it has more than %d versions of its plan", MOST);
            }
        }
        return versions;
    }

    /** Returns the version in force. */
    public static PlanVersion last(Connection connection) throws SQLException {
        List<PlanVersion> versions = versions(connection);
        Checks.that(!versions.isEmpty(), "it has no plan");
        return versions.get(versions.size() - 1);
    }

    /**
     * Reads the plan in force.
     *
     * @param file of the ledger, for messages
     * @throws keenfold.io.InputException if it is not a plan
     */
    public static Plan read(Connection connection, Path file) throws SQLException {
        return last(connection).plan(file);
    }

    /**
     * Writes a plan that comes into force. The first one makes way for it as long as no fit was made: it decided nothing.
     *
     * @param fits how many fits the ledger has
     * @return its number
     */
    public static int add(Connection connection, Plan plan, int fits, String at, String program) throws SQLException {
        List<PlanVersion> versions = versions(connection);
        boolean replaces = fits == 0 && versions.size() < 2;
        Checks.that(versions.size() < MOST, "it has %d versions of its plan, and takes no more", MOST);
        if (replaces) {
            Rows.write(connection, "DELETE FROM plan");
        }
        int number = replaces ? 1 : versions.get(versions.size() - 1).number() + 1;
        write(connection, new PlanVersion(number, at, program, fits, PlanWriter.write(plan)));
        return number;
    }

    /** Writes a version. */
    public static void write(Connection connection, PlanVersion version) throws SQLException {
        Rows.write(
                connection,
                "INSERT INTO plan VALUES (?, ?, ?, ?, ?)",
                version.number(),
                version.at(),
                version.program(),
                version.fits(),
                version.yaml());
    }

    /**
     * Returns what was stated of evidence and pick, in order.
     *
     * @throws keenfold.io.InputException if a version is not a plan
     */
    public static List<Stated> stated(Connection connection, Path file) throws SQLException {
        List<Stated> all = new ArrayList<>();
        String before = "";
        for (PlanVersion version : versions(connection)) {
            String sections = version.stated();
            // Each ledger that was joined into this one has a first version of its own.
            if (version.fits() == 0 || !sections.equals(before)) {
                PlanReader.Statement said = PlanReader.statement(file + " (plan)", version.yaml());
                all.add(new Stated(version.at(), version.fits(), said.evidence(), said.choosing()));
            }
            before = sections;
        }
        return all;
    }
}

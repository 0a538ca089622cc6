package keenfold.io.ledger.table;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import keenfold.io.InputException;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.plan.PlanWriter;

/** The table {@code plan}: one row, the plan as {@link PlanWriter} writes it. */
public final class PlanTable {
    private PlanTable() {}

    /**
     * Reads the plan.
     *
     * @param file of the ledger, for messages
     * @throws InputException if it is not a plan
     */
    public static Plan read(Connection connection, Path file) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("SELECT yaml FROM plan")) {
            return PlanReader.parse(file + " (plan)", row.next() ? row.getString(1) : "");
        }
    }

    /** Writes the plan of a new ledger. */
    public static void add(Connection connection, Plan plan) throws SQLException {
        Rows.write(connection, "INSERT INTO plan VALUES (1, ?)", PlanWriter.write(plan));
    }

    /** Writes another plan in its place. */
    public static void put(Connection connection, Plan plan) throws SQLException {
        Rows.write(connection, "UPDATE plan SET yaml = ?", PlanWriter.write(plan));
    }
}

package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.stream.Collectors;
import keenfold.core.run.candidate.Candidate;

/**
 * The table {@code candidate}: whose fits the ledger holds. What a candidate is stands in a version of the plan; its settings
 * stand here for readers of the file.
 */
public final class CandidateTable {
    /**
     * A candidate of a ledger.
     *
     * @param id of its row, by which fits name it
     * @param place where it stands in the plan in force, from 0; none if it is not in it any more
     * @param plan the version of the plan that says what it is
     * @param named what it is called there
     * @param name what it is called now
     * @param program SHA-256 of the files that it runs, if it runs any
     */
    public record Row(int id, OptionalInt place, int plan, String named, String name, Optional<String> program) {}

    private CandidateTable() {}

    /** Reads all candidates, by id. */
    public static List<Row> read(Connection connection) throws SQLException {
        List<Row> rows = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(
                        "SELECT id, place, plan, named, name, program FROM candidate ORDER BY id")) {
            while (row.next()) {
                rows.add(new Row(
                        row.getInt(1),
                        Rows.place(row, 2),
                        row.getInt(3),
                        row.getString(4),
                        row.getString(5),
                        Optional.ofNullable(row.getString(6))));
            }
        }
        return rows;
    }

    /** Writes a candidate; {@code as} is its definition. */
    public static void add(Connection connection, Row row, Candidate as) throws SQLException {
        Rows.write(
                connection,
                "INSERT INTO candidate VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
                row.id(),
                Rows.orNull(row.place()),
                row.plan(),
                row.named(),
                row.name(),
                as.family(),
                as.kind().name(),
                as.recipe().inForce(as.settings()).values().entrySet().stream()
                        .map(e -> e.getKey() + "=" + e.getValue())
                        .collect(Collectors.joining(" ")),
                String.join(", ", as.stepTexts()),
                row.program().orElse(null));
    }

    /** Says where candidates stand in a new plan: each one's id, at its place; all others are not in it. */
    public static void place(Connection connection, int plan, List<Candidate> candidates, List<Integer> ids)
            throws SQLException {
        Rows.write(connection, "UPDATE candidate SET place = NULL");
        for (int c = 0; c < ids.size(); c++) {
            Candidate candidate = candidates.get(c);
            Rows.write(
                    connection,
                    "UPDATE candidate SET place = ?, plan = ?, named = ?, name = ?, family = ? WHERE id = ?",
                    c,
                    plan,
                    candidate.name(),
                    candidate.name(),
                    candidate.family(),
                    ids.get(c));
        }
    }

    /** Calls a candidate that is not in the plan otherwise. */
    public static void rename(Connection connection, int id, String name, String family) throws SQLException {
        Rows.write(connection, "UPDATE candidate SET name = ?, family = ? WHERE id = ?", name, family, id);
    }

    /** Takes a candidate away, its fits included. */
    public static void remove(Connection connection, int id) throws SQLException {
        FitTable.removeOf(connection, "candidate", id);
        Rows.write(connection, "DELETE FROM candidate WHERE id = ?", id);
    }
}

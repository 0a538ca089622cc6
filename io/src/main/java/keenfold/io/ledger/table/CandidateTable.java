package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.stream.Collectors;
import keenfold.core.run.candidate.Candidate;

/** The table {@code candidate}: what is compared, for readers of the file; Keen Fold itself reads the plan. */
public final class CandidateTable {
    private CandidateTable() {}

    /** Writes a candidate. */
    public static void add(Connection connection, int id, Candidate candidate) throws SQLException {
        Rows.write(
                connection,
                "INSERT INTO candidate VALUES (?, ?, ?, ?, ?, ?)",
                id,
                candidate.name(),
                candidate.family(),
                candidate.kind().name(),
                candidate.settings().values().entrySet().stream()
                        .map(e -> e.getKey() + "=" + e.getValue())
                        .collect(Collectors.joining(" ")),
                String.join(", ", candidate.stepTexts()));
    }
}

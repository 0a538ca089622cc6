package keenfold.io.ledger;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import keenfold.core.data.Plural;
import keenfold.core.run.Comparison;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Task;
import keenfold.io.InputException;
import keenfold.io.command.CommandKind;
import keenfold.io.ledger.table.AboutTable;
import keenfold.io.ledger.table.CandidateTable;
import keenfold.io.ledger.table.Checksum;
import keenfold.io.ledger.table.DataSetTable;
import keenfold.io.ledger.table.Event;
import keenfold.io.ledger.table.HistoryTable;
import keenfold.io.ledger.table.PlanTable;
import keenfold.io.plan.Plan;
import keenfold.io.table.LoadedData;

/** All that a ledger holds beside its fits: what was run, on what, and how it was split. One checksum covers it. */
final class Head {
    /** The key, in the table "about", of the checksum. */
    static final String CHECKSUM = "checksum";

    /** The tables of the head, each with as many columns as tell its rows apart. */
    enum Part {
        ABOUT(1),
        PLAN(1),
        DATASET(1),
        CLASS(2),
        SPLIT(2),
        SIDE(3),
        CANDIDATE(1),
        OPENING(1),
        HISTORY(1);

        private final int keys;

        Part(int keys) {
            this.keys = keys;
        }

        String table() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }

        private String query() {
            return "SELECT * FROM " + table() + " ORDER BY "
                    + String.join(", ", List.of("1", "2", "3").subList(0, keys));
        }
    }

    private Head() {}

    /** Returns the name and version of this program, as a ledger holds it. */
    static String program() {
        return "keenfold "
                + Optional.ofNullable(Head.class.getPackage().getImplementationVersion())
                        .orElse("of no release");
    }

    /** Writes plan, data sets, splits and candidates of a new ledger, whose ids are their places. */
    static void write(Connection connection, Plan plan, List<LoadedData> data, Comparison comparison, Instant now)
            throws SQLException {
        int version = PlanTable.add(connection, plan, 0, Event.time(now), program());
        AboutTable.add(connection, AboutTable.TRAIN_SCORES, Boolean.toString(comparison.trainScores()));
        for (int t = 0; t < comparison.tasks().size(); t++) {
            addDataSet(
                    connection,
                    t,
                    t,
                    version,
                    plan.data().get(t).file(),
                    data.get(t),
                    comparison.tasks().get(t));
        }
        for (int c = 0; c < comparison.candidates().size(); c++) {
            addCandidate(connection, c, c, version, comparison.candidates().get(c));
        }
        HistoryTable.add(
                connection,
                Event.of(
                        now,
                        Event.MADE,
                        "plan " + version,
                        program() + "; " + Plural.of(comparison.candidates().size(), "candidate") + ", "
                                + Plural.of(comparison.tasks().size(), "data set") + ", seed " + comparison.seed()));
    }

    static void addDataSet(
            Connection connection, int id, int place, int version, String file, LoadedData data, Task task)
            throws SQLException {
        String name = task.data().name();
        DataSetTable.add(
                connection,
                new DataSetTable.Row(
                        id,
                        OptionalInt.of(place),
                        version,
                        name,
                        name,
                        data.fingerprint(),
                        task.splits().repeats()),
                file,
                data,
                task);
    }

    static void addCandidate(Connection connection, int id, int place, int version, Candidate candidate)
            throws SQLException {
        CandidateTable.add(
                connection,
                new CandidateTable.Row(
                        id,
                        OptionalInt.of(place),
                        version,
                        candidate.name(),
                        candidate.name(),
                        CommandKind.fingerprint(candidate)),
                candidate);
    }

    /** Writes the checksum of the head as it stands; to be called within the transaction that changed it. */
    static void seal(Connection connection) throws SQLException {
        AboutTable.put(connection, CHECKSUM, Long.toString(sum(connection)));
    }

    /** Whether the head is what its checksum was made of. */
    static boolean sound(Connection connection) throws SQLException {
        return AboutTable.get(connection, CHECKSUM).equals(Long.toString(sum(connection)));
    }

    /**
     * Checks the head.
     *
     * @throws InputException if it is damaged, or was never written
     */
    static void check(Path file, Connection connection) throws SQLException {
        if (LedgerFile.number(connection, "SELECT count(*) FROM plan") == 0) {
            throw new InputException(file.toString(), "the ledger is empty; run its plan again");
        }
        if (!sound(connection)) {
            throw damaged(file);
        }
    }

    static InputException damaged(Path file) {
        return new InputException(
                file.toString(),
                "the ledger is damaged: what it says of plan, data and splits does not agree with its checksum, so its"
                        + " fits belong to no candidate; run the plan into a new ledger, or merge other ledgers of it");
    }

    private static long sum(Connection connection) throws SQLException {
        return sum(connection, List.of(Part.values()));
    }

    /** A checksum of what decides where fits belong: equal in the ledgers of all shards of a run. */
    static long signature(Connection connection) throws SQLException {
        Checksum sum = new Checksum();
        add(
                sum,
                connection,
                "SELECT * FROM about WHERE key NOT IN ('" + CHECKSUM + "', '" + AboutTable.SHARD + "') ORDER BY key");
        add(sum, connection, "SELECT id, fits = 0, yaml FROM plan ORDER BY id");
        for (Part part : List.of(Part.DATASET, Part.CLASS, Part.SPLIT, Part.SIDE, Part.CANDIDATE)) {
            add(sum, connection, part.query());
        }
        return sum.value();
    }

    private static void add(Checksum sum, Connection connection, String query) throws SQLException {
        sum.add(query);
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            int columns = row.getMetaData().getColumnCount();
            while (row.next()) {
                for (int c = 1; c <= columns; c++) {
                    sum.add(row.getObject(c));
                }
            }
        }
    }

    private static long sum(Connection connection, List<Part> parts) throws SQLException {
        Checksum sum = new Checksum();
        for (Part part : parts) {
            sum.add(part.table());
            try (Statement statement = connection.createStatement();
                    ResultSet row = statement.executeQuery(part.query())) {
                int columns = row.getMetaData().getColumnCount();
                while (row.next()) {
                    if (part == Part.ABOUT && CHECKSUM.equals(row.getString(1))) {
                        continue;
                    }
                    for (int c = 1; c <= columns; c++) {
                        sum.add(row.getObject(c));
                    }
                }
            }
        }
        return sum.value();
    }
}

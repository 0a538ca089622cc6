package keenfold.io.ledger;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import keenfold.core.run.candidate.Candidate;
import keenfold.io.ledger.table.AboutTable;
import keenfold.io.ledger.table.CandidateTable;
import keenfold.io.ledger.table.Event;
import keenfold.io.ledger.table.FitRow;
import keenfold.io.ledger.table.FitValues;
import keenfold.io.ledger.table.HistoryTable;
import keenfold.io.ledger.table.PlanTable;
import keenfold.io.ledger.table.PlanVersion;
import keenfold.io.ledger.table.RowCopies;
import keenfold.io.ledger.table.TestedRows;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.plan.PlanWriter;
import keenfold.io.sqlite.SqliteFile;

/**
 * A ledger of format 1 or 2, as one of this format: its head is brought up in memory. Both held one plan, whose places were
 * the ids of data sets and candidates, and what was stated of evidence and pick among the facts about the file.
 */
final class OldLedger {
    /** Before a candidate's name: where its program's fingerprint stood. */
    private static final String PROGRAM_OF = "program of ";

    /** What the keys of statements of evidence and pick began with. */
    private static final String STATED = "stated ";

    /** The purpose of fits of runs on halves of the rows; of drawn rows, where the plan asked for refits. */
    private static final String REFIT = "refit";

    /** A statement: a time, a number of fits, the sections. */
    private static final Pattern STATEMENT = Pattern.compile("(?s)([^\n]*)\n(\\d{1,9})\n(.*)");

    /** A key of evidence for refits on drawn rows, and the method that they were for, which is no more. */
    private static final Pattern REFITS = Pattern.compile("(?m)^(evidence: \\{.*?), refit: (?:\\d+|\\{[^}]*\\})");

    private static final Pattern BY_REFITS = Pattern.compile("(?m)^(evidence: \\{.*?), method: refit\\b");

    /** A rule that has another name, and says more exactly what it said. */
    private static final Pattern NOT_WORSE = Pattern.compile("(?m)^(pick: \\{.*?)rule: not-worse\\b");

    private final Connection from;
    private final int format;
    private final boolean refits;
    private final Plan plan;

    /**
     * @param from a ledger whose schema is that of its format
     * @throws keenfold.io.InputException if its plan cannot be read
     */
    OldLedger(Path file, Connection from, int format) throws SQLException {
        this.from = from;
        this.format = format;
        String yaml = text("SELECT yaml FROM plan");
        this.refits = REFITS.matcher(yaml).find();
        this.plan = PlanReader.kept(file + " (plan)", asOfToday(yaml));
    }

    /** What a plan said in words that plans have no more. */
    private static String asOfToday(String yaml) {
        String text = REFITS.matcher(yaml).replaceFirst("$1");
        text = BY_REFITS.matcher(text).replaceFirst("$1");
        return NOT_WORSE.matcher(text).replaceFirst("$1rule: may-be-best");
    }

    /** Whether the head agrees with its checksum; format 1 had none. */
    boolean sound() throws SQLException {
        return format < 2 || Head.soundBeforeHistory(from);
    }

    /** Returns the head as one of this format, in memory. */
    Connection head(Instant now) throws SQLException {
        Connection head = SqliteFile.inMemory();
        try {
            head.setAutoCommit(false);
            for (String command : LedgerSchema.commands()) {
                LedgerFile.run(head, command);
            }
            plans(head);
            int version = PlanTable.last(head).number();
            RowCopies.copy(
                    from,
                    "SELECT id, id, " + version + ", name, name, file, fingerprint, rows, repeats, folds, positive,"
                            + " source_rows, targets, groups, form, held_back, NULL FROM dataset",
                    head,
                    "dataset",
                    Map.of());
            for (String table : List.of("class", "split", "side")) {
                RowCopies.copy(from, "SELECT * FROM " + table, head, table, Map.of());
            }
            candidates(head, version);
            for (String key : List.of(AboutTable.TRAIN_SCORES, AboutTable.KEPT, AboutTable.SHARD)) {
                String value = AboutTable.get(from, key);
                if (!value.isEmpty()) {
                    AboutTable.add(head, key, value);
                }
            }
            openings(head);
            HistoryTable.add(
                    head,
                    Event.of(
                            now,
                            Event.UPGRADED,
                            "format " + LedgerFile.FORMAT,
                            "from format " + format + ", made by " + program()));
            return head;
        } catch (SQLException | RuntimeException e) {
            head.close();
            throw e;
        }
    }

    /**
     * Returns a fit as of this format; none if no method uses it any more.
     *
     * @param tested which rows fits were tested on, by the head as it was brought up
     * @throws IllegalArgumentException if it does not agree with its checksum
     */
    Optional<FitValues> values(FitRow row, TestedRows tested) {
        boolean half = row.purpose.equals(REFIT);
        if (half && refits) {
            return Optional.empty();
        }
        FitRow now = row.at(half ? FitRow.HALF : FitRow.RUN, row.dataSet, row.candidate);
        FitValues.require(format, row, tested.task(now), tested.of(now));
        return Optional.of(FitValues.unchecked(now, tested.task(now), tested.of(now)));
    }

    private String program() throws SQLException {
        String program = AboutTable.get(from, "program");
        return program.isEmpty() ? "an earlier version" : program;
    }

    /** Each statement of evidence and pick becomes a version of the plan; the last one is in force. */
    private void plans(Connection head) throws SQLException {
        String program = program();
        int number = 1;
        String last = "";
        for (Matcher statement : statements()) {
            last = PlanWriter.withStated(PlanWriter.write(plan), asOfToday(statement.group(3)));
            PlanTable.write(
                    head,
                    new PlanVersion(number++, statement.group(1), program, Integer.parseInt(statement.group(2)), last));
        }
        String yaml = PlanWriter.write(plan);
        if (!yaml.equals(last)) {
            int fits = number == 1 ? 0 : LedgerFile.number(from, "SELECT count(*) FROM fit");
            PlanTable.write(head, new PlanVersion(number, "", program, fits, yaml));
        }
    }

    private List<Matcher> statements() throws SQLException {
        List<Matcher> statements = new ArrayList<>();
        try (Statement query = from.createStatement();
                ResultSet row = query.executeQuery(
                        "SELECT value FROM about WHERE key LIKE '" + STATED + "%' ORDER BY key LIMIT 1000")) {
            while (row.next()) {
                Matcher statement = STATEMENT.matcher(row.getString(1));
                if (!statement.matches()) {
                    throw new IllegalArgumentException("what was stated beforehand cannot be read");
                }
                statements.add(statement);
            }
        }
        return statements;
    }

    private void candidates(Connection head, int version) throws SQLException {
        for (int c = 0; c < plan.candidates().size(); c++) {
            Candidate candidate = plan.candidates().get(c);
            String program = AboutTable.get(from, PROGRAM_OF + candidate.name());
            CandidateTable.add(
                    head,
                    new CandidateTable.Row(
                            c,
                            OptionalInt.of(c),
                            version,
                            candidate.name(),
                            candidate.name(),
                            program.isEmpty() ? Optional.empty() : Optional.of(program)),
                    candidate);
        }
    }

    private void openings(Connection head) throws SQLException {
        try (Statement query = from.createStatement();
                ResultSet row = query.executeQuery("SELECT opened_at, name, candidate FROM opening JOIN dataset ON"
                        + " dataset.id = opening.dataset ORDER BY opening.id");
                PreparedStatement write =
                        head.prepareStatement("INSERT INTO opening (at, dataset, candidate) VALUES (?, ?, ?)")) {
            while (row.next()) {
                for (int c = 1; c <= 3; c++) {
                    write.setString(c, row.getString(c));
                }
                write.executeUpdate();
                HistoryTable.add(
                        head, new Event(row.getString(1), Event.HOLDOUT, row.getString(2), "by " + row.getString(3)));
            }
        }
    }

    private String text(String query) throws SQLException {
        try (Statement statement = from.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            return row.next() ? Optional.ofNullable(row.getString(1)).orElse("") : "";
        }
    }
}

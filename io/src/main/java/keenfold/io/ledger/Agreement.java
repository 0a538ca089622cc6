package keenfold.io.ledger;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.DataSet;
import keenfold.core.run.Comparison;
import keenfold.core.run.Shard;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.Splits;
import keenfold.io.InputException;
import keenfold.io.ShellWords;
import keenfold.io.ledger.table.AboutTable;
import keenfold.io.ledger.table.Blobs;
import keenfold.io.ledger.table.DataSetTable;
import keenfold.io.ledger.table.SplitTables;
import keenfold.io.plan.AdoptedKind;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanDifference;
import keenfold.io.table.DataSpec;
import keenfold.io.table.LoadedData;

/**
 * Whether the fits of a ledger that is there are those that a plan makes of its data; if not, says what differs. A plan may
 * have other candidates, metrics, data sets and repeats: what both have must agree.
 */
final class Agreement {
    private final Path file;
    private final Connection connection;
    private final LedgerView view;

    Agreement(Path file, Connection connection, LedgerView view) {
        this.file = file;
        this.connection = connection;
        this.view = view;
    }

    void check(Plan plan, List<LoadedData> data, Comparison comparison) throws SQLException {
        if (view.kept() != Results.Kept.PROBABILITIES) {
            throw other("holds "
                    + (view.kept() == Results.Kept.SCORES
                            ? "scores that were made elsewhere, and no predictions"
                            : "labels that were made elsewhere, and no probabilities")
                    + ", beside which fits cannot stand");
        }
        if (comparison.trainScores()
                != AboutTable.get(connection, AboutTable.TRAIN_SCORES).equals("true")) {
            throw comparison.trainScores()
                    ? other("its fits were not scored on their training rows, as --train-scores asks")
                    : new InputException(
                            file.toString(),
                            "its fits were scored on their training rows too: go on with --train-scores, or name a new"
                                    + " ledger, such as -o " + ShellWords.quoted(free().toString()));
        }
        for (Candidate candidate : plan.candidates()) {
            boolean there = view.plan().candidates().stream().anyMatch(c -> c.equals(candidate));
            if (AdoptedKind.is(candidate) && !there) {
                throw new InputException(
                        file.toString(),
                        "candidate \"" + candidate.name()
                                + "\" was adopted elsewhere and cannot be run; leave it out of the plan");
            }
        }
        boolean made = view.plan().candidates().stream().anyMatch(c -> !AdoptedKind.is(c));
        if (made && !plan.seed().equals(view.plan().seed())) {
            throw other("its fits derive from seed " + seed(view.plan()) + ", and the plan says " + seed(plan));
        }
        for (int t = 0; t < data.size(); t++) {
            check(plan, t, data.get(t), comparison.tasks().get(t));
        }
    }

    private static String seed(Plan plan) {
        return plan.seed().map(s -> Long.toString(s)).orElse("none");
    }

    /** What cannot be in this ledger, and where it can be. */
    private InputException other(String differs) {
        return new InputException(
                file.toString(),
                differs + "; those fits stay as they are: name a new ledger for this plan, such as -o "
                        + ShellWords.quoted(free().toString()));
    }

    /** A name like that of the ledger which nothing has. */
    private Path free() {
        String name = String.valueOf(file.getFileName()).replaceFirst("\\.kfl$", "");
        Path free = file;
        for (int n = 2; Files.exists(free); n++) {
            free = file.resolveSibling(name + "-" + n + ".kfl");
        }
        return free;
    }

    void checkShard(Optional<Shard> shard) throws SQLException {
        String there = AboutTable.get(connection, AboutTable.SHARD);
        String here = shard.map(Shard::toString).orElse("");
        if (!there.equals(here)) {
            throw new InputException(
                    file.toString(),
                    there.isEmpty()
                            ? "is the ledger of a whole run, not of shard " + here + "; name another file with -o"
                            : "is the ledger of shard " + there + "; go on with --shard " + there
                                    + ", or join all shards with keenfold merge");
        }
    }

    /** How many repeats of a data set have splits in the ledger, perhaps more than the plan asks for. */
    static int repeatsThere(Connection connection, DataSetTable.Row row) throws SQLException {
        int partitions =
                LedgerFile.number(connection, "SELECT count(DISTINCT repeat) FROM split WHERE dataset = " + row.id());
        return partitions > 0
                ? partitions
                : LedgerFile.number(connection, "SELECT count(DISTINCT repeat) FROM side WHERE dataset = " + row.id());
    }

    private void check(Plan plan, int t, LoadedData loaded, Task task) throws SQLException {
        String name = task.data().name();
        try (PreparedStatement query = connection.prepareStatement("SELECT * FROM dataset WHERE name = ?")) {
            query.setString(1, name);
            try (ResultSet row = query.executeQuery()) {
                if (!row.next()) {
                    return;
                }
                Optional<DataSpec> spec = view.plan().data().stream()
                        .filter(d -> d.name().equals(name))
                        .findFirst();
                if (!adopted(loaded, row) && !row.getString("fingerprint").equals(loaded.fingerprint())) {
                    throw other("data set \"" + name + "\" has changed since the ledger was made ("
                            + changed(row, loaded, plan.data().get(t), spec) + "; fingerprints differ)");
                }
                String positive = row.getString("positive");
                if (!positive.equals(task.data().classes().positiveLabel())) {
                    throw other("the positive class of data set \"" + name + "\" is \"" + positive
                            + "\" in the ledger, and \"" + task.data().classes().positiveLabel() + "\" in the plan");
                }
                Splits there = SplitTables.read(
                        connection, row.getInt("id"), task.data().rows(), row.getString("form"));
                if (!there.agrees(task.splits())) {
                    throw other("the splits of data set \"" + name + "\" are not those that the ledger was made with"
                            + splitting(plan));
                }
            }
        }
    }

    /** Of adopted results a ledger knows rows, classes and folds, but no columns. */
    private boolean adopted(LoadedData loaded, ResultSet there) throws SQLException {
        DataSet now = loaded.data();
        int rows = there.getInt("rows");
        return view.plan().candidates().stream().allMatch(AdoptedKind::is)
                && rows == now.rows()
                && Arrays.equals(Blobs.ints(there.getBytes("source_rows"), rows), now.sourceRows())
                && DataSetTable.labels(connection, there.getInt("id"))
                        .equals(now.classes().labels())
                && Arrays.equals(Blobs.ints(there.getBytes("targets"), rows), now.targets());
    }

    /** What the plans say of how rows are divided, if it differs. */
    private String splitting(Plan plan) {
        return PlanDifference.of(view.plan(), plan, "splits")
                .map(d -> " (there \"" + d.one() + "\", here \"" + d.other() + "\")")
                .orElse(
                        plan.division().scheme().isPresent()
                                ? " (the version that made it divided rows otherwise)"
                                : " (another file or column of folds)");
    }

    /** What differs, as far as a ledger knows: it holds rows and classes, but no values of columns. */
    private String changed(ResultSet there, LoadedData loaded, DataSpec now, Optional<DataSpec> then)
            throws SQLException {
        if (then.isPresent() && !then.get().target().equals(now.target())) {
            return "the target was \"" + then.get().target() + "\", and is \"" + now.target() + "\" now";
        }
        if (then.isPresent() && !then.get().weights().equals(now.weights())) {
            return "weights were " + then.get().weights().orElse("none") + ", and are "
                    + now.weights().orElse("none") + " now";
        }
        DataSet data = loaded.data();
        int rows = there.getInt("rows");
        if (rows != data.rows()) {
            return rows + " rows then, " + data.rows() + " now";
        }
        int[] lines = data.sourceRows();
        if (!Arrays.equals(Blobs.ints(there.getBytes("source_rows"), rows), lines)) {
            return "other rows are used";
        }
        List<String> labels = DataSetTable.labels(connection, there.getInt("id"));
        int[] targets = Blobs.ints(there.getBytes("targets"), rows);
        for (int i = 0; i < rows; i++) {
            String was = labels.get(targets[i]);
            String here = data.classes().labels().get(data.targets()[i]);
            if (!was.equals(here)) {
                return "row " + lines[i] + " was \"" + was + "\", and is \"" + here + "\" now";
            }
        }
        if (then.isPresent() && !then.get().leaveOut().equals(now.leaveOut())) {
            return "columns left out were " + then.get().leaveOut() + ", and are " + now.leaveOut() + " now";
        }
        if (then.isPresent() && !then.get().groups().equals(now.groups())) {
            return "groups were " + then.get().groups().orElse("none") + ", and are "
                    + now.groups().orElse("none") + " now";
        }
        return "rows and classes are the same; values of columns, or which are used, are not";
    }
}

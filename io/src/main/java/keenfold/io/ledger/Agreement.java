package keenfold.io.ledger;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.DataSet;
import keenfold.core.run.Comparison;
import keenfold.core.run.Shard;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Task;
import keenfold.core.split.Splits;
import keenfold.io.InputException;
import keenfold.io.command.CommandClassifier;
import keenfold.io.command.CommandKind;
import keenfold.io.ledger.table.AboutTable;
import keenfold.io.ledger.table.Blobs;
import keenfold.io.ledger.table.DataSetTable;
import keenfold.io.ledger.table.PlanTable;
import keenfold.io.ledger.table.SplitTables;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanDifference;
import keenfold.io.table.LoadedData;

/** Whether a ledger that is there already holds the same plan and data; if not, says what differs. */
final class Agreement {
    private final Path file;
    private final Connection connection;

    Agreement(Path file, Connection connection) {
        this.file = file;
        this.connection = connection;
    }

    void check(Plan plan, List<LoadedData> data, Comparison comparison) throws SQLException {
        checkPlan(plan);
        if (comparison.trainScores()
                != AboutTable.get(connection, AboutTable.TRAIN_SCORES).equals("true")) {
            throw new InputException(
                    file.toString(),
                    comparison.trainScores()
                            ? "the fits of this ledger were not scored on their training rows; name a new ledger with -o"
                            : "the fits of this ledger are scored on their training rows too; go on with --train-scores");
        }
        for (LoadedData loaded : data) {
            checkData(loaded);
        }
        for (int t = 0; t < comparison.tasks().size(); t++) {
            checkSplits(t, comparison.tasks().get(t));
        }
        for (Candidate candidate : comparison.candidates()) {
            checkProgram(candidate);
        }
    }

    /** A program that has changed is another candidate; fits of both in one ledger would belong to no candidate. */
    private void checkProgram(Candidate candidate) throws SQLException {
        Optional<CommandClassifier> program = CommandKind.of(candidate);
        if (program.isEmpty()) {
            return;
        }
        String there = AboutTable.get(connection, AboutTable.PROGRAM_OF + candidate.name());
        if (!there.equals(program.get().fingerprint())) {
            throw new InputException(
                    file.toString(),
                    "the program of candidate \"" + candidate.name() + "\" ("
                            + program.get().text()
                            + ") has changed since the ledger was made; put the old one back,"
                            + " or name a new ledger with -o");
        }
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

    private void checkPlan(Plan plan) throws SQLException {
        Optional<PlanDifference> difference = PlanDifference.ofFits(PlanTable.read(connection, file), plan);
        if (difference.isPresent()) {
            throw new InputException(
                    file.toString(),
                    "the ledger was made from another plan; there it says \""
                            + difference.get().one() + "\", here \""
                            + difference.get().other()
                            + "\"; give this plan a ledger of its own with -o, or take the plan that made this one"
                            + " (keenfold export --what plan)");
        }
    }

    /** Splits read from a file are not in the plan, nor in the fingerprint of the data. */
    private void checkSplits(int id, Task task) throws SQLException {
        String form = task.splits().form().label();
        Splits there = SplitTables.read(connection, id, task.data().rows(), form);
        if (!there.equals(task.splits())) {
            throw new InputException(
                    file.toString(),
                    "the splits of data set \"" + task.data().name() + "\" are not those that the ledger was made with;"
                            + " put the old file of folds back, or name a new ledger with -o");
        }
    }

    private void checkData(LoadedData loaded) throws SQLException {
        String name = loaded.data().name();
        try (PreparedStatement query = connection.prepareStatement("SELECT * FROM dataset WHERE name = ?")) {
            query.setString(1, name);
            try (ResultSet row = query.executeQuery()) {
                if (row.next() && !row.getString("fingerprint").equals(loaded.fingerprint())) {
                    throw new InputException(
                            file.toString(),
                            "data set \"" + name + "\" has changed since the ledger was made (" + changed(row, loaded)
                                    + "; fingerprints differ); put the old file back, or name a new ledger with -o");
                }
            }
        }
    }

    /** What differs, as far as a ledger knows: it holds rows and classes, but no values of columns. */
    private String changed(ResultSet there, LoadedData loaded) throws SQLException {
        DataSet now = loaded.data();
        int rows = there.getInt("rows");
        if (rows != now.rows()) {
            return rows + " rows then, " + now.rows() + " now";
        }
        int[] lines = now.sourceRows();
        if (!java.util.Arrays.equals(Blobs.ints(there.getBytes("source_rows"), rows), lines)) {
            return "other rows are used";
        }
        List<String> labels = DataSetTable.labels(connection, there.getInt("id"));
        int[] targets = Blobs.ints(there.getBytes("targets"), rows);
        for (int i = 0; i < rows; i++) {
            String then = labels.get(targets[i]);
            String here = now.classes().labels().get(now.targets()[i]);
            if (!then.equals(here)) {
                return "row " + lines[i] + " was \"" + then + "\", and is \"" + here + "\" now";
            }
        }
        return "rows and classes are the same; values of columns, or which are used, are not";
    }
}

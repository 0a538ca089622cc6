package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.FitDetails;
import keenfold.core.run.result.Task;
import org.jspecify.annotations.Nullable;

/** Writes fits, with their scores and predictions, into the tables of a ledger. */
public final class FitTable implements AutoCloseable {
    private final List<Task> tasks;
    private final List<Integer> dataSets;
    private final List<Integer> candidates;
    private final PreparedStatement fit;
    private final PreparedStatement score;
    private final PreparedStatement prediction;

    /**
     * Prepares to write fits of a comparison.
     *
     * @param dataSets the ids of its data sets, in order
     * @param candidates the ids of its candidates, in order
     */
    public FitTable(Connection connection, List<Task> tasks, List<Integer> dataSets, List<Integer> candidates)
            throws SQLException {
        this.tasks = List.copyOf(tasks);
        this.dataSets = List.copyOf(dataSets);
        this.candidates = List.copyOf(candidates);
        List<String> all = new ArrayList<>(Checksum.FIT);
        all.add("crc");
        // Of a unit done again, because a member failed or is new, the members that are there stay as they are.
        fit = connection.prepareStatement("INSERT INTO fit (" + String.join(", ", all) + ") VALUES ("
                + String.join(", ", java.util.Collections.nCopies(all.size(), "?"))
                + ") ON CONFLICT DO NOTHING RETURNING id");
        score = connection.prepareStatement("INSERT INTO score VALUES (?, ?, ?, ?)");
        prediction = connection.prepareStatement("INSERT INTO prediction VALUES (?, ?, ?)");
    }

    /**
     * Writes a fit with its scores and predictions, unless it is there.
     *
     * @param half number of the half, for fits of a run on one; −1 for fits of the run itself
     */
    public void write(int half, Fit one) throws SQLException {
        List<StoredScore> scores = one.result().map(r -> scores(one.task(), r)).orElse(List.of());
        double[] probabilities = one.result().map(r -> stored(r.outcomes())).orElse(new double[0]);
        Optional<int[]> labels = one.result().flatMap(r -> ownLabels(r.outcomes(), one.making()));
        @Nullable Object[] columns = {
            half < 0 ? FitRow.RUN : FitRow.HALF,
            Math.max(0, half),
            dataSets.get(one.task()),
            candidates.get(one.candidate()),
            one.repeat(),
            one.fold(),
            one.failed() ? "failed" : "ok",
            one.message(),
            known(one.times().trainWall()),
            known(one.times().trainCpu()),
            known(one.times().predictWall()),
            known(one.times().predictCpu()),
            known(one.size()),
            one.making().chosen(),
            one.making().shared(),
            known(one.making().threshold().orElse(Double.NaN)),
            one.making().columns() < 0 ? null : one.making().columns()
        };
        for (int i = 0; i < columns.length; i++) {
            fit.setObject(i + 1, columns[i]);
        }
        fit.setLong(columns.length + 1, Checksum.ofFit(columns, scores, Blobs.followed(probabilities, labels)));
        int id;
        try (ResultSet row = fit.executeQuery()) {
            if (!row.next()) {
                return;
            }
            id = row.getInt(1);
        }
        if (one.failed()) {
            return;
        }
        write(score, id, scores);
        prediction.setInt(1, id);
        prediction.setBytes(2, Blobs.ofDoubles(probabilities));
        if (labels.isPresent()) {
            prediction.setBytes(3, Blobs.ofInts(labels.get()));
        } else {
            prediction.setNull(3, java.sql.Types.BLOB);
        }
        prediction.executeUpdate();
    }

    private List<StoredScore> scores(int task, Fit.Result result) {
        List<Metric> metrics = tasks.get(task).metrics();
        List<StoredScore> scores = new ArrayList<>();
        double[] train = result.trainScores();
        for (int m = 0; m < metrics.size(); m++) {
            scores.add(new StoredScore(StoredScore.TEST, metrics.get(m).name(), result.score(m)));
            if (train.length > 0) {
                scores.add(new StoredScore(StoredScore.TRAIN, metrics.get(m).name(), train[m]));
            }
        }
        scores.sort(StoredScore.ORDER);
        return scores;
    }

    /** Writes scores of a fit by a statement that takes all four columns. */
    static void write(PreparedStatement score, int id, List<StoredScore> scores) throws SQLException {
        for (StoredScore one : scores) {
            score.setInt(1, id);
            score.setString(2, one.side());
            score.setString(3, one.metric());
            score.setObject(4, known(one.value()));
            score.executeUpdate();
        }
    }

    /** Takes the fits of a data set or of a candidate away, with their scores and predictions. */
    static void removeOf(Connection connection, String what, int id) throws SQLException {
        for (String table : List.of("score", "prediction")) {
            Rows.write(
                    connection,
                    "DELETE FROM " + table + " WHERE fit IN (SELECT id FROM fit WHERE " + what + " = ?)",
                    id);
        }
        Rows.write(connection, "DELETE FROM fit WHERE " + what + " = ?", id);
    }

    /** A number as the database holds it: nothing where it is undefined. */
    private static @Nullable Double known(double value) {
        return Double.isNaN(value) ? null : value;
    }

    /** The labels, where they do not follow from probabilities and threshold. */
    private static Optional<int[]> ownLabels(Outcomes outcomes, FitDetails making) {
        if (making.threshold().isPresent()) {
            return Optional.empty();
        }
        for (int i = 0; i < outcomes.size(); i++) {
            for (int c = 0; c < outcomes.classes(); c++) {
                double more = outcomes.probability(i, c) - outcomes.probability(i, outcomes.predicted(i));
                if (more > 0 || (more == 0 && c < outcomes.predicted(i))) {
                    return Optional.of(outcomes.labels());
                }
            }
        }
        return Optional.empty();
    }

    /** The probabilities of each row, row after row, as the classifier gave them. */
    private static double[] stored(Outcomes outcomes) {
        int kept = outcomes.classes();
        double[] values = new double[outcomes.size() * kept];
        for (int i = 0; i < outcomes.size(); i++) {
            for (int c = 0; c < kept; c++) {
                values[i * kept + c] = outcomes.probability(i, c);
            }
        }
        return values;
    }

    @Override
    public void close() throws SQLException {
        fit.close();
        score.close();
        prediction.close();
    }
}

package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.Comparison;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.FitDetails;
import org.jspecify.annotations.Nullable;

/** Writes fits, with their scores and predictions, into the tables of a ledger. */
public final class FitTable implements AutoCloseable {
    private final Comparison comparison;
    private final PreparedStatement fit;
    private final PreparedStatement score;
    private final PreparedStatement prediction;

    /** Prepares to write fits of a comparison. */
    public FitTable(Connection connection, Comparison comparison) throws SQLException {
        this.comparison = comparison;
        List<String> all = new java.util.ArrayList<>(Checksum.FIT);
        all.add("crc");
        // A unit done again, after --retry, takes the place of its members that did not fail.
        String again =
                String.join(", ", all.stream().map(c -> c + " = excluded." + c).toList());
        fit = connection.prepareStatement("INSERT INTO fit (" + String.join(", ", all) + ") VALUES ("
                + String.join(", ", java.util.Collections.nCopies(all.size(), "?")) + ") ON CONFLICT DO UPDATE SET "
                + again + " RETURNING id");
        score = connection.prepareStatement("INSERT OR REPLACE INTO score VALUES (?, ?, ?, ?)");
        prediction = connection.prepareStatement("INSERT OR REPLACE INTO prediction VALUES (?, ?, ?)");
    }

    /**
     * Writes a fit with its scores and predictions.
     *
     * @param half number of the half, for fits of a run on one; −1 for fits of the run itself
     */
    public void write(int half, Fit one) throws SQLException {
        double[] scores = one.result().map(Fit.Result::scores).orElse(new double[0]);
        double[] trainScores = one.result().map(Fit.Result::trainScores).orElse(new double[0]);
        double[] probabilities = one.result().map(r -> stored(r.outcomes())).orElse(new double[0]);
        Optional<int[]> labels = one.result().flatMap(r -> ownLabels(r.outcomes(), one.making()));
        @Nullable Object[] columns = {
            half < 0 ? FitRow.RUN : FitRow.HALF,
            Math.max(0, half),
            one.task(),
            one.candidate(),
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
        fit.setLong(
                columns.length + 1,
                Checksum.ofFit(columns, scores, Blobs.followed(probabilities, labels), trainScores));
        int id;
        try (ResultSet row = fit.executeQuery()) {
            row.next();
            id = row.getInt(1);
        }
        if (one.failed()) {
            return;
        }
        List<Metric> metrics = comparison.tasks().get(one.task()).metrics();
        write(id, "test", metrics, scores);
        write(id, "train", metrics, trainScores);
        prediction.setInt(1, id);
        prediction.setBytes(2, Blobs.ofDoubles(probabilities));
        if (labels.isPresent()) {
            prediction.setBytes(3, Blobs.ofInts(labels.get()));
        } else {
            prediction.setNull(3, java.sql.Types.BLOB);
        }
        prediction.executeUpdate();
    }

    /** Writes the scores of one side, if there are any. */
    private void write(int id, String side, List<Metric> metrics, double[] values) throws SQLException {
        for (int m = 0; m < values.length; m++) {
            score.setInt(1, id);
            score.setString(2, side);
            score.setString(3, metrics.get(m).name());
            score.setObject(4, known(values[m]));
            score.executeUpdate();
        }
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

    /** All but the last class's probability of each row; the last is what they leave. */
    private static double[] stored(Outcomes outcomes) {
        int kept = outcomes.classes() - 1;
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

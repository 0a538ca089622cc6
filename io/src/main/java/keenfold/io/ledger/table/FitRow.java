package keenfold.io.ledger.table;

import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import keenfold.core.metric.Metric;
import org.jspecify.annotations.Nullable;

/** A fit with its scores and predictions, as they stand in the rows of a ledger; data set and candidate by their ids. */
public final class FitRow {
    /** Selects a fit by its number. */
    public static final String FIT = "SELECT * FROM fit WHERE id = ?";
    /** Selects the scores of a fit, in the order that its checksum covers them. */
    public static final String SCORES = "SELECT side, metric, value FROM score WHERE fit = ? ORDER BY side, metric";
    /** Selects the predictions of a fit. */
    public static final String PREDICTION = "SELECT probabilities, labels FROM prediction WHERE fit = ?";

    /** The purpose of fits of the run itself. */
    public static final String RUN = "cv";

    /** The purpose of fits of runs on halves of the rows; {@code resample} is then the number of the half. */
    public static final String HALF = "half";

    public final int id;
    public final String purpose;
    public final int resample;
    public final int dataSet;
    public final int candidate;
    public final int repeat;
    public final int fold;
    public final boolean ok;
    public final long crc;
    public final @Nullable Object[] columns;
    public final List<StoredScore> scores;
    public final Optional<byte[]> probabilities;
    public final Optional<byte[]> labels;

    private FitRow(
            int id,
            long crc,
            @Nullable Object[] columns,
            List<StoredScore> scores,
            Optional<byte[]> probabilities,
            Optional<byte[]> labels) {
        this.id = id;
        this.crc = crc;
        this.columns = columns;
        this.scores = scores;
        this.probabilities = probabilities;
        this.labels = labels;
        this.purpose = String.valueOf(columns[0]);
        this.resample = whole(columns[1]);
        this.dataSet = whole(columns[2]);
        this.candidate = whole(columns[3]);
        this.repeat = whole(columns[4]);
        this.fold = whole(columns[5]);
        this.ok = "ok".equals(columns[6]);
    }

    /** A number that no sound row has stands for what is not a whole one. */
    private static int whole(@Nullable Object value) {
        return value instanceof Integer i ? i : -1;
    }

    /** Returns a fit with its predictions of a row that has both; its scores are handed over. */
    static FitRow of(ResultSet row, Places places, List<StoredScore> scores) throws SQLException {
        return new FitRow(
                row.getInt(places.id),
                row.getLong(places.crc),
                Checksum.columns(row, places.columns),
                scores,
                Optional.ofNullable(row.getBytes(places.probabilities)),
                Optional.ofNullable(row.getBytes(places.labels)));
    }

    /** In which columns of rows everything is. */
    static final class Places {
        final int id;
        private final int crc;
        private final int[] columns;
        private final int probabilities;
        private final int labels;

        Places(ResultSet rows) throws SQLException {
            this.id = rows.findColumn("id");
            this.crc = rows.findColumn("crc");
            this.columns = Checksum.places(rows);
            this.probabilities = rows.findColumn("probabilities");
            this.labels = rows.findColumn("labels");
        }
    }

    /** Reads a fit with its scores and predictions. */
    public static Optional<FitRow> read(
            int id, PreparedStatement fit, PreparedStatement scores, PreparedStatement prediction) throws SQLException {
        long crc;
        @Nullable Object[] columns;
        fit.setInt(1, id);
        try (ResultSet row = fit.executeQuery()) {
            if (!row.next()) {
                return Optional.empty();
            }
            crc = row.getLong("crc");
            columns = Checksum.columns(row);
        }
        List<StoredScore> own = new ArrayList<>();
        scores.setInt(1, id);
        try (ResultSet row = scores.executeQuery()) {
            while (row.next()) {
                own.add(score(row, 1));
            }
        }
        Optional<byte[]> probabilities = Optional.empty();
        Optional<byte[]> labels = Optional.empty();
        prediction.setInt(1, id);
        try (ResultSet row = prediction.executeQuery()) {
            if (row.next()) {
                probabilities = Optional.ofNullable(row.getBytes(1));
                labels = Optional.ofNullable(row.getBytes(2));
            }
        }
        return Optional.of(new FitRow(id, crc, columns, own, probabilities, labels));
    }

    /** A score of a row that has side, metric and value in three columns, from one on. */
    static StoredScore score(ResultSet row, int first) throws SQLException {
        double value = row.getDouble(first + 2);
        double known = row.wasNull() ? Double.NaN : value;
        return new StoredScore(String.valueOf(row.getString(first)), String.valueOf(row.getString(first + 1)), known);
    }

    /** Returns whether it is of a run on a half of the rows. */
    public boolean ofHalf() {
        return purpose.equals(HALF);
    }

    /** Returns the same fit of another data set and candidate, and as of another purpose. */
    public FitRow at(String otherPurpose, int otherDataSet, int otherCandidate) {
        @Nullable Object[] moved = columns.clone();
        moved[0] = otherPurpose;
        moved[2] = otherDataSet;
        moved[3] = otherCandidate;
        return new FitRow(id, crc, moved, scores, probabilities, labels);
    }

    /** Returns the same fit with other scores, in any order. */
    public FitRow withScores(List<StoredScore> others) {
        return new FitRow(
                id, crc, columns, others.stream().sorted(StoredScore.ORDER).toList(), probabilities, labels);
    }

    /** The columns without the seconds. */
    public @Nullable Object[] timeless() {
        @Nullable Object[] all = columns.clone();
        for (int i = 0; i < all.length; i++) {
            all[i] = Checksum.FIT.get(i).endsWith("seconds") ? null : all[i];
        }
        return all;
    }

    /** Returns the score of one side under a metric, if it is there. */
    public Optional<StoredScore> score(String side, String metric) {
        return scores.stream()
                .filter(s -> s.side().equals(side) && s.metric().equals(metric))
                .findFirst();
    }

    /** Returns the scores of one side, in the order of metrics, NaN where there is none; empty if the side has none. */
    public double[] scores(String side, List<Metric> metrics) {
        if (scores.stream().noneMatch(s -> s.side().equals(side))) {
            return new double[0];
        }
        double[] values = new double[metrics.size()];
        Arrays.fill(values, Double.NaN);
        for (StoredScore score : scores) {
            for (int m = 0; score.side().equals(side) && m < values.length; m++) {
                if (metrics.get(m).name().equals(score.metric())) {
                    values[m] = score.value();
                }
            }
        }
        return values;
    }
}

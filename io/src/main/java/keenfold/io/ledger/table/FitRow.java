package keenfold.io.ledger.table;

import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import keenfold.core.metric.Metric;
import org.jspecify.annotations.Nullable;

/** A fit with its scores and predictions, as a ledger holds them. */
public final class FitRow {
    /** Selects a fit by its number. */
    public static final String FIT = "SELECT * FROM fit WHERE id = ?";
    /** Selects the scores of a fit. */
    public static final String SCORES = "SELECT side, metric, value FROM score WHERE fit = ?";
    /** Selects the predictions of a fit. */
    public static final String PREDICTION = "SELECT probabilities, labels FROM prediction WHERE fit = ?";

    /** The purpose of fits of the run itself. */
    public static final String RUN = "cv";

    /** The purpose of fits of runs on halves of the rows; {@code resample} is then the number of the half. */
    public static final String HALF = "refit";

    public final String purpose;
    public final int resample;
    public final int task;
    public final int candidate;
    public final int repeat;
    public final int fold;
    public final boolean ok;
    public long crc;
    /** The checksum of all but the seconds, in which two sound fits differ. */
    public long found;

    public final @Nullable Object[] columns;
    public final List<Object[]> scores = new ArrayList<>();
    public byte[] probabilities = new byte[0];
    public boolean predicted;
    public Optional<byte[]> labels = Optional.empty();

    private FitRow(ResultSet row) throws SQLException {
        purpose = row.getString("purpose");
        resample = row.getInt("resample");
        task = row.getInt("dataset");
        candidate = row.getInt("candidate");
        repeat = row.getInt("repeat");
        fold = row.getInt("fold");
        ok = row.getString("status").equals("ok");
        crc = row.getLong("crc");
        columns = Checksum.columns(row);
    }

    /** Returns whether it is of a run on a half of the rows. */
    public boolean ofHalf() {
        return purpose.equals(HALF);
    }

    /** Reads a fit with its scores and predictions. */
    public static Optional<FitRow> read(
            int id, PreparedStatement fit, PreparedStatement scores, PreparedStatement prediction) throws SQLException {
        fit.setInt(1, id);
        FitRow made;
        try (ResultSet row = fit.executeQuery()) {
            if (!row.next()) {
                return Optional.empty();
            }
            made = new FitRow(row);
        }
        scores.setInt(1, id);
        try (ResultSet row = scores.executeQuery()) {
            while (row.next()) {
                made.scores.add(new Object[] {row.getString(1), row.getString(2), row.getObject(3)});
            }
        }
        prediction.setInt(1, id);
        try (ResultSet row = prediction.executeQuery()) {
            if (row.next()) {
                made.predicted = true;
                made.probabilities = Optional.ofNullable(row.getBytes(1)).orElse(new byte[0]);
                made.labels = Optional.ofNullable(row.getBytes(2));
            }
        }
        return Optional.of(made);
    }

    /** The columns without the seconds. */
    public @Nullable Object[] timeless() {
        @Nullable Object[] all = columns.clone();
        for (int i = 0; i < all.length; i++) {
            all[i] = Checksum.FIT.get(i).endsWith("seconds") ? null : all[i];
        }
        return all;
    }

    /** Returns the scores of one side, in the order of metrics. */
    public double[] scores(String side, List<Metric> metrics) {
        List<Object[]> own = scores.stream().filter(s -> s[0].equals(side)).toList();
        double[] values = new double[own.isEmpty() ? 0 : metrics.size()];
        for (Object[] score : own) {
            for (int m = 0; m < values.length; m++) {
                if (metrics.get(m).name().equals(score[1])) {
                    values[m] = score[2] instanceof Number n ? n.doubleValue() : Double.NaN;
                }
            }
        }
        return values;
    }
}

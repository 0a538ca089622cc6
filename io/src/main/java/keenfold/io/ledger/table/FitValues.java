package keenfold.io.ledger.table;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.FitDetails;
import keenfold.core.run.result.Task;
import org.jspecify.annotations.Nullable;

/** What the rows of a fit say, once they agree with its checksum. */
public final class FitValues {
    private final FitRow row;
    private final Task task;
    private final int[] test;
    private final double[] stored;
    private final Optional<int[]> labels;

    private FitValues(FitRow row, Task task, int[] test, double[] stored, Optional<int[]> labels) {
        this.row = row;
        this.task = task;
        this.test = test;
        this.stored = stored;
        this.labels = labels;
    }

    /**
     * Reads the values of a fit, without comparing them with its checksum.
     *
     * @param task its data set
     * @param test the rows that it was tested on; none where only scores are kept
     * @throws IllegalArgumentException if they cannot be what a fit says
     */
    public static FitValues unchecked(FitRow row, Task task, int[] test) {
        int classes = task.data().classes().count();
        double[] stored = new double[0];
        Optional<int[]> labels = Optional.empty();
        if (row.ok) {
            byte[] blob = row.probabilities.orElseThrow(() -> Checks.wrong("no predictions"));
            stored = Blobs.doubles(blob, test.length * classes);
            labels = row.labels.map(b -> Blobs.ints(b, test.length));
            requireProbabilities(stored, classes);
            Checks.that(
                    labels.stream().flatMapToInt(IntStream::of).allMatch(c -> c >= 0 && c < classes),
                    "a label is none of the classes");
        }
        return new FitValues(row, task, test, stored, labels);
    }

    /**
     * Reads the values of a fit.
     *
     * @throws IllegalArgumentException if they do not agree with its checksum, or cannot be what a fit says
     */
    public static FitValues of(FitRow row, Task task, int[] test) {
        FitValues values = unchecked(row, task, test);
        Checks.that(values.checksum(row) == row.crc, "does not agree with its checksum");
        Checks.that(
                row.scores.stream().mapToDouble(StoredScore::value).noneMatch(Double::isInfinite),
                "has a score that is infinite");
        return values;
    }

    private static void requireProbabilities(double[] stored, int classes) {
        for (int from = 0; from < stored.length; from += classes) {
            double sum = 0;
            for (int at = from; at < from + classes; at++) {
                Checks.that(Outcomes.isProbability(stored[at]), "has a probability of %s", stored[at]);
                sum += stored[at];
            }
            Checks.that(Outcomes.isWhole(sum), "has a row whose probabilities sum to %s", sum);
        }
    }

    /** The checksum of a row that has the predictions of this one. */
    long checksum(FitRow as) {
        return Checksum.ofFit(as.columns, as.scores, predictions());
    }

    /** Probabilities, then labels where they are kept. */
    double[] predictions() {
        return Blobs.followed(stored, labels);
    }

    /** Returns the rows. */
    public FitRow row() {
        return row;
    }

    /** Returns whether another fit says the same, but for the seconds that it took and for metrics that one of them lacks. */
    public boolean same(FitValues other) {
        return Arrays.deepEquals(row.timeless(), other.row.timeless())
                && Arrays.equals(predictions(), other.predictions())
                && row.scores.stream().allMatch(s -> other.row
                        .score(s.side(), s.metric())
                        .map(o -> Objects.equals(o.value(), s.value()))
                        .orElse(true));
    }

    /** Returns the row with the scores of all metrics of its data set that can be computed of its predictions. */
    FitRow scored() {
        return scored(row);
    }

    /** Returns a row that has the predictions of this one, with the scores that it lacks. */
    public FitRow scored(FitRow as) {
        if (!as.ok || test.length == 0) {
            return as;
        }
        List<StoredScore> scores = new ArrayList<>(as.scores);
        for (Metric metric : task.metrics()) {
            if (as.score(StoredScore.TEST, metric.name()).isEmpty()) {
                scores.add(new StoredScore(StoredScore.TEST, metric.name(), metric.score(outcomes())));
            }
        }
        return scores.size() == as.scores.size() ? as : as.withScores(scores);
    }

    private Outcomes outcomes() {
        int classes = task.data().classes().count();
        int[] actual = task.data().targets(test);
        Outcomes plain = labels.isPresent()
                ? Outcomes.of(classes, row.fold, test, actual, stored, labels.get())
                : Outcomes.of(classes, row.fold, test, actual, stored);
        OptionalDouble threshold = threshold();
        return threshold.isPresent()
                ? plain.withThreshold(task.data().classes().positive(), threshold.getAsDouble())
                : plain;
    }

    private OptionalDouble threshold() {
        double stands = number("threshold");
        return Double.isNaN(stands) ? OptionalDouble.empty() : OptionalDouble.of(stands);
    }

    /** A value of a column, NaN where there is none. */
    private double number(String column) {
        return value(column) instanceof Number n ? n.doubleValue() : Double.NaN;
    }

    private @Nullable Object value(String column) {
        return row.columns[Checksum.FIT.indexOf(column)];
    }

    /**
     * Returns the fit.
     *
     * @param t its data set, as the reader numbers it
     * @param c its candidate, as the reader numbers it
     * @throws IllegalArgumentException if it says something that cannot be
     */
    public Fit fit(int t, int c) {
        double size = number("size");
        OptionalDouble threshold = threshold();
        Checks.that(
                !Double.isInfinite(size) && !(size < 0) && threshold.stream().noneMatch(Double::isInfinite),
                "has a size or a threshold that cannot be");
        FitDetails details = new FitDetails(
                Objects.requireNonNullElse(value("chosen"), "").toString(),
                number("shared") == 1,
                threshold,
                value("columns") instanceof Integer n ? n : -1);
        FitRow scored = scored();
        Optional<Fit.Result> result = row.ok
                ? Optional.of(new Fit.Result(
                        outcomes(),
                        scored.scores(StoredScore.TEST, task.metrics()),
                        scored.scores(StoredScore.TRAIN, task.metrics())))
                : Optional.empty();
        return new Fit(
                t,
                c,
                row.repeat,
                row.fold,
                new Fit.Times(
                        number("train_seconds"),
                        number("train_cpu_seconds"),
                        number("predict_seconds"),
                        number("predict_cpu_seconds")),
                size,
                result,
                Objects.requireNonNullElse(value("message"), "").toString(),
                details);
    }
}

package keenfold.core.metric;

import java.util.Arrays;
import java.util.List;
import keenfold.core.data.Checks;

/**
 * Predictions of one candidate on tested rows: of one fold, or the folds of one repeat joined.
 *
 * <p>Shapes: size() entries; class probabilities are in 0 … 1, one per class. The predicted class is the most probable
 * one, the first among equals.
 */
public final class Outcomes {
    /** By how much the probabilities of a row may miss 1 in all, as those of a program that writes a few digits do. */
    public static final double SUM_TOLERANCE = 1e-3;

    /** By how much a probability may lie above 1, as those of a program that computes with seven digits do. */
    private static final double ROUNDING = 1e-6;

    private final int classes;
    private final int[] row;
    private final int[] fold;
    private final int[] actual;
    private final int[] predicted;
    private final double[] probability;

    private Outcomes(int classes, int[] row, int[] fold, int[] actual, int[] predicted, double[] probability) {
        this.classes = classes;
        this.row = row;
        this.fold = fold;
        this.actual = actual;
        this.predicted = predicted;
        this.probability = probability;
    }

    /**
     * Returns the outcomes of one fold. The arrays are kept, not copied.
     *
     * @param classes K
     * @param fold 0-based fold all rows were tested in
     * @param row row numbers of the data set
     * @param actual class index of each row
     * @param probability K values per row, row after row
     */
    public static Outcomes of(int classes, int fold, int[] row, int[] actual, double[] probability) {
        int n = row.length;
        Checks.that(actual.length == n, "%d labels for %d rows", actual.length, n);
        Checks.that(probability.length == n * classes, "%d probabilities for %d rows", probability.length, n);
        int[] folds = new int[n];
        Arrays.fill(folds, fold);
        int[] predicted = new int[n];
        for (int i = 0; i < n; i++) {
            predicted[i] = mostProbable(probability, i * classes, classes);
        }
        return new Outcomes(classes, row, folds, actual, predicted, probability);
    }

    /**
     * Returns the outcomes of one fold whose labels are given, whatever the probabilities. The arrays are kept, not copied.
     *
     * @param predicted class index predicted for each row
     */
    public static Outcomes of(int classes, int fold, int[] row, int[] actual, double[] probability, int[] predicted) {
        Outcomes plain = of(classes, fold, row, actual, probability);
        Checks.that(predicted.length == row.length, "%d predictions for %d rows", predicted.length, row.length);
        return new Outcomes(classes, row, plain.fold, actual, predicted, probability);
    }

    /** Returns whether a number is a probability: from 0 to 1, but for rounding above. */
    public static boolean isProbability(double p) {
        return p >= 0 && p <= 1 + ROUNDING;
    }

    /** Returns whether the probabilities of a row, whose sum this is, are of all classes there are. */
    public static boolean isWhole(double sum) {
        return Math.abs(sum - 1) <= SUM_TOLERANCE;
    }

    /** Returns the predicted class indexes. */
    public int[] labels() {
        return predicted.clone();
    }

    /** Returns the outcomes of several folds as one. */
    public static Outcomes join(List<Outcomes> parts) {
        Checks.that(!parts.isEmpty(), "no outcomes to join");
        int classes = parts.get(0).classes;
        int n = parts.stream().mapToInt(Outcomes::size).sum();
        Outcomes all = new Outcomes(classes, new int[n], new int[n], new int[n], new int[n], new double[n * classes]);
        int at = 0;
        for (Outcomes part : parts) {
            int m = part.size();
            System.arraycopy(part.row, 0, all.row, at, m);
            System.arraycopy(part.fold, 0, all.fold, at, m);
            System.arraycopy(part.actual, 0, all.actual, at, m);
            System.arraycopy(part.predicted, 0, all.predicted, at, m);
            System.arraycopy(part.probability, 0, all.probability, at * classes, m * classes);
            at += m;
        }
        return all;
    }

    private static int mostProbable(double[] values, int from, int count) {
        int best = 0;
        for (int c = 1; c < count; c++) {
            if (values[from + c] > values[from + best]) {
                best = c;
            }
        }
        return best;
    }

    /**
     * Returns the same outcomes of two classes, of which {@code positive} is predicted from a probability of
     * {@code threshold} on.
     */
    public Outcomes withThreshold(int positive, double threshold) {
        Checks.that(classes == 2, "a threshold needs two classes: there are %d", classes);
        int[] by = new int[predicted.length];
        for (int i = 0; i < by.length; i++) {
            by[i] = probability(i, positive) >= threshold ? positive : 1 - positive;
        }
        return new Outcomes(classes, row, fold, actual, by, probability);
    }

    /** Returns the same outcomes of two classes with a threshold for each fold. */
    public Outcomes withThresholds(int positive, double[] byFold) {
        Checks.that(classes == 2, "a threshold needs two classes: there are %d", classes);
        int[] by = new int[predicted.length];
        for (int i = 0; i < by.length; i++) {
            by[i] = probability(i, positive) >= byFold[fold[i]] ? positive : 1 - positive;
        }
        return new Outcomes(classes, row, fold, actual, by, probability);
    }

    /** Returns the labels of one class, 1, against all others, 0; without probabilities. */
    Outcomes against(int one) {
        int[] of = new int[actual.length];
        int[] by = new int[actual.length];
        for (int i = 0; i < of.length; i++) {
            of[i] = actual[i] == one ? 1 : 0;
            by[i] = predicted[i] == one ? 1 : 0;
        }
        return new Outcomes(2, row, fold, of, by, new double[0]);
    }

    /** Returns the same outcomes with other predicted classes. */
    Outcomes withPredicted(int[] other) {
        return new Outcomes(classes, row, fold, actual, other, probability);
    }

    /**
     * Returns the same outcomes with other row numbers.
     *
     * @param numbers the new number of each old one
     */
    public Outcomes withRows(int[] numbers) {
        int[] own = new int[row.length];
        Arrays.setAll(own, i -> numbers[row[i]]);
        return new Outcomes(classes, own, fold, actual, predicted, probability);
    }

    /** Returns the same outcomes with rows numbered 0 … size() − 1. */
    Outcomes renumbered() {
        int[] own = new int[row.length];
        Arrays.setAll(own, i -> i);
        return new Outcomes(classes, own, fold, actual, predicted, probability);
    }

    /** Returns whether the same rows were given the same labels and, bit for bit, probabilities. */
    public boolean predictsAs(Outcomes other) {
        return Arrays.equals(row, other.row)
                && Arrays.equals(predicted, other.predicted)
                && Arrays.equals(probability, other.probability);
    }

    /** Returns the number of entries. */
    public int size() {
        return row.length;
    }

    /** Returns the number of classes, K. */
    public int classes() {
        return classes;
    }

    /** Returns the row number of an entry. */
    public int row(int i) {
        return row[i];
    }

    /** Returns the 0-based fold in which an entry was tested. */
    public int fold(int i) {
        return fold[i];
    }

    /** Returns the class index that an entry has. */
    public int actual(int i) {
        return actual[i];
    }

    /** Returns the class index that was predicted for an entry. */
    public int predicted(int i) {
        return predicted[i];
    }

    /** Returns the probability that an entry was given of a class. */
    public double probability(int i, int c) {
        return probability[i * classes + c];
    }
}

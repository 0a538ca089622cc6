package keenfold.core.infer;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.VarianceModel;
import keenfold.core.metric.BestThreshold;
import keenfold.core.metric.Confusion;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;

/**
 * What becomes of two classes when the positive one is predicted from other probabilities on.
 *
 * <p>Rates at a threshold are averages over repeats of what the repeat's joint confusion matrix gives. The best threshold is
 * found honestly: in each fold it is the one that serves the metric best on the rows of the other folds of the repeat, which
 * are training rows of that fold, by their out-of-fold probabilities; then it is applied to the fold's own rows. The
 * threshold that is best on the very rows it is scored on stands beside, and is too good.
 */
public final class Thresholds {
    private final AlignedPredictions panel;
    private final int candidate;
    private final int positive;

    private Thresholds(AlignedPredictions panel, int candidate) {
        this.panel = panel;
        this.candidate = candidate;
        this.positive = panel.task().data().classes().positive();
    }

    /**
     * Returns the thresholds of an admitted candidate.
     *
     * @throws IllegalArgumentException if there are not two classes
     */
    public static Thresholds of(AlignedPredictions panel, int candidate) {
        int classes = panel.task().data().classes().count();
        Checks.that(
                classes == 2,
                "thresholds are for two classes: data set \"%s\" has %d; costs and weights do for more",
                panel.task().data().name(),
                classes);
        return new Thresholds(panel, candidate);
    }

    /**
     * Rates at one threshold; NaN where undefined.
     *
     * @param threshold from which probability on the positive class is predicted; NaN where it is not one for all rows
     * @param called share of rows that are predicted as positive
     * @param recall true positive rate
     * @param specificity true negative rate
     * @param precision positive predictive value
     * @param npv negative predictive value
     * @param score of the metric asked for
     */
    public record Point(
            double threshold,
            double called,
            double recall,
            double specificity,
            double precision,
            double npv,
            double score) {}

    /**
     * The best threshold.
     *
     * @param median of the thresholds that the folds found
     * @param least of them
     * @param most of them
     * @param asPredicted rates and score of the labels as the candidate gave them
     * @param honest those with each fold's threshold found on the other folds' rows, at the median threshold
     * @param apparent those at each repeat's best threshold on the same rows; too good
     */
    public record Best(double median, double least, double most, Point asPredicted, Point honest, Point apparent) {}

    /** Returns the rates at 0.05, 0.1, … 0.95. */
    public List<Point> points(Metric metric) {
        int steps = 19;
        List<Point> points = new ArrayList<>();
        for (int s = 1; s <= steps; s++) {
            points.add(point(metric, s / (steps + 1.0)));
        }
        return points;
    }

    private Point point(Metric metric, double threshold) {
        List<Outcomes> moved = panel.parts(candidate).stream()
                .map(p -> p.withThreshold(positive, threshold))
                .toList();
        return rates(metric, threshold, moved);
    }

    /** The means over repeats of labels that were made of a candidate's predictions. */
    private Point rates(Metric metric, double threshold, List<Outcomes> repeats) {
        double[][] rates = new double[6][repeats.size()];
        for (int r = 0; r < repeats.size(); r++) {
            Outcomes moved = repeats.get(r);
            Confusion m = Confusion.of(moved);
            int other = 1 - positive;
            rates[0][r] = m.predicted(positive) / m.total();
            rates[1][r] = m.at(positive, positive) / m.actual(positive);
            rates[2][r] = m.at(other, other) / m.actual(other);
            rates[3][r] = m.at(positive, positive) / m.predicted(positive);
            rates[4][r] = m.at(other, other) / m.predicted(other);
            rates[5][r] = metric.score(moved);
        }
        double[] means = Arrays.stream(rates).mapToDouble(VarianceModel::mean).toArray();
        return new Point(threshold, means[0], means[1], means[2], means[3], means[4], means[5]);
    }

    /**
     * Returns the best threshold for a metric of labels; empty where a repeat has a single fold, so that there are no other
     * rows to find it on.
     *
     * @throws IllegalArgumentException if the metric does not look at labels
     */
    public Optional<Best> best(Metric metric) {
        Checks.that(
                metric.byLabels(),
                "%s does not depend on a threshold; name a metric of labels, such as balanced-accuracy, f1 or cost",
                metric.name());
        if (!panel.task().splits().joined() || panel.task().splits().mostFolds() < 2) {
            return Optional.empty();
        }
        List<Outcomes> parts = panel.parts(candidate);
        List<Outcomes> honest = new ArrayList<>();
        List<Outcomes> apparent = new ArrayList<>();
        double[] found = new double[0];
        for (Outcomes part : parts) {
            double[] own = ofOthers(part, metric, Optional.empty(), positive);
            int folds = own.length;
            honest.add(part.withThresholds(positive, own));
            double best = on(
                    metric,
                    Optional.empty(),
                    part,
                    IntStream.range(0, part.size()).toArray(),
                    positive);
            apparent.add(part.withThreshold(positive, best));
            int before = found.length;
            found = Arrays.copyOf(found, before + folds);
            System.arraycopy(own, 0, found, before, folds);
        }
        Arrays.sort(found);
        int n = found.length;
        double median = (found[(n - 1) / 2] + found[n / 2]) / 2;
        return Optional.of(new Best(
                median,
                found[0],
                found[n - 1],
                rates(metric, Double.NaN, parts),
                rates(metric, median, honest),
                rates(metric, Double.NaN, apparent)));
    }

    /**
     * Returns for each fold of a repeat the threshold that is best on the rows of its other folds.
     *
     * @param condition that it is to keep there, if any
     */
    static double[] ofOthers(Outcomes part, Metric metric, Optional<BestThreshold.Condition> condition, int positive) {
        int folds = IntStream.range(0, part.size()).map(part::fold).max().orElse(-1) + 1;
        double[] own = new double[folds];
        for (int f = 0; f < folds; f++) {
            int held = f;
            own[f] = on(
                    metric,
                    condition,
                    part,
                    IntStream.range(0, part.size())
                            .filter(i -> part.fold(i) != held)
                            .toArray(),
                    positive);
        }
        return own;
    }

    private static double on(
            Metric metric, Optional<BestThreshold.Condition> condition, Outcomes part, int[] entries, int positive) {
        double[] probability = new double[2 * entries.length];
        int[] target = new int[entries.length];
        double[] weight = new double[entries.length];
        Arrays.fill(weight, 1);
        for (int i = 0; i < entries.length; i++) {
            probability[2 * i] = part.probability(entries[i], 0);
            probability[2 * i + 1] = part.probability(entries[i], 1);
            target[i] = part.actual(entries[i]);
        }
        return BestThreshold.of(metric, condition, probability, target, weight, positive);
    }
}

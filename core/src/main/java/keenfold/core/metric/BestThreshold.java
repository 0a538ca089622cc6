package keenfold.core.metric;

import java.util.Arrays;
import java.util.Optional;
import keenfold.core.data.Checks;
import keenfold.core.data.WeightedSort;

/** Where the positive class is best predicted from, on rows whose classes are known. */
public final class BestThreshold {
    private static final int MOST_THRESHOLDS = 500;

    /** Scores that are nearer to each other are equal. */
    private static final double ROUNDING = 1e-12;

    private BestThreshold() {}

    /**
     * What a threshold is to keep to.
     *
     * @param metric that is bounded
     * @param atLeast whether the bound is the least that will do, and not the most
     * @param bound of it
     */
    public record Condition(Metric metric, boolean atLeast, double bound) {
        /** How far a score is beyond the bound on the wrong side; 0 where it keeps it, infinite where it is undefined. */
        double missed(double score) {
            return Double.isNaN(score)
                    ? Double.POSITIVE_INFINITY
                    : Math.max(0, (atLeast ? bound - score : score - bound) - ROUNDING);
        }
    }

    /** Returns the best threshold of all. */
    public static double of(Metric metric, double[] probability, int[] target, double[] weight, int positive) {
        return of(metric, Optional.empty(), probability, target, weight, positive);
    }

    /**
     * Returns the threshold midway between two neighbouring probabilities that serves the metric best, among equals the nearest to 1/2;
     * of many rows some 500 places are tried. Where a condition is given, the best of those that keep it; if none does, the
     * best of those that miss it least.
     *
     * @param metric of labels, as that of the condition
     * @param condition that the threshold is to keep, if any
     * @param probability of the two classes, row after row
     * @param target class of each row
     * @param weight case count of each row
     * @param positive the class that is predicted at and above the threshold
     * @throws IllegalArgumentException if a metric does not depend on labels alone
     */
    public static double of(
            Metric metric,
            Optional<Condition> condition,
            double[] probability,
            int[] target,
            double[] weight,
            int positive) {
        double[] p = new double[target.length];
        Arrays.setAll(p, i -> probability[2 * i + positive]);
        int[] order = WeightedSort.order(p);
        Counts rising = new Counts(p, order, target, weight, positive);
        double bestScore = Double.NEGATIVE_INFINITY;
        double leastMissed = Double.POSITIVE_INFINITY;
        double best = 0.5;
        int step = Math.max(1, order.length / MOST_THRESHOLDS);
        for (int i = -1; i < order.length; i += step) {
            double below = i < 0 ? 0 : p[order[i]];
            double above = i + 1 < order.length ? p[order[i + 1]] : 1;
            if (!(above > below)) {
                continue;
            }
            double threshold = below < 0.5 && above > 0.5 ? 0.5 : below + (above - below) / 2;
            rising.to(threshold);
            double score = metric.turned(rising.score(metric));
            double missed =
                    condition.map(c -> c.missed(rising.score(c.metric()))).orElse(0.0);
            if (Double.isNaN(score) || missed > leastMissed + ROUNDING) {
                continue;
            }
            boolean nearer = Math.abs(threshold - 0.5) < Math.abs(best - 0.5);
            boolean closer = missed < leastMissed - ROUNDING;
            if (closer || score > bestScore + ROUNDING || (score > bestScore - ROUNDING && nearer)) {
                bestScore = closer ? score : Math.max(score, bestScore);
                leastMissed = closer ? missed : leastMissed;
                best = threshold;
            }
        }
        return best;
    }

    /** The confusion matrix as the threshold rises, which moves rows from one of its columns to the other. */
    private static final class Counts {
        private final double[] p;
        private final int[] order;
        private final int[] target;
        private final double[] weight;
        private final int positive;
        private final double[] cells = new double[4];
        private int below;

        Counts(double[] p, int[] order, int[] target, double[] weight, int positive) {
            this.p = p;
            this.order = order;
            this.target = target;
            this.weight = weight;
            this.positive = positive;
            for (int i : order) {
                cells[2 * target[i] + positive] += (int) weight[i];
            }
        }

        void to(double threshold) {
            while (below < order.length && !(p[order[below]] >= threshold)) {
                int i = order[below++];
                cells[2 * target[i] + positive] -= (int) weight[i];
                cells[2 * target[i] + 1 - positive] += (int) weight[i];
            }
        }

        double score(Metric metric) {
            Checks.that(metric instanceof CountMetric, "%s is no metric of labels of two classes", metric.name());
            return ((CountMetric) metric).function().applyAsDouble(new Confusion(2, cells, 0, 1));
        }
    }
}

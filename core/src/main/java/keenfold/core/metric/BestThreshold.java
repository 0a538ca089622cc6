package keenfold.core.metric;

import java.util.Arrays;
import java.util.stream.IntStream;
import keenfold.core.data.WeightedSort;

/** Where the positive class is best predicted from, on rows whose classes are known. */
public final class BestThreshold {
    private static final int MOST_THRESHOLDS = 500;

    private BestThreshold() {}

    /**
     * Returns the threshold midway between two neighbouring probabilities that serves the metric best, among equals the nearest to 1/2;
     * of many rows some 500 places are tried.
     *
     * @param probability of the two classes, row after row
     * @param target class of each row
     * @param weight case count of each row
     * @param positive the class that is predicted from the threshold on
     */
    public static double of(Metric metric, double[] probability, int[] target, double[] weight, int positive) {
        double[] p = new double[target.length];
        Arrays.setAll(p, i -> probability[2 * i + positive]);
        int[] order = WeightedSort.order(p);
        // A row that counts twice is scored twice.
        int[] times = IntStream.of(order)
                .flatMap(i -> IntStream.range(0, (int) weight[i]).map(t -> i))
                .toArray();
        int[] actual = Arrays.stream(times).map(i -> target[i]).toArray();
        int[] rows = IntStream.range(0, times.length).toArray();
        double[] all = new double[2 * times.length];
        for (int i = 0; i < times.length; i++) {
            all[2 * i] = probability[2 * times[i]];
            all[2 * i + 1] = probability[2 * times[i] + 1];
        }
        double bestScore = Double.NEGATIVE_INFINITY;
        double best = 0.5;
        int step = Math.max(1, order.length / MOST_THRESHOLDS);
        for (int i = -1; i < order.length; i += step) {
            double below = i < 0 ? 0 : p[order[i]];
            double above = i + 1 < order.length ? p[order[i + 1]] : 1;
            if (!(above > below)) {
                continue;
            }
            double threshold = below < 0.5 && above > 0.5 ? 0.5 : below + (above - below) / 2;
            double score = metric.turned(
                    metric.score(Outcomes.of(2, 0, rows, actual, all).withThreshold(positive, threshold)));
            boolean nearer = Math.abs(threshold - 0.5) < Math.abs(best - 0.5);
            if (score > bestScore + 1e-12 || (score > bestScore - 1e-12 && nearer)) {
                bestScore = Math.max(score, bestScore);
                best = threshold;
            }
        }
        return best;
    }
}

package keenfold.core.metric;

import java.util.Arrays;

/**
 * Calibration error: how far probabilities lie from what comes true, in ten bins of equal width.
 *
 * <p>Definition: of class c, Σ_b |Σ_{i in b} (p_ic − y_ic)|/n over the bins [0, 0.1), [0.1, 0.2) … [0.9, 1] of p_ic; the
 * rows of a repeat joined. With two classes, of the positive one; with more, the mean over classes. Never undefined; a
 * guess of the class shares has nearly 0, so that it says nothing about how well classes are told apart.
 *
 * <p>Reference: Murphy and Winkler (1977), J. R. Stat. Soc. C 26(1), doi:10.2307/2346866, for reliability in bins.
 *
 * @param shares per class its weight; classes of weight 0 are left out
 */
public record CalibrationMetric(String name, Weights shares) implements Metric {
    /** Weights of classes, wrapped. */
    record Weights(java.util.List<Double> ofClass) {}

    /** Returns the metric; several classes are averaged by their shares. */
    public static CalibrationMetric of(String name, double[] shares) {
        return new CalibrationMetric(
                name, new Weights(Arrays.stream(shares).boxed().toList()));
    }

    @Override
    public MetricKind kind() {
        return MetricKind.COUNTS;
    }

    @Override
    public boolean byLabels() {
        return false;
    }

    @Override
    public boolean higherIsBetter() {
        return false;
    }

    @Override
    public Scorer scorer(Outcomes outcomes) {
        return new ByBin(outcomes);
    }

    private final class ByBin implements Scorer {
        private final Outcomes outcomes;
        private final int[] rows;

        ByBin(Outcomes outcomes) {
            this.outcomes = outcomes;
            this.rows = new int[outcomes.size()];
            Arrays.setAll(rows, outcomes::row);
        }

        private int bin(int i, int c) {
            return CalibrationBins.of(outcomes.probability(i, c));
        }

        private double off(int i, int c) {
            return outcomes.probability(i, c) - (outcomes.actual(i) == c ? 1 : 0);
        }

        @Override
        public void score(CaseWeights weights, double[] scores) {
            int lanes = scores.length;
            int[] total = new int[lanes];
            Lanes.addRows(total, weights.counts(), rows, 0, rows.length);
            Arrays.fill(scores, 0);
            for (int c = 0; c < outcomes.classes(); c++) {
                double share = shares.ofClass().get(c);
                if (share > 0) {
                    double[][] bins = new double[CalibrationBins.COUNT][lanes];
                    for (int i = 0; i < rows.length; i++) {
                        Lanes.add(bins[bin(i, c)], weights.values()[rows[i]], off(i, c));
                    }
                    for (double[] bin : bins) {
                        for (int lane = 0; lane < lanes; lane++) {
                            scores[lane] += share * (Math.abs(bin[lane]) / total[lane]);
                        }
                    }
                }
            }
        }

        @Override
        public double[] withoutEach() {
            double[] without = new double[rows.length];
            for (int c = 0; c < outcomes.classes(); c++) {
                double share = shares.ofClass().get(c);
                if (share > 0) {
                    double[] bins = new double[CalibrationBins.COUNT];
                    for (int i = 0; i < rows.length; i++) {
                        bins[bin(i, c)] += off(i, c);
                    }
                    double all = 0;
                    for (double bin : bins) {
                        all += Math.abs(bin);
                    }
                    for (int i = 0; i < rows.length; i++) {
                        double bin = bins[bin(i, c)];
                        without[i] += share * (all - Math.abs(bin) + Math.abs(bin - off(i, c))) / (rows.length - 1);
                    }
                }
            }
            return without;
        }
    }
}

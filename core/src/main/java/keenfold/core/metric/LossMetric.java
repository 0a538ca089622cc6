package keenfold.core.metric;

import java.util.Arrays;

/** A mean over rows of a loss of the class probabilities; or of what is gained by them, and then higher is better. */
public record LossMetric(String name, boolean higherIsBetter, double least, double most, RowLoss loss)
        implements Metric {
    /** Makes a loss from 0 to {@code most}, of which lower values are better. */
    public LossMetric(String name, double most, RowLoss loss) {
        this(name, false, 0, most, loss);
    }

    /** The loss of one row. */
    public interface RowLoss {
        double of(Outcomes outcomes, int i);
    }

    @Override
    public MetricKind kind() {
        return MetricKind.LOSS;
    }

    @Override
    public double[] rowLosses(Outcomes outcomes) {
        double[] losses = new double[outcomes.size()];
        Arrays.setAll(losses, i -> loss.of(outcomes, i));
        return losses;
    }

    @Override
    public Scorer scorer(Outcomes outcomes) {
        int[] rows = new int[outcomes.size()];
        Arrays.setAll(rows, outcomes::row);
        return new WeightedMean(rows, rowLosses(outcomes));
    }

    private static final class WeightedMean implements Scorer {
        private final int[] rows;
        private final double[] losses;

        WeightedMean(int[] rows, double[] losses) {
            this.rows = rows;
            this.losses = losses;
        }

        @Override
        public void score(CaseWeights weights, double[] scores) {
            double[] sum = new double[scores.length];
            int[] total = new int[scores.length];
            Lanes.addRows(sum, weights.values(), rows, losses);
            Lanes.addRows(total, weights.counts(), rows, 0, rows.length);
            for (int lane = 0; lane < scores.length; lane++) {
                scores[lane] = sum[lane] / total[lane];
            }
        }

        @Override
        public double[] withoutEach() {
            double sum = Arrays.stream(losses).sum();
            double[] without = new double[losses.length];
            Arrays.setAll(without, i -> (sum - losses[i]) / (losses.length - 1));
            return without;
        }
    }
}

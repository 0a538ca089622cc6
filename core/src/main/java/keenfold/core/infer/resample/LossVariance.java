package keenfold.core.infer.resample;

import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;

/**
 * How much of the uncertainty of a loss of probabilities resampling predictions leaves out: that other training rows would
 * have given other models.
 *
 * <p>Definition: with row losses l_ir, b_i = mean_r l_ir, d_i = b_i − mean b, e_ir = (l_ir − b_i)·√(R/(R − 1)):
 * X = mean over all folds (of m rows, m > 1) of −2·m/(m − 1)·(fold mean of d)·(fold mean of e), and
 * w = Σ_c Σ_{i in c} (b_i − class mean)²/(n(n − 1)); λ_loss = max(0, min(2, X/w)), 0 where w = 0.
 *
 * <p>Of a difference the sums of both candidates' X and w serve. Source: docs/methods.md, variance, with the reasons.
 *
 * @param between X
 * @param within w
 */
public record LossVariance(double between, double within) {
    /** What two candidates share. */
    LossVariance plus(LossVariance other) {
        return new LossVariance(between + other.between, within + other.within);
    }

    /** λ of losses, 0 to 2: a single row of a great loss can make X any multiple of w. */
    public double lambdaLoss() {
        return within == 0 ? 0 : Math.max(0, Math.min(TrainingEffect.MOST, between / within));
    }

    /** X and w of one candidate, from its row losses in at least two repeats. */
    public static LossVariance of(Metric metric, List<Outcomes> parts, int rows, int classes) {
        Moments own = new Moments(rows);
        int[] classOf = new int[rows];
        double[][] losses = new double[parts.size()][];
        for (int r = 0; r < losses.length; r++) {
            Outcomes part = parts.get(r);
            losses[r] = metric.rowLosses(part);
            for (int i = 0; i < part.size(); i++) {
                own.add(part.row(i), losses[r][i]);
                classOf[part.row(i)] = part.actual(i);
            }
        }
        int[] tested = IntStream.range(0, rows).filter(i -> own.count[i] > 0).toArray();
        double n = tested.length;
        double grand = IntStream.of(tested).mapToDouble(i -> own.mean[i]).sum() / n;
        double within = 0;
        for (int c = 0; c < classes; c++) {
            int wanted = c;
            int[] members =
                    IntStream.of(tested).filter(i -> classOf[i] == wanted).toArray();
            double mean = IntStream.of(members).mapToDouble(i -> own.mean[i]).sum() / members.length;
            for (int i : members) {
                within += (own.mean[i] - mean) * (own.mean[i] - mean) / (n * (n - 1));
            }
        }
        double sum = 0;
        int folds = 0;
        double scale = Math.sqrt(losses.length / (losses.length - 1.0));
        for (int r = 0; r < losses.length; r++) {
            Outcomes part = parts.get(r);
            int most = IntStream.range(0, part.size()).map(part::fold).max().orElse(-1);
            double[] d = new double[most + 1];
            double[] e = new double[most + 1];
            int[] size = new int[most + 1];
            for (int i = 0; i < part.size(); i++) {
                double b = own.mean[part.row(i)];
                d[part.fold(i)] += b - grand;
                e[part.fold(i)] += (losses[r][i] - b) * scale;
                size[part.fold(i)]++;
            }
            for (int f = 0; f <= most; f++) {
                double m = size[f];
                if (m > 1) {
                    sum += -2 * m / (m - 1) * (d[f] / m) * (e[f] / m);
                    folds++;
                }
            }
        }
        return new LossVariance(folds == 0 ? 0 : sum / folds, within);
    }

    /** Running mean and variance per row (Welford 1962). */
    private static final class Moments {
        private final int[] count;
        private final double[] mean;
        private final double[] squares;

        Moments(int rows) {
            this.count = new int[rows];
            this.mean = new double[rows];
            this.squares = new double[rows];
        }

        void add(int row, double value) {
            count[row]++;
            double off = value - mean[row];
            mean[row] += off / count[row];
            squares[row] += off * (value - mean[row]);
        }
    }
}

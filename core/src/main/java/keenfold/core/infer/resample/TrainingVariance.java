package keenfold.core.infer.resample;

import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import keenfold.core.data.WeightedSort;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;

/**
 * How much of the uncertainty resampling predictions leaves out: that other training rows would have given other models.
 *
 * <p>Definition (rank instability): P_ir, the placement of row i of class c in repeat r, is the share of the rows of
 * other classes in the same repeat whose probability of class c lies below row i's own, ties ½.
 * W = Σ_c (1/n_c)·mean_i Var_r(P_ir), v = Σ_c (1/n_c)·Var_i(mean_r P_ir), divisors R − 1 and n_c − 1; instability
 * x = W/v; y = x·k²/(k − 1); λ = 2y²/(2 + y²). W = 0 gives 0, v = 0 with W > 0 gives 2; classes of one row are left out.
 * A candidate that gives all rows of a fold the same probability, such as the majority guess, ranks none of them: its
 * placements are ½, not the chance order of its folds.
 *
 * <p>Definition (losses): with row losses l_ir, b_i = mean_r l_ir, d_i = b_i − mean b, e_ir = (l_ir − b_i)·√(R/(R − 1)):
 * X = mean over all folds (of m rows, m > 1) of −2·m/(m − 1)·(fold mean of d)·(fold mean of e), and
 * w = Σ_c Σ_{i in c} (b_i − class mean)²/(n(n − 1)); λ_loss = max(0, X/w), 0 where w = 0.
 *
 * <p>Several candidates share sums of W and v, of X and w. Source: docs/methods.md, variance, with the reasons.
 *
 * @param between W, or X for losses
 * @param within v, or w for losses
 */
public record TrainingVariance(double between, double within) {
    /** The greatest possible λ of rank instability. */
    static final double MOST = 2;

    /** What two candidates share. */
    TrainingVariance plus(TrainingVariance other) {
        return new TrainingVariance(between + other.between, within + other.within);
    }

    /** Instability x = W/v. */
    double instability() {
        return between == 0 ? 0 : between / within;
    }

    /** λ of rank instability with k folds. */
    public double lambda(int folds) {
        if (between == 0) {
            return 0;
        }
        if (within == 0) {
            return MOST;
        }
        double y = between / within * folds * folds / (folds - 1.0);
        return 2 * y * y / (2 + y * y);
    }

    /** λ of losses. */
    public double lambdaLoss() {
        return within == 0 ? 0 : Math.max(0, between / within);
    }

    /** W and v of one candidate, from its outcomes in at least two repeats. */
    public static TrainingVariance ofRanks(List<Outcomes> parts, int rows, int classes) {
        Moments moments = new Moments(rows);
        int[] classOf = new int[rows];
        for (Outcomes part : parts) {
            for (int c = 0; c < classes; c++) {
                place(part, c, moments);
            }
            for (int i = 0; i < part.size(); i++) {
                classOf[part.row(i)] = part.actual(i);
            }
        }
        double between = 0;
        double within = 0;
        for (int c = 0; c < classes; c++) {
            int own = c;
            int[] members = IntStream.range(0, rows)
                    .filter(i -> classOf[i] == own && moments.count[i] > 0)
                    .toArray();
            int[] repeated =
                    IntStream.of(members).filter(i -> moments.count[i] > 1).toArray();
            if (members.length < 2 || repeated.length == 0) {
                continue;
            }
            double overRepeats =
                    IntStream.of(repeated).mapToDouble(moments::variance).sum() / repeated.length;
            double mean =
                    IntStream.of(members).mapToDouble(i -> moments.mean[i]).sum() / members.length;
            double squares = 0;
            for (int i : members) {
                squares += (moments.mean[i] - mean) * (moments.mean[i] - mean);
            }
            between += overRepeats / members.length;
            within += squares / (members.length - 1) / members.length;
        }
        return new TrainingVariance(between, within);
    }

    private static void place(Outcomes part, int c, Moments moments) {
        double[] probability = new double[part.size()];
        int others = 0;
        for (int i = 0; i < probability.length; i++) {
            probability[i] = part.probability(i, c);
            others += part.actual(i) == c ? 0 : 1;
        }
        if (others == 0) {
            return;
        }
        if (constantInFolds(part, probability)) {
            Arrays.fill(probability, 0);
        }
        int[] order = WeightedSort.order(probability);
        int below = 0;
        int from = 0;
        while (from < order.length) {
            int to = from;
            int tied = 0;
            while (to < order.length && probability[order[to]] == probability[order[from]]) {
                tied += part.actual(order[to++]) == c ? 0 : 1;
            }
            double placement = (below + 0.5 * tied) / others;
            for (int i = from; i < to; i++) {
                if (part.actual(order[i]) == c) {
                    moments.add(part.row(order[i]), placement);
                }
            }
            below += tied;
            from = to;
        }
    }

    private static boolean constantInFolds(Outcomes part, double[] probability) {
        Map<Integer, Double> first = new HashMap<>();
        for (int i = 0; i < probability.length; i++) {
            Double seen = first.putIfAbsent(part.fold(i), probability[i]);
            if (seen != null && seen != probability[i]) {
                return false;
            }
        }
        return true;
    }

    /** X and w of one candidate, from its row losses in at least two repeats. */
    public static TrainingVariance ofLosses(Metric metric, List<Outcomes> parts, int rows, int classes) {
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
        return new TrainingVariance(folds == 0 ? 0 : sum / folds, within);
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

        double variance(int row) {
            return squares[row] / (count[row] - 1);
        }
    }
}

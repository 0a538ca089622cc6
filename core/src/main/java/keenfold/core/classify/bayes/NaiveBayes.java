package keenfold.core.classify.bayes;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import keenfold.core.classify.AcrossFolds;
import keenfold.core.classify.FullDataFit;
import keenfold.core.classify.Model;
import keenfold.core.data.Categories;
import keenfold.core.data.Checks;
import keenfold.core.data.Column;
import keenfold.core.data.Lists;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Table;
import keenfold.core.data.Vector;
import keenfold.core.learned.ColumnDensities;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedModel;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Training;
import keenfold.core.prepare.step.Moments;

/**
 * Naive Bayes: class shares times, column by column, a normal density or a level's share within the class.
 *
 * <p>Definition: ln p(c|x) = ln π_c + Σ_j ln f_jc(x_j) + const. Numbers: normal with the class's weighted mean and
 * variance Σw(x − m)²/Σw, but at least a share v of the column's own variance, so that no class whose few values lie close
 * together decides by one column alone; a column that does not vary at all is left out. With {@code kernel}, each number
 * column has in each class a kernel density instead, {@link KernelDensity}, whose squared width has the same least value.
 * Categories: (n_cl + a)/(n_c + a·L) with pseudo-count a over the L levels seen in the training rows. A missing value, or a
 * level not seen in training, says nothing and is left out of the sum.
 *
 * <p>In a class without values of a column, the column is taken to be as in all classes together: a normal density of the
 * column's own mean and variance, and even shares 1/L of levels. Leaving the column out for that class alone would give it
 * 0 where every other class is given the logarithm of a share.
 *
 * <p>Over the folds of a data set, each class's sums of a column about its own mean are taken once, and those of the rows
 * held out are taken away; where that would leave less than a thousandth of a sum of squares, the rest is summed anew.
 *
 * <p>Size: (1 + 2 per number column + levels − 1 per category column)·(K − 1); a kernel density counts as many as the mean
 * over classes of its equivalent number of kernels. Reference: Duda and Hart (1973), Pattern
 * Classification and Scene Analysis, chapter 2.
 *
 * @param pseudoCount a, at least 0
 * @param kernel whether numbers have kernel densities, and not normal ones
 * @param leastVariance v, above 0 and at most 1
 */
public record NaiveBayes(double pseudoCount, boolean kernel, double leastVariance) implements AcrossFolds {
    private static final double LOG_TWO_PI = StrictMath.log(2 * Math.PI);

    /** Checks the settings. */
    public NaiveBayes {
        Checks.atLeast("pseudo-count", pseudoCount, 0);
        Checks.that(
                leastVariance > 0 && leastVariance <= 1,
                "least-variance is %s; it is above 0 and at most 1",
                leastVariance);
    }

    @Override
    public Needs needs() {
        return Needs.NOTHING;
    }

    @Override
    public Model fit(Training training, RandomSource chance) {
        List<Likelihood> columns = new ArrayList<>();
        for (Column column : training.table().columns()) {
            FitFailure.ifInterrupted();
            columns.add(
                    column.match(n -> kernel ? kernels(n, training) : normal(n, training), c -> shares(c, training)));
        }
        double total = training.totalWeight();
        return new Bayes(logShares(training.classWeights(), total), columns);
    }

    @Override
    public Optional<FullDataFit> whole(Training all) {
        boolean densities = kernel && all.table().columns().stream().anyMatch(c -> c.match(n -> true, k -> false));
        return densities ? Optional.empty() : Optional.of(new BayesSums(this, all));
    }

    static double[] logShares(double[] classWeights, double total) {
        double[] logs = new double[classWeights.length];
        Arrays.setAll(logs, c -> StrictMath.log(classWeights[c] / total));
        return logs;
    }

    /** What one column adds to the logarithm of each class's score. */
    interface Likelihood {
        void add(Column column, int row, double[] scores);

        double parameters();

        ColumnDensities.Density learned();
    }

    /** Makes the model again of what it learned. */
    public static Model restored(ColumnDensities learned) {
        return new Bayes(
                learned.logShares().toArray(),
                learned.columns().stream()
                        .map(d -> d.<Likelihood>match(
                                n -> new Normal(n.mean().toArray(), n.variance().toArray(), n.varies()),
                                k -> new Kernels(
                                        k.densities().stream()
                                                .map(KernelDensity::restored)
                                                .toArray(KernelDensity[]::new),
                                        k.varies()),
                                l -> new Levels(Lists.rows(l.logs()), l.parameters())))
                        .toList());
    }

    private Likelihood normal(Numbers column, Training training) {
        int classes = training.classes();
        double[] weight = new double[classes];
        double[] mean = new double[classes];
        double least = Double.POSITIVE_INFINITY;
        double most = Double.NEGATIVE_INFINITY;
        for (int i = 0; i < column.rows(); i++) {
            if (!column.missing(i)) {
                double w = training.weight(i);
                double x = column.get(i);
                weight[training.target(i)] += w;
                mean[training.target(i)] += w * x;
                least = x < least ? x : least;
                most = x > most ? x : most;
            }
        }
        for (int c = 0; c < classes; c++) {
            mean[c] /= weight[c];
        }
        double[] squares = new double[classes];
        for (int i = 0; i < column.rows(); i++) {
            if (!column.missing(i)) {
                int c = training.target(i);
                double off = column.get(i) - mean[c];
                squares[c] += training.weight(i) * off * off;
            }
        }
        return normal(weight, mean, squares, least < most);
    }

    /**
     * A normal density in each class.
     *
     * @param weight of the values of each class
     * @param mean of each class, anything where it has no weight
     * @param squares sum of squares of each class about its mean
     * @param varies whether the values differ at all: rounding alone must not tell classes apart
     */
    Likelihood normal(double[] weight, double[] mean, double[] squares, boolean varies) {
        double total = 0;
        double grand = 0;
        for (int c = 0; c < weight.length; c++) {
            total += weight[c];
            grand += weight[c] > 0 ? weight[c] * mean[c] : 0;
        }
        grand /= total;
        double all = 0;
        for (int c = 0; c < weight.length; c++) {
            double off = mean[c] - grand;
            all += weight[c] > 0 ? squares[c] + weight[c] * off * off : 0;
        }
        all /= total;
        double[] center = new double[mean.length];
        double[] variance = new double[mean.length];
        for (int c = 0; c < mean.length; c++) {
            boolean seen = weight[c] > 0;
            center[c] = seen ? mean[c] : grand;
            variance[c] = seen ? Math.max(squares[c] / weight[c], leastVariance * all) : all;
        }
        return new Normal(center, variance, varies);
    }

    private Likelihood kernels(Numbers column, Training training) {
        Moments whole = Moments.of(column, training);
        double least = Math.sqrt(leastVariance) * whole.sd();
        KernelDensity[] densities = new KernelDensity[training.classes()];
        for (int c = 0; c < densities.length; c++) {
            densities[c] = KernelDensity.of(column, training, c, least)
                    .orElseGet(() -> KernelDensity.normal(whole.mean(), whole.sd()));
        }
        return new Kernels(densities, whole.varies());
    }

    private Likelihood shares(Categories column, Training training) {
        int classes = training.classes();
        int levels = column.levels().size();
        double[][] weight = new double[levels][classes];
        double[] total = new double[classes];
        for (int i = 0; i < column.rows(); i++) {
            if (!column.missing(i)) {
                weight[column.code(i)][training.target(i)] += training.weight(i);
                total[training.target(i)] += training.weight(i);
            }
        }
        return levels(weight, total, column.counts());
    }

    /**
     * The shares of levels.
     *
     * @param weight of each level in each class
     * @param total of each class
     * @param counts of each level
     */
    Likelihood levels(double[][] weight, double[] total, int[] counts) {
        int classes = total.length;
        int levels = weight.length;
        int seen = (int) Arrays.stream(counts).filter(n -> n > 0).count();
        double[][] logs = new double[levels][];
        for (int level = 0; level < levels; level++) {
            if (counts[level] > 0) {
                logs[level] = new double[classes];
                for (int c = 0; c < classes; c++) {
                    double share = (weight[level][c] + pseudoCount) / (total[c] + pseudoCount * seen);
                    logs[level][c] = StrictMath.log(total[c] > 0 ? share : 1.0 / seen);
                }
            } else {
                logs[level] = new double[0];
            }
        }
        return new Levels(logs, Math.max(0, seen - 1));
    }

    private static final class Normal implements Likelihood {
        private final double[] mean;
        private final double[] variance;
        private final double[] constant;
        private final boolean varies;

        Normal(double[] mean, double[] variance, boolean varies) {
            this.mean = mean;
            this.variance = variance;
            this.constant = new double[mean.length];
            this.varies = varies;
            for (int c = 0; c < mean.length; c++) {
                constant[c] = -(LOG_TWO_PI + StrictMath.log(variance[c])) / 2;
            }
        }

        @Override
        public void add(Column column, int row, double[] scores) {
            double x = column.match(n -> n.get(row), k -> Double.NaN);
            if (!varies || Double.isNaN(x)) {
                return;
            }
            for (int c = 0; c < scores.length; c++) {
                double off = x - mean[c];
                scores[c] += constant[c] - off * off / (2 * variance[c]);
            }
        }

        @Override
        public double parameters() {
            return varies ? 2 : 0;
        }

        @Override
        public ColumnDensities.Density learned() {
            return new ColumnDensities.Normals(Vector.of(mean), Vector.of(variance), varies);
        }
    }

    private static final class Kernels implements Likelihood {
        private final KernelDensity[] densities;
        private final boolean varies;

        Kernels(KernelDensity[] densities, boolean varies) {
            this.densities = densities;
            this.varies = varies;
        }

        @Override
        public void add(Column column, int row, double[] scores) {
            double x = column.match(n -> n.get(row), k -> Double.NaN);
            if (!varies || Double.isNaN(x)) {
                return;
            }
            for (int c = 0; c < scores.length; c++) {
                scores[c] += densities[c].log(x);
            }
        }

        @Override
        public double parameters() {
            return varies
                    ? Arrays.stream(densities)
                            .mapToDouble(KernelDensity::kernels)
                            .average()
                            .orElse(0)
                    : 0;
        }

        @Override
        public ColumnDensities.Density learned() {
            return new ColumnDensities.Kernels(
                    Arrays.stream(densities).map(KernelDensity::learned).toList(), varies);
        }
    }

    private static final class Levels implements Likelihood {
        private final double[][] logs;
        private final int parameters;

        Levels(double[][] logs, int parameters) {
            this.logs = logs;
            this.parameters = parameters;
        }

        @Override
        public void add(Column column, int row, double[] scores) {
            int code = column.match(n -> -1, k -> k.code(row));
            if (code < 0 || code >= logs.length || logs[code].length == 0) {
                return;
            }
            for (int c = 0; c < scores.length; c++) {
                scores[c] += logs[code][c];
            }
        }

        @Override
        public double parameters() {
            return parameters;
        }

        @Override
        public ColumnDensities.Density learned() {
            return new ColumnDensities.LevelShares(Lists.of(logs), parameters);
        }
    }

    static final class Bayes implements Model {
        private final double[] prior;
        private final List<Likelihood> columns;

        Bayes(double[] prior, List<Likelihood> columns) {
            this.prior = prior;
            this.columns = List.copyOf(columns);
        }

        @Override
        public double[] probabilities(Table table) {
            int classes = prior.length;
            double[] all = new double[table.rows() * classes];
            for (int i = 0; i < table.rows(); i++) {
                double[] scores = prior.clone();
                for (int j = 0; j < columns.size(); j++) {
                    columns.get(j).add(table.columns().get(j), i, scores);
                }
                System.arraycopy(normalised(scores), 0, all, i * classes, classes);
            }
            return all;
        }

        private double[] normalised(double[] scores) {
            double most = Double.NEGATIVE_INFINITY;
            for (double s : scores) {
                most = Math.max(most, s);
            }
            // Without pseudo-counts every class can be ruled out; then only the shares are left to go by.
            double[] logs = most == Double.NEGATIVE_INFINITY ? prior : scores;
            double top = 0;
            if (most != Double.NEGATIVE_INFINITY) {
                top = most;
            }
            double sum = 0;
            double[] shares = new double[scores.length];
            for (int c = 0; c < shares.length; c++) {
                shares[c] = StrictMath.exp(logs[c] - top);
                sum += shares[c];
            }
            for (int c = 0; c < shares.length; c++) {
                shares[c] /= sum;
            }
            return shares;
        }

        @Override
        public Optional<LearnedModel> learned() {
            return Optional.of(new ColumnDensities(
                    Vector.of(prior), columns.stream().map(Likelihood::learned).toList()));
        }

        @Override
        public double size() {
            double parameters = 1;
            for (Likelihood column : columns) {
                parameters += column.parameters();
            }
            return parameters * (prior.length - 1);
        }
    }
}

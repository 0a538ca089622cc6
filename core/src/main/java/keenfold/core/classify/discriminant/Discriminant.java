package keenfold.core.classify.discriminant;

import java.util.Arrays;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.classify.AcrossFolds;
import keenfold.core.classify.FullDataFit;
import keenfold.core.classify.Model;
import keenfold.core.classify.OneClass;
import keenfold.core.classify.Products;
import keenfold.core.data.Checks;
import keenfold.core.data.Lists;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Table;
import keenfold.core.data.Vector;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedModel;
import keenfold.core.learned.NormalDensities;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Training;

/**
 * Normal densities with covariances: the linear and the quadratic discriminant, and what lies between.
 *
 * <p>Definition: p(c|x) ∝ π_c·N(x; m_c, Σ_c) with the class shares π_c and weighted class means m_c. With S_c the class's sums
 * of squares and products about its mean, S their sum, and C classes of total weight W,
 * Σ_c = [(1 − pooled)·S_c + pooled·S] / [(1 − pooled)(W_c − 1) + pooled(W − C)], then
 * Σ_c ← (1 − diagonal)·Σ_c + diagonal·diag Σ_c. At pooled 1 all classes share one covariance and the boundaries are linear.
 * Columns of which the ones before leave less than 1e-10 of the pooled variance undetermined are left out.
 *
 * <p>Over the folds of a data set, each class's sums of squares and products about its own mean are taken once, and those of
 * the rows held out are taken away ({@link DiscriminantSums}).
 *
 * <p>Size: p + 1 + (1 − pooled)·(p + (1 − diagonal)·p(p − 1)/2), times K − 1: p + 1 for the linear, 1 + p + p(p + 1)/2 for
 * the quadratic discriminant, p counting the columns used.
 *
 * <p>References: Fisher (1936), Ann. Eugen. 7(2), doi:10.1111/j.1469-1809.1936.tb02137.x; Friedman (1989), J. Am. Stat. Assoc.
 * 84(405), doi:10.1080/01621459.1989.10478752 (there λ is pooled; shrinkage here goes to the diagonal, not to one variance).
 *
 * @param pooled share of all classes' covariance, 0 … 1
 * @param diagonal share of the diagonal, 0 … 1
 */
public record Discriminant(double pooled, double diagonal) implements AcrossFolds {
    private static final double DETERMINED = 1e-10;

    /** Checks the settings. */
    public Discriminant {
        Checks.that(pooled >= 0 && pooled <= 1, "pooled = %s: expected 0 to 1", pooled);
        Checks.that(diagonal >= 0 && diagonal <= 1, "diagonal = %s: expected 0 to 1", diagonal);
    }

    @Override
    public Needs needs() {
        return Needs.NUMBERS;
    }

    @Override
    public Model fit(Training training, RandomSource chance) {
        double[] weights = training.classWeights();
        int[] present =
                IntStream.range(0, weights.length).filter(c -> weights[c] > 0).toArray();
        if (present.length == 1) {
            return new OneClass(training.classes(), present[0]);
        }
        double[][] x = Training.columns(training.table());
        double[][] means = means(training, x, weights);
        if (!(training.totalWeight() > present.length)) {
            throw new FitFailure("discriminant needs more training rows than classes: there are " + training.rows()
                    + " rows of " + present.length + " classes");
        }
        double[][][] products = new double[present.length][][];
        for (int k = 0; k < present.length; k++) {
            products[k] = products(training, x, means[present[k]], present[k]);
        }
        return model(training.classes(), present, weights, means, products).model();
    }

    @Override
    public Optional<FullDataFit> whole(Training all) {
        return DiscriminantSums.of(this, all);
    }

    /**
     * A model and what tells how exact it is.
     *
     * @param left the least share of any column's variance that the columns before it leave undetermined, those that do not
     *     vary at all aside
     */
    record Made(Model model, double left) {}

    /**
     * Makes the model of sums.
     *
     * @param present classes with weight
     * @param weights of all classes
     * @param means of all classes
     * @param products sums of squares and products of each present class about its mean
     */
    Made model(int classes, int[] present, double[] weights, double[][] means, double[][][] products) {
        double total = 0;
        for (double w : weights) {
            total += w;
        }
        double free = total - present.length;
        int columns = means[present[0]].length;
        double[][] all = new double[columns][columns];
        for (double[][] one : products) {
            for (int a = 0; a < columns; a++) {
                for (int b = 0; b < columns; b++) {
                    all[a][b] += one[a][b];
                }
            }
        }
        double[][][] own = pooled < 1 ? products : new double[0][][];
        Pivots pivots = undetermined(shrunk(all, free));
        int[] used = pivots.used;
        double left = pivots.left;
        Density[] densities = new Density[present.length];
        for (int k = 0; k < present.length; k++) {
            double weight = weights[present[k]];
            double[] mean = new double[used.length];
            for (int a = 0; a < used.length; a++) {
                mean[a] = means[present[k]][used[a]];
            }
            double logShare = StrictMath.log(weight / total);
            if (own.length == 0 && k > 0) {
                densities[k] = densities[0].moved(logShare, mean);
                continue;
            }
            double divisor = (1 - pooled) * (weight - 1) + pooled * free;
            double[][] covariance = new double[used.length][used.length];
            for (int a = 0; a < used.length; a++) {
                for (int b = 0; b < used.length; b++) {
                    double mixed = pooled * all[used[a]][used[b]]
                            + (own.length > 0 ? (1 - pooled) * own[k][used[a]][used[b]] : 0);
                    covariance[a][b] = mixed / divisor * (a == b ? 1 : 1 - diagonal);
                }
            }
            densities[k] = Density.of(logShare, mean, covariance);
            left = Math.min(left, densities[k].left);
            if (densities[k].broken) {
                throw new FitFailure("discriminant: the rows of one class leave its own covariance undetermined ("
                        + (long) weight + " rows, " + used.length + " columns); "
                        + (pooled < 1
                                ? diagonal < 1 ? "raise pooled or diagonal" : "raise pooled"
                                : diagonal < 1
                                        ? "raise diagonal"
                                        : "a column hardly varies within it: leave that column out"));
            }
        }
        double p = used.length;
        double size = p + 1 + (1 - pooled) * (p + (1 - diagonal) * p * (p - 1) / 2);
        return new Made(new Densities(classes, present, used, densities, size * (classes - 1)), left);
    }

    /** Class means, summed from each class's first row on: where a class does not vary, its mean is that very value. */
    static double[][] means(Training training, double[][] x, double[] weights) {
        double[][] means = new double[weights.length][x.length];
        int[] first = new int[weights.length];
        for (int i = training.rows() - 1; i >= 0; i--) {
            first[training.target(i)] = i;
        }
        for (int j = 0; j < x.length; j++) {
            double[] column = x[j];
            for (int i = 0; i < training.rows(); i++) {
                int c = training.target(i);
                means[c][j] += training.weight(i) * (column[i] - column[first[c]]);
            }
            for (int c = 0; c < weights.length; c++) {
                means[c][j] = column[first[c]] + means[c][j] / weights[c];
            }
        }
        return means;
    }

    /** Sums of squares and products of one class's rows about its mean. */
    private static double[][] products(Training training, double[][] x, double[] mean, int c) {
        int[] rows = IntStream.range(0, training.rows())
                .filter(i -> training.target(i) == c)
                .toArray();
        int p = x.length;
        double[][] off = new double[p][rows.length];
        double[] weights = new double[rows.length];
        for (int r = 0; r < rows.length; r++) {
            weights[r] = training.weight(rows[r]);
        }
        for (int j = 0; j < p; j++) {
            for (int r = 0; r < rows.length; r++) {
                off[j][r] = x[j][rows[r]] - mean[j];
            }
        }
        double[] sums = new double[p * p];
        Products.add(off, weights, sums);
        Products.mirror(sums, p);
        double[][] products = new double[p][];
        Arrays.setAll(products, a -> Arrays.copyOfRange(sums, a * p, (a + 1) * p));
        return products;
    }

    private double[][] shrunk(double[][] products, double divisor) {
        double[][] covariance = new double[products.length][products.length];
        for (int a = 0; a < products.length; a++) {
            for (int b = 0; b < products.length; b++) {
                covariance[a][b] = products[a][b] / divisor * (a == b ? 1 : 1 - diagonal);
            }
        }
        return covariance;
    }

    /** The columns that the ones before them do not determine, by Cholesky's method in their order. */
    private static Pivots undetermined(double[][] covariance) {
        int[] used = new int[covariance.length];
        double[][] lower = new double[covariance.length][covariance.length];
        int count = 0;
        double least = 1;
        for (int j = 0; j < covariance.length; j++) {
            double[] row = lower[count];
            double left = covariance[j][j];
            for (int a = 0; a < count; a++) {
                double sum = covariance[j][used[a]];
                for (int b = 0; b < a; b++) {
                    sum -= row[b] * lower[a][b];
                }
                row[a] = sum / lower[a][a];
                left -= row[a] * row[a];
            }
            if (covariance[j][j] != 0) {
                least = Math.min(least, left / covariance[j][j]);
            }
            if (left > DETERMINED * covariance[j][j] && left > 0) {
                row[count] = Math.sqrt(left);
                used[count++] = j;
            }
        }
        return new Pivots(Arrays.copyOf(used, count), least);
    }

    /** The columns in use, and the least share of a varying column's variance that was left. */
    private static final class Pivots {
        private final int[] used;
        private final double left;

        Pivots(int[] used, double left) {
            this.used = used;
            this.left = left;
        }
    }

    /** A normal density as the Cholesky factor of its covariance. */
    private static final class Density {
        private final double logShare;
        private final double logRoot;
        private final double[] mean;
        private final double[][] lower;
        private final boolean broken;
        private final double left;

        private Density(double logShare, double logRoot, double[] mean, double[][] lower, boolean broken, double left) {
            this.logShare = logShare;
            this.logRoot = logRoot;
            this.mean = mean;
            this.lower = lower;
            this.broken = broken;
            this.left = left;
        }

        static Density of(double logShare, double[] mean, double[][] covariance) {
            int p = mean.length;
            double[][] lower = new double[p][p];
            double logRoot = 0;
            boolean broken = false;
            double left = 1;
            for (int a = 0; a < p; a++) {
                for (int b = 0; b <= a; b++) {
                    double sum = covariance[a][b];
                    for (int k = 0; k < b; k++) {
                        sum -= lower[a][k] * lower[b][k];
                    }
                    if (b < a) {
                        lower[a][b] = sum / lower[b][b];
                    } else {
                        left = Math.min(left, sum / covariance[a][a]);
                        broken |= !(sum > 0.01 * DETERMINED * covariance[a][a]);
                        lower[a][a] = Math.sqrt(sum);
                        logRoot += StrictMath.log(lower[a][a]);
                    }
                }
            }
            return new Density(logShare, logRoot, mean, lower, broken, left);
        }

        NormalDensities.Density learned() {
            return new NormalDensities.Density(logShare, logRoot, Vector.of(mean), Lists.of(lower));
        }

        static Density restored(NormalDensities.Density learned) {
            return new Density(
                    learned.logShare(),
                    learned.logRoot(),
                    learned.mean().toArray(),
                    Lists.rows(learned.lower()),
                    false,
                    1);
        }

        /** The density of another class with the same covariance. */
        Density moved(double otherShare, double[] otherMean) {
            return new Density(otherShare, logRoot, otherMean, lower, broken, left);
        }

        /** ln(share·density), but for a constant that all classes have. */
        double log(double[] row, double[] z) {
            double squares = 0;
            for (int a = 0; a < mean.length; a++) {
                double sum = row[a] - mean[a];
                for (int b = 0; b < a; b++) {
                    sum -= lower[a][b] * z[b];
                }
                z[a] = sum / lower[a][a];
                squares += z[a] * z[a];
            }
            return logShare - logRoot - squares / 2;
        }
    }

    /** Makes the model again of what it learned. */
    public static Model restored(NormalDensities learned) {
        return new Densities(
                learned.classes(),
                Lists.ints(learned.present()),
                Lists.ints(learned.columns()),
                learned.densities().stream().map(Density::restored).toArray(Density[]::new),
                learned.size());
    }

    private static final class Densities implements Model {
        private final int classes;
        private final int[] present;
        private final int[] used;
        private final Density[] densities;
        private final double size;

        Densities(int classes, int[] present, int[] used, Density[] densities, double size) {
            this.classes = classes;
            this.present = present;
            this.used = used;
            this.densities = densities;
            this.size = size;
        }

        @Override
        public double[] probabilities(Table table) {
            double[] all = new double[table.rows() * classes];
            double[][] x = Training.columns(table);
            double[] row = new double[used.length];
            double[] z = new double[used.length];
            double[] log = new double[present.length];
            for (int i = 0; i < table.rows(); i++) {
                for (int a = 0; a < used.length; a++) {
                    row[a] = x[used[a]][i];
                }
                double most = Double.NEGATIVE_INFINITY;
                for (int k = 0; k < log.length; k++) {
                    log[k] = densities[k].log(row, z);
                    most = Math.max(most, log[k]);
                }
                double sum = 0;
                for (int k = 0; k < log.length; k++) {
                    // A row so far off that every density is 0 tells nothing.
                    log[k] = most == Double.NEGATIVE_INFINITY || Double.isNaN(log[k])
                            ? 1
                            : StrictMath.exp(log[k] - most);
                    sum += log[k];
                }
                for (int k = 0; k < log.length; k++) {
                    all[i * classes + present[k]] = log[k] / sum;
                }
            }
            return all;
        }

        @Override
        public Optional<LearnedModel> learned() {
            return Optional.of(new NormalDensities(
                    classes,
                    Lists.of(present),
                    Lists.of(used),
                    Arrays.stream(densities).map(Density::learned).toList(),
                    size));
        }

        @Override
        public double size() {
            return size;
        }
    }
}

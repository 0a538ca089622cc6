package keenfold.core.classify.svm;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.stream.IntStream;
import keenfold.core.classify.Calibration;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.Model;
import keenfold.core.classify.OneClass;
import keenfold.core.classify.Vectors;
import keenfold.core.data.Checks;
import keenfold.core.data.Exponential;
import keenfold.core.data.Lists;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedModel;
import keenfold.core.learned.SupportVectors;
import keenfold.core.learned.SupportVectors.Shape;
import keenfold.core.prepare.InnerFolds;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Training;

/**
 * Support vector machine.
 *
 * <p>Definition, two classes y = ±1: f(x) = ⟨w, φ(x)⟩ + b minimises Σ weightᵢ·max(0, 1 − yᵢf(xᵢ)) + strength/2·‖w‖²; found
 * through its dual by {@link Margin}, with αᵢ ≤ weightᵢ/strength. The kernel ⟨φ(x), φ(z)⟩ is x·z (linear),
 * exp(−‖x − z‖²/(2·width²)) (radial) or (1 + x·z/width²)^degree (polynomial). Several classes: one such function for each
 * pair.
 *
 * <p>Probabilities are not part of the model: they come from a calibration, 1/(1 + exp(−(a·f + c))), whose a and c are fitted
 * to f of rows that were not trained on, from inner folds of the training rows (Platt). Those of pairs are coupled: p
 * minimises Σᵢ Σⱼ (rⱼᵢpᵢ − rᵢⱼpⱼ)² (Wu, Lin and Weng).
 *
 * <p>Size: rows on the margin (0 &lt; α &lt; bound) and 1, for a linear kernel at most p + 1, and 2 for the calibration; of
 * several classes the mean over pairs, times K − 1.
 *
 * <p>References: Cortes and Vapnik (1995), Mach. Learn. 20(3), doi:10.1007/BF00994018; Platt (1999), Advances in Large Margin
 * Classifiers; Wu, Lin and Weng (2004), J. Mach. Learn. Res. 5.
 *
 * @param strength of the penalty, above 0
 * @param shape of the kernel
 * @param width of the kernel in columns' units, above 0; 0 is the square root of the number of columns
 * @param degree of a polynomial kernel, at least 1
 * @param folds of the inner division, at least 2
 */
public record Svm(double strength, Shape shape, double width, int degree, int folds) implements Classifier {
    private static final double CLIP = 1e-7;

    /** A kernel of columns that are divided by its width already. */
    record Kernel(Shape shape, int degree) {
        /** From x·z, x·x and z·z. */
        double of(double dot, double xx, double zz) {
            return switch (shape) {
                case LINEAR -> dot;
                case RADIAL -> Exponential.of(Math.min(0, dot - (xx + zz) / 2));
                case POLYNOMIAL -> power(1 + dot, degree);
            };
        }

        /** The same in the place of some x·z, of one x. */
        void ofAll(double[] dots, double xx, double[] zz, int from, int to) {
            switch (shape) {
                case LINEAR -> {}
                case RADIAL -> {
                    for (int i = from; i < to; i++) {
                        dots[i] = Math.min(0, dots[i] - (xx + zz[i]) / 2);
                    }
                    Exponential.ofAll(dots, from, to);
                }
                case POLYNOMIAL -> {
                    for (int i = from; i < to; i++) {
                        dots[i] = power(1 + dots[i], degree);
                    }
                }
            }
        }

        private static double power(double base, int times) {
            double product = base;
            for (int t = 1; t < times; t++) {
                product *= base;
            }
            return product;
        }
    }

    /** Checks the settings. */
    public Svm {
        Checks.that(strength > 0, "strength = %s: expected a number above 0", strength);
        Checks.atLeast("width", width, 0);
        Checks.atLeast("degree", degree, 1);
        Checks.atLeast("folds", folds, 2);
    }

    @Override
    public Needs needs() {
        return Needs.SCALED_NUMBERS;
    }

    @Override
    public Model fit(Training training, RandomSource chance) {
        return fit(training, chance, kernelRows(training));
    }

    /** Settings that agree in the kernel share its values. */
    static List<Model> joint(List<Svm> all, Training training, Supplier<RandomSource> fresh) {
        Map<List<Object>, KernelRows> made = new HashMap<>();
        List<Model> models = new ArrayList<>();
        for (Svm one : all) {
            KernelRows kernel = made.computeIfAbsent(
                    List.of(one.kernel(), one.scale(training.table().columns().size())), k -> one.kernelRows(training));
            models.add(one.fit(training, fresh.get(), kernel));
        }
        return models;
    }

    private Kernel kernel() {
        return new Kernel(shape, shape == Shape.POLYNOMIAL ? degree : 1);
    }

    private double scale(int columns) {
        return SupportVectors.scale(shape, width, columns);
    }

    private KernelRows kernelRows(Training training) {
        return new KernelRows(kernel(), rows(training.table()));
    }

    private double[][] rows(Table table) {
        double[][] columns = Training.columns(table);
        double scale = scale(columns.length);
        double[][] x = new double[table.rows()][columns.length];
        for (int j = 0; j < columns.length; j++) {
            for (int i = 0; i < x.length; i++) {
                x[i][j] = columns[j][i] / scale;
            }
        }
        return x;
    }

    private Model fit(Training training, RandomSource chance, KernelRows kernel) {
        double[] weights = training.classWeights();
        int[] present =
                IntStream.range(0, weights.length).filter(c -> weights[c] > 0).toArray();
        if (present.length == 1) {
            return new OneClass(training.classes(), present[0]);
        }
        int[] fold = InnerFolds.deal(training, folds, chance);
        List<Pair> pairs = new ArrayList<>();
        for (int a = 0; a < present.length; a++) {
            for (int b = a + 1; b < present.length; b++) {
                pairs.add(pair(training, kernel, fold, present, a, b));
            }
        }
        return new Machine(this, training.classes(), present, pairs, kernel);
    }

    /** What tells two of the present classes apart. */
    private Pair pair(Training training, KernelRows kernel, int[] fold, int[] present, int a, int b) {
        int[] rows = IntStream.range(0, training.rows())
                .filter(i -> training.target(i) == present[a] || training.target(i) == present[b])
                .toArray();
        boolean[] is = new boolean[rows.length];
        double[] most = new double[rows.length];
        for (int r = 0; r < rows.length; r++) {
            is[r] = training.target(rows[r]) == present[b];
            most[r] = training.weight(rows[r]) / strength;
        }
        Margin whole = new Margin(kernel, rows, is, most);
        List<Integer> predicted = new ArrayList<>();
        List<Double> values = new ArrayList<>();
        for (int k = 0; k < folds; k++) {
            boolean[] held = new boolean[rows.length];
            boolean[] learned = new boolean[2];
            for (int r = 0; r < rows.length; r++) {
                held[r] = fold[rows[r]] == k;
                learned[is[r] ? 1 : 0] |= !held[r];
            }
            if (learned[0] && learned[1]) {
                Margin inner = whole.without(held);
                for (int r = 0; r < rows.length; r++) {
                    if (held[r]) {
                        predicted.add(rows[r]);
                        values.add(inner.at(r));
                    }
                }
            }
        }
        if (predicted.stream().map(training::target).distinct().count() < 2) {
            // Only one row of a class, or one group that holds all of them: there is nothing better to calibrate by.
            predicted.clear();
            values.clear();
            for (int r = 0; r < rows.length; r++) {
                predicted.add(rows[r]);
                values.add(whole.at(r));
            }
        }
        double[] f = values.stream().mapToDouble(Double::doubleValue).toArray();
        boolean[] later = new boolean[f.length];
        double[] w = new double[f.length];
        for (int i = 0; i < f.length; i++) {
            later[i] = training.target(predicted.get(i)) == present[b];
            w[i] = training.weight(predicted.get(i));
        }
        double[] line = Calibration.line(f, later, w);
        return new Pair(a, b, whole.bias(), line[0], line[1], whole.coefficients(), whole.onMargin());
    }

    /** A function that tells two classes apart, with its calibration. */
    private static final class Pair {
        private final int a;
        private final int b;
        private final double bias;
        private final double slope;
        private final double offset;
        private final double[] coefficients;
        private final int onMargin;

        /**
         * @param a place of the one class among those present
         * @param b place of the other, of which positive values speak
         * @param coefficients αy of each training row
         */
        Pair(int a, int b, double bias, double slope, double offset, double[] coefficients, int onMargin) {
            this.a = a;
            this.b = b;
            this.bias = bias;
            this.slope = slope;
            this.offset = offset;
            this.coefficients = coefficients;
            this.onMargin = onMargin;
        }

        SupportVectors.Pair learned() {
            return new SupportVectors.Pair(a, b, bias, slope, offset);
        }

        static Pair restored(SupportVectors.Pair p) {
            return new Pair(p.first(), p.second(), p.bias(), p.slope(), p.offset(), new double[0], 0);
        }

        double probability(double f) {
            double p = 1 / (1 + StrictMath.exp(-(slope * (f + bias) + offset)));
            return Math.max(CLIP, Math.min(1 - CLIP, p));
        }
    }

    /** Makes the model again of what it learned. */
    public static Model restored(SupportVectors learned) {
        return new Machine(
                new Svm(1, learned.shape(), learned.width(), learned.degree(), 2),
                learned.classes(),
                Lists.ints(learned.present()),
                learned.pairs().stream().map(Pair::restored).toList(),
                Lists.rows(learned.support()),
                Lists.rows(learned.coefficients()),
                learned.size());
    }

    private static final class Machine implements Model {
        private final Svm settings;
        private final int classes;
        private final int[] present;
        private final List<Pair> pairs;
        private final double[][] support;
        private final double[] squares;
        private final double[][] coefficients;
        private final double size;

        private Machine(
                Svm settings,
                int classes,
                int[] present,
                List<Pair> pairs,
                double[][] support,
                double[][] coefficients,
                double size) {
            this.settings = settings;
            this.classes = classes;
            this.present = present;
            this.pairs = pairs;
            this.support = support;
            this.squares = KernelRows.squares(support);
            this.coefficients = coefficients;
            this.size = size;
        }

        Machine(Svm settings, int classes, int[] present, List<Pair> pairs, KernelRows kernel) {
            this.settings = settings;
            this.classes = classes;
            this.present = present;
            this.pairs = pairs;
            double[][] all = pairs.stream().map(p -> p.coefficients).toArray(double[][]::new);
            int[] used = IntStream.range(0, kernel.rows())
                    .filter(i -> Arrays.stream(all).anyMatch(c -> c[i] != 0))
                    .toArray();
            boolean linear = settings.shape == Shape.LINEAR;
            int p = kernel.x(0).length;
            if (linear) {
                // Then the sum over rows is one over columns.
                this.support = new double[0][];
                this.coefficients = Arrays.stream(all)
                        .map(c -> {
                            double[] w = new double[p];
                            for (int i : used) {
                                for (int j = 0; j < p; j++) {
                                    w[j] += c[i] * kernel.x(i)[j];
                                }
                            }
                            return w;
                        })
                        .toArray(double[][]::new);
            } else {
                this.support = Arrays.stream(used).mapToObj(kernel::x).toArray(double[][]::new);
                this.coefficients = Arrays.stream(all)
                        .map(c -> Arrays.stream(used).mapToDouble(i -> c[i]).toArray())
                        .toArray(double[][]::new);
            }
            this.squares = KernelRows.squares(support);
            double free = pairs.stream()
                    .mapToInt(one -> linear ? Math.min(p, one.onMargin) : one.onMargin)
                    .average()
                    .orElseThrow();
            this.size = (free + 1 + 2) * (classes - 1);
        }

        @Override
        public double[] probabilities(Table table) {
            int n = table.rows();
            int k = present.length;
            double[] all = new double[n * classes];
            double[][] x = settings.rows(table);
            double[] near = new double[support.length];
            double[] share = new double[pairs.size()];
            for (int i = 0; i < n; i++) {
                FitFailure.ifInterrupted();
                double[] features = x[i];
                if (settings.shape != Shape.LINEAR) {
                    double square = Vectors.dot(x[i], x[i]);
                    for (int s = 0; s < near.length; s++) {
                        near[s] = settings.kernel().of(Vectors.dot(x[i], support[s]), square, squares[s]);
                    }
                    features = near;
                }
                for (int q = 0; q < share.length; q++) {
                    share[q] = pairs.get(q).probability(Vectors.dot(features, coefficients[q]));
                }
                double[] p = k == 2 ? new double[] {1 - share[0], share[0]} : coupled(share);
                for (int c = 0; c < k; c++) {
                    all[i * classes + present[c]] = p[c];
                }
            }
            return all;
        }

        /** Probabilities of the present classes from those of each pair. */
        private double[] coupled(double[] share) {
            double[][] r = new double[present.length][present.length];
            for (int q = 0; q < share.length; q++) {
                r[pairs.get(q).b][pairs.get(q).a] = share[q];
                r[pairs.get(q).a][pairs.get(q).b] = 1 - share[q];
            }
            return Coupling.of(r);
        }

        @Override
        public double[] columnWeights(int columns) {
            if (settings.shape != Shape.LINEAR) {
                return new double[0];
            }
            double[] sums = new double[columns];
            for (double[] own : coefficients) {
                for (int c = 0; c < columns; c++) {
                    sums[c] += Math.abs(own[c]);
                }
            }
            return sums;
        }

        @Override
        public Optional<LearnedModel> learned() {
            return Optional.of(new SupportVectors(
                    classes,
                    Lists.of(present),
                    settings.shape,
                    settings.width,
                    settings.degree,
                    pairs.stream().map(Pair::learned).toList(),
                    Lists.of(support),
                    Lists.of(coefficients),
                    size));
        }

        @Override
        public double size() {
            return size;
        }
    }
}

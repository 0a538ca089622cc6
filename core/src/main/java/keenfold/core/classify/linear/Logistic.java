package keenfold.core.classify.linear;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.classify.AcrossFolds;
import keenfold.core.classify.FullDataFit;
import keenfold.core.classify.Model;
import keenfold.core.classify.Products;
import keenfold.core.classify.Spd;
import keenfold.core.classify.Vectors;
import keenfold.core.data.Checks;
import keenfold.core.data.Lists;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedModel;
import keenfold.core.learned.LogisticCoefficients;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Training;

/**
 * Logistic regression with a penalty; multinomial where there are more than two classes.
 *
 * <p>Definition: minimises −Σ wᵢ·ln p(yᵢ|xᵢ) + strength·Σ (mix·|β| + (1 − mix)/2·β²), the sum over all coefficients but the
 * intercepts: ridge at mix 0, lasso at 1, elastic net between. Two
 * classes: ln(p₁/p₀) = β₀ + xβ. K > 2 classes: p_c ∝ exp(β₀c + xβ_c), every class with its own coefficients
 * (symmetric), whose intercepts sum to 0. Classes without training rows are left out.
 *
 * <p>Assumes columns on one scale, or the penalty means little. Unlike a share, the strength is absolute: twice the rows,
 * half its effect.
 *
 * <p>Convergence: with ridge and two classes, Newton's method until no coefficient moves by more than 1e-9·(1 + max|β|); with
 * more classes or a lasso part, {@link PenalisedFit}. Otherwise {@link FitFailure}. With ridge, more columns than rows are
 * put into {@link RowSpace} first. Several strengths at once are fitted from the strongest on, each starting where the one
 * before ended, which moves coefficients by less than 1e-7. So does a start from where the fit of all rows of the data set
 * ended ({@link LogisticNear}), which the folds share.
 *
 * <p>Size: the trace of the weighted ridge hat matrix with intercept, Σ h = p + 1 − strength·tr'(H⁻¹); for K > 2 classes
 * (K − 1)/K times the sum over classes of each one's own against the rest. With a lasso part, over the columns whose
 * coefficients are not 0, with the ridge part of the penalty: for lasso their number and 1 (Tibshirani and Taylor 2012, Ann.
 * Statist. 40(2), doi:10.1214/12-AOS1003).
 *
 * <p>References: le Cessie and van Houwelingen (1992), Appl. Statist. 41(1), doi:10.2307/2347628; Tibshirani (1996), J. R.
 * Stat. Soc. B 58(1); Zou and Hastie (2005), J. R. Stat. Soc. B 67(2), doi:10.1111/j.1467-9868.2005.00503.x.
 *
 * @param strength of the penalty, at least 0
 * @param mix share of the lasso in the penalty, 0 … 1
 */
public record Logistic(double strength, double mix) implements AcrossFolds {
    private static final int MOST_STEPS = 100;
    private static final int MOST_HALVINGS = 40;
    static final double TOLERANCE = 1e-9;
    private static final double LEVEL = 1e-13;
    static final String SEPARATED = "the classes can be separated without error in the training rows, so that without a"
            + " penalty the coefficients grow without end; set strength above 0";

    /** Checks the settings. */
    public Logistic {
        Checks.atLeast("strength", strength, 0);
        Checks.that(mix >= 0 && mix <= 1, "mix = %s: expected 0 to 1", mix);
    }

    /** Several strengths and mixes: those of one mix from the strongest on. */
    static List<Model> joint(List<Logistic> all, Training training) {
        Linear[] models = new Linear[all.size()];
        List<Integer> order = new ArrayList<>(IntStream.range(0, models.length)
                .boxed()
                .sorted(Comparator.comparingDouble((Integer i) -> all.get(i).mix)
                        .thenComparingDouble(i -> -all.get(i).strength))
                .toList());
        Optional<Integer> before = Optional.empty();
        for (int i : order) {
            Logistic now = all.get(i);
            Optional<PenalisedFit.Start> start = before.filter(b -> all.get(b).mix == now.mix)
                    .map(b -> PenalisedFit.Start.after(
                            flat(models[b].beta), all.get(b).strength * now.mix, now.strength * now.mix));
            models[i] = now.fit(training, start);
            before = Optional.of(i);
        }
        return List.of(models);
    }

    @Override
    public Needs needs() {
        return Needs.SCALED_NUMBERS;
    }

    @Override
    public Model fit(Training training, RandomSource chance) {
        return fit(training, Optional.empty());
    }

    @Override
    public Optional<FullDataFit> whole(Training all) {
        return Optional.of(LogisticNear.of(this, all));
    }

    /** @param from where to start, of coefficients of the classes that these rows have */
    Linear fit(Training training, Optional<PenalisedFit.Start> from) {
        double[] classWeights = training.classWeights();
        int[] present = IntStream.range(0, training.classes())
                .filter(c -> classWeights[c] > 0)
                .toArray();
        double[][] x = withIntercept(training.table());
        if (present.length == 1) {
            return new Linear(training.classes(), present, new double[][] {new double[x.length]}, 1);
        }
        int[] place = new int[training.classes()];
        for (int c = 0; c < present.length; c++) {
            place[present[c]] = c;
        }
        int[] y = IntStream.range(0, training.rows())
                .map(i -> place[training.target(i)])
                .toArray();
        if (mix == 0 && x.length - 1 > training.rows() && strength > 0) {
            RowSpace space = RowSpace.of(Training.columns(training.table()), training.rows());
            Linear inSpace = fit(training, space.withIntercept(), y, present, Optional.empty());
            double[][] beta = Arrays.stream(inSpace.beta)
                    .map(own -> space.back(own, x.length - 1))
                    .toArray(double[][]::new);
            return new Linear(training.classes(), present, beta, inSpace.size);
        }
        return fit(training, x, y, present, from);
    }

    private Linear fit(Training training, double[][] x, int[] y, int[] present, Optional<PenalisedFit.Start> from) {
        int parts = present.length == 2 ? 1 : present.length;
        PenalisedFit.Start start = from.orElseGet(() -> PenalisedFit.Start.at(new double[parts * x.length]));
        if (parts == 1 && mix == 0) {
            return binary(training, x, y, present, start.beta());
        }
        if (strength == 0) {
            Spd.factor(hessian(x, training.weights(), 0), x.length);
        }
        Likelihood likelihood = new Likelihood(x, y, training.weights(), parts);
        double[][] beta = rows(new PenalisedFit(likelihood, strength, mix).minimise(start), parts);
        return new Linear(training.classes(), present, beta, size(likelihood, beta));
    }

    /** Coefficients class after class, as rows. */
    static double[][] rows(double[] flat, int parts) {
        int p = flat.length / parts;
        return IntStream.range(0, parts)
                .mapToObj(c -> Arrays.copyOfRange(flat, c * p, (c + 1) * p))
                .toArray(double[][]::new);
    }

    static double[] flat(double[][] rows) {
        return Arrays.stream(rows).flatMapToDouble(Arrays::stream).toArray();
    }

    /** Over the columns that are in use. */
    private double size(Likelihood likelihood, double[][] beta) {
        double[][] prob = likelihood.at(flat(beta)).prob();
        double sum = 0;
        for (int k = 0; k < beta.length; k++) {
            double[] own = beta[k];
            double[][] used = IntStream.range(0, own.length)
                    .filter(j -> mix == 0 || own[j] != 0 || j == own.length - 1)
                    .mapToObj(j -> likelihood.x[j])
                    .toArray(double[][]::new);
            sum += mix == 1 ? used.length : hatTrace(used, likelihood.curvature(prob[k]), strength * (1 - mix));
        }
        return beta.length == 1 ? sum : sum * (beta.length - 1) / beta.length;
    }

    /** Newton's method from a start. */
    Linear binary(Training training, double[][] x, int[] y, int[] present, double[] start) {
        int p = x.length;
        int n = training.rows();
        double[] w = training.weights();
        double[] beta = start.clone();
        double[] prob = new double[n];
        double[] curvature = new double[n];
        double objective = binaryObjective(x, y, w, beta, prob);
        for (int step = 0; step < MOST_STEPS; step++) {
            FitFailure.ifInterrupted();
            double[] gradient = new double[p];
            for (int j = 0; j < p; j++) {
                double sum = 0;
                for (int i = 0; i < n; i++) {
                    sum += w[i] * (y[i] - prob[i]) * x[j][i];
                }
                gradient[j] = sum - penalty(j, p, strength) * beta[j];
            }
            for (int i = 0; i < n; i++) {
                curvature[i] = w[i] * prob[i] * (1 - prob[i]);
            }
            double[] move = factored(x, w, curvature).solve(gradient);
            double share = 1;
            double[] next = moved(beta, move, share);
            double lower = binaryObjective(x, y, w, next, prob);
            // Far from the solution a full step can overshoot; the slack keeps rounding from halving forever.
            for (int h = 0; h < MOST_HALVINGS && !(lower <= objective + 1e-12 * Math.abs(objective)); h++) {
                share /= 2;
                next = moved(beta, move, share);
                lower = binaryObjective(x, y, w, next, prob);
            }
            beta = next;
            objective = lower;
            boolean still = share == 1 && Vectors.largest(move) <= TOLERANCE * (1 + Vectors.largest(beta));
            // A weak penalty leaves directions so flat that moves along them are but rounding.
            boolean level = strength > 0 && Vectors.largest(gradient) <= LEVEL * training.totalWeight();
            if (still || level) {
                return new Linear(training.classes(), present, new double[][] {beta}, binarySize(x, w, prob));
            }
        }
        throw strength > 0
                ? new FitFailure("logistic did not converge in " + MOST_STEPS + " Newton steps: strength " + strength
                        + " is too small for these columns; raise it")
                : new FitFailure(SEPARATED);
    }

    /** The curvature factored; where it cannot be although the columns are independent, probabilities have reached 0 or 1. */
    private Spd factored(double[][] x, double[] w, double[] curvature) {
        try {
            return Spd.factor(hessian(x, curvature, strength), x.length);
        } catch (FitFailure e) {
            Spd.factor(hessian(x, w, strength), x.length);
            throw new FitFailure(SEPARATED);
        }
    }

    private double binarySize(double[][] x, double[] w, double[] prob) {
        double[] curvature = new double[w.length];
        for (int i = 0; i < w.length; i++) {
            curvature[i] = w[i] * prob[i] * (1 - prob[i]);
        }
        return hatTrace(x, curvature, strength);
    }

    /** tr[(X'WX + P)⁻¹ X'WX] = p − tr[(X'WX + P)⁻¹ P]. */
    static double hatTrace(double[][] x, double[] curvature, double strength) {
        int p = x.length;
        double[] penalties = new double[p];
        Arrays.setAll(penalties, j -> penalty(j, p, strength));
        return p - Spd.factor(hessian(x, curvature, strength), p).traceOfInverseTimes(penalties);
    }

    /** X'·diag(curvature)·X + penalty, row after row. */
    static double[] hessian(double[][] x, double[] curvature, double strength) {
        int p = x.length;
        double[] h = new double[p * p];
        Products.add(x, curvature, h);
        Products.mirror(h, p);
        for (int a = 0; a < p; a++) {
            h[a * p + a] += penalty(a, p, strength);
        }
        return h;
    }

    /** The intercept, which stands last, is not penalised. */
    static double penalty(int j, int p, double strength) {
        return j == p - 1 ? 0 : strength;
    }

    private double binaryObjective(double[][] x, int[] y, double[] w, double[] beta, double[] prob) {
        double[] eta = scores(x, beta, w.length);
        double sum = 0;
        for (int i = 0; i < w.length; i++) {
            double e = StrictMath.exp(-Math.abs(eta[i]));
            prob[i] = eta[i] >= 0 ? 1 / (1 + e) : e / (1 + e);
            double towards = y[i] == 1 ? eta[i] : -eta[i];
            sum += w[i] * (Math.max(0, -towards) + StrictMath.log1p(e));
        }
        double squares = 0;
        for (int j = 0; j < beta.length - 1; j++) {
            squares += beta[j] * beta[j];
        }
        return sum + strength / 2 * squares;
    }

    static double[] scores(double[][] x, double[] beta, int n) {
        return Products.combination(x, beta, 0, n);
    }

    static double[][] withIntercept(Table table) {
        double[][] columns = Training.columns(table);
        double[][] x = Arrays.copyOf(columns, columns.length + 1);
        x[columns.length] = new double[table.rows()];
        Arrays.fill(x[columns.length], 1);
        return x;
    }

    private static double[] moved(double[] from, double[] by, double share) {
        double[] to = new double[from.length];
        Arrays.setAll(to, j -> from[j] + share * by[j]);
        return to;
    }

    /** Makes the model again of what it learned. */
    public static Model restored(LogisticCoefficients learned) {
        return new Linear(
                learned.classes(), Lists.ints(learned.present()), Lists.rows(learned.coefficients()), learned.size());
    }

    /** Coefficients of the classes that had training rows: one row of them for two classes, K for more. */
    public static final class Linear implements Model {
        private final int classes;
        private final int[] present;
        private final double[][] beta;
        private final double size;

        Linear(int classes, int[] present, double[][] beta, double size) {
            this.classes = classes;
            this.present = present;
            this.beta = beta;
            this.size = size;
        }

        @Override
        public Optional<LearnedModel> learned() {
            return Optional.of(new LogisticCoefficients(classes, Lists.of(present), Lists.of(beta), size));
        }

        /** The coefficients, the intercept last. */
        double[][] beta() {
            return Arrays.stream(beta).map(double[]::clone).toArray(double[][]::new);
        }

        /** The classes that had training rows. */
        int[] present() {
            return present.clone();
        }

        @Override
        public double[] probabilities(Table table) {
            int n = table.rows();
            double[] all = new double[n * classes];
            if (present.length == 1) {
                for (int i = 0; i < n; i++) {
                    all[i * classes + present[0]] = 1;
                }
                return all;
            }
            double[][] x = withIntercept(table);
            if (beta.length == 1) {
                double[] eta = scores(x, beta[0], n);
                for (int i = 0; i < n; i++) {
                    double e = StrictMath.exp(-Math.abs(eta[i]));
                    double far = 1 / (1 + e);
                    double near = e / (1 + e);
                    all[i * classes + present[0]] = eta[i] >= 0 ? near : far;
                    all[i * classes + present[1]] = eta[i] >= 0 ? far : near;
                }
                return all;
            }
            double[][] prob = Arrays.stream(beta).map(own -> scores(x, own, n)).toArray(double[][]::new);
            Likelihood.normalise(prob);
            for (int c = 0; c < present.length; c++) {
                for (int i = 0; i < n; i++) {
                    all[i * classes + present[c]] = prob[c][i];
                }
            }
            return all;
        }

        @Override
        public double[] columnWeights(int columns) {
            double[] sums = new double[columns];
            for (double[] own : beta) {
                for (int j = 0; j < columns; j++) {
                    sums[j] += Math.abs(own[j]);
                }
            }
            return sums;
        }

        @Override
        public double size() {
            return size;
        }
    }
}

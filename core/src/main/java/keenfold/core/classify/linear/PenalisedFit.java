package keenfold.core.classify.linear;

import java.util.Arrays;
import java.util.Optional;
import keenfold.core.classify.Vectors;
import keenfold.core.learned.FitFailure;
import org.jspecify.annotations.Nullable;

/**
 * Minimises a {@link Likelihood} with the penalty lasso·Σ|β| + ridge/2·Σβ² over all coefficients but the intercepts.
 *
 * <p>Definition: Newton's method on the coefficients that are not 0, whose signs are kept: what would change its sign is
 * set to 0, and the step is halved until the objective falls enough. While a coefficient at 0 misses its optimality
 * condition, {@link CoordinateDescent} goes before, over those that are not 0 and those that miss it. Where a column's
 * coefficients of all classes could move by the same without changing a probability, they are moved to where the penalty is
 * least: to a mean of 0 for ridge, to a median of 0 for lasso.
 *
 * <p>It ends when every coefficient meets its optimality condition, with g the derivative of the likelihood: |g + lasso·sign
 * β + ridge·β| ≤ t where β ≠ 0, |g| ≤ lasso + t where β = 0, t being 1e-9 of the total weight. The objective is convex, so
 * that this is its minimum.
 *
 * <p>References: Friedman, Hastie and Tibshirani (2010), J. Stat. Softw. 33(1), doi:10.18637/jss.v033.i01; Byrd, Chin,
 * Nocedal and Oztoprak (2016), Math. Program. 159, doi:10.1007/s10107-015-0965-3 (Newton's method on the coefficients that
 * are not 0); Tibshirani et al. (2012), J. R. Stat. Soc. B 74(2), doi:10.1111/j.1467-9868.2011.01004.x (strong rules).
 */
final class PenalisedFit {
    private static final int MOST_ROUNDS = 200;
    private static final int MOST_HALVINGS = 40;
    private static final int MORE_CYCLES = 10;
    private static final double TOLERANCE = 1e-9;
    private static final double SUFFICIENT = 1e-4;
    private static final double FARTHEST = 10;
    private static final double ROUNDING = 1e-13;

    /** A step of Newton's method that moves coefficients by more than this, relative to their size, is not an end. */
    private static final double STILL_GROWING = 1e-4;

    private final Likelihood likelihood;
    private final double strength;
    private final double lasso;
    private final double ridge;
    private final int p;
    private final Penalty penalty;
    private final double least;
    private final long mostValues;
    private @Nullable ClassBlocks factored;
    private boolean[] ofFree = new boolean[0];
    private ClassBlocks.Factors factors = ClassBlocks.NO_FACTORS;

    /** Where a fit starts. */
    static final class Start {
        private final double[] beta;
        private final double screen;
        private final Optional<ClassBlocks> blocks;

        private Start(double[] beta, double screen, Optional<ClassBlocks> blocks) {
            this.beta = beta;
            this.screen = screen;
            this.blocks = blocks;
        }

        /** @param beta m·p coefficients */
        static Start at(double[] beta) {
            return new Start(beta, Double.POSITIVE_INFINITY, Optional.empty());
        }

        /** @param blocks the second derivatives of a similar fit */
        static Start near(double[] beta, Optional<ClassBlocks> blocks) {
            return new Start(beta, Double.POSITIVE_INFINITY, blocks);
        }

        /**
         * Starts where a stronger penalty led to. By the strong rule, derivatives below 2·lasso − stronger belong to
         * coefficients that will be 0; the others are looked at from the beginning.
         *
         * @param stronger the lasso part of that penalty
         */
        static Start after(double[] beta, double stronger, double lasso) {
            return new Start(beta, 2 * lasso - stronger, Optional.empty());
        }

        double[] beta() {
            return beta.clone();
        }
    }

    /** What the optimality conditions say of the coefficients. */
    private record Missed(double most, double mostOfZeros) {}

    /**
     * Where a step of Newton's method led.
     *
     * @param products how many products with the curvature it took
     * @param whole whether it was gone to its end
     */
    private record Newton(Likelihood.Point point, int products, boolean whole) {}

    /** @param mix the share of the lasso in the penalty */
    PenalisedFit(Likelihood likelihood, double strength, double mix) {
        this(likelihood, strength, mix, ClassBlocks.MOST_VALUES);
    }

    /** @param mostValues how many numbers the second derivatives may have */
    PenalisedFit(Likelihood likelihood, double strength, double mix, long mostValues) {
        this.mostValues = mostValues;
        this.likelihood = likelihood;
        this.strength = strength;
        this.lasso = strength * mix;
        this.ridge = strength * (1 - mix);
        this.p = likelihood.p;
        this.penalty = new Penalty(lasso, ridge, p);
        this.least = TOLERANCE * likelihood.total;
    }

    /**
     * Returns the coefficients.
     *
     * @throws FitFailure if it does not end
     */
    double[] minimise(Start start) {
        Likelihood.Point now = centred(likelihood.at(start.beta));
        double screen = start.screen;
        Optional<ClassBlocks> known = start.blocks;
        Newton last = new Newton(now, 0, true);
        for (int round = 0; round < MOST_ROUNDS; round++) {
            FitFailure.ifInterrupted();
            double[] gradient = likelihood.gradient(now);
            Missed missed = missed(now, gradient);
            if (missed.most <= least) {
                return ended(now, gradient, known);
            }
            boolean descend = lasso > 0 && (missed.mostOfZeros > least || !last.whole);
            boolean[] working = working(now, gradient, screen);
            // To compute the blocks costs as much as p/4 products: until then, old ones do.
            boolean fresh = descend
                    || last.products > p / 4 + 4
                    || known.filter(b -> b.have(working)).isEmpty();
            ClassBlocks blocks = fresh ? ClassBlocks.of(likelihood, now.prob(), working, mostValues) : known.get();
            known = Optional.of(blocks);
            Likelihood.Point before = now;
            if (descend) {
                now = descended(now, gradient, blocks, MORE_CYCLES * (1 + round / 4));
                gradient = likelihood.gradient(now);
                screen = Double.POSITIVE_INFINITY;
            }
            last = newton(now, gradient, blocks);
            now = last.point;
            if (now == before && (descend || lasso == 0)) {
                break;
            }
            now = centred(now);
        }
        throw failure();
    }

    private FitFailure failure() {
        return strength > 0
                ? new FitFailure(
                        "logistic did not converge: strength " + strength + " is too small for these columns; raise it")
                : new FitFailure(Logistic.SEPARATED);
    }

    /**
     * Returns the coefficients of the end. Without a penalty, classes that can be separated have no solution: the
     * coefficients grow without end while the derivatives vanish. So there the end is believed only if the next step of
     * Newton's method would be small (Albert and Anderson 1984, Biometrika 71(1), doi:10.1093/biomet/71.1.1).
     */
    private double[] ended(Likelihood.Point now, double[] gradient, Optional<ClassBlocks> known) {
        if (strength == 0) {
            boolean[] free = free(now.beta());
            ClassBlocks blocks = known.orElseGet(() -> ClassBlocks.of(likelihood, now.prob(), free, mostValues));
            double[] next = new NewtonStep(likelihood, ridge, now, free).step(gradient, blocks.factored(free, ridge));
            if (!(Vectors.largest(next) <= STILL_GROWING * (1 + Vectors.largest(now.beta())))) {
                throw failure();
            }
        }
        return now.beta();
    }

    private Missed missed(Likelihood.Point now, double[] gradient) {
        double most = 0;
        double mostOfZeros = 0;
        for (int k = 0; k < gradient.length; k++) {
            double by = penalty.missed(now.beta()[k], gradient[k], penalty.intercept(k));
            // A derivative that is no number must not pass for a small one.
            most = by <= most ? most : by;
            mostOfZeros = zero(now, k) ? Math.max(mostOfZeros, by) : mostOfZeros;
        }
        return new Missed(most, mostOfZeros);
    }

    private boolean zero(Likelihood.Point now, int k) {
        return lasso > 0 && now.beta()[k] == 0 && !penalty.intercept(k);
    }

    /** The coefficients that are not 0, those that should not be, and those that the strong rule does not rule out. */
    private boolean[] working(Likelihood.Point now, double[] gradient, double screen) {
        boolean[] working = new boolean[gradient.length];
        for (int k = 0; k < working.length; k++) {
            double slope = Math.abs(gradient[k]);
            working[k] = !zero(now, k) || slope > lasso || slope >= screen;
        }
        return working;
    }

    private boolean[] free(double[] beta) {
        boolean[] free = new boolean[beta.length];
        for (int k = 0; k < free.length; k++) {
            free[k] = lasso == 0 || beta[k] != 0 || penalty.intercept(k);
        }
        return free;
    }

    /** The derivatives of the objective by coefficients whose signs are kept. */
    private double[] slope(double[] beta, double[] gradient) {
        double[] slope = gradient.clone();
        for (int k = 0; k < slope.length; k++) {
            if (!penalty.intercept(k)) {
                slope[k] += lasso * Math.signum(beta[k]) + ridge * beta[k];
            }
        }
        return slope;
    }

    /** Goes towards the minimum of the penalised expansion, as far as the objective falls; the same point if it does not. */
    private Likelihood.Point descended(Likelihood.Point now, double[] gradient, ClassBlocks blocks, int cycles) {
        double[] from = now.beta();
        double[] target = new CoordinateDescent(likelihood, penalty, now, gradient, blocks).from(from, cycles);
        double before = penalty.of(from);
        double change = penalty.of(target) - before;
        for (int k = 0; k < target.length; k++) {
            change += gradient[k] * (target[k] - from[k]);
        }
        double share = 1;
        for (int h = 0; h < MOST_HALVINGS; h++) {
            double by = share;
            double[] beta = target.clone();
            if (by < 1) {
                Arrays.setAll(beta, k -> from[k] + by * (target[k] - from[k]));
            }
            Likelihood.Point next = likelihood.at(beta);
            if (falls(now.value() + before, next, share * change)) {
                return next;
            }
            share /= 2;
        }
        return now;
    }

    /** Goes along Newton's step, what would change its sign as far as 0; to the same point if the objective does not fall. */
    private Newton newton(Likelihood.Point now, double[] gradient, ClassBlocks blocks) {
        boolean[] free = free(now.beta());
        if (ridge == 0 && lasso > 0 && moreThan((long) likelihood.w.length * likelihood.parts, free)) {
            // The curvature is 0 along some directions: coordinate descent takes coefficients away first.
            return new Newton(now, 0, false);
        }
        double[] slope = slope(now.beta(), gradient);
        NewtonStep newton = new NewtonStep(likelihood, ridge, now, free);
        double[] step = newton.step(slope, factors(blocks, free));
        double value = now.value() + penalty.of(now.beta());
        // Where the probabilities have reached 0 and 1 there is no curvature, and the step has no length.
        double share = Math.min(1, FARTHEST * (1 + Vectors.largest(now.beta())) / Vectors.largest(step));
        for (int h = 0; h < MOST_HALVINGS; h++) {
            double[] beta = now.beta().clone();
            double change = 0;
            for (int k = 0; k < beta.length; k++) {
                double to = beta[k] + share * step[k];
                boolean turns = lasso > 0 && !penalty.intercept(k) && to * beta[k] < 0;
                change += slope[k] * ((turns ? 0 : to) - beta[k]);
                beta[k] = turns ? 0 : to;
            }
            if (change <= 0) {
                Likelihood.Point next = likelihood.at(beta);
                if (falls(value, next, change)) {
                    return new Newton(next, newton.products(), share == 1 && newton.reached());
                }
            }
            share /= 2;
        }
        return new Newton(now, newton.products(), false);
    }

    /** The factors of blocks, made anew only if they or the free coefficients are others. */
    private ClassBlocks.Factors factors(ClassBlocks blocks, boolean[] free) {
        if (!blocks.equals(factored) || !Arrays.equals(free, ofFree)) {
            factors = blocks.factored(free, ridge);
            factored = blocks;
            ofFree = free;
        }
        return factors;
    }

    private static boolean moreThan(long most, boolean[] free) {
        long count = 0;
        for (boolean f : free) {
            count += f ? 1 : 0;
        }
        return count > most;
    }

    /** Whether the objective falls by enough of what was promised; the slack keeps rounding from halving forever. */
    private boolean falls(double from, Likelihood.Point to, double promised) {
        return to.value() + penalty.of(to.beta()) <= from + SUFFICIENT * promised + ROUNDING * Math.abs(from);
    }

    private Likelihood.Point centred(Likelihood.Point point) {
        double[] beta = point.beta().clone();
        penalty.centre(beta);
        return new Likelihood.Point(beta, point.prob(), point.value());
    }
}

package keenfold.core.classify.linear;

import java.util.stream.IntStream;
import keenfold.core.classify.Products;
import keenfold.core.learned.FitFailure;

/**
 * Minimises the second-order expansion of a {@link Likelihood} with the penalty lasso·Σ|β| + ridge/2·Σβ², coordinate by
 * coordinate, over a working set of coefficients: which of them are 0 is found so.
 *
 * <p>The expansion is that of all classes at once: the classes take turns, each seeing how far the others have moved.
 * Where a class has at most as many coefficients in the working set as there are rows, a coordinate's change is carried
 * over to the others' derivatives by X'W_cX (covariance updates), else to the rows (naive updates).
 *
 * <p>Reference: Friedman, Hastie and Tibshirani (2010), J. Stat. Softw. 33(1), doi:10.18637/jss.v033.i01, sections 2.2 and 4.
 */
final class CoordinateDescent {
    private static final int MOST_SWEEPS = 50;
    private static final double SETTLED = 0.1;

    private final Likelihood likelihood;
    private final Penalty penalty;
    private final double[][] prob;
    private final double[] gradient;
    private final ClassBlocks blocks;

    /** @param blocks those of the working set */
    CoordinateDescent(
            Likelihood likelihood, Penalty penalty, Likelihood.Point at, double[] gradient, ClassBlocks blocks) {
        this.likelihood = likelihood;
        this.penalty = penalty;
        this.prob = at.prob();
        this.gradient = gradient;
        this.blocks = blocks;
    }

    /**
     * Returns the coefficients at which it ends.
     *
     * @param beta those where the expansion was made
     * @param cycles how many turns each class may take
     */
    double[] from(double[] beta, int cycles) {
        int n = likelihood.w.length;
        int p = likelihood.p;
        double[] now = beta.clone();
        double[][] moved = new double[prob.length][n];
        double[] mean = new double[n];
        double first = 0;
        for (int cycle = 0; cycle < cycles; cycle++) {
            FitFailure.ifInterrupted();
            double most = 0;
            for (int c = 0; c < prob.length; c++) {
                int[] own = blocks.columns(c);
                double[] part = new double[own.length];
                for (int k = 0; k < own.length; k++) {
                    part[k] = now[c * p + own[k]];
                }
                double[] before = part.clone();
                double[] pull = new double[n];
                for (int i = 0; i < n; i++) {
                    pull[i] = likelihood.w[i] * prob[c][i] * (moved[c][i] - mean[i]);
                }
                double[][] x = IntStream.of(own).mapToObj(j -> likelihood.x[j]).toArray(double[][]::new);
                most = Math.max(most, sweep(c, x, part, pull));
                for (int k = 0; k < own.length; k++) {
                    now[c * p + own[k]] = part[k];
                    before[k] = part[k] - before[k];
                }
                double[] by = Products.combination(x, before, 0, n);
                for (int i = 0; i < n; i++) {
                    moved[c][i] += by[i];
                    mean[i] += prob[c][i] * by[i];
                }
            }
            penalty.centre(now);
            first = cycle == 0 ? most : first;
            if (most <= SETTLED * first || prob.length == 1) {
                break;
            }
        }
        return now;
    }

    /**
     * Moves the coefficients of one class.
     *
     * @param pull n weights, whose products with the columns are what the derivatives have changed by so far
     * @return by how much the optimality conditions were missed at the start
     */
    private double sweep(int c, double[][] x, double[] part, double[] pull) {
        int p = likelihood.p;
        int[] own = blocks.columns(c);
        double[] block = blocks.block(c);
        int size = own.length;
        double[] slope = size == 0 ? new double[0] : new Products.Columns(x).sums(new double[][] {pull});
        double missed = 0;
        for (int k = 0; k < size; k++) {
            slope[k] += gradient[c * p + own[k]];
            missed = Math.max(missed, penalty.missed(part[k], slope[k], own[k] == p - 1));
        }
        for (int sweep = 0; sweep < MOST_SWEEPS; sweep++) {
            double most = 0;
            for (int k = 0; k < size; k++) {
                double bend = block[k * size + k];
                if (!(bend > 0)) {
                    continue;
                }
                boolean intercept = own[k] == p - 1;
                double toward = bend * part[k] - slope[k];
                double next = intercept
                        ? toward / bend
                        : Math.signum(toward)
                                * Math.max(0, Math.abs(toward) - penalty.lasso())
                                / (bend + penalty.ridge());
                double change = next - part[k];
                if (change != 0) {
                    part[k] = next;
                    int row = k * size;
                    for (int l = 0; l < size; l++) {
                        slope[l] += change * block[row + l];
                    }
                    most = Math.max(most, Math.abs(change) * bend);
                }
            }
            if (most <= SETTLED * SETTLED * missed) {
                break;
            }
        }
        return missed;
    }
}

package keenfold.core.classify.linear;

import java.util.stream.IntStream;
import keenfold.core.classify.Products;
import keenfold.core.classify.Vectors;
import keenfold.core.learned.FitFailure;

/**
 * Minimises the second-order expansion of a {@link Likelihood} with the penalty lasso·Σ|β| + ridge/2·Σβ², coordinate by
 * coordinate, over a working set of coefficients: which of them are 0 is found so.
 *
 * <p>The expansion is that of all classes at once: the classes take turns, each seeing how far the others have moved. A
 * coordinate's change is carried over to the derivatives of the same class by X'W_cX (covariance updates); where that would
 * have too many numbers, to the rows (naive updates).
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
        double[][][] x = new double[prob.length][][];
        Products.Columns[] columns = new Products.Columns[prob.length];
        for (int c = 0; c < prob.length; c++) {
            x[c] = IntStream.of(blocks.columns(c))
                    .mapToObj(j -> likelihood.x[j])
                    .toArray(double[][]::new);
            columns[c] = new Products.Columns(x[c]);
        }
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
                double[] slope = columns[c].sums(new double[][] {pull});
                for (int k = 0; k < own.length; k++) {
                    slope[k] += gradient[c * p + own[k]];
                    most = Math.max(most, penalty.missed(part[k], slope[k], own[k] == p - 1));
                }
                sweep(c, x[c], part, slope);
                for (int k = 0; k < own.length; k++) {
                    now[c * p + own[k]] = part[k];
                    before[k] = part[k] - before[k];
                }
                double[] by = Products.combination(x[c], before, 0, n);
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
     * Moves the coefficients of one class until they hardly move.
     *
     * @param part the coefficients
     * @param slope the derivatives of the expansion at them
     */
    private void sweep(int c, double[][] x, double[] part, double[] slope) {
        boolean naive = blocks.diagonal();
        double[] block = blocks.block(c);
        int size = part.length;
        int last = likelihood.p - 1;
        int[] own = blocks.columns(c);
        double[] curvature = naive ? likelihood.curvature(prob[c]) : new double[0];
        // What the changes of this sweep do to the rows.
        double[] moved = new double[curvature.length];
        double small = 0;
        for (int k = 0; k < size; k++) {
            small = Math.max(small, SETTLED * SETTLED * penalty.missed(part[k], slope[k], own[k] == last));
        }
        for (int sweep = 0; sweep < MOST_SWEEPS; sweep++) {
            double most = 0;
            for (int k = 0; k < size; k++) {
                double bend = naive ? block[k] : block[k * size + k];
                if (!(bend > 0)) {
                    continue;
                }
                double toward = bend * part[k] - slope[k] - (naive ? Vectors.dot(moved, x[k]) : 0);
                double next = own[k] == last
                        ? toward / bend
                        : Math.signum(toward)
                                * Math.max(0, Math.abs(toward) - penalty.lasso())
                                / (bend + penalty.ridge());
                double change = next - part[k];
                if (change == 0) {
                    continue;
                }
                part[k] = next;
                most = Math.max(most, Math.abs(change) * bend);
                for (int i = 0; i < moved.length; i++) {
                    moved[i] += change * curvature[i] * x[k][i];
                }
                for (int l = 0; !naive && l < size; l++) {
                    slope[l] += change * block[k * size + l];
                }
            }
            if (most <= small) {
                break;
            }
        }
    }
}

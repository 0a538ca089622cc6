package keenfold.core.classify.svm;

import java.util.Arrays;
import keenfold.core.learned.FitFailure;

/**
 * The separating function of greatest soft margin between two classes, f(x) = Σ αₛyₛK(xₛ, x) + b.
 *
 * <p>Definition: α minimises ½ΣΣ αᵢαⱼyᵢyⱼK(xᵢ, xⱼ) − Σα under 0 ≤ αᵢ ≤ cᵢ and Σαᵢyᵢ = 0.
 *
 * <p>Method: of a linear kernel with fewer columns than rows, {@link LinearMargin}; otherwise two α at a time, the first the
 * one that violates the optimality conditions most, the second the one that lowers the objective most by its quadratic
 * approximation (Fan, Chen and Lin 2005, J. Mach. Learn. Res. 6), until no pair violates them by more than 1e-5.
 */
public final class Margin {
    private static final double ENOUGH = 1e-5;
    private static final double LEAST_BEND = 1e-12;
    private static final long LEAST_STEPS = 10_000_000L;

    private final KernelRows kernel;
    private final int[] rows;
    private final double[] y;
    private final double[] most;
    private final double[] alpha;
    /** −yᵢ times the derivative by αᵢ: all alike, between the bounds, at the solution. */
    private final double[] pull;

    private final double bias;

    /**
     * @param rows which rows of the kernel are trained on
     * @param positive whether each of them belongs to the second class; both occur
     * @param most the upper bound of each one's α
     */
    Margin(KernelRows kernel, int[] rows, boolean[] positive, double[] most) {
        this.kernel = kernel;
        this.rows = rows;
        this.most = most;
        this.y = new double[rows.length];
        Arrays.setAll(y, i -> positive[i] ? 1 : -1);
        this.alpha = new double[rows.length];
        // All α are 0 at first, where the derivative is −1.
        this.pull = y.clone();
        if (kernel.isLinear() && kernel.x(0).length < rows.length) {
            double[][] own = Arrays.stream(rows).mapToObj(kernel::x).toArray(double[][]::new);
            LinearMargin solved = new LinearMargin(own, y, most);
            double[] beta = solved.beta();
            Arrays.setAll(alpha, t -> y[t] * beta[t] + 0.0);
            System.arraycopy(solved.pulled(), 0, pull, 0, pull.length);
        } else {
            descend();
        }
        this.bias = middle();
    }

    private void descend() {
        double[] own = new double[rows.length];
        Arrays.setAll(own, i -> kernel.own(rows[i]));
        long limit = Math.max(LEAST_STEPS, 100L * rows.length);
        for (long step = 0; step < limit; step++) {
            if ((step & 0xFF) == 0) {
                FitFailure.ifInterrupted();
            }
            int i = highest();
            if (i < 0) {
                return;
            }
            double[] ki = kernel.row(rows[i]);
            int j = partner(i, ki, own);
            if (j < 0) {
                return;
            }
            move(i, j, ki, own);
        }
        throw new FitFailure("svm did not converge in " + limit + " steps; a larger strength is easier to fit");
    }

    /** Whether yα may grow. */
    private boolean rises(int t) {
        return y[t] > 0 ? alpha[t] < most[t] : alpha[t] > 0;
    }

    /** Whether yα may shrink. */
    private boolean falls(int t) {
        return y[t] > 0 ? alpha[t] > 0 : alpha[t] < most[t];
    }

    private int highest() {
        int best = -1;
        for (int t = 0; t < pull.length; t++) {
            if (rises(t) && (best < 0 || pull[t] > pull[best])) {
                best = t;
            }
        }
        return best;
    }

    /** The one that gains most together with {@code i}; −1 if none violates the conditions. */
    private int partner(int i, double[] ki, double[] own) {
        int best = -1;
        double bestGain = 0;
        double lowest = Double.POSITIVE_INFINITY;
        for (int t = 0; t < pull.length; t++) {
            if (falls(t)) {
                lowest = Math.min(lowest, pull[t]);
                double by = pull[i] - pull[t];
                if (by > 0) {
                    double bend = Math.max(LEAST_BEND, own[i] + own[t] - 2 * ki[rows[t]]);
                    double gain = by * by / bend;
                    if (gain > bestGain) {
                        bestGain = gain;
                        best = t;
                    }
                }
            }
        }
        return pull[i] - lowest <= ENOUGH ? -1 : best;
    }

    /** Moves yα of one up and of the other down by the same, as far as it gains and the bounds allow. */
    private void move(int i, int j, double[] ki, double[] own) {
        double bend = Math.max(LEAST_BEND, own[i] + own[j] - 2 * ki[rows[j]]);
        double by = (pull[i] - pull[j]) / bend;
        double roomUp = y[i] > 0 ? most[i] - alpha[i] : alpha[i];
        double roomDown = y[j] > 0 ? alpha[j] : most[j] - alpha[j];
        by = Math.min(by, Math.min(roomUp, roomDown));
        // At a bound exactly: what is nearly there would be tried again and again.
        alpha[i] = by == roomUp ? (y[i] > 0 ? most[i] : 0) : alpha[i] + y[i] * by;
        alpha[j] = by == roomDown ? (y[j] > 0 ? 0 : most[j]) : alpha[j] - y[j] * by;
        double[] kj = kernel.row(rows[j]);
        for (int t = 0; t < pull.length; t++) {
            pull[t] -= by * (ki[rows[t]] - kj[rows[t]]);
        }
    }

    /** Free α pull alike; where none is free, b lies midway between the bounds. */
    private double middle() {
        double sum = 0;
        int free = 0;
        double high = Double.NEGATIVE_INFINITY;
        double low = Double.POSITIVE_INFINITY;
        for (int t = 0; t < pull.length; t++) {
            if (free(t)) {
                sum += pull[t];
                free++;
            } else if (rises(t)) {
                high = Math.max(high, pull[t]);
            } else {
                low = Math.min(low, pull[t]);
            }
        }
        return free > 0 ? sum / free : (high + low) / 2;
    }

    private boolean free(int t) {
        return alpha[t] > 0 && alpha[t] < most[t];
    }

    double bias() {
        return bias;
    }

    /** αy of each row of the kernel, 0 of those that were not trained on. */
    double[] coefficients() {
        double[] all = new double[kernel.rows()];
        for (int t = 0; t < rows.length; t++) {
            all[rows[t]] = y[t] * alpha[t];
        }
        return all;
    }

    /** How many rows lie on the margin: their α is between its bounds. */
    int onMargin() {
        int count = 0;
        for (int t = 0; t < alpha.length; t++) {
            count += free(t) ? 1 : 0;
        }
        return count;
    }

    /** f of a row of the kernel. */
    double of(int row) {
        double[] k = kernel.row(row);
        double sum = bias;
        for (int t = 0; t < rows.length; t++) {
            sum += alpha[t] == 0 ? 0 : y[t] * alpha[t] * k[rows[t]];
        }
        return sum;
    }
}

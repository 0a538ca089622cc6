package keenfold.core.classify.svm;

import java.util.Arrays;
import java.util.stream.IntStream;
import keenfold.core.classify.Vectors;
import keenfold.core.learned.FitFailure;

/**
 * The separating function of greatest soft margin between two classes, f(x) = Σ αₛyₛK(xₛ, x) + b.
 *
 * <p>Definition: with β = αy, β minimises ½ΣΣ βᵢβⱼK(xᵢ, xⱼ) − Σβy under 0 ≤ βᵢyᵢ ≤ cᵢ and Σβ = 0. The pull of a row is minus
 * the derivative by its β, y − ΣβK: all alike, between the bounds, at the solution.
 *
 * <p>Method: of a linear kernel with fewer columns than rows, {@link LinearMargin}; otherwise two β at a time, the first the
 * one that violates the optimality conditions most, the second the one that lowers the objective most by its quadratic
 * approximation (Fan, Chen and Lin 2005, J. Mach. Learn. Res. 6), until no pair violates them by more than 1e-5. Each time
 * the violation has fallen to a tenth, rows that are not soon in a violating pair are set aside, and the pulls of those
 * that were are brought up to date (shrinking; Joachims 1999, in: Advances in Kernel Methods, chapter 11).
 */
public final class Margin {
    private static final double ENOUGH = 1e-5;
    private static final double NEXT = 0.1;
    private static final double LEAST_BEND = 1e-12;
    private static final long LEAST_STEPS = 10_000_000L;

    private final KernelRows kernel;
    private final int[] rows;
    private final double[] y;
    private final double[] low;
    private final double[] high;
    private final double[] beta;
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
        int n = rows.length;
        this.y = new double[n];
        this.low = new double[n];
        this.high = new double[n];
        for (int t = 0; t < n; t++) {
            y[t] = positive[t] ? 1 : -1;
            low[t] = positive[t] ? 0 : -most[t];
            high[t] = positive[t] ? most[t] : 0;
        }
        this.beta = new double[n];
        this.pull = y.clone();
        if (isLinear()) {
            solveLinear(IntStream.range(0, n).toArray());
        } else {
            descend();
        }
        this.bias = middle();
    }

    /** Starts from another one's solution, without the rows that are held out: their β are 0. */
    private Margin(Margin whole, boolean[] held) {
        this.kernel = whole.kernel;
        this.rows = whole.rows;
        this.y = whole.y;
        this.low = whole.low.clone();
        this.high = whole.high.clone();
        this.beta = whole.beta.clone();
        this.pull = whole.pull.clone();
        for (int t = 0; t < rows.length; t++) {
            if (held[t]) {
                low[t] = 0;
                high[t] = 0;
            }
        }
        if (isLinear()) {
            solveLinear(IntStream.range(0, rows.length).filter(t -> !held[t]).toArray());
        } else {
            withinBounds();
            descend();
        }
        this.bias = middle();
    }

    /**
     * Returns the function that learns from the same rows but some.
     *
     * @param held which rows are held out; both classes have others
     */
    Margin without(boolean[] held) {
        return new Margin(this, held);
    }

    private boolean isLinear() {
        return kernel.isLinear() && kernel.x(0).length < rows.length;
    }

    private void solveLinear(int[] some) {
        double[][] x = Arrays.stream(some).mapToObj(t -> kernel.x(rows[t])).toArray(double[][]::new);
        double[] signs = Arrays.stream(some).mapToDouble(t -> y[t]).toArray();
        double[] most = Arrays.stream(some).mapToDouble(t -> high[t] - low[t]).toArray();
        LinearMargin solved = new LinearMargin(x, signs, most);
        double[] own = solved.beta();
        double[] pulled = solved.pulled();
        double[] w = new double[kernel.x(0).length];
        Arrays.fill(beta, 0);
        for (int k = 0; k < some.length; k++) {
            beta[some[k]] = own[k] + 0.0;
            for (int j = 0; j < w.length; j++) {
                w[j] += own[k] * x[k][j];
            }
        }
        for (int t = 0; t < rows.length; t++) {
            pull[t] = y[t] - Vectors.dot(w, kernel.x(rows[t]));
        }
        for (int k = 0; k < some.length; k++) {
            pull[some[k]] = pulled[k];
        }
    }

    /** Brings β back between its bounds, and its sum to 0, by what is free first. */
    private void withinBounds() {
        double sum = 0;
        for (int t = 0; t < beta.length; t++) {
            if (high[t] == low[t] && beta[t] != 0) {
                moved(t, -beta[t]);
            }
            sum += beta[t];
        }
        for (int time = 0; time < 2; time++) {
            for (int t = 0; t < beta.length && sum != 0; t++) {
                if (time == 1 || (beta[t] > low[t] && beta[t] < high[t])) {
                    double by = sum > 0 ? -Math.min(sum, beta[t] - low[t]) : Math.min(-sum, high[t] - beta[t]);
                    if (by != 0) {
                        moved(t, by);
                        sum += by;
                    }
                }
            }
        }
    }

    /** Changes one β, and all pulls with it. */
    private void moved(int t, double by) {
        beta[t] =
                by == -beta[t] ? 0 : by == high[t] - beta[t] ? high[t] : by == low[t] - beta[t] ? low[t] : beta[t] + by;
        double[] k = kernel.row(rows[t]);
        for (int s = 0; s < pull.length; s++) {
            pull[s] -= by * k[rows[s]];
        }
    }

    private void descend() {
        double[] own = new double[rows.length];
        Arrays.setAll(own, t -> kernel.own(rows[t]));
        long left = Math.max(LEAST_STEPS, 100L * rows.length);
        while (true) {
            double top = Double.NEGATIVE_INFINITY;
            double bottom = Double.POSITIVE_INFINITY;
            for (int t = 0; t < pull.length; t++) {
                top = beta[t] < high[t] ? Math.max(top, pull[t]) : top;
                bottom = beta[t] > low[t] ? Math.min(bottom, pull[t]) : bottom;
            }
            double gap = top - bottom;
            if (!(gap > ENOUGH)) {
                return;
            }
            double least = bottom - gap;
            double greatest = top + gap;
            int[] active = IntStream.range(0, pull.length)
                    .filter(t -> (beta[t] < high[t] && pull[t] > least) || (beta[t] > low[t] && pull[t] < greatest))
                    .toArray();
            double[] before = beta.clone();
            left = pairs(active, own, Math.max(ENOUGH, NEXT * gap), left);
            if (active.length < pull.length) {
                catchUp(active, before);
            }
        }
    }

    /** Brings the pulls of the rows that were set aside up to date. */
    private void catchUp(int[] active, double[] before) {
        boolean[] aside = new boolean[pull.length];
        Arrays.fill(aside, true);
        for (int t : active) {
            aside[t] = false;
        }
        int[] others = IntStream.range(0, pull.length).filter(t -> aside[t]).toArray();
        for (int s : active) {
            double by = beta[s] - before[s];
            if (by != 0) {
                FitFailure.ifInterrupted();
                double[] k = kernel.row(rows[s]);
                for (int t : others) {
                    pull[t] -= by * k[rows[t]];
                }
            }
        }
    }

    /**
     * Moves pairs of active rows until none violates the conditions by more than {@code enough}.
     *
     * @param left how many steps may be taken
     * @return how many may be taken after that
     */
    private long pairs(int[] active, double[] own, double enough, long left) {
        int i = highest(active);
        for (long step = 0; step < left; step++) {
            if ((step & 0xFF) == 0) {
                FitFailure.ifInterrupted();
            }
            if (i < 0) {
                return left - step;
            }
            double[] ki = kernel.row(rows[i]);
            int j = partner(active, i, ki, own, enough);
            if (j < 0) {
                return left - step;
            }
            i = move(active, i, j, ki, own);
        }
        throw new FitFailure("svm did not converge; a larger strength is easier to fit");
    }

    private int highest(int[] active) {
        int best = -1;
        double top = Double.NEGATIVE_INFINITY;
        for (int t : active) {
            if (pull[t] > top && beta[t] < high[t]) {
                top = pull[t];
                best = t;
            }
        }
        return best;
    }

    /** The one that gains most together with {@code i}; −1 if none violates the conditions by more than {@code enough}. */
    private int partner(int[] active, int i, double[] ki, double[] own, double enough) {
        int best = -1;
        double top = pull[i];
        double ownBend = own[i];
        // The greatest gain as a fraction, so that nothing is divided.
        double over = 0;
        double under = 1;
        double lowest = Double.POSITIVE_INFINITY;
        for (int t : active) {
            double by = top - pull[t];
            if (by > 0 && beta[t] > low[t]) {
                lowest = Math.min(lowest, pull[t]);
                double bend = Math.max(LEAST_BEND, ownBend + own[t] - 2 * ki[rows[t]]);
                if (by * by * under > over * bend) {
                    over = by * by;
                    under = bend;
                    best = t;
                }
            }
        }
        return top - lowest <= enough ? -1 : best;
    }

    /**
     * Moves β of one up and of the other down by the same, as far as it gains and the bounds allow.
     *
     * @return the active row that violates the conditions most then
     */
    private int move(int[] active, int i, int j, double[] ki, double[] own) {
        double bend = Math.max(LEAST_BEND, own[i] + own[j] - 2 * ki[rows[j]]);
        double roomUp = high[i] - beta[i];
        double roomDown = beta[j] - low[j];
        double by = Math.min((pull[i] - pull[j]) / bend, Math.min(roomUp, roomDown));
        // At a bound exactly: what is nearly there would be tried again and again.
        beta[i] = by == roomUp ? high[i] : beta[i] + by;
        beta[j] = by == roomDown ? low[j] : beta[j] - by;
        double[] kj = kernel.row(rows[j]);
        int best = -1;
        double top = Double.NEGATIVE_INFINITY;
        for (int t : active) {
            double now = pull[t] - by * (ki[rows[t]] - kj[rows[t]]);
            pull[t] = now;
            if (now > top && beta[t] < high[t]) {
                top = now;
                best = t;
            }
        }
        return best;
    }

    /** Free β pull alike; where none is free, b lies midway between the bounds. */
    private double middle() {
        double sum = 0;
        int free = 0;
        double top = Double.NEGATIVE_INFINITY;
        double bottom = Double.POSITIVE_INFINITY;
        for (int t = 0; t < pull.length; t++) {
            if (free(t)) {
                sum += pull[t];
                free++;
            } else if (beta[t] < high[t]) {
                top = Math.max(top, pull[t]);
            } else if (beta[t] > low[t]) {
                bottom = Math.min(bottom, pull[t]);
            }
        }
        return free > 0 ? sum / free : (top + bottom) / 2;
    }

    private boolean free(int t) {
        return beta[t] > low[t] && beta[t] < high[t];
    }

    double bias() {
        return bias;
    }

    /** αy of each row of the kernel, 0 of those that were not trained on. */
    double[] coefficients() {
        double[] all = new double[kernel.rows()];
        for (int t = 0; t < rows.length; t++) {
            all[rows[t]] = beta[t];
        }
        return all;
    }

    /** How many rows lie on the margin: their α is between its bounds. */
    int onMargin() {
        return (int) IntStream.range(0, rows.length).filter(this::free).count();
    }

    /** f of one of its rows, trained on or held out; by its place among them. */
    double at(int t) {
        return y[t] - pull[t] + bias;
    }
}

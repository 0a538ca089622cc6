package keenfold.core.classify.svm;

import java.util.Arrays;
import keenfold.core.classify.Spd;
import keenfold.core.classify.Vectors;
import keenfold.core.learned.FitFailure;

/**
 * Nearly solves the problem of {@link LinearMargin}: minimise ½‖X'β‖² − y'β under Σβ = 0 and low ≤ β ≤ high. Some thirty steps
 * of a primal-dual interior point method with Mehrotra's corrector (Nocedal and Wright 2006, Numerical Optimization, section
 * 16.6), each of which costs rows times squared columns, since the system is a diagonal and XX' (Ferris and Munson 2002, SIAM
 * J. Optim. 13(3), doi:10.1137/S1052623400374379).
 */
final class InteriorStart {
    private static final int MOST_STEPS = 60;
    private static final double ENOUGH = 1e-9;
    private static final double BACK = 0.995;

    private final double[][] x;
    private final double[] y;
    private final double[] low;
    private final double[] high;
    private final double[] beta;
    private final double[] z;
    private final double[] u;
    private double b;

    InteriorStart(double[][] x, double[] y, double[] low, double[] high) {
        this.x = x;
        this.y = y;
        this.low = low;
        this.high = high;
        int n = y.length;
        this.beta = new double[n];
        this.z = new double[n];
        this.u = new double[n];
        Arrays.setAll(beta, t -> (low[t] + high[t]) / 2);
        Arrays.fill(z, 1);
        Arrays.fill(u, 1);
        try {
            for (int step = 0; step < MOST_STEPS && step(); step++) {
                FitFailure.ifInterrupted();
            }
        } catch (FitFailure e) {
            // A system that rounding has made singular ends it where it is: near the solution, most likely.
            FitFailure.ifInterrupted();
        }
    }

    private boolean step() {
        int n = y.length;
        double[] w = sums(beta);
        double[] off = new double[n];
        double worst = 0;
        double mu = 0;
        double most = 0;
        double missing = 0;
        for (int t = 0; t < n; t++) {
            off[t] = y[t] - Vectors.dot(w, x[t]) - b + z[t] - u[t];
            worst = Math.max(worst, Math.abs(off[t]));
            mu += (beta[t] - low[t]) * z[t] + (high[t] - beta[t]) * u[t];
            most = Math.max(most, high[t] - low[t]);
            missing -= beta[t];
        }
        mu /= 2 * n;
        if (!(mu > ENOUGH * most || worst > ENOUGH)) {
            return false;
        }
        double[] weight = new double[n];
        Arrays.setAll(weight, t -> 1 / (z[t] / (beta[t] - low[t]) + u[t] / (high[t] - beta[t])));
        Spd system = system(weight);
        double[] even = inverseTimes(system, weight, ones(n));
        // First straight towards the solution, to see how far that goes; then with what it would miss.
        double[] forZ = new double[n];
        double[] forU = new double[n];
        for (int t = 0; t < n; t++) {
            forZ[t] = -(beta[t] - low[t]) * z[t];
            forU[t] = -(high[t] - beta[t]) * u[t];
        }
        Move straight = move(system, weight, even, off, missing, forZ, forU);
        double left = 0;
        for (int t = 0; t < n; t++) {
            left += (beta[t] - low[t] + straight.share * straight.beta[t]) * (z[t] + straight.share * straight.z[t])
                    + (high[t] - beta[t] - straight.share * straight.beta[t]) * (u[t] + straight.share * straight.u[t]);
        }
        double ratio = left / (2 * n) / mu;
        double centre = ratio * ratio * ratio * mu;
        for (int t = 0; t < n; t++) {
            forZ[t] += centre - straight.beta[t] * straight.z[t];
            forU[t] += centre + straight.beta[t] * straight.u[t];
        }
        Move move = move(system, weight, even, off, missing, forZ, forU);
        double share = Math.min(1, BACK * move.share);
        for (int t = 0; t < n; t++) {
            beta[t] += share * move.beta[t];
            z[t] += share * move.z[t];
            u[t] += share * move.u[t];
        }
        b += share * move.b;
        return share > 1e-10;
    }

    /** A direction, and the share of it that meets the first bound. */
    private static final class Move {
        private final double[] beta;
        private final double[] z;
        private final double[] u;
        private final double b;
        private double share = 1 / BACK;

        Move(double[] beta, double b) {
            this.beta = beta;
            this.z = new double[beta.length];
            this.u = new double[beta.length];
            this.b = b;
        }

        void bound(double value, double by) {
            if (by < 0) {
                share = Math.min(share, -value / by);
            }
        }
    }

    private Move move(
            Spd system, double[] weight, double[] even, double[] off, double missing, double[] forZ, double[] forU) {
        int n = y.length;
        double[] right = new double[n];
        Arrays.setAll(right, t -> off[t] + forZ[t] / (beta[t] - low[t]) - forU[t] / (high[t] - beta[t]));
        double[] by = inverseTimes(system, weight, right);
        double shift = (Arrays.stream(by).sum() - missing) / Arrays.stream(even).sum();
        for (int t = 0; t < n; t++) {
            by[t] -= shift * even[t];
        }
        Move move = new Move(by, shift);
        for (int t = 0; t < n; t++) {
            double above = beta[t] - low[t];
            double below = high[t] - beta[t];
            move.z[t] = (forZ[t] - z[t] * by[t]) / above;
            move.u[t] = (forU[t] + u[t] * by[t]) / below;
            move.bound(above, by[t]);
            move.bound(below, -by[t]);
            move.bound(z[t], move.z[t]);
            move.bound(u[t], move.u[t]);
        }
        return move;
    }

    /** I + X'·diag(weight)·X. */
    private Spd system(double[] weight) {
        int p = x[0].length;
        double[] gram = new double[p * p];
        double[] scaled = new double[p];
        for (int t = 0; t < weight.length; t++) {
            double[] row = x[t];
            for (int a = 0; a < p; a++) {
                scaled[a] = weight[t] * row[a];
            }
            for (int a = 0; a < p; a++) {
                for (int c = 0; c <= a; c++) {
                    gram[a * p + c] += scaled[a] * row[c];
                }
            }
        }
        for (int a = 0; a < p; a++) {
            gram[a * p + a] += 1;
            for (int c = 0; c < a; c++) {
                gram[c * p + a] = gram[a * p + c];
            }
        }
        return Spd.factor(gram, p);
    }

    /** (D + XX')⁻¹ v = D⁻¹v − D⁻¹X(I + X'D⁻¹X)⁻¹X'D⁻¹v, {@code weight} being D⁻¹. */
    private double[] inverseTimes(Spd system, double[] weight, double[] v) {
        double[] scaled = new double[v.length];
        Arrays.setAll(scaled, t -> weight[t] * v[t]);
        double[] inner = system.solve(sums(scaled));
        Arrays.setAll(scaled, t -> weight[t] * (v[t] - Vectors.dot(x[t], inner)));
        return scaled;
    }

    private double[] sums(double[] v) {
        double[] sums = new double[x[0].length];
        for (int t = 0; t < v.length; t++) {
            for (int j = 0; j < sums.length; j++) {
                sums[j] += v[t] * x[t][j];
            }
        }
        return sums;
    }

    private static double[] ones(int n) {
        double[] ones = new double[n];
        Arrays.fill(ones, 1);
        return ones;
    }

    /** β, put on the bound that it tends to, by whether it or its multiplier is the smaller one. */
    double[] snapped() {
        double[] snapped = new double[beta.length];
        for (int t = 0; t < beta.length; t++) {
            double range = high[t] - low[t];
            boolean atLow = (beta[t] - low[t]) / range < z[t];
            boolean atHigh = (high[t] - beta[t]) / range < u[t];
            snapped[t] = atLow && !atHigh ? low[t] : atHigh && !atLow ? high[t] : beta[t];
        }
        return snapped;
    }
}

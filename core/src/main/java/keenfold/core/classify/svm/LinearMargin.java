package keenfold.core.classify.svm;

import java.util.Arrays;
import java.util.stream.IntStream;
import keenfold.core.classify.Spd;
import keenfold.core.classify.Vectors;
import keenfold.core.learned.FitFailure;

/**
 * The dual of a soft margin with a linear kernel, solved by an active set: with fewer columns than rows few α lie between
 * their bounds, so that they can be solved for exactly, where steps of two at a time would need very many.
 *
 * <p>With β = αy the problem is: minimise ½‖X'β‖² − y'β under Σβ = 0 and low ≤ β ≤ high. Those that are free are moved to
 * their common minimum (a system of p equations, by the identity of Woodbury), as far as the bounds allow: who meets one is
 * free no more. At the minimum the one that violates the optimality conditions most becomes free (Nocedal and Wright 2006,
 * Numerical Optimization, section 16.5).
 */
final class LinearMargin {
    private static final double ENOUGH = 1e-8;
    private static final double PROXIMAL = 1e-9;
    private static final double BALANCED = 1e-11;
    private static final int FRESH = 64;

    private final double[][] x;
    private final double[] y;
    private final double[] low;
    private final double[] high;
    private final double[] beta;
    private final double[] pull;
    private double[] w;
    private boolean[] free;

    /**
     * @param x one array per row
     * @param y 1 or −1
     * @param most the upper bound of each α
     */
    LinearMargin(double[][] x, double[] y, double[] most) {
        this.x = x;
        this.y = y;
        int n = y.length;
        this.low = new double[n];
        this.high = new double[n];
        for (int t = 0; t < n; t++) {
            low[t] = y[t] > 0 ? 0 : -most[t];
            high[t] = y[t] > 0 ? most[t] : 0;
        }
        this.beta = new double[n];
        this.free = new boolean[n];
        this.w = new double[x[0].length];
        this.pull = y.clone();
        begin();
        solve();
    }

    /** Near the solution, if that can be; otherwise with all β 0. */
    private void begin() {
        double[] near = new InteriorStart(x, y, low, high).snapped();
        boolean[] between = new boolean[near.length];
        int count = 0;
        for (int t = 0; t < near.length; t++) {
            between[t] = near[t] > low[t] && near[t] < high[t];
            count += between[t] ? 1 : 0;
        }
        if (count >= 2 && Arrays.stream(near).allMatch(Double::isFinite)) {
            System.arraycopy(near, 0, beta, 0, near.length);
            free = between;
            w = weights();
            pulls();
        }
    }

    private void solve() {
        long limit = 1000L + 100L * y.length;
        for (long step = 0; step < limit; step++) {
            FitFailure.ifInterrupted();
            int[] set = IntStream.range(0, y.length).filter(t -> free[t]).toArray();
            boolean atMinimum = set.length < 2 || toMinimum(set);
            if (step % FRESH == 0) {
                w = weights();
            }
            pulls();
            if (atMinimum && !release(set)) {
                return;
            }
        }
        throw new FitFailure("svm did not converge in " + limit + " steps; a larger strength is easier to fit");
    }

    /** X'β from the beginning, so that rounding does not pile up. */
    private double[] weights() {
        double[] sum = new double[w.length];
        for (int t = 0; t < beta.length; t++) {
            if (beta[t] != 0) {
                for (int j = 0; j < sum.length; j++) {
                    sum[j] += beta[t] * x[t][j];
                }
            }
        }
        return sum;
    }

    private void pulls() {
        for (int t = 0; t < pull.length; t++) {
            pull[t] = y[t] - Vectors.dot(w, x[t]);
        }
    }

    /** Moves the free ones towards their minimum; false if a bound is met on the way. */
    private boolean toMinimum(int[] set) {
        int p = w.length;
        double[] gram = new double[p * p];
        double[] towards = new double[set.length];
        double mean = 0;
        for (int t : set) {
            mean += pull[t] / set.length;
            for (int a = 0; a < p; a++) {
                for (int b = 0; b <= a; b++) {
                    gram[a * p + b] += x[t][a] * x[t][b];
                }
            }
        }
        double trace = 0;
        for (int a = 0; a < p; a++) {
            trace += gram[a * p + a];
        }
        double proximal = Math.max(Double.MIN_NORMAL, PROXIMAL * (trace > 0 ? trace / p : 1));
        for (int a = 0; a < p; a++) {
            gram[a * p + a] += proximal;
            for (int b = 0; b < a; b++) {
                gram[b * p + a] = gram[a * p + b];
            }
        }
        Spd system = Spd.factor(gram, p);
        double spread = 0;
        for (int k = 0; k < set.length; k++) {
            towards[k] = pull[set[k]] - mean;
            spread = Math.max(spread, Math.abs(towards[k]));
        }
        if (spread <= ENOUGH / 4 && Math.abs(Arrays.stream(beta).sum()) <= BALANCED * (1 + largest())) {
            return true;
        }
        double[] all = inverseTimes(system, set, towards, proximal);
        double[] ones = new double[set.length];
        Arrays.fill(ones, 1);
        double[] even = inverseTimes(system, set, ones, proximal);
        // What was put on a bound at the beginning has left the sum of β a little off 0.
        double shift = (Arrays.stream(all).sum() + Arrays.stream(beta).sum())
                / Arrays.stream(even).sum();
        double share = 1;
        int met = -1;
        for (int k = 0; k < set.length; k++) {
            all[k] -= shift * even[k];
            double room = all[k] > 0 ? high[set[k]] - beta[set[k]] : low[set[k]] - beta[set[k]];
            if (all[k] != 0 && room / all[k] < share) {
                share = Math.max(0, room / all[k]);
                met = k;
            }
        }
        for (int k = 0; k < set.length; k++) {
            int t = set[k];
            double next = k == met ? (all[k] > 0 ? high[t] : low[t]) : beta[t] + share * all[k];
            next = Math.max(low[t], Math.min(high[t], next));
            double by = next - beta[t];
            beta[t] = next;
            for (int j = 0; j < p; j++) {
                w[j] += by * x[t][j];
            }
        }
        if (met >= 0) {
            free[set[met]] = false;
        }
        return false;
    }

    private double largest() {
        double most = 0;
        for (double b : beta) {
            most = Math.max(most, Math.abs(b));
        }
        return most;
    }

    /** (proximal·I + XX')⁻¹ v = (v − X (proximal·I + X'X)⁻¹ X'v) / proximal, over the free rows. */
    private double[] inverseTimes(Spd system, int[] set, double[] v, double proximal) {
        double[] sums = new double[w.length];
        for (int k = 0; k < set.length; k++) {
            for (int j = 0; j < sums.length; j++) {
                sums[j] += x[set[k]][j] * v[k];
            }
        }
        double[] inner = system.solve(sums);
        double[] result = new double[set.length];
        Arrays.setAll(result, k -> (v[k] - Vectors.dot(x[set[k]], inner)) / proximal);
        return result;
    }

    /** Frees the one that violates the conditions most; false if none does. */
    private boolean release(int[] set) {
        int up = -1;
        int down = -1;
        for (int t = 0; t < pull.length; t++) {
            if (beta[t] < high[t] && (up < 0 || pull[t] > pull[up])) {
                up = t;
            }
            if (beta[t] > low[t] && (down < 0 || pull[t] < pull[down])) {
                down = t;
            }
        }
        double sum = 0;
        for (int t : set) {
            sum += pull[t];
        }
        double bias = set.length > 0 ? sum / set.length : (pull[up] + pull[down]) / 2;
        if (pull[up] - pull[down] <= ENOUGH) {
            return false;
        }
        if (set.length == 0) {
            free[up] = true;
            free[down] = true;
        } else if (pull[up] - bias > bias - pull[down]) {
            free[up] = true;
        } else {
            free[down] = true;
        }
        return true;
    }

    /** y − Xw: alike for those between their bounds. */
    double[] pulled() {
        return pull.clone();
    }

    /** αy of each row. */
    double[] beta() {
        return beta.clone();
    }
}

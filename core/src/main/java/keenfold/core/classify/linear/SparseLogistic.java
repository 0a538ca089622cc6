package keenfold.core.classify.linear;

import java.util.Arrays;
import keenfold.core.learned.FitFailure;

/**
 * The part of {@link Logistic} whose penalty has corners, so that coefficients may be exactly 0.
 *
 * <p>Definition: minimises −Σ wᵢ·ln p(yᵢ|xᵢ) + Σ_j (l₁·|β_j| + l₂/2·β_j²). Class by class (once for two classes) the
 * log-likelihood is replaced by its second-order expansion, the penalised expansion is minimised coordinate by coordinate,
 * and the step is halved until the objective falls. It ends when every coefficient meets its optimality condition, with g
 * the derivative of the log-likelihood: |g − l₁·sign β − l₂·β| ≤ t where β ≠ 0, |g| ≤ l₁ + t where β = 0, t being 1e-9 of
 * the total weight.
 *
 * <p>Reference: Friedman, Hastie and Tibshirani (2010), J. Stat. Softw. 33(1), doi:10.18637/jss.v033.i01.
 */
final class SparseLogistic {
    private static final int MOST_ROUNDS = 3000;
    private static final int MOST_SWEEPS = 2000;
    private static final int MOST_HALVINGS = 40;
    private static final double TOLERANCE = 1e-9;

    private final double[][] x;
    private final int[] y;
    private final double[] w;
    private final double l1;
    private final double l2;
    private final boolean binary;
    private final double[][] beta;
    private final double[][] eta;
    private final double[][] prob;
    private final double total;

    /**
     * @param x columns, the intercept's last
     * @param start coefficients to start from: one row of them for two classes, one per class for more
     */
    SparseLogistic(double[][] x, int[] y, double[] w, double l1, double l2, double[][] start) {
        this.x = x;
        this.y = y;
        this.w = w;
        this.l1 = l1;
        this.l2 = l2;
        this.binary = start.length == 1;
        this.beta = Arrays.stream(start).map(double[]::clone).toArray(double[][]::new);
        this.eta = new double[start.length][];
        this.prob = new double[start.length][w.length];
        for (int k = 0; k < eta.length; k++) {
            eta[k] = Logistic.scores(x, beta[k], w.length);
        }
        this.total = Arrays.stream(w).sum();
    }

    /** Returns the coefficients. */
    double[][] minimise() {
        double objective = objective();
        for (int round = 0; round < MOST_ROUNDS; round++) {
            FitFailure.ifInterrupted();
            if (optimal()) {
                centre();
                return beta;
            }
            for (int k = 0; k < beta.length; k++) {
                objective = improve(k, objective);
            }
        }
        throw new FitFailure("logistic did not meet its optimality conditions in " + MOST_ROUNDS
                + " rounds of coordinate descent; raise strength");
    }

    /** Intercepts of several classes may all move by the same; they are made to sum to 0. */
    private void centre() {
        if (!binary) {
            int last = x.length - 1;
            double mean = Arrays.stream(beta).mapToDouble(b -> b[last]).sum() / beta.length;
            for (double[] own : beta) {
                own[last] -= mean;
            }
        }
    }

    /** Fills {@code prob} from {@code eta}; returns the objective. */
    private double objective() {
        double sum = 0;
        for (int i = 0; i < w.length; i++) {
            if (binary) {
                double e = StrictMath.exp(-Math.abs(eta[0][i]));
                prob[0][i] = eta[0][i] >= 0 ? 1 / (1 + e) : e / (1 + e);
                double towards = y[i] == 1 ? eta[0][i] : -eta[0][i];
                sum += w[i] * (Math.max(0, -towards) + StrictMath.log1p(e));
                continue;
            }
            double most = Double.NEGATIVE_INFINITY;
            for (double[] scores : eta) {
                most = Math.max(most, scores[i]);
            }
            double all = 0;
            for (int k = 0; k < eta.length; k++) {
                prob[k][i] = StrictMath.exp(eta[k][i] - most);
                all += prob[k][i];
            }
            for (int k = 0; k < eta.length; k++) {
                prob[k][i] /= all;
            }
            sum += w[i] * (most + StrictMath.log(all) - eta[y[i]][i]);
        }
        for (double[] own : beta) {
            for (int j = 0; j < own.length - 1; j++) {
                sum += l1 * Math.abs(own[j]) + l2 / 2 * own[j] * own[j];
            }
        }
        return sum;
    }

    private boolean is(int row, int k) {
        return binary ? y[row] == 1 : y[row] == k;
    }

    private boolean optimal() {
        double tolerance = TOLERANCE * total;
        for (int k = 0; k < beta.length; k++) {
            double[] residual = new double[w.length];
            for (int i = 0; i < residual.length; i++) {
                residual[i] = w[i] * ((is(i, k) ? 1 : 0) - prob[k][i]);
            }
            for (int j = 0; j < x.length; j++) {
                double g = dot(residual, x[j]);
                double b = beta[k][j];
                boolean intercept = j == x.length - 1;
                double off = intercept
                        ? Math.abs(g)
                        : b == 0 ? Math.abs(g) - l1 : Math.abs(g - l1 * Math.signum(b) - l2 * b);
                if (!(off <= tolerance)) {
                    return false;
                }
            }
        }
        return true;
    }

    private static double dot(double[] a, double[] b) {
        double sum = 0;
        for (int i = 0; i < a.length; i++) {
            sum += a[i] * b[i];
        }
        return sum;
    }

    /** Improves the coefficients of class k; returns the objective. */
    private double improve(int k, double objective) {
        int n = w.length;
        double[] curvature = new double[n];
        double[] residual = new double[n];
        for (int i = 0; i < n; i++) {
            // A curvature of nothing would let a coordinate run away.
            curvature[i] = w[i] * Math.max(prob[k][i] * (1 - prob[k][i]), 1e-9);
            residual[i] = w[i] * ((is(i, k) ? 1 : 0) - prob[k][i]);
        }
        double[] target = descend(beta[k].clone(), curvature, residual);
        double[] from = beta[k];
        double[] start = eta[k];
        double[] end = Logistic.scores(x, target, n);
        double share = 1;
        for (int h = 0; h < MOST_HALVINGS; h++) {
            double by = share;
            double[] next = new double[from.length];
            Arrays.setAll(next, j -> by == 1 ? target[j] : from[j] + by * (target[j] - from[j]));
            double[] scores = new double[n];
            Arrays.setAll(scores, i -> by == 1 ? end[i] : start[i] + by * (end[i] - start[i]));
            beta[k] = next;
            eta[k] = scores;
            double lower = objective();
            if (lower <= objective + 1e-13 * Math.abs(objective)) {
                return lower;
            }
            share /= 2;
        }
        beta[k] = from;
        eta[k] = start;
        return objective();
    }

    /** Minimises the penalised expansion; {@code residual} follows the coefficients. */
    private double[] descend(double[] own, double[] curvature, double[] residual) {
        int p = x.length;
        double[] bend = new double[p];
        for (int j = 0; j < p; j++) {
            for (int i = 0; i < curvature.length; i++) {
                bend[j] += curvature[i] * x[j][i] * x[j][i];
            }
        }
        double small = 0.01 * TOLERANCE * total;
        boolean[] active = new boolean[p];
        for (int sweep = 0; sweep < MOST_SWEEPS; sweep++) {
            FitFailure.ifInterrupted();
            // Columns at 0 are looked at again only when those that are not have settled.
            double moved = sweep(own, bend, curvature, residual, active, false);
            if (moved <= small) {
                moved = sweep(own, bend, curvature, residual, active, true);
                if (moved <= small) {
                    break;
                }
            }
        }
        return own;
    }

    /** Goes once over all columns, or over the active ones; returns the largest change of a derivative. */
    private double sweep(
            double[] own, double[] bend, double[] curvature, double[] residual, boolean[] active, boolean all) {
        double most = 0;
        for (int j = 0; j < x.length; j++) {
            boolean intercept = j == x.length - 1;
            if (!(bend[j] > 0) || !(all || active[j] || intercept)) {
                continue;
            }
            double pull = dot(residual, x[j]) + bend[j] * own[j];
            double next =
                    intercept ? pull / bend[j] : Math.signum(pull) * Math.max(0, Math.abs(pull) - l1) / (bend[j] + l2);
            double change = next - own[j];
            active[j] = next != 0;
            if (change != 0) {
                for (int i = 0; i < residual.length; i++) {
                    residual[i] -= change * curvature[i] * x[j][i];
                }
                own[j] = next;
                most = Math.max(most, Math.abs(change) * bend[j]);
            }
        }
        return most;
    }
}

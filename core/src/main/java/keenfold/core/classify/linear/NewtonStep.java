package keenfold.core.classify.linear;

import java.util.stream.IntStream;
import keenfold.core.classify.Products;
import keenfold.core.classify.Vectors;
import keenfold.core.learned.FitFailure;

/**
 * A step of Newton's method over the coefficients that are free to move, −H⁻¹·g, by preconditioned conjugate gradients.
 *
 * <p>H is never made: H·v is computed with the true curvature, of class c X'r_c + ridge·v_c, r_c = w·p_c·(x·v_c − Σ_k p_k
 * x·v_k). Probabilities do not change when a column's coefficients of all classes move by the same; where all of them
 * are free, the step is kept to sums of 0.
 *
 * <p>Reference: Nocedal and Wright (2006), Numerical Optimization, algorithm 7.1 (Newton-CG).
 */
final class NewtonStep {
    private static final int MOST_PRODUCTS = 400;
    private static final double ROUGHLY = 0.1;

    private final Likelihood likelihood;
    private final double ridge;
    private final boolean[] free;
    private final int[] columns;
    private final double[][] x;
    private final Products.Columns sums;
    private final double[][] prob;
    private final double[][] weighted;
    private final boolean[] ofAll;
    private int products;

    /** @param free of m·p coefficients, those that may move */
    NewtonStep(Likelihood likelihood, double ridge, Likelihood.Point at, boolean[] free) {
        this.likelihood = likelihood;
        this.ridge = ridge;
        this.free = free;
        this.prob = at.prob();
        int p = likelihood.p;
        int parts = likelihood.parts;
        this.columns = IntStream.range(0, p)
                .filter(j -> IntStream.range(0, parts).anyMatch(c -> free[c * p + j]))
                .toArray();
        this.x = IntStream.of(columns).mapToObj(j -> likelihood.x[j]).toArray(double[][]::new);
        this.sums = columns.length == p ? likelihood.columns : new Products.Columns(x);
        this.ofAll = new boolean[p];
        for (int j : columns) {
            ofAll[j] = parts > 1 && IntStream.range(0, parts).allMatch(c -> free[c * p + j]);
        }
        double[] w = likelihood.w;
        this.weighted = new double[parts][w.length];
        for (int c = 0; c < parts; c++) {
            for (int i = 0; i < w.length; i++) {
                weighted[c][i] = w[i] * prob[c][i];
            }
        }
    }

    /**
     * Returns the step, to a tenth of the gradient's length and closer as that becomes small.
     *
     * @param gradient of the objective, of which the free coefficients' part counts
     */
    double[] step(double[] gradient, ClassBlocks.Factors preconditioner) {
        double[] residual = new double[gradient.length];
        for (int k = 0; k < residual.length; k++) {
            residual[k] = free[k] ? -gradient[k] : 0;
        }
        centre(residual);
        double first = Vectors.dot(residual, residual);
        double share = Math.min(ROUGHLY, Math.sqrt(Math.sqrt(first) / likelihood.total));
        double[] solution = new double[residual.length];
        double[] z = centre(preconditioner.solve(residual));
        double[] along = z;
        double product = Vectors.dot(residual, z);
        for (int k = 0; k < MOST_PRODUCTS && Vectors.dot(residual, residual) > share * share * first; k++) {
            FitFailure.ifInterrupted();
            double[] turned = curved(along);
            double bend = Vectors.dot(along, turned);
            if (!(bend > 0)) {
                break;
            }
            double far = product / bend;
            add(solution, far, along);
            add(residual, -far, turned);
            z = centre(preconditioner.solve(residual));
            double next = Vectors.dot(residual, z);
            double keep = next / product;
            double[] turn = new double[z.length];
            for (int j = 0; j < z.length; j++) {
                turn[j] = z[j] + keep * along[j];
            }
            along = turn;
            product = next;
            products++;
        }
        return solution;
    }

    /** How many products with H the step took. */
    int products() {
        return products;
    }

    /** Whether the step is as close as it was to be. */
    boolean reached() {
        return products < MOST_PRODUCTS;
    }

    private double[] curved(double[] v) {
        int n = likelihood.w.length;
        int p = likelihood.p;
        int m = prob.length;
        double[][] moved = new double[m][];
        double[] mean = new double[n];
        double[] some = new double[columns.length];
        for (int c = 0; c < m; c++) {
            for (int k = 0; k < some.length; k++) {
                some[k] = v[c * p + columns[k]];
            }
            double[] own = Products.combination(x, some, 0, n);
            double[] share = prob[c];
            for (int i = 0; i < n; i++) {
                mean[i] += share[i] * own[i];
            }
            moved[c] = own;
        }
        for (int c = 0; c < m; c++) {
            double[] own = moved[c];
            double[] by = weighted[c];
            for (int i = 0; i < n; i++) {
                own[i] = by[i] * (own[i] - mean[i]);
            }
        }
        double[] along = sums.sums(moved);
        double[] out = new double[v.length];
        for (int c = 0; c < m; c++) {
            for (int k = 0; k < columns.length; k++) {
                int at = c * p + columns[k];
                out[at] = free[at] ? along[c * columns.length + k] + Logistic.penalty(columns[k], p, ridge) * v[at] : 0;
            }
        }
        return out;
    }

    private double[] centre(double[] v) {
        int p = likelihood.p;
        int m = prob.length;
        for (int j = 0; j < p; j++) {
            if (ofAll[j]) {
                double mean = 0;
                for (int c = 0; c < m; c++) {
                    mean += v[c * p + j] / m;
                }
                for (int c = 0; c < m; c++) {
                    v[c * p + j] -= mean;
                }
            }
        }
        return v;
    }

    private static void add(double[] to, double share, double[] v) {
        for (int j = 0; j < to.length; j++) {
            to[j] += share * v[j];
        }
    }
}

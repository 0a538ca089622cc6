package keenfold.core.classify.linear;

import java.util.Arrays;
import keenfold.core.classify.Products;
import keenfold.core.data.Exponential;

/**
 * The negative log-likelihood of logistic regression, −Σ wᵢ·ln p(yᵢ|xᵢ), with its derivatives.
 *
 * <p>Coefficients are one flat row of m·p numbers: of two classes those of the later one (m = 1), of K > 2 those of every
 * class, class after class (m = K); p counts the columns, the intercept's last.
 */
final class Likelihood {
    final double[][] x;
    final Products.Columns columns;
    final int[] y;
    final double[] w;

    /** Rows of coefficients: 1 for two classes. */
    final int parts;

    /** Columns, with the intercept's. */
    final int p;

    final double total;

    /** A point of the coefficients. */
    static final class Point {
        private final double[] beta;
        private final double[][] prob;
        private final double value;

        Point(double[] beta, double[][] prob, double value) {
            this.beta = beta;
            this.prob = prob;
            this.value = value;
        }

        /** The coefficients; not to be changed. */
        double[] beta() {
            return beta;
        }

        /** p(c|xᵢ) of every row, for each part; not to be changed. */
        double[][] prob() {
            return prob;
        }

        /** The negative log-likelihood. */
        double value() {
            return value;
        }
    }

    /**
     * @param x columns of n values, the intercept's last
     * @param y the class of each row, 0 … K − 1
     * @param w weights of the rows
     * @param parts 1 for two classes, K for more
     */
    Likelihood(double[][] x, int[] y, double[] w, int parts) {
        this.x = x;
        this.columns = new Products.Columns(x);
        this.y = y;
        this.w = w;
        this.parts = parts;
        this.p = x.length;
        this.total = Arrays.stream(w).sum();
    }

    boolean is(int row, int part) {
        return parts == 1 ? y[row] == 1 : y[row] == part;
    }

    Point at(double[] beta) {
        double[][] prob = new double[parts][];
        for (int c = 0; c < parts; c++) {
            prob[c] = Products.combination(x, beta, c * p, w.length);
        }
        return new Point(beta, prob, parts == 1 ? two(prob[0]) : several(prob));
    }

    /** Turns the scores of the later of two classes into its probabilities; returns the value. */
    private double two(double[] scores) {
        double value = 0;
        for (int i = 0; i < scores.length; i++) {
            double score = scores[i];
            double e = Exponential.of(-Math.abs(score));
            scores[i] = score >= 0 ? 1 / (1 + e) : e / (1 + e);
            value += w[i] * (Math.max(0, y[i] == 1 ? -score : score) + StrictMath.log1p(e));
        }
        return value;
    }

    private double several(double[][] scores) {
        double[] own = new double[w.length];
        for (int i = 0; i < own.length; i++) {
            own[i] = scores[y[i]][i];
        }
        double[] log = normalise(scores);
        double value = 0;
        for (int i = 0; i < own.length; i++) {
            value += w[i] * (log[i] - own[i]);
        }
        return value;
    }

    /**
     * Turns scores into probabilities.
     *
     * @param scores n of each class
     * @return ln Σ exp(score) of each row
     */
    static double[] normalise(double[][] scores) {
        int n = scores[0].length;
        double[] most = scores[0].clone();
        for (double[] own : scores) {
            for (int i = 0; i < n; i++) {
                most[i] = Math.max(most[i], own[i]);
            }
        }
        double[] sum = new double[n];
        for (double[] own : scores) {
            for (int i = 0; i < n; i++) {
                own[i] = Exponential.of(own[i] - most[i]);
                sum[i] += own[i];
            }
        }
        for (double[] own : scores) {
            for (int i = 0; i < n; i++) {
                own[i] /= sum[i];
            }
        }
        for (int i = 0; i < n; i++) {
            most[i] += StrictMath.log(sum[i]);
        }
        return most;
    }

    /** The derivatives at a point. */
    double[] gradient(Point point) {
        double[][] residual = new double[parts][w.length];
        for (int c = 0; c < parts; c++) {
            double[] own = residual[c];
            double[] prob = point.prob[c];
            for (int i = 0; i < own.length; i++) {
                own[i] = w[i] * prob[i];
            }
            for (int i = 0; i < own.length; i++) {
                if (is(i, c)) {
                    own[i] -= w[i];
                }
            }
        }
        return columns.sums(residual);
    }

    /** The weight of each row in X'WX, the second derivatives by the coefficients of one part: w·p·(1 − p). */
    double[] curvature(double[] prob) {
        double[] curvature = new double[w.length];
        for (int i = 0; i < curvature.length; i++) {
            curvature[i] = w[i] * prob[i] * (1 - prob[i]);
        }
        return curvature;
    }
}

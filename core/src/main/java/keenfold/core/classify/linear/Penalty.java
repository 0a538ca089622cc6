package keenfold.core.classify.linear;

import java.util.Arrays;

/**
 * lasso·Σ|β| + ridge/2·Σβ² over coefficients of columns, the last of which is the intercept's and is not penalised.
 *
 * @param lasso weight of the absolute values, at least 0
 * @param ridge weight of the halved squares, at least 0
 * @param p columns, with the intercept's
 */
record Penalty(double lasso, double ridge, int p) {
    /** Whether a place among m·p coefficients is that of an intercept. */
    boolean intercept(int k) {
        return k % p == p - 1;
    }

    double of(double[] beta) {
        double sum = 0;
        for (int k = 0; k < beta.length; k++) {
            if (!intercept(k)) {
                sum += lasso * Math.abs(beta[k]) + ridge / 2 * beta[k] * beta[k];
            }
        }
        return sum;
    }

    /**
     * By how much a coefficient misses its optimality condition.
     *
     * @param slope the derivative of the negative log-likelihood
     */
    double missed(double b, double slope, boolean intercept) {
        if (intercept) {
            return Math.abs(slope);
        }
        return b == 0 ? Math.max(0, Math.abs(slope) - lasso) : Math.abs(slope + lasso * Math.signum(b) + ridge * b);
    }

    /**
     * Moves each column's coefficients of all classes by the same, to where the penalty is least: no probability changes.
     *
     * @param beta m·p coefficients of m classes, which are moved
     */
    void centre(double[] beta) {
        int m = beta.length / p;
        double[] own = new double[m];
        for (int j = 0; j < p && m > 1; j++) {
            for (int c = 0; c < m; c++) {
                own[c] = beta[c * p + j];
            }
            double by = common(own, j == p - 1);
            for (int c = 0; c < m; c++) {
                beta[c * p + j] -= by;
            }
        }
    }

    /** Returns the t at which the penalty of all b − t is least; for intercepts their mean. */
    double common(double[] b, boolean intercept) {
        int m = b.length;
        double mean = Arrays.stream(b).sum() / m;
        if (intercept || lasso == 0) {
            return mean;
        }
        double[] sorted = b.clone();
        Arrays.sort(sorted);
        if (ridge == 0) {
            // Between two medians all are as good: the one nearer the mean leaves one coefficient fewer.
            double low = sorted[(m - 1) / 2];
            double high = sorted[m / 2];
            return Math.abs(mean - low) <= Math.abs(high - mean) ? low : high;
        }
        // With k of them below t, the derivative is lasso·(2k − m) + ridge·m·(t − mean), which rises.
        for (int k = 0; k < m; k++) {
            double t = mean - lasso * (2 * k - m) / (ridge * m);
            if (t <= sorted[k]) {
                return k == 0 ? t : Math.max(t, sorted[k - 1]);
            }
        }
        return mean - lasso / ridge;
    }
}

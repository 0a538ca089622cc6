package keenfold.core.classify.tree;

import java.util.Arrays;

/**
 * The errors by which a price of a leaf is chosen: inner trees, each of which was grown without one fold, are cut back at each of
 * the prices at which the tree of all rows changes (at the geometric mean of two neighbouring ones), and label the rows of
 * their fold.
 *
 * <p>Reference: Breiman, Friedman, Olshen and Stone (1984), Classification and Regression Trees, sections 3.4.2 and 3.4.3.
 */
final class PriceErrors {
    private final double[] limits;
    private final double[] wrong;
    private double total;

    /** @param whole of the tree of all rows */
    PriceErrors(WeakestLinks whole) {
        double[] prices = whole.prices();
        int steps = prices.length;
        // Tree k is what is left at the price limits[k]: tree 0 the whole one, the last one the root.
        limits = new double[steps + 1];
        limits[0] = Double.NEGATIVE_INFINITY;
        for (int k = 1; k <= steps; k++) {
            limits[k] = k == steps
                    ? Double.POSITIVE_INFINITY
                    : Math.max(prices[k - 1], Math.sqrt(Math.max(0, prices[k - 1]) * Math.max(0, prices[k])));
        }
        wrong = new double[steps + 2];
    }

    /**
     * Counts the errors of an inner tree.
     *
     * @param held whether it was grown without a row
     * @param x columns of all rows
     */
    void add(WeakestLinks inner, boolean[] held, double[][] x, int[] target, double[] weight) {
        for (int i = 0; i < held.length; i++) {
            if (held[i]) {
                int label = target[i];
                double own = weight[i];
                total += own;
                inner.follow(x, i, (given, from, below) -> {
                    if (given != label) {
                        wrong[firstFrom(from)] += own;
                        wrong[firstFrom(below)] -= own;
                    }
                });
            }
        }
    }

    /** The first tree whose price is at least {@code price}; one after the last for an infinite upper end. */
    private int firstFrom(double price) {
        if (price == Double.POSITIVE_INFINITY) {
            return limits.length;
        }
        int at = Arrays.binarySearch(limits, price);
        return at >= 0 ? at : -at - 1;
    }

    /**
     * Chooses the greatest price whose error R lies within some standard errors √(R(1 − R)/n) of the least one.
     *
     * @return a price, perhaps infinite
     */
    double choose(double standardErrors) {
        double[] errors = new double[limits.length];
        double sum = 0;
        double least = Double.POSITIVE_INFINITY;
        for (int k = 0; k < errors.length; k++) {
            sum += wrong[k];
            errors[k] = Math.max(0, sum / total);
            least = Math.min(least, errors[k]);
        }
        double limit = least + standardErrors * Math.sqrt(least * Math.max(0, 1 - least) / total);
        int best = errors.length - 1;
        // Rounding is not taken for an error.
        while (errors[best] > limit + 1e-12) {
            best--;
        }
        return limits[best];
    }
}

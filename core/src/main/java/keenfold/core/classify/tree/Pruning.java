package keenfold.core.classify.tree;

import java.util.Arrays;
import java.util.List;
import keenfold.core.data.Checks;

/**
 * How far a tree is cut back.
 *
 * @param price of a leaf, as impurity per training row, at least 0, up to which weakest links are cut; no part of a chosen one
 * @param chosen whether the price is chosen by inner cross-validation
 * @param errors how many standard errors the inner error of a smaller tree may lie above the least one; of a chosen price
 */
public record Pruning(double price, boolean chosen, double errors) {
    /** The smallest tree within a standard error of the best one. */
    public static final Pruning ONE_SE = new Pruning(0, true, 1);

    /** The smallest of the trees with the least error. */
    public static final Pruning LEAST_ERROR = new Pruning(0, true, 0);

    /** Checks the price. */
    public Pruning {
        Checks.atLeast("pruning", price, 0);
    }

    /** Returns a pruning at a price. */
    public static Pruning at(double price) {
        return new Pruning(price, false, 0);
    }

    /**
     * Chooses a price: the inner trees, each of which was grown without one fold, are cut back at each of the prices at which the
     * tree of all rows changes (at the geometric mean of two neighbouring ones), and label the rows of their fold.
     *
     * <p>Reference: Breiman, Friedman, Olshen and Stone (1984), Classification and Regression Trees, sections 3.4.2 and 3.4.3: the
     * error's standard error is √(R(1 − R)/n).
     *
     * @param whole of the tree of all rows
     * @param inner of the tree without each fold
     * @param fold of each row
     * @param x columns of all rows
     * @return a price, perhaps infinite
     */
    double choose(
            WeakestLinks whole, List<WeakestLinks> inner, int[] fold, double[][] x, int[] target, double[] weight) {
        double[] prices = whole.prices();
        int steps = prices.length;
        // Tree k is what is left at the price limits[k]: tree 0 the whole one, the last one the root.
        double[] limits = new double[steps + 1];
        limits[0] = Double.NEGATIVE_INFINITY;
        for (int k = 1; k <= steps; k++) {
            limits[k] = k == steps
                    ? Double.POSITIVE_INFINITY
                    : Math.max(prices[k - 1], Math.sqrt(Math.max(0, prices[k - 1]) * Math.max(0, prices[k])));
        }
        double[] wrong = new double[steps + 2];
        double total = 0;
        for (int i = 0; i < fold.length; i++) {
            int label = target[i];
            double own = weight[i];
            total += own;
            inner.get(fold[i]).follow(x, i, (given, from, below) -> {
                if (given != label) {
                    wrong[firstFrom(limits, from)] += own;
                    wrong[firstFrom(limits, below)] -= own;
                }
            });
        }
        double[] errors = new double[steps + 1];
        double sum = 0;
        double least = Double.POSITIVE_INFINITY;
        for (int k = 0; k <= steps; k++) {
            sum += wrong[k];
            errors[k] = Math.max(0, sum / total);
            least = Math.min(least, errors[k]);
        }
        double limit = least + this.errors * Math.sqrt(least * Math.max(0, 1 - least) / total);
        int best = steps;
        // Rounding is not taken for an error.
        while (errors[best] > limit + 1e-12) {
            best--;
        }
        return limits[best];
    }

    /** The first tree whose price is at least {@code price}; one after the last for an infinite upper end. */
    private static int firstFrom(double[] limits, double price) {
        if (price == Double.POSITIVE_INFINITY) {
            return limits.length;
        }
        int at = Arrays.binarySearch(limits, price);
        return at >= 0 ? at : -at - 1;
    }
}

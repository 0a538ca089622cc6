package keenfold.core.classify.tree;

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
}

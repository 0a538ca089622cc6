package keenfold.core.classify;

/** A node of a {@link Tree} or of one in a {@link Forest}; a leaf as long as it has no sides. */
final class Node {
    private final double[] shares;
    private final double impurity;
    private int column = -1;
    private double threshold;
    private Node[] sides = new Node[0];

    /**
     * @param shares class shares of the node's rows
     * @param impurity of its rows, as a share of all training weight
     */
    Node(double[] shares, double impurity) {
        this.shares = shares;
        this.impurity = impurity;
    }

    void split(int byColumn, double atThreshold, Node left, Node right) {
        column = byColumn;
        threshold = atThreshold;
        sides = new Node[] {left, right};
    }

    /** This node and what is at most {@code depth} splits below it. */
    Node copy(int depth) {
        Node copy = new Node(shares, impurity);
        if (!leaf() && depth > 0) {
            copy.split(column, threshold, sides[0].copy(depth - 1), sides[1].copy(depth - 1));
        }
        return copy;
    }

    /** The leaf that a row falls into. */
    Node leafOf(double[][] x, int row) {
        Node node = this;
        while (node.sides.length > 0) {
            node = node.sides[x[node.column][row] <= node.threshold ? 0 : 1];
        }
        return node;
    }

    boolean leaf() {
        return sides.length == 0;
    }

    int leaves() {
        return leaf() ? 1 : sides[0].leaves() + sides[1].leaves();
    }

    int column() {
        return column;
    }

    double threshold() {
        return threshold;
    }

    Node left() {
        return sides[0];
    }

    Node right() {
        return sides[1];
    }

    double[] shares() {
        return shares.clone();
    }

    /** Adds the class shares to those of a row. */
    void addShares(double[] sums, int at) {
        for (int c = 0; c < shares.length; c++) {
            sums[at + c] += shares[c];
        }
    }

    /** Adds the decrease of impurity by each split to that of its column. */
    void addDecreases(double[] byColumn) {
        if (!leaf()) {
            byColumn[column] += impurity - sides[0].impurity - sides[1].impurity;
            sides[0].addDecreases(byColumn);
            sides[1].addDecreases(byColumn);
        }
    }

    double impurity() {
        return impurity;
    }

    private double leafImpurity() {
        return leaf() ? impurity : sides[0].leafImpurity() + sides[1].leafImpurity();
    }

    /** Cuts weakest links while they cost at most {@code price} a leaf; rounding is not taken for a gain. */
    void prune(double price) {
        while (!leaf()) {
            Node weakest = weakestLink();
            if (weakest.linkCost() > price + 1e-12) {
                return;
            }
            weakest.sides = new Node[0];
        }
    }

    private Node weakestLink() {
        Node weakest = this;
        for (Node side : sides) {
            if (!side.leaf()) {
                Node below = side.weakestLink();
                if (below.linkCost() < weakest.linkCost()) {
                    weakest = below;
                }
            }
        }
        return weakest;
    }

    private double linkCost() {
        return (impurity - leafImpurity()) / (leaves() - 1);
    }
}

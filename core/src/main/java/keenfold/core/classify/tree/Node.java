package keenfold.core.classify.tree;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.function.ToDoubleFunction;
import keenfold.core.data.Vector;
import keenfold.core.learned.ClassNodes;

/** A node of a {@link Tree} or of one in a {@link Forest}; a leaf as long as it has no sides. */
final class Node {
    private final double[] shares;
    private final double impurity;
    private final double weight;
    private int column = -1;
    private double threshold;
    private Node[] sides = new Node[0];

    /**
     * @param shares class shares of the node's rows
     * @param impurity of its rows, as a share of all training weight
     * @param weight of its rows: their number, where no row counts more than another
     */
    Node(double[] shares, double impurity, double weight) {
        this.shares = shares;
        this.impurity = impurity;
        this.weight = weight;
    }

    void split(int byColumn, double atThreshold, Node left, Node right) {
        column = byColumn;
        threshold = atThreshold;
        sides = new Node[] {left, right};
    }

    /** This node and what is at most {@code depth} splits below it. */
    Node copy(int depth) {
        Node copy = new Node(shares, impurity, weight);
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

    boolean goesLeft(double[][] x, int row) {
        return x[column][row] <= threshold;
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

    /** The tree below: nodes before what is below them, the left side first. */
    ClassNodes learned() {
        List<Node> nodes = new ArrayList<>();
        Deque<Node> open = new ArrayDeque<>(List.of(this));
        while (!open.isEmpty()) {
            Node node = open.pop();
            nodes.add(node);
            if (!node.leaf()) {
                open.push(node.right());
                open.push(node.left());
            }
        }
        double[] all = new double[nodes.size() * shares.length];
        for (int i = 0; i < nodes.size(); i++) {
            System.arraycopy(nodes.get(i).shares, 0, all, i * shares.length, shares.length);
        }
        return new ClassNodes(
                nodes.stream().map(n -> n.leaf() ? -1 : n.column).toList(),
                vector(nodes, n -> n.leaf() ? 0 : n.threshold),
                vector(nodes, n -> n.impurity),
                vector(nodes, n -> n.weight),
                Vector.of(all));
    }

    private static Vector vector(List<Node> nodes, ToDoubleFunction<Node> value) {
        return Vector.of(nodes.stream().mapToDouble(value).toArray());
    }

    /** Makes a tree again, from its last node to its first, so that a side is there before it is asked for. */
    static Node restored(ClassNodes nodes) {
        Deque<Node> made = new ArrayDeque<>();
        for (int i = nodes.count() - 1; i >= 0; i--) {
            Node node = new Node(
                    nodes.sharesOf(i),
                    nodes.impurities().get(i),
                    nodes.weights().get(i));
            if (!nodes.leaf(i)) {
                node.split(nodes.columns().get(i), nodes.thresholds().get(i), made.pop(), made.pop());
            }
            made.push(node);
        }
        return made.pop();
    }

    /** Makes a leaf of it. */
    void cut() {
        sides = new Node[0];
    }

    /** Cuts weakest links while they cost at most {@code price} a leaf; rounding is not taken for a gain. */
    void prune(double price) {
        new WeakestLinks(this, Integer.MAX_VALUE).cutUpTo(price + 1e-12);
    }

    /** The class with the greatest share; of equal ones the first. */
    int label() {
        int label = 0;
        for (int c = 1; c < shares.length; c++) {
            if (shares[c] > shares[label]) {
                label = c;
            }
        }
        return label;
    }

    /**
     * The same tree, each node with the shares of its rows and of {@code count} rows more, of every present class as many.
     *
     * @param present whether any training row has the class
     */
    Node smoothed(double count, boolean[] present) {
        int classes = 0;
        for (boolean own : present) {
            classes += own ? 1 : 0;
        }
        double[] own = new double[shares.length];
        for (int c = 0; c < own.length; c++) {
            own[c] = (weight * shares[c] + (present[c] ? count / classes : 0)) / (weight + count);
        }
        Node node = new Node(own, impurity, weight);
        if (!leaf()) {
            node.split(column, threshold, sides[0].smoothed(count, present), sides[1].smoothed(count, present));
        }
        return node;
    }
}

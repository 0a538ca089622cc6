package keenfold.core.learned;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.data.State;
import keenfold.core.data.Vector;

/**
 * The nodes of a tree of class shares, each before those below it, the left side first. Rows with a value of at most the
 * threshold go left.
 *
 * @param columns the prepared column of each node's split; −1 for a leaf
 * @param thresholds of each split; 0 for a leaf
 * @param impurities of the rows of each node, as a share of all training weight
 * @param weights of the rows of each node
 * @param shares K class shares a node, node after node
 */
public record ClassNodes(List<Integer> columns, Vector thresholds, Vector impurities, Vector weights, Vector shares) {
    private static final int MOST_DEEP = 5000;

    /** Copies the list. */
    public ClassNodes {
        columns = List.copyOf(columns);
    }

    /** Returns the number of nodes. */
    public int count() {
        return columns.size();
    }

    /** Returns whether a node is a leaf. */
    public boolean leaf(int node) {
        return columns.get(node) < 0;
    }

    /** Returns the number of leaves. */
    public long leaves() {
        return columns.stream().filter(c -> c < 0).count();
    }

    /** Returns the class shares of a node. */
    public double[] sharesOf(int node) {
        double[] own = new double[shares.size() / count()];
        for (int c = 0; c < own.length; c++) {
            own[c] = shares.get(node * own.length + c);
        }
        return own;
    }

    State state() {
        return State.of("nodes")
                .withWholes("columns", columns)
                .with("thresholds", thresholds)
                .with("impurities", impurities)
                .with("weights", weights)
                .with("shares", shares);
    }

    static ClassNodes of(State state, int classes, int columnCount) {
        List<Integer> columns = state.wholes("columns", -1, columnCount - 1);
        int count = columns.size();
        ClassNodes made = new ClassNodes(
                columns,
                state.numbers("thresholds", count),
                state.numbers("impurities", count),
                state.numbers("weights", count),
                state.numbers("shares", count * classes));
        Checks.that(made.weights.stream().allMatch(w -> w >= 0), "nodes, \"weights\": one is negative");
        Checks.that(
                made.shares.stream().allMatch(s -> s >= 0 && s <= 1 + 1e-9),
                "nodes, \"shares\": one is not from 0 to 1");
        made.requireOneTree();
        return made;
    }

    /** From the last node to the first, so that a side is there before it is asked for. */
    private void requireOneTree() {
        Deque<Integer> deep = new ArrayDeque<>();
        for (int i = count() - 1; i >= 0; i--) {
            int depth = 0;
            if (!leaf(i)) {
                Checks.that(deep.size() >= 2, "nodes, \"columns\": node %d lacks a side", i);
                depth = 1 + Math.max(deep.pop(), deep.pop());
                Checks.that(depth <= MOST_DEEP, "nodes: deeper than %d", MOST_DEEP);
            }
            deep.push(depth);
        }
        Checks.that(deep.size() == 1, "nodes, \"columns\": %d trees instead of one", deep.size());
    }
}

package keenfold.core.classify.tree;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;

/**
 * The order in which cost-complexity pruning cuts a tree back: the price of a leaf from which on each node is one itself.
 *
 * <p>The weakest link is the node with the least g = (R(t) − R(T_t))/(leaves − 1); it is cut, and so on until the root is left.
 * What is below a cut node is looked at no more, and only the nodes above it are counted anew, so that a tree of n nodes
 * takes O(n·depth).
 *
 * <p>Reference: Breiman, Friedman, Olshen and Stone (1984), Classification and Regression Trees, section 3.3.
 */
final class WeakestLinks {
    private final List<Node> nodes = new ArrayList<>();
    private final int[] parent;
    private final int[] right;
    private final double[] price;

    /**
     * Computes the prices; the tree stays as it is.
     *
     * @param depth how many splits below the root are looked at
     */
    WeakestLinks(Node root, int depth) {
        List<Integer> parents = new ArrayList<>();
        list(root, -1, depth, parents);
        int count = nodes.size();
        parent = parents.stream().mapToInt(Integer::intValue).toArray();
        right = new int[count];
        for (int i = 1; i < count; i++) {
            // A left side stands just behind its parent, so that the last one seen is the right one.
            right[parent[i]] = i;
        }
        price = new double[count];
        Arrays.fill(price, Double.NEGATIVE_INFINITY);
        cut();
    }

    private void list(Node node, int above, int depth, List<Integer> parents) {
        int own = nodes.size();
        nodes.add(node);
        parents.add(above);
        if (!node.leaf() && depth > 0) {
            list(node.left(), own, depth - 1, parents);
            list(node.right(), own, depth - 1, parents);
        }
    }

    /** Whether it has nothing below it that is looked at. */
    private boolean leaf(int i) {
        return right[i] == 0;
    }

    private void cut() {
        int count = nodes.size();
        int[] leaves = new int[count];
        double[] below = new double[count];
        int[] weakest = new int[count];
        double[] cost = new double[count];
        boolean[] isLeaf = new boolean[count];
        for (int i = count - 1; i >= 0; i--) {
            isLeaf[i] = leaf(i);
            count(i, isLeaf, leaves, below, weakest, cost);
        }
        double highest = Double.NEGATIVE_INFINITY;
        while (!isLeaf[0]) {
            int node = weakest[0];
            highest = Math.max(highest, cost[node]);
            price[node] = highest;
            isLeaf[node] = true;
            for (int i = node; i >= 0; i = parent[i]) {
                count(i, isLeaf, leaves, below, weakest, cost);
            }
        }
        for (int i = 1; i < count; i++) {
            // What was cut away with a node above it was never cut itself.
            if (!leaf(i) && price[i] == Double.NEGATIVE_INFINITY) {
                price[i] = Double.POSITIVE_INFINITY;
            }
        }
    }

    /** Counts a node of what is known of its sides; of equally weak links the one above comes first, then the left one. */
    private void count(int i, boolean[] isLeaf, int[] leaves, double[] below, int[] weakest, double[] cost) {
        double own = nodes.get(i).impurity();
        if (isLeaf[i]) {
            leaves[i] = 1;
            below[i] = own;
            weakest[i] = -1;
            return;
        }
        int l = i + 1;
        int r = right[i];
        leaves[i] = leaves[l] + leaves[r];
        below[i] = below[l] + below[r];
        cost[i] = (own - below[i]) / (leaves[i] - 1);
        weakest[i] = i;
        for (int side : new int[] {l, r}) {
            if (weakest[side] >= 0 && cost[weakest[side]] < cost[weakest[i]]) {
                weakest[i] = weakest[side];
            }
        }
    }

    /** Returns the prices at which the tree changes, rising. */
    double[] prices() {
        return Arrays.stream(price).filter(Double::isFinite).sorted().distinct().toArray();
    }

    /** Makes leaves of the nodes whose price is at most {@code limit}. */
    void cutUpTo(double limit) {
        IntStream.range(0, price.length)
                .filter(i -> price[i] > Double.NEGATIVE_INFINITY && price[i] <= limit)
                .forEach(i -> nodes.get(i).cut());
    }

    /** What a row meets on its way: the label that it gets, for prices of a leaf from one on and below another. */
    interface Way {
        void label(int label, double from, double below);
    }

    /** Follows a row down to its leaf. */
    void follow(double[][] x, int row, Way way) {
        double limit = Double.POSITIVE_INFINITY;
        int i = 0;
        while (true) {
            Node node = nodes.get(i);
            if (price[i] < limit) {
                way.label(node.label(), price[i], limit);
                limit = price[i];
            }
            if (leaf(i)) {
                return;
            }
            i = node.goesLeft(x, row) ? i + 1 : right[i];
        }
    }
}

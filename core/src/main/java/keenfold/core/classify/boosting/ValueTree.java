package keenfold.core.classify.boosting;

import java.util.Arrays;
import keenfold.core.classify.tree.Binned;
import keenfold.core.data.Lists;
import keenfold.core.data.Vector;
import keenfold.core.learned.BoostedTrees;

/** A tree of values, as arrays: a node's sides, or −1 at a leaf. */
final class ValueTree {
    private int[] column = new int[16];
    private int[] bin = new int[16];
    private double[] threshold = new double[16];
    private double[] value = new double[16];
    private int[] left = new int[16];
    private int[] right = new int[16];
    private int count;

    /** Adds a leaf and returns its number. */
    int leaf(double leafValue) {
        if (count == left.length) {
            int more = 2 * count;
            column = Arrays.copyOf(column, more);
            bin = Arrays.copyOf(bin, more);
            threshold = Arrays.copyOf(threshold, more);
            value = Arrays.copyOf(value, more);
            left = Arrays.copyOf(left, more);
            right = Arrays.copyOf(right, more);
        }
        value[count] = leafValue;
        left[count] = -1;
        return count++;
    }

    BoostedTrees.ValueNodes learned() {
        return new BoostedTrees.ValueNodes(
                Lists.of(Arrays.copyOf(column, count)),
                Vector.of(Arrays.copyOf(threshold, count)),
                Vector.of(Arrays.copyOf(value, count)),
                Lists.of(Arrays.copyOf(left, count)),
                Lists.of(Arrays.copyOf(right, count)));
    }

    static ValueTree restored(BoostedTrees.ValueNodes nodes) {
        ValueTree tree = new ValueTree();
        tree.column = Lists.ints(nodes.columns());
        tree.count = tree.column.length;
        tree.threshold = nodes.thresholds().toArray();
        tree.value = nodes.values().toArray();
        tree.left = Lists.ints(nodes.left());
        tree.right = Lists.ints(nodes.right());
        tree.bin = new int[tree.count];
        return tree;
    }

    double value(int node) {
        return value[node];
    }

    int leaves() {
        return (count + 1) / 2;
    }

    /** The value of the leaf that a row of columns {@code x} falls into. */
    double of(double[][] x, int row) {
        int node = 0;
        while (left[node] >= 0) {
            node = x[column[node]][row] <= threshold[node] ? left[node] : right[node];
        }
        return value[node];
    }

    /** The same for a row of the binned columns that it was grown from. */
    double of(Binned binned, int row) {
        int node = 0;
        while (left[node] >= 0) {
            node = (binned.codes(column[node])[row] & 0xFF) <= bin[node] ? left[node] : right[node];
        }
        return value[node];
    }

    /** Splits a leaf; its sides are leaves that are there already. */
    void split(int node, int byColumn, int upToBin, double atThreshold, int leftNode, int rightNode) {
        column[node] = byColumn;
        bin[node] = upToBin;
        threshold[node] = atThreshold;
        left[node] = leftNode;
        right[node] = rightNode;
    }
}

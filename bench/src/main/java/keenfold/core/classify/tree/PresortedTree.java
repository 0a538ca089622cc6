package keenfold.core.classify.tree;

import keenfold.core.data.WeightedSort;
import keenfold.core.prepare.Training;

/** Grows one {@link Tree} the exact way, for comparison: every column is sorted once, and each node owns a stretch of each order. */
final class PresortedTree {
    private final Tree tree;
    private final Training training;
    private final double[][] x;
    private final int[][] order;
    private final boolean[] goesLeft;
    private final int[] spare;
    private final double total;

    /** Where a node is best split; column −1 if nowhere. */
    private record Cut(int column, double threshold, double impurity, int leftRows) {}

    PresortedTree(Tree tree, Training training) {
        this.tree = tree;
        this.training = training;
        this.x = Training.columns(training.table());
        this.order = new int[x.length][];
        for (int j = 0; j < x.length; j++) {
            order[j] = WeightedSort.order(x[j]);
        }
        this.goesLeft = new boolean[training.rows()];
        this.spare = new int[training.rows()];
        this.total = training.totalWeight();
    }

    Node grow() {
        return grow(0, training.rows(), tree.depth(), training.classWeights());
    }

    private Node grow(int from, int to, int depthLeft, double[] classWeights) {
        double weight = sum(classWeights);
        double impurity = tree.impurity().of(classWeights, weight);
        double[] shares = classWeights.clone();
        for (int c = 0; c < shares.length; c++) {
            shares[c] /= weight;
        }
        Node node = new Node(shares, impurity / total, weight);
        if (depthLeft == 0 || impurity <= 0 || weight < 2 * tree.leafRows()) {
            return node;
        }
        Cut best = new Cut(-1, 0, impurity, 0);
        for (int j = 0; j < x.length; j++) {
            best = bestCut(j, from, to, classWeights, weight, best);
        }
        if (best.column < 0) {
            return node;
        }
        double[] left = partition(best, from, to);
        double[] right = classWeights.clone();
        for (int c = 0; c < right.length; c++) {
            right[c] -= left[c];
        }
        int middle = from + best.leftRows;
        node.split(
                best.column,
                best.threshold,
                grow(from, middle, depthLeft - 1, left),
                grow(middle, to, depthLeft - 1, right));
        return node;
    }

    private Cut bestCut(int j, int from, int to, double[] classWeights, double weight, Cut soFar) {
        Cut best = soFar;
        double[] values = x[j];
        int[] rows = order[j];
        double[] left = new double[classWeights.length];
        double[] right = classWeights.clone();
        double leftWeight = 0;
        for (int i = from; i < to - 1; i++) {
            int row = rows[i];
            double w = training.weight(row);
            int c = training.target(row);
            left[c] += w;
            right[c] -= w;
            leftWeight += w;
            double here = values[row];
            double next = values[rows[i + 1]];
            if (here == next || leftWeight < tree.leafRows()) {
                continue;
            }
            double rightWeight = weight - leftWeight;
            if (rightWeight < tree.leafRows()) {
                break;
            }
            double impurity =
                    tree.impurity().of(left, leftWeight) + tree.impurity().of(right, rightWeight);
            // A gain within rounding is none: the first column and the lowest threshold keep the split.
            if (impurity < best.impurity - 1e-12 * weight) {
                best = new Cut(j, midway(here, next), impurity, i + 1 - from);
            }
        }
        return best;
    }

    /** A threshold that keeps the two values apart even if nothing lies between them. */
    private static double midway(double low, double high) {
        double middle = low + (high - low) / 2;
        return middle < high ? middle : low;
    }

    /** Moves the rows left of the cut to the front of every order, keeping the orders; returns their class weights. */
    private double[] partition(Cut cut, int from, int to) {
        double[] left = new double[training.classes()];
        int[] sorted = order[cut.column];
        for (int i = from; i < to; i++) {
            int row = sorted[i];
            goesLeft[row] = i < from + cut.leftRows;
            if (goesLeft[row]) {
                left[training.target(row)] += training.weight(row);
            }
        }
        for (int[] rows : order) {
            int a = from;
            int b = 0;
            for (int i = from; i < to; i++) {
                int row = rows[i];
                if (goesLeft[row]) {
                    rows[a++] = row;
                } else {
                    spare[b++] = row;
                }
            }
            System.arraycopy(spare, 0, rows, a, b);
        }
        return left;
    }

    private static double sum(double[] values) {
        double sum = 0;
        for (double v : values) {
            sum += v;
        }
        return sum;
    }
}

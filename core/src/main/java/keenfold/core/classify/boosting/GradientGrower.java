package keenfold.core.classify.boosting;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.PriorityQueue;
import java.util.Queue;
import keenfold.core.classify.tree.Binned;
import keenfold.core.classify.tree.RowsByBin;

/**
 * Grows trees that lower a loss by its first and second derivatives, from binned columns.
 *
 * <p>Derivatives are whole multiples of a small unit, of which no sum exceeds 2⁵³, so that sums are exact whatever their
 * order: a tree does not depend on the order of rows, nor on whether a row stands there twice or weighs two, and the sums
 * of a node less those of one side are those of the other.
 */
public final class GradientGrower {
    private static final int WORTH_KEEPING = 256;
    private static final int MOST_KEPT = 1 << 17;
    private static final double COUNT_UNIT = 0x1p-20;

    private final Binned binned;
    private final Growth growth;
    private final int[] from;
    private final int[] rows;
    private final int[] spare;
    private final double[] rowSlope;
    private final double[] rowBend;
    private final double[] rowCount;
    private final double[] countOf;
    private final double[] sums = new double[3 * Binned.MOST];
    private final RowsByBin byBin;
    private final double unit;
    private final double leastCount;
    private final List<Open> leaves = new ArrayList<>();
    private int grown;
    private int[] columns = new int[0];
    private double[] slopeOf = new double[0];
    private double[] bendOf = new double[0];

    /** A leaf that may yet be split, with the best way to do so. */
    private static final class Open implements Comparable<Open> {
        private final int node;
        private final int begin;
        private final int end;
        private final int depthLeft;
        private final double slope;
        private final double bend;
        private final double count;
        private final double[] kept;
        private double gain;
        private int column = -1;
        private int bin;
        private double threshold;
        private double leftSlope;
        private double leftBend;
        private double leftCount;

        Open(int node, int begin, int end, int depthLeft, double slope, double bend, double count, double[] kept) {
            this.node = node;
            this.begin = begin;
            this.end = end;
            this.depthLeft = depthLeft;
            this.slope = slope;
            this.bend = bend;
            this.count = count;
            this.kept = kept;
        }

        @Override
        public int compareTo(Open other) {
            int byGain = Double.compare(other.gain, gain);
            return byGain != 0 ? byGain : Integer.compare(node, other.node);
        }
    }

    /**
     * @param weights case weight per row
     * @param unit what one of the whole multiples stands for
     */
    GradientGrower(Binned binned, double[] weights, Growth growth, double unit) {
        this.binned = binned;
        this.growth = growth;
        this.unit = unit;
        this.from = new int[binned.columns() + 1];
        for (int j = 0; j < binned.columns(); j++) {
            from[j + 1] = from[j] + binned.bins(j);
        }
        int n = binned.rows();
        this.byBin = new RowsByBin(Math.min(n, Binned.MOST));
        this.rows = new int[n];
        this.rowSlope = new double[n];
        this.rowBend = new double[n];
        this.rowCount = new double[n];
        this.spare = new int[n];
        this.countOf = new double[n];
        for (int i = 0; i < n; i++) {
            countOf[i] = Math.rint(weights[i] / COUNT_UNIT);
        }
        this.leastCount = Math.ceil(growth.leafRows() / COUNT_UNIT);
    }

    /**
     * Grows a tree.
     *
     * @param slopes first derivative per row, weighted, in units
     * @param bends second derivative per row, weighted, in units
     * @param some the rows it is grown from, at least one
     * @param looked the columns it may split
     */
    ValueTree grow(double[] slopes, double[] bends, int[] some, int[] looked) {
        columns = looked;
        double slopeSum = 0;
        double bendSum = 0;
        double countSum = 0;
        slopeOf = slopes;
        bendOf = bends;
        System.arraycopy(some, 0, rows, 0, some.length);
        gather(0, some.length);
        for (int i = 0; i < some.length; i++) {
            slopeSum += rowSlope[i];
            bendSum += rowBend[i];
            countSum += rowCount[i];
        }
        ValueTree tree = new ValueTree();
        boolean keep = keeps(some.length);
        Open root = new Open(
                tree.leaf(value(slopeSum, bendSum)),
                0,
                some.length,
                growth.depth(),
                slopeSum,
                bendSum,
                countSum,
                keep ? new double[3 * from[binned.columns()]] : new double[0]);
        if (keep) {
            sum(root);
        }
        leaves.clear();
        grown = some.length;
        Queue<Open> open = growth.leaves() < Integer.MAX_VALUE ? new PriorityQueue<>() : new ArrayDeque<>();
        offer(root, open);
        int count = 1;
        while (!open.isEmpty() && count < growth.leaves()) {
            split(open.remove(), tree, open);
            count++;
        }
        leaves.addAll(open);
        return tree;
    }

    /**
     * Adds the values of the tree that was grown last to all rows.
     *
     * @param to {@code of} values a row, of which the {@code at}th is added to
     */
    void add(ValueTree tree, double[] to, int of, int at) {
        if (grown < binned.rows()) {
            for (int i = 0; i < binned.rows(); i++) {
                to[i * of + at] += tree.of(binned, i);
            }
            return;
        }
        // All rows have grown it: those of a leaf stand together.
        for (Open leaf : leaves) {
            double value = tree.value(leaf.node);
            for (int i = leaf.begin; i < leaf.end; i++) {
                to[rows[i] * of + at] += value;
            }
        }
    }

    private boolean keeps(int count) {
        return count >= WORTH_KEEPING && 3 * from[binned.columns()] <= MOST_KEPT;
    }

    /** Puts the derivatives of a node's rows beside each other. */
    private void gather(int begin, int end) {
        for (int i = begin; i < end; i++) {
            int row = rows[i];
            rowSlope[i] = slopeOf[row];
            rowBend[i] = bendOf[row];
            rowCount[i] = countOf[row];
        }
    }

    private double value(double slopeSum, double bendSum) {
        double divisor = bendSum * unit + growth.ridge();
        return divisor > 0 ? -growth.rate() * (slopeSum * unit) / divisor : 0;
    }

    private void sum(Open node) {
        for (int j : columns) {
            add(j, node.begin, node.end, node.kept, from[j]);
        }
    }

    private void add(int column, int begin, int end, double[] into, int offset) {
        byte[] codes = binned.codes(column);
        for (int i = begin; i < end; i++) {
            int at = 3 * (offset + (codes[rows[i]] & 0xFF));
            into[at] += rowSlope[i];
            into[at + 1] += rowBend[i];
            into[at + 2] += rowCount[i];
        }
    }

    /** Finds the best split of a leaf, and keeps the leaf if there is one. */
    private void offer(Open node, Queue<Open> open) {
        if (node.depthLeft == 0 || node.count < 2 * leastCount) {
            leaves.add(node);
            return;
        }
        for (int j : columns) {
            int bins = binned.bins(j);
            if (bins < 2) {
                continue;
            }
            if (node.kept.length > 0) {
                scan(node, j, node.kept, from[j]);
                continue;
            }
            if (node.end - node.begin < bins) {
                scanRows(node, j);
            } else {
                add(j, node.begin, node.end, sums, 0);
                scan(node, j, sums, 0);
                Arrays.fill(sums, 0, 3 * bins, 0);
            }
        }
        if (node.column >= 0) {
            open.add(node);
        } else {
            leaves.add(node);
        }
    }

    /**
     * What splits of a node are judged by, in units.
     *
     * <p>With H = h₁ + h₂ for the second derivatives of both sides, each with the ridge, and D = g₁·H − g·h₁, the sides are
     * worth g₁²/h₁ + g₂²/h₂ = g²/H + D²/(H·h₁·h₂), so that D² is compared with h₁·h₂.
     */
    private static final class Worth {
        private final double ridge;
        private final double h;
        private final double both;
        private final double whole;
        private final double part;
        private final double rounding;

        Worth(Open node, double ridge, double unit) {
            double g = node.slope;
            this.ridge = ridge / unit;
            this.h = node.bend + this.ridge;
            this.both = h + this.ridge;
            this.whole = h > 0 ? g * g / h : 0;
            this.part = both > 0 ? g * g / both : 0;
            // The first of equal gains keeps the split; what is rounding alone is none.
            this.rounding = 1e-12 * (whole + 1e-12 / unit);
        }

        /** What D²/(h₁·h₂) must exceed for more than a gain. */
        double wanted(double gain) {
            return (gain + whole + rounding - part) * both;
        }

        /** The gain of a ratio D²/(h₁·h₂). */
        double gain(double ratio) {
            return ratio / both + part - whole;
        }
    }

    /** Looks at every threshold of a column. */
    private void scan(Open node, int column, double[] by, int offset) {
        Worth worth = new Worth(node, growth.ridge(), unit);
        double ridge = worth.ridge;
        double h = worth.h;
        double both = worth.both;
        double g = node.slope;
        double least = leastCount;
        double count = node.count;
        double most = worth.wanted(node.gain);
        double leftSlope = 0;
        double leftBend = 0;
        double leftCount = 0;
        int before = -1;
        int bestLeft = -1;
        int bestRight = -1;
        int bins = binned.bins(column);
        for (int bin = 0; bin < bins; bin++) {
            int at = 3 * (offset + bin);
            double h1 = leftBend + ridge;
            double d = leftSlope * both - g * h1;
            double sides = h1 * (h - leftBend);
            // A bin without rows changes nothing, and so offers nothing better.
            if (d * d > most * sides && leftCount >= least && sides > 0) {
                if (count - leftCount < least) {
                    break;
                }
                most = worth.wanted(worth.gain(d * d / sides));
                bestLeft = before;
                bestRight = bin;
                node.leftSlope = leftSlope;
                node.leftBend = leftBend;
                node.leftCount = leftCount;
            }
            leftSlope += by[at];
            leftBend += by[at + 1];
            leftCount += by[at + 2];
            before = bin;
        }
        if (bestLeft >= 0) {
            while (by[3 * (offset + bestRight) + 2] == 0) {
                bestRight++;
            }
            node.gain = worth.gain(most) - worth.rounding;
            node.column = column;
            node.threshold = binned.threshold(column, bestLeft, bestRight);
            node.bin = bestLeft;
        }
    }

    /** The same row by row, for few of them. */
    private void scanRows(Open node, int column) {
        Worth worth = new Worth(node, growth.ridge(), unit);
        double ridge = worth.ridge;
        double h = worth.h;
        double both = worth.both;
        double g = node.slope;
        double least = leastCount;
        double most = worth.wanted(node.gain);
        double leftSlope = 0;
        double leftBend = 0;
        double leftCount = 0;
        int count = node.end - node.begin;
        int[] ordered = byBin.order(binned.codes(column), rows, node.begin, node.end);
        int bestAt = -1;
        for (int k = 0; k < count; k++) {
            double h1 = leftBend + ridge;
            double d = leftSlope * both - g * h1;
            double sides = h1 * (h - leftBend);
            if (d * d > most * sides
                    && leftCount >= least
                    && node.count - leftCount >= least
                    && sides > 0
                    && RowsByBin.bin(ordered[k - 1]) != RowsByBin.bin(ordered[k])) {
                most = worth.wanted(worth.gain(d * d / sides));
                bestAt = k;
                node.leftSlope = leftSlope;
                node.leftBend = leftBend;
                node.leftCount = leftCount;
            }
            int i = node.begin + RowsByBin.place(ordered[k]);
            leftSlope += rowSlope[i];
            leftBend += rowBend[i];
            leftCount += rowCount[i];
        }
        if (bestAt > 0) {
            node.gain = worth.gain(most) - worth.rounding;
            node.column = column;
            node.bin = RowsByBin.bin(ordered[bestAt - 1]);
            node.threshold = binned.threshold(column, node.bin, RowsByBin.bin(ordered[bestAt]));
        }
    }

    private void split(Open node, ValueTree tree, Queue<Open> open) {
        byte[] codes = binned.codes(node.column);
        int a = node.begin;
        int b = 0;
        for (int i = node.begin; i < node.end; i++) {
            int row = rows[i];
            // Written to both sides, of which one moves on: a branch would be guessed wrong every other time.
            int goesLeft = ((codes[row] & 0xFF) - node.bin - 1) >>> (Integer.SIZE - 1);
            rows[a] = row;
            spare[b] = row;
            a += goesLeft;
            b += 1 - goesLeft;
        }
        System.arraycopy(spare, 0, rows, a, b);
        if (node.depthLeft > 1) {
            gather(node.begin, node.end);
        }
        double rightSlope = node.slope - node.leftSlope;
        double rightBend = node.bend - node.leftBend;
        int left = tree.leaf(value(node.leftSlope, node.leftBend));
        int right = tree.leaf(value(rightSlope, rightBend));
        tree.split(node.node, node.column, node.bin, node.threshold, left, right);
        boolean leftSmaller = a - node.begin <= node.end - a;
        double[] none = new double[0];
        boolean keep = node.kept.length > 0 && node.depthLeft > 1 && keeps(Math.max(a - node.begin, node.end - a));
        double[] fresh = keep ? new double[node.kept.length] : none;
        double[] parents = keep ? node.kept : none;
        Open leftOpen = new Open(
                left,
                node.begin,
                a,
                node.depthLeft - 1,
                node.leftSlope,
                node.leftBend,
                node.leftCount,
                leftSmaller ? fresh : parents);
        Open rightOpen = new Open(
                right,
                a,
                node.end,
                node.depthLeft - 1,
                rightSlope,
                rightBend,
                node.count - node.leftCount,
                leftSmaller ? parents : fresh);
        if (keep) {
            sum(leftSmaller ? leftOpen : rightOpen);
            for (int j : columns) {
                for (int k = 3 * from[j]; k < 3 * from[j + 1]; k++) {
                    parents[k] -= fresh[k];
                }
            }
        }
        offer(leftOpen, open);
        offer(rightOpen, open);
    }
}

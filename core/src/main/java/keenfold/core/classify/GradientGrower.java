package keenfold.core.classify;

import java.util.ArrayDeque;
import java.util.Arrays;
import java.util.PriorityQueue;
import java.util.Queue;

/**
 * Grows trees that lower a loss by its first and second derivatives, from binned columns.
 *
 * <p>Derivatives are whole multiples of a small unit, so that their sums are exact whatever their order: a tree does not
 * hang on the order of rows, nor on whether a row stands there twice or weighs two, and the sums of a node less those of
 * one side are those of the other.
 */
final class GradientGrower {
    private static final int WORTH_KEEPING = 512;
    private static final int MOST_KEPT = 1 << 17;

    private final Binned binned;
    private final Growth growth;
    private final int[] from;
    private final int[] rows;
    private final int[] spare;
    private final long[] sums = new long[2 * Binned.MOST];
    private final double[] counts = new double[Binned.MOST];
    private final long[] occupied = new long[Binned.MOST / Long.SIZE];
    private final double unit;
    private long[] slope = new long[0];
    private long[] bend = new long[0];
    private double[] weight = new double[0];
    private int[] columns = new int[0];

    /**
     * How trees grow.
     *
     * @param depth most splits between root and leaf
     * @param leaves most leaves; the split that gains most comes first
     * @param leafRows least weight of a leaf
     * @param ridge added to the second derivative of a leaf
     * @param rate by which a leaf's value is multiplied
     */
    record Growth(int depth, int leaves, double leafRows, double ridge, double rate) {}

    /** A tree of values, as arrays: a node's sides, or −1 at a leaf. */
    static final class ValueTree {
        private int[] column = new int[16];
        private int[] bin = new int[16];
        private double[] threshold = new double[16];
        private double[] value = new double[16];
        private int[] left = new int[16];
        private int[] right = new int[16];
        private int count;

        private int leaf(double leafValue) {
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
    }

    /** A leaf that may yet be split, with the best way to do so. */
    private static final class Open implements Comparable<Open> {
        private final int node;
        private final int begin;
        private final int end;
        private final int depthLeft;
        private final long slope;
        private final long bend;
        private final double count;
        private final long[] kept;
        private final double[] keptCounts;
        private double gain;
        private int column = -1;
        private int bin;
        private double threshold;
        private long leftSlope;
        private long leftBend;
        private double leftCount;

        Open(
                int node,
                int begin,
                int end,
                int depthLeft,
                long slope,
                long bend,
                double count,
                long[] kept,
                double[] keptCounts) {
            this.node = node;
            this.begin = begin;
            this.end = end;
            this.depthLeft = depthLeft;
            this.slope = slope;
            this.bend = bend;
            this.count = count;
            this.kept = kept;
            this.keptCounts = keptCounts;
        }

        @Override
        public int compareTo(Open other) {
            int byGain = Double.compare(other.gain, gain);
            return byGain != 0 ? byGain : Integer.compare(node, other.node);
        }
    }

    /** @param unit what one of the whole multiples stands for */
    GradientGrower(Binned binned, Growth growth, double unit) {
        this.binned = binned;
        this.growth = growth;
        this.unit = unit;
        this.from = new int[binned.columns() + 1];
        for (int j = 0; j < binned.columns(); j++) {
            from[j + 1] = from[j] + binned.bins(j);
        }
        this.rows = new int[binned.rows()];
        this.spare = new int[binned.rows()];
    }

    /**
     * Grows a tree.
     *
     * @param slopes first derivative per row, weighted, in units
     * @param bends second derivative per row, weighted, in units
     * @param weights case weight per row
     * @param some the rows it is grown from, at least one
     * @param looked the columns it may split
     */
    ValueTree grow(long[] slopes, long[] bends, double[] weights, int[] some, int[] looked) {
        slope = slopes;
        bend = bends;
        weight = weights;
        columns = looked;
        System.arraycopy(some, 0, rows, 0, some.length);
        long slopeSum = 0;
        long bendSum = 0;
        double countSum = 0;
        for (int row : some) {
            slopeSum += slopes[row];
            bendSum += bends[row];
            countSum += weights[row];
        }
        ValueTree tree = new ValueTree();
        boolean keep = keeps(some.length);
        Open root = new Open(
                tree.leaf(value(slopeSum, bendSum)),
                0,
                some.length,
                growth.depth,
                slopeSum,
                bendSum,
                countSum,
                keep ? new long[2 * from[binned.columns()]] : new long[0],
                keep ? new double[from[binned.columns()]] : new double[0]);
        if (keep) {
            sum(root);
        }
        Queue<Open> open = growth.leaves < Integer.MAX_VALUE ? new PriorityQueue<>() : new ArrayDeque<>();
        offer(root, open);
        int leaves = 1;
        while (!open.isEmpty() && leaves < growth.leaves) {
            split(open.remove(), tree, open);
            leaves++;
        }
        return tree;
    }

    private boolean keeps(int count) {
        return count >= WORTH_KEEPING && 2 * from[binned.columns()] <= MOST_KEPT;
    }

    private double value(long slopeSum, long bendSum) {
        double divisor = bendSum * unit + growth.ridge;
        return divisor > 0 ? -growth.rate * (slopeSum * unit) / divisor : 0;
    }

    private double worth(long slopeSum, long bendSum) {
        double g = slopeSum * unit;
        double divisor = bendSum * unit + growth.ridge;
        return divisor > 0 ? g * g / divisor : 0;
    }

    private void sum(Open node) {
        for (int j : columns) {
            add(j, node.begin, node.end, node.kept, node.keptCounts, from[j]);
        }
    }

    private void add(int column, int begin, int end, long[] into, double[] counted, int offset) {
        byte[] codes = binned.codes(column);
        for (int i = begin; i < end; i++) {
            int row = rows[i];
            int bin = offset + (codes[row] & 0xFF);
            into[2 * bin] += slope[row];
            into[2 * bin + 1] += bend[row];
            counted[bin] += weight[row];
        }
    }

    /** Finds the best split of a leaf, and keeps the leaf if there is one. */
    private void offer(Open node, Queue<Open> open) {
        if (node.depthLeft == 0 || node.count < 2 * growth.leafRows) {
            return;
        }
        for (int j : columns) {
            int bins = binned.bins(j);
            if (bins < 2) {
                continue;
            }
            if (node.kept.length > 0) {
                allBins(bins);
                scan(node, j, node.kept, node.keptCounts, from[j]);
                continue;
            }
            boolean sparse = node.end - node.begin < bins;
            byte[] codes = binned.codes(j);
            if (sparse) {
                Arrays.fill(occupied, 0);
                for (int i = node.begin; i < node.end; i++) {
                    int bin = codes[rows[i]] & 0xFF;
                    occupied[bin >> 6] |= 1L << bin;
                }
            } else {
                allBins(bins);
            }
            add(j, node.begin, node.end, sums, counts, 0);
            scan(node, j, sums, counts, 0);
            if (sparse) {
                for (int i = node.begin; i < node.end; i++) {
                    int bin = codes[rows[i]] & 0xFF;
                    sums[2 * bin] = 0;
                    sums[2 * bin + 1] = 0;
                    counts[bin] = 0;
                }
            } else {
                Arrays.fill(sums, 0, 2 * bins, 0);
                Arrays.fill(counts, 0, bins, 0);
            }
        }
        if (node.column >= 0) {
            open.add(node);
        }
    }

    private void allBins(int bins) {
        for (int word = 0; word < occupied.length; word++) {
            int left = bins - word * Long.SIZE;
            occupied[word] = left >= Long.SIZE ? -1L : left > 0 ? (1L << left) - 1 : 0;
        }
    }

    private void scan(Open node, int column, long[] by, double[] counted, int offset) {
        double whole = worth(node.slope, node.bend);
        long leftSlope = 0;
        long leftBend = 0;
        double leftCount = 0;
        int before = -1;
        for (int word = 0; word < occupied.length; word++) {
            for (long bits = occupied[word]; bits != 0; bits &= bits - 1) {
                int bin = word * Long.SIZE + Long.numberOfTrailingZeros(bits);
                double here = counted[offset + bin];
                if (!(here > 0)) {
                    continue;
                }
                if (before >= 0 && leftCount >= growth.leafRows) {
                    if (node.count - leftCount < growth.leafRows) {
                        return;
                    }
                    double gain =
                            worth(leftSlope, leftBend) + worth(node.slope - leftSlope, node.bend - leftBend) - whole;
                    // The first of equal gains keeps the split; what is rounding alone is none.
                    if (gain > node.gain + 1e-12 * (whole + 1e-12)) {
                        node.gain = gain;
                        node.column = column;
                        node.bin = before;
                        node.threshold = binned.threshold(column, before, bin);
                        node.leftSlope = leftSlope;
                        node.leftBend = leftBend;
                        node.leftCount = leftCount;
                    }
                }
                leftSlope += by[2 * (offset + bin)];
                leftBend += by[2 * (offset + bin) + 1];
                leftCount += here;
                before = bin;
            }
        }
    }

    private void split(Open node, ValueTree tree, Queue<Open> open) {
        byte[] codes = binned.codes(node.column);
        int a = node.begin;
        int b = 0;
        for (int i = node.begin; i < node.end; i++) {
            int row = rows[i];
            if ((codes[row] & 0xFF) <= node.bin) {
                rows[a++] = row;
            } else {
                spare[b++] = row;
            }
        }
        System.arraycopy(spare, 0, rows, a, b);
        long rightSlope = node.slope - node.leftSlope;
        long rightBend = node.bend - node.leftBend;
        int left = tree.leaf(value(node.leftSlope, node.leftBend));
        int right = tree.leaf(value(rightSlope, rightBend));
        tree.column[node.node] = node.column;
        tree.bin[node.node] = node.bin;
        tree.threshold[node.node] = node.threshold;
        tree.left[node.node] = left;
        tree.right[node.node] = right;
        boolean leftSmaller = a - node.begin <= node.end - a;
        long[] none = new long[0];
        double[] noCounts = new double[0];
        boolean keep = node.kept.length > 0 && node.depthLeft > 1 && keeps(Math.max(a - node.begin, node.end - a));
        long[] fresh = keep ? new long[node.kept.length] : none;
        double[] freshCounts = keep ? new double[node.keptCounts.length] : noCounts;
        long[] parents = keep ? node.kept : none;
        double[] parentsCounts = keep ? node.keptCounts : noCounts;
        Open leftOpen = new Open(
                left,
                node.begin,
                a,
                node.depthLeft - 1,
                node.leftSlope,
                node.leftBend,
                node.leftCount,
                leftSmaller ? fresh : parents,
                leftSmaller ? freshCounts : parentsCounts);
        Open rightOpen = new Open(
                right,
                a,
                node.end,
                node.depthLeft - 1,
                rightSlope,
                rightBend,
                node.count - node.leftCount,
                leftSmaller ? parents : fresh,
                leftSmaller ? parentsCounts : freshCounts);
        if (keep) {
            sum(leftSmaller ? leftOpen : rightOpen);
            for (int j : columns) {
                for (int k = from[j]; k < from[j + 1]; k++) {
                    parents[2 * k] -= fresh[2 * k];
                    parents[2 * k + 1] -= fresh[2 * k + 1];
                    parentsCounts[k] -= freshCounts[k];
                }
            }
        }
        offer(leftOpen, open);
        offer(rightOpen, open);
    }
}

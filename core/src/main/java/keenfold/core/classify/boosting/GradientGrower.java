package keenfold.core.classify.boosting;

import java.util.ArrayDeque;
import java.util.PriorityQueue;
import java.util.Queue;
import keenfold.core.classify.tree.Binned;
import keenfold.core.classify.tree.OccupiedBins;

/**
 * Grows trees that lower a loss by its first and second derivatives, from binned columns.
 *
 * <p>Derivatives are whole multiples of a small unit, so that their sums are exact whatever their order: a tree does not
 * hang on the order of rows, nor on whether a row stands there twice or weighs two, and the sums of a node less those of
 * one side are those of the other.
 */
public final class GradientGrower {
    private static final int WORTH_KEEPING = 512;
    private static final int MOST_KEPT = 1 << 17;
    private static final double COUNT_UNIT = 0x1p-20;

    private final Binned binned;
    private final Growth growth;
    private final int[] from;
    private final int[] rows;
    private final int[] spare;
    private final long[] rowSlope;
    private final long[] rowBend;
    private final long[] rowCount;
    private final long[] spareSlope;
    private final long[] spareBend;
    private final long[] spareCount;
    private final long[] sums = new long[3 * Binned.MOST];
    private final OccupiedBins occupied = new OccupiedBins();
    private final double unit;
    private final long leastCount;
    private int[] columns = new int[0];

    /** A leaf that may yet be split, with the best way to do so. */
    private static final class Open implements Comparable<Open> {
        private final int node;
        private final int begin;
        private final int end;
        private final int depthLeft;
        private final long slope;
        private final long bend;
        private final long count;
        private final long[] kept;
        private double gain;
        private int column = -1;
        private int bin;
        private double threshold;
        private long leftSlope;
        private long leftBend;
        private long leftCount;

        Open(int node, int begin, int end, int depthLeft, long slope, long bend, long count, long[] kept) {
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

    /** @param unit what one of the whole multiples stands for */
    GradientGrower(Binned binned, Growth growth, double unit) {
        this.binned = binned;
        this.growth = growth;
        this.unit = unit;
        this.from = new int[binned.columns() + 1];
        for (int j = 0; j < binned.columns(); j++) {
            from[j + 1] = from[j] + binned.bins(j);
        }
        int n = binned.rows();
        this.rows = new int[n];
        this.rowSlope = new long[n];
        this.rowBend = new long[n];
        this.rowCount = new long[n];
        this.spare = new int[n];
        this.spareSlope = new long[n];
        this.spareBend = new long[n];
        this.spareCount = new long[n];
        this.leastCount = (long) Math.ceil(growth.leafRows() / COUNT_UNIT);
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
        columns = looked;
        long slopeSum = 0;
        long bendSum = 0;
        long countSum = 0;
        for (int i = 0; i < some.length; i++) {
            int row = some[i];
            rows[i] = row;
            rowSlope[i] = slopes[row];
            rowBend[i] = bends[row];
            rowCount[i] = Math.round(weights[row] / COUNT_UNIT);
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
                keep ? new long[3 * from[binned.columns()]] : new long[0]);
        if (keep) {
            sum(root);
        }
        Queue<Open> open = growth.leaves() < Integer.MAX_VALUE ? new PriorityQueue<>() : new ArrayDeque<>();
        offer(root, open);
        int leaves = 1;
        while (!open.isEmpty() && leaves < growth.leaves()) {
            split(open.remove(), tree, open);
            leaves++;
        }
        return tree;
    }

    private boolean keeps(int count) {
        return count >= WORTH_KEEPING && 3 * from[binned.columns()] <= MOST_KEPT;
    }

    private double value(long slopeSum, long bendSum) {
        double divisor = bendSum * unit + growth.ridge();
        return divisor > 0 ? -growth.rate() * (slopeSum * unit) / divisor : 0;
    }

    private void sum(Open node) {
        for (int j : columns) {
            add(j, node.begin, node.end, node.kept, from[j]);
        }
    }

    private void add(int column, int begin, int end, long[] into, int offset) {
        byte[] codes = binned.codes(column);
        for (int i = begin; i < end; i++) {
            int at = 3 * (offset + (codes[rows[i]] & 0xFF));
            into[at] += rowSlope[i];
            into[at + 1] += rowBend[i];
            into[at + 2] += rowCount[i];
        }
    }

    /** The same into {@code sums}, marking the bins that occur. */
    private void addMarked(int column, int begin, int end) {
        occupied.markNone();
        byte[] codes = binned.codes(column);
        long[] marks = occupied.words();
        for (int i = begin; i < end; i++) {
            int bin = codes[rows[i]] & 0xFF;
            marks[bin >> 6] |= 1L << bin;
            sums[3 * bin] += rowSlope[i];
            sums[3 * bin + 1] += rowBend[i];
            sums[3 * bin + 2] += rowCount[i];
        }
    }

    /** Finds the best split of a leaf, and keeps the leaf if there is one. */
    private void offer(Open node, Queue<Open> open) {
        if (node.depthLeft == 0 || node.count < 2 * leastCount) {
            return;
        }
        for (int j : columns) {
            int bins = binned.bins(j);
            if (bins < 2) {
                continue;
            }
            if (node.kept.length > 0) {
                occupied.markFirst(bins);
                scan(node, j, node.kept, from[j]);
                continue;
            }
            if (node.end - node.begin < bins) {
                addMarked(j, node.begin, node.end);
            } else {
                occupied.markFirst(bins);
                add(j, node.begin, node.end, sums, 0);
            }
            scan(node, j, sums, 0);
            clear();
        }
        if (node.column >= 0) {
            open.add(node);
        }
    }

    private void clear() {
        long[] bins = occupied.words();
        for (int word = 0; word < bins.length; word++) {
            for (long bits = bins[word]; bits != 0; bits &= bits - 1) {
                int at = 3 * (word * Long.SIZE + Long.numberOfTrailingZeros(bits));
                sums[at] = 0;
                sums[at + 1] = 0;
                sums[at + 2] = 0;
            }
        }
    }

    /** Looks at every threshold of a column, comparing gains without dividing. */
    private void scan(Open node, int column, long[] by, int offset) {
        double ridge = growth.ridge();
        double one = unit;
        long least = leastCount;
        long nodeSlope = node.slope;
        long nodeBend = node.bend;
        long nodeCount = node.count;
        double g = nodeSlope * one;
        double h = nodeBend * one + ridge;
        double whole = h > 0 ? g * g / h : 0;
        // The first of equal gains keeps the split; what is rounding alone is none.
        double rounding = 1e-12 * (whole + 1e-12);
        double best = node.gain + whole + rounding;
        long leftSlope = 0;
        long leftBend = 0;
        long leftCount = 0;
        int before = -1;
        int bestLeft = -1;
        long[] bins = occupied.words();
        for (int word = 0; word < bins.length; word++) {
            for (long bits = bins[word]; bits != 0; bits &= bits - 1) {
                int bin = word * Long.SIZE + Long.numberOfTrailingZeros(bits);
                int at = 3 * (offset + bin);
                long here = by[at + 2];
                if (here == 0) {
                    continue;
                }
                if (leftCount >= least) {
                    if (nodeCount - leftCount < least) {
                        word = bins.length;
                        break;
                    }
                    double g1 = leftSlope * one;
                    double h1 = leftBend * one + ridge;
                    double g2 = (nodeSlope - leftSlope) * one;
                    double h2 = (nodeBend - leftBend) * one + ridge;
                    double over = g1 * g1 * h2 + g2 * g2 * h1;
                    double under = h1 * h2;
                    if (over > best * under && under > 0) {
                        best = over / under + rounding;
                        bestLeft = before;
                        node.bin = bin;
                        node.leftSlope = leftSlope;
                        node.leftBend = leftBend;
                        node.leftCount = leftCount;
                    }
                }
                leftSlope += by[at];
                leftBend += by[at + 1];
                leftCount += here;
                before = bin;
            }
        }
        if (bestLeft >= 0) {
            node.gain = best - rounding - whole;
            node.column = column;
            node.threshold = binned.threshold(column, bestLeft, node.bin);
            node.bin = bestLeft;
        }
    }

    private void split(Open node, ValueTree tree, Queue<Open> open) {
        byte[] codes = binned.codes(node.column);
        int a = node.begin;
        int b = 0;
        for (int i = node.begin; i < node.end; i++) {
            int row = rows[i];
            if ((codes[row] & 0xFF) <= node.bin) {
                rowSlope[a] = rowSlope[i];
                rowBend[a] = rowBend[i];
                rowCount[a] = rowCount[i];
                rows[a++] = row;
            } else {
                spareSlope[b] = rowSlope[i];
                spareBend[b] = rowBend[i];
                spareCount[b] = rowCount[i];
                spare[b++] = row;
            }
        }
        System.arraycopy(spare, 0, rows, a, b);
        System.arraycopy(spareSlope, 0, rowSlope, a, b);
        System.arraycopy(spareBend, 0, rowBend, a, b);
        System.arraycopy(spareCount, 0, rowCount, a, b);
        long rightSlope = node.slope - node.leftSlope;
        long rightBend = node.bend - node.leftBend;
        int left = tree.leaf(value(node.leftSlope, node.leftBend));
        int right = tree.leaf(value(rightSlope, rightBend));
        tree.split(node.node, node.column, node.bin, node.threshold, left, right);
        boolean leftSmaller = a - node.begin <= node.end - a;
        long[] none = new long[0];
        boolean keep = node.kept.length > 0 && node.depthLeft > 1 && keeps(Math.max(a - node.begin, node.end - a));
        long[] fresh = keep ? new long[node.kept.length] : none;
        long[] parents = keep ? node.kept : none;
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

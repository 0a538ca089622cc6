package keenfold.core.classify.tree;

import java.util.Arrays;

/**
 * The search for two classes, Gini and whole weights. The weights of both classes are halves of one number, so that one
 * addition serves both.
 *
 * <p>With the weights W and W₁ of a node and its later class, L and l₁ of its left side, a split takes away 2·D²/(L·(W −
 * L)·W) of the impurity, D = l₁·W − L·W₁.
 */
final class TwoClassSearch extends SplitSearch<long[]> {
    private static final int FEW = 12;
    private static final int LATER = 32;
    private static final long WEIGHT = 0xFFFFFFFFL;

    private final int[] offsets;
    private final long[] packed;
    private final long[] sums = new long[Binned.MOST];
    private final OccupiedBins occupied = new OccupiedBins();
    private final int[] order = new int[FEW];
    private long all;
    private boolean bySums;
    private double impurity;

    /** Whether it can be used for rows of a total weight, which are whole or not. */
    static boolean serves(int classes, Tree.Impurity impurity, boolean whole, double total) {
        return classes == 2 && impurity == Tree.Impurity.GINI && whole && total < Integer.MAX_VALUE;
    }

    TwoClassSearch(Binned binned, GrowingRows rows, double least) {
        super(binned, rows, least);
        this.offsets = new int[binned.columns() + 1];
        for (int j = 0; j < binned.columns(); j++) {
            offsets[j + 1] = offsets[j] + binned.bins(j);
        }
        this.packed = new long[rows.weight.length];
        for (int i = 0; i < packed.length; i++) {
            long weight = (long) rows.weight[i];
            packed[i] = weight | ((rows.classOf[i] * weight) << LATER);
        }
    }

    @Override
    void start(int from, int behind, double[] classWeights, double weight, double mixed) {
        super.start(from, behind, classWeights, weight, mixed);
        all = (long) weight | ((long) classWeights[1] << LATER);
        impurity = mixed;
    }

    @Override
    int values() {
        return offsets[binned.columns()];
    }

    @Override
    long[] sums(int first, int behind) {
        long[] to = new long[values()];
        for (int j = 0; j < binned.columns(); j++) {
            add(j, first, behind, to, offsets[j]);
        }
        return to;
    }

    @Override
    void subtract(long[] whole, long[] part) {
        for (int k = 0; k < whole.length; k++) {
            whole[k] -= part[k];
        }
    }

    private void add(int column, int first, int behind, long[] to, int offset) {
        byte[] codes = binned.codes(column);
        int[] row = rows.row;
        for (int i = first; i < behind; i++) {
            int here = row[i];
            to[offset + (codes[here] & 0xFF)] += packed[here];
        }
    }

    @Override
    void best(int column) {
        int bins = binned.bins(column);
        int count = end - begin;
        if (count <= FEW) {
            few(column, count);
        } else if (count < bins) {
            some(column);
        } else {
            add(column, begin, end, sums, 0);
            scan(column, sums, 0);
            Arrays.fill(sums, 0, bins, 0);
        }
    }

    @Override
    void best(int column, long[] known) {
        scan(column, known, offsets[column]);
    }

    /** By how much D² must exceed L·R for a split to be better than the best so far. */
    private double wanted() {
        return (impurity - impurity() + ROUNDING * own) * own / 2;
    }

    private void better(int column, int leftBin, int rightBin, double ratio) {
        take(column, leftBin, rightBin, impurity - 2 * ratio / own);
    }

    private static double squaredOver(long left, long whole) {
        long weight = left & WEIGHT;
        double d = (double) ((left >>> LATER) * (whole & WEIGHT) - weight * (whole >>> LATER));
        return d * d / ((double) weight * ((whole & WEIGHT) - weight));
    }

    /** Goes through sums of all bins; an empty bin changes nothing, and so offers nothing better. */
    private void scan(int column, long[] by, int offset) {
        int bins = binned.bins(column);
        long whole = all;
        long total = whole & WEIGHT;
        long later = whole >>> LATER;
        double most = wanted();
        long left = 0;
        int bestLeft = -1;
        long best = 0;
        for (int bin = 0; bin < bins - 1; bin++) {
            left += by[offset + bin];
            long weight = left & WEIGHT;
            double d = (double) ((left >>> LATER) * total - weight * later);
            double sides = (double) weight * (double) (total - weight);
            if (d * d > most * sides && weight >= least && total - weight >= least) {
                best = left;
                bestLeft = bin;
                most = d * d / sides + ROUNDING * own * own / 2;
            }
        }
        if (bestLeft >= 0) {
            int bestRight = bestLeft + 1;
            while (by[offset + bestRight] == 0) {
                bestRight++;
            }
            better(column, bestLeft, bestRight, squaredOver(best, whole));
        }
    }

    /** Sums by the bins that occur, and goes through those. */
    private void some(int column) {
        occupied.markNone();
        byte[] codes = binned.codes(column);
        long[] marks = occupied.words();
        int[] row = rows.row;
        for (int i = begin; i < end; i++) {
            int here = row[i];
            int bin = codes[here] & 0xFF;
            marks[bin >> 6] |= 1L << bin;
            sums[bin] += packed[here];
        }
        long whole = all;
        long total = whole & WEIGHT;
        long later = whole >>> LATER;
        double most = wanted();
        long left = 0;
        int bestLeft = -1;
        int bestRight = -1;
        long best = 0;
        int before = -1;
        for (int word = 0; word < marks.length; word++) {
            for (long bits = marks[word]; bits != 0; bits &= bits - 1) {
                int bin = word * Long.SIZE + Long.numberOfTrailingZeros(bits);
                long weight = left & WEIGHT;
                double d = (double) ((left >>> LATER) * total - weight * later);
                double sides = (double) weight * (double) (total - weight);
                if (d * d > most * sides && weight >= least && total - weight >= least) {
                    best = left;
                    bestLeft = before;
                    bestRight = bin;
                    most = d * d / sides + ROUNDING * own * own / 2;
                }
                left += sums[bin];
                sums[bin] = 0;
                before = bin;
            }
        }
        if (bestLeft >= 0) {
            better(column, bestLeft, bestRight, squaredOver(best, whole));
        }
    }

    /** Sorts the rows by insertion, and goes through them. */
    private void few(int column, int count) {
        byte[] codes = binned.codes(column);
        int[] row = rows.row;
        int[] sorted = order;
        for (int i = 0; i < count; i++) {
            int here = row[begin + i];
            int key = (codes[here] & 0xFF) << Byte.SIZE | i;
            int at = i;
            while (at > 0 && sorted[at - 1] > key) {
                sorted[at] = sorted[at - 1];
                at--;
            }
            sorted[at] = key;
        }
        long whole = all;
        long total = whole & WEIGHT;
        long later = whole >>> LATER;
        double most = wanted();
        long left = 0;
        int bestAt = -1;
        long best = 0;
        for (int k = 0; k < count - 1; k++) {
            left += packed[row[begin + (sorted[k] & 0xFF)]];
            long weight = left & WEIGHT;
            double d = (double) ((left >>> LATER) * total - weight * later);
            double sides = (double) weight * (double) (total - weight);
            if (d * d > most * sides
                    && (sorted[k] ^ sorted[k + 1]) >>> Byte.SIZE != 0
                    && weight >= least
                    && total - weight >= least) {
                best = left;
                bestAt = k;
                most = d * d / sides + ROUNDING * own * own / 2;
            }
        }
        if (bestAt >= 0) {
            better(column, sorted[bestAt] >>> Byte.SIZE, sorted[bestAt + 1] >>> Byte.SIZE, squaredOver(best, whole));
        }
    }

    private boolean manyRows(int column) {
        return end - begin >= binned.bins(column);
    }

    /** Of many rows the sums by bin, else the bins of the rows. */
    @Override
    void range(int column) {
        bySums = manyRows(column);
        if (!bySums) {
            super.range(column);
            return;
        }
        Arrays.fill(sums, 0);
        add(column, begin, end, sums, 0);
        first = 0;
        last = binned.bins(column) - 1;
        while (sums[first] == 0) {
            first++;
        }
        while (sums[last] == 0) {
            last--;
        }
    }

    @Override
    int leftBin(int cut) {
        int bin = cut;
        while (bySums && sums[bin] == 0) {
            bin--;
        }
        return bySums ? bin : super.leftBin(cut);
    }

    @Override
    int rightBin(int cut) {
        int bin = cut + 1;
        while (bySums && sums[bin] == 0) {
            bin++;
        }
        return bySums ? bin : super.rightBin(cut);
    }

    @Override
    double impurity(int cut) {
        long left = 0;
        if (bySums) {
            for (int bin = 0; bin <= cut; bin++) {
                left += sums[bin];
            }
        } else {
            int[] row = rows.row;
            int count = end - begin;
            for (int i = 0; i < count; i++) {
                // All bits where the row goes left, else none: a branch would be guessed wrong every other time.
                long goes = (binOf[i] - cut - 1L) >> (Long.SIZE - 1);
                left += packed[row[begin + i]] & goes;
            }
        }
        long weight = left & WEIGHT;
        return weight >= least && (all & WEIGHT) - weight >= least
                ? impurity - 2 * squaredOver(left, all) / own
                : Double.POSITIVE_INFINITY;
    }
}

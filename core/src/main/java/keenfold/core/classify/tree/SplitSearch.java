package keenfold.core.classify.tree;

import keenfold.core.data.RandomSource;

/**
 * Looks for the split of a node that leaves the least impurity. A gain within rounding is none: the first column and the
 * lowest threshold keep the split.
 *
 * @param <S> sums of class weights by bin of all columns
 */
abstract class SplitSearch<S> {
    /** Of the weight of a node: less is rounding. */
    static final double ROUNDING = 1e-12;

    final Binned binned;
    final GrowingRows rows;

    /** Least weight of a side. */
    final double least;

    /** The bins of the node's rows, as {@link #range} found them. */
    final int[] binOf;

    int first;
    int last;

    /** The node's rows, and their weight. */
    int begin;

    int end;
    double own;

    private int bestColumn;
    private int bestBin;
    private double bestThreshold;
    private double bestImpurity;

    SplitSearch(Binned binned, GrowingRows rows, double least) {
        this.binned = binned;
        this.rows = rows;
        this.least = least;
        this.binOf = new int[rows.count()];
    }

    /** Starts with a node that is not split. */
    void start(int from, int behind, double[] classWeights, double weight, double impurity) {
        begin = from;
        end = behind;
        own = weight;
        bestColumn = -1;
        bestImpurity = impurity;
    }

    /** Looks at every threshold of a column. */
    abstract void best(int column);

    /** Looks at every threshold of a column whose sums are known. */
    abstract void best(int column, S all);

    /** How many numbers the sums of all columns are. */
    abstract int values();

    abstract S sums(int first, int behind);

    /** Takes part of the rows away from sums. */
    abstract void subtract(S from, S part);

    /**
     * Returns the impurity that is left when the rows of bins up to {@code cut} go left; infinite if a side is too small.
     * {@link #range} has looked at the column before.
     */
    abstract double impurity(int cut);

    /** Finds the first and the last bin of the node's rows. */
    void range(int column) {
        byte[] codes = binned.codes(column);
        int[] row = rows.row;
        int count = end - begin;
        int least = Binned.MOST;
        int most = 0;
        for (int i = 0; i < count; i++) {
            int bin = codes[row[begin + i]] & 0xFF;
            binOf[i] = bin;
            least = Math.min(least, bin);
            most = Math.max(most, bin);
        }
        first = least;
        last = most;
    }

    /** The greatest bin up to {@code cut} that the node's rows have. */
    int leftBin(int cut) {
        int bin = first;
        for (int i = 0; i < end - begin; i++) {
            bin = binOf[i] <= cut ? Math.max(bin, binOf[i]) : bin;
        }
        return bin;
    }

    /** The least bin above {@code cut} that the node's rows have. */
    int rightBin(int cut) {
        int bin = last;
        for (int i = 0; i < end - begin; i++) {
            bin = binOf[i] > cut ? Math.min(bin, binOf[i]) : bin;
        }
        return bin;
    }

    /** Looks at one threshold of a column, drawn between the least and the greatest value of the node's rows. */
    void drawn(int column, RandomSource chance) {
        range(column);
        if (first == last) {
            return;
        }
        double low = binned.low(column, first);
        double drawn = low + chance.uniform() * (binned.high(column, last) - low);
        int cut = first;
        for (int to = last; to - cut > 1; ) {
            int middle = (cut + to) >>> 1;
            if (binned.high(column, middle) <= drawn) {
                cut = middle;
            } else {
                to = middle;
            }
        }
        double impurity = impurity(cut);
        if (impurity < bestImpurity - ROUNDING * own) {
            int left = leftBin(cut);
            int right = rightBin(cut);
            take(column, left, right, impurity);
            // Within a bin of several values rows cannot be told apart: the edge stands for what was drawn.
            if (drawn >= binned.high(column, left) && drawn < binned.low(column, right)) {
                bestThreshold = drawn;
            }
        }
    }

    /** Keeps a split that is better than those before. */
    void take(int column, int leftBin, int rightBin, double impurity) {
        bestColumn = column;
        bestBin = leftBin;
        bestImpurity = impurity;
        bestThreshold = binned.threshold(column, leftBin, rightBin);
    }

    boolean found() {
        return bestColumn >= 0;
    }

    int column() {
        return bestColumn;
    }

    int bin() {
        return bestBin;
    }

    double threshold() {
        return bestThreshold;
    }

    /** The least impurity so far, that of the node at first. */
    double impurity() {
        return bestImpurity;
    }
}

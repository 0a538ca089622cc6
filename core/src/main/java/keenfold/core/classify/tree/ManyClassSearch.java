package keenfold.core.classify.tree;

import java.util.Arrays;

/** The search for any number of classes, any weights and impurity. */
final class ManyClassSearch extends SplitSearch<double[]> {
    private final int classes;
    private final Tree.Impurity measure;
    private final int[] offsets;
    private final double[] sums;
    private final OccupiedBins occupied = new OccupiedBins();
    private final RowsByBin byBin;
    private final double[] left;
    private final double[] right;
    private double[] classWeights = new double[0];

    ManyClassSearch(Binned binned, GrowingRows rows, double least, int classes, Tree.Impurity measure) {
        super(binned, rows, least);
        this.classes = classes;
        this.measure = measure;
        this.offsets = new int[binned.columns() + 1];
        for (int j = 0; j < binned.columns(); j++) {
            offsets[j + 1] = offsets[j] + binned.bins(j) * classes;
        }
        this.sums = new double[Binned.MOST * classes];
        this.byBin = new RowsByBin(Math.min(rows.count(), Binned.MOST * classes / 2));
        this.left = new double[classes];
        this.right = new double[classes];
    }

    @Override
    void start(int from, int behind, double[] weights, double weight, double impurity) {
        super.start(from, behind, weights, weight, impurity);
        classWeights = weights;
    }

    @Override
    int values() {
        return offsets[binned.columns()];
    }

    @Override
    double[] sums(int first, int behind) {
        double[] all = new double[values()];
        for (int j = 0; j < binned.columns(); j++) {
            add(j, first, behind, all, offsets[j]);
        }
        return all;
    }

    @Override
    void subtract(double[] whole, double[] part) {
        for (int k = 0; k < whole.length; k++) {
            whole[k] -= part[k];
        }
    }

    private void add(int column, int first, int behind, double[] into, int offset) {
        byte[] codes = binned.codes(column);
        int[] row = rows.row;
        for (int i = first; i < behind; i++) {
            int here = row[i];
            into[offset + (codes[here] & 0xFF) * classes + rows.classOf[here]] += rows.weight[here];
        }
    }

    @Override
    void best(int column, double[] known) {
        occupied.markFirst(binned.bins(column));
        scan(column, known, offsets[column]);
    }

    @Override
    void best(int column) {
        int count = end - begin;
        // Up to so many rows, to order them and go row by row is less work than to go through sums by bin and class.
        if (measure == Tree.Impurity.GINI && count <= binned.bins(column) * classes / 2) {
            scanRows(column, byBin.order(binned.codes(column), rows.row, begin, end));
            return;
        }
        if (count < binned.bins(column)) {
            addMarked(column);
        } else {
            occupied.markFirst(binned.bins(column));
            add(column, begin, end, sums, 0);
        }
        scan(column, sums, 0);
        clear();
    }

    /** Sums class weights by bin, and marks the bins that occur. */
    private void addMarked(int column) {
        occupied.markNone();
        byte[] codes = binned.codes(column);
        long[] marks = occupied.words();
        for (int i = begin; i < end; i++) {
            int here = rows.row[i];
            int bin = codes[here] & 0xFF;
            marks[bin >> 6] |= 1L << bin;
            sums[bin * classes + rows.classOf[here]] += rows.weight[here];
        }
    }

    /** Clears the sums of the bins that were looked at. */
    private void clear() {
        long[] bins = occupied.words();
        for (int word = 0; word < bins.length; word++) {
            for (long bits = bins[word]; bits != 0; bits &= bits - 1) {
                int at = (word * Long.SIZE + Long.numberOfTrailingZeros(bits)) * classes;
                Arrays.fill(sums, at, at + classes, 0);
            }
        }
    }

    private void scan(int column, double[] by, int offset) {
        if (measure == Tree.Impurity.GINI) {
            scanGini(column, by, offset);
            return;
        }
        long[] bins = occupied.words();
        Arrays.fill(left, 0);
        System.arraycopy(classWeights, 0, right, 0, classes);
        double leftWeight = 0;
        int before = -1;
        for (int word = 0; word < bins.length; word++) {
            for (long bits = bins[word]; bits != 0; bits &= bits - 1) {
                int bin = word * Long.SIZE + Long.numberOfTrailingZeros(bits);
                int at = offset + bin * classes;
                double here = 0;
                for (int c = 0; c < classes; c++) {
                    here += by[at + c];
                }
                if (!(here > 0)) {
                    continue;
                }
                if (before >= 0 && leftWeight >= least && own - leftWeight >= least) {
                    double impurity = measure.of(left, leftWeight) + measure.of(right, own - leftWeight);
                    if (impurity < impurity() - ROUNDING * own) {
                        take(column, before, bin, impurity);
                    }
                }
                for (int c = 0; c < classes; c++) {
                    left[c] += by[at + c];
                    right[c] -= by[at + c];
                }
                leftWeight += here;
                before = bin;
            }
        }
    }

    /**
     * The same for Gini, whose sum over both sides is own − (Σ left²/W_left + Σ right²/W_right): sums of squares are carried
     * along, and compared without dividing.
     */
    private void scanGini(int column, double[] by, int offset) {
        long[] bins = occupied.words();
        double rightSquares = startGini();
        double leftSquares = 0;
        double leftWeight = 0;
        double rounding = ROUNDING * own;
        double best = own - impurity() + rounding;
        int before = -1;
        int bestLeft = -1;
        int bestRight = -1;
        for (int word = 0; word < bins.length; word++) {
            for (long bits = bins[word]; bits != 0; bits &= bits - 1) {
                int bin = word * Long.SIZE + Long.numberOfTrailingZeros(bits);
                int at = offset + bin * classes;
                double here = 0;
                double leftMore = 0;
                double rightLess = 0;
                for (int c = 0; c < classes; c++) {
                    double w = by[at + c];
                    here += w;
                    leftMore += w * (2 * left[c] + w);
                    rightLess += w * (2 * right[c] - w);
                }
                if (!(here > 0)) {
                    continue;
                }
                double rightWeight = own - leftWeight;
                if (before >= 0 && leftWeight >= least && rightWeight >= least) {
                    double over = leftSquares * rightWeight + rightSquares * leftWeight;
                    double under = leftWeight * rightWeight;
                    if (over > best * under) {
                        best = over / under + rounding;
                        bestLeft = before;
                        bestRight = bin;
                    }
                }
                for (int c = 0; c < classes; c++) {
                    left[c] += by[at + c];
                    right[c] -= by[at + c];
                }
                leftSquares += leftMore;
                rightSquares -= rightLess;
                leftWeight += here;
                before = bin;
            }
        }
        if (bestLeft >= 0) {
            take(column, bestLeft, bestRight, own - (best - rounding));
        }
    }

    /** The same row by row: what a row changes does not depend on the number of classes. */
    private void scanRows(int column, int[] ordered) {
        double rightSquares = startGini();
        double leftSquares = 0;
        double leftWeight = 0;
        double rounding = ROUNDING * own;
        double best = own - impurity() + rounding;
        int count = end - begin;
        int before = RowsByBin.bin(ordered[0]);
        int bestLeft = -1;
        int bestRight = -1;
        for (int k = 0; k < count; k++) {
            int bin = RowsByBin.bin(ordered[k]);
            if (bin != before) {
                double rightWeight = own - leftWeight;
                if (leftWeight >= least && rightWeight >= least) {
                    double over = leftSquares * rightWeight + rightSquares * leftWeight;
                    double under = leftWeight * rightWeight;
                    if (over > best * under) {
                        best = over / under + rounding;
                        bestLeft = before;
                        bestRight = bin;
                    }
                }
                before = bin;
            }
            int here = rows.row[begin + RowsByBin.place(ordered[k])];
            int c = rows.classOf[here];
            double w = rows.weight[here];
            leftSquares += w * (2 * left[c] + w);
            rightSquares -= w * (2 * right[c] - w);
            left[c] += w;
            right[c] -= w;
            leftWeight += w;
        }
        if (bestLeft >= 0) {
            take(column, bestLeft, bestRight, own - (best - rounding));
        }
    }

    /** Has all rows on the right; returns their sum of squares. */
    private double startGini() {
        double squares = 0;
        for (int c = 0; c < classes; c++) {
            left[c] = 0;
            right[c] = classWeights[c];
            squares += right[c] * right[c];
        }
        return squares;
    }

    @Override
    double impurity(int cut) {
        Arrays.fill(left, 0);
        Arrays.fill(right, 0);
        int count = end - begin;
        double leftWeight = 0;
        for (int i = 0; i < count; i++) {
            int here = rows.row[begin + i];
            double w = rows.weight[here];
            double goes = binOf[i] <= cut ? w : 0;
            left[rows.classOf[here]] += goes;
            right[rows.classOf[here]] += w - goes;
            leftWeight += goes;
        }
        return leftWeight >= least && own - leftWeight >= least
                ? measure.of(left, leftWeight) + measure.of(right, own - leftWeight)
                : Double.POSITIVE_INFINITY;
    }
}

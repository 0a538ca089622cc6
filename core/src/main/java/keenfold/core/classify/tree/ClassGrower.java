package keenfold.core.classify.tree;

import java.util.Arrays;
import keenfold.core.data.RandomSource;
import keenfold.core.learned.FitFailure;

/**
 * Grows trees whose leaves are to hold few classes, from binned columns.
 *
 * <p>A node's rows are one stretch of an array, and their classes and weights stand beside them. Class weights by bin are
 * summed for each column that is looked at; where a node has fewer rows than a column has bins, only the bins that occur
 * are visited. Where all columns are looked at, there are many rows and their weights are whole, the larger side of a split
 * gets its sums as its parent's less its sister's, which is then exact.
 */
final class ClassGrower {
    private static final int WORTH_KEEPING = 1024;
    private static final int MOST_KEPT = 1 << 18;

    private final Binned binned;
    private final int classes;
    private final Growth growth;
    private final RandomSource chance;
    private final double total;
    private final boolean whole;
    private final int[] from;
    private final int[] columns;
    private final GrowingRows rows;
    private final double[] sums;
    private final OccupiedBins occupied = new OccupiedBins();
    private final double[] left;
    private final double[] right;

    private int bestColumn;
    private int bestBin;
    private double bestThreshold;
    private double bestImpurity;

    /**
     * How trees grow.
     *
     * @param depth most splits between root and leaf
     * @param leafRows least weight of a leaf
     * @param columns how many are looked at for a split
     * @param anyThreshold whether a column's threshold is drawn, and not the best one
     */
    record Growth(Tree.Impurity impurity, int depth, double leafRows, int columns, boolean anyThreshold) {}

    /**
     * @param weight per row, 0 for a row that is not there
     * @param chance draws columns and thresholds; unused where all are looked at
     */
    ClassGrower(Binned binned, int[] target, double[] weight, int classes, Growth growth, RandomSource chance) {
        this.binned = binned;
        this.classes = classes;
        this.growth = growth;
        this.chance = chance;
        this.from = new int[binned.columns() + 1];
        this.columns = new int[binned.columns()];
        for (int j = 0; j < columns.length; j++) {
            columns[j] = j;
            from[j + 1] = from[j] + binned.bins(j) * classes;
        }
        this.rows = new GrowingRows(target, weight);
        this.sums = new double[Binned.MOST * classes];
        this.left = new double[classes];
        this.right = new double[classes];
        this.total = sum(rows.weight);
        this.whole = Arrays.stream(rows.weight).allMatch(w -> w == Math.rint(w));
    }

    Node grow() {
        double[] classWeights = new double[classes];
        int count = rows.count();
        for (int i = 0; i < count; i++) {
            classWeights[rows.classOf[i]] += rows.weight[i];
        }
        double[] all = keeps(count) ? summed(0, count) : new double[0];
        return grow(0, count, growth.depth, classWeights, all);
    }

    private boolean keeps(int count) {
        return whole
                && growth.columns >= columns.length
                && !growth.anyThreshold
                && count >= WORTH_KEEPING
                && from[columns.length] <= MOST_KEPT;
    }

    /** Class weights by bin of all columns, over some rows. */
    private double[] summed(int begin, int end) {
        double[] all = new double[from[columns.length]];
        for (int j = 0; j < columns.length; j++) {
            add(j, begin, end, all, from[j]);
        }
        return all;
    }

    private void add(int column, int begin, int end, double[] into, int offset) {
        byte[] codes = binned.codes(column);
        int[] row = rows.row;
        int[] rowClass = rows.classOf;
        double[] rowWeight = rows.weight;
        for (int i = begin; i < end; i++) {
            into[offset + (codes[row[i]] & 0xFF) * classes + rowClass[i]] += rowWeight[i];
        }
    }

    /**
     * @param kept class weights by bin of all columns; empty if they are not kept
     */
    private Node grow(int begin, int end, int depthLeft, double[] classWeights, double[] kept) {
        FitFailure.ifInterrupted();
        double own = sum(classWeights);
        double impurity = growth.impurity.of(classWeights, own);
        double[] shares = classWeights.clone();
        for (int c = 0; c < classes; c++) {
            shares[c] /= own;
        }
        Node node = new Node(shares, impurity / total, own);
        if (depthLeft == 0 || impurity <= 0 || own < 2 * growth.leafRows) {
            return node;
        }
        bestColumn = -1;
        bestImpurity = impurity;
        search(begin, end, classWeights, own, kept);
        if (bestColumn < 0) {
            return node;
        }
        int column = bestColumn;
        double threshold = bestThreshold;
        double[] leftWeights = new double[classes];
        // Both are summed: of weights that are not whole, what the left side leaves may be a little below 0.
        double[] rightWeights = new double[classes];
        int middle = rows.partition(begin, end, binned.codes(column), bestBin, leftWeights, rightWeights);
        double[] keptLeft = new double[0];
        double[] keptRight = keptLeft;
        if (kept.length > 0 && keeps(Math.max(middle - begin, end - middle))) {
            boolean leftIsLarger = middle - begin > end - middle;
            double[] smaller = leftIsLarger ? summed(middle, end) : summed(begin, middle);
            for (int k = 0; k < kept.length; k++) {
                kept[k] -= smaller[k];
            }
            keptLeft = leftIsLarger ? kept : smaller;
            keptRight = leftIsLarger ? smaller : kept;
        }
        Node leftNode = grow(begin, middle, depthLeft - 1, leftWeights, keptLeft);
        Node rightNode = grow(middle, end, depthLeft - 1, rightWeights, keptRight);
        node.split(column, threshold, leftNode, rightNode);
        return node;
    }

    private void search(int begin, int end, double[] classWeights, double own, double[] kept) {
        int tried = 0;
        for (int k = 0; k < columns.length; k++) {
            if (growth.columns < columns.length) {
                if (tried >= growth.columns && bestColumn >= 0) {
                    return;
                }
                int other = k + chance.below(columns.length - k);
                int swap = columns[k];
                columns[k] = columns[other];
                columns[other] = swap;
            }
            int j = columns[k];
            tried++;
            if (binned.bins(j) < 2) {
                continue;
            }
            if (kept.length > 0) {
                occupied.markFirst(binned.bins(j));
                scan(j, kept, from[j], classWeights, own);
                continue;
            }
            if (end - begin < binned.bins(j)) {
                addMarked(j, begin, end);
            } else {
                occupied.markFirst(binned.bins(j));
                add(j, begin, end, sums, 0);
            }
            if (growth.anyThreshold) {
                drawn(j, classWeights, own);
            } else {
                scan(j, sums, 0, classWeights, own);
            }
            clear();
        }
    }

    /** Sums class weights by bin, and marks the bins that occur. */
    private void addMarked(int column, int begin, int end) {
        occupied.markNone();
        byte[] codes = binned.codes(column);
        long[] marks = occupied.words();
        int[] row = rows.row;
        int[] rowClass = rows.classOf;
        double[] rowWeight = rows.weight;
        for (int i = begin; i < end; i++) {
            int bin = codes[row[i]] & 0xFF;
            marks[bin >> 6] |= 1L << bin;
            sums[bin * classes + rowClass[i]] += rowWeight[i];
        }
    }

    /** Clears the sums of the bins that were looked at. */
    private void clear() {
        long[] bins = occupied.words();
        for (int word = 0; word < bins.length; word++) {
            for (long bits = bins[word]; bits != 0; bits &= bits - 1) {
                int at = (word * Long.SIZE + Long.numberOfTrailingZeros(bits)) * classes;
                for (int c = 0; c < classes; c++) {
                    sums[at + c] = 0;
                }
            }
        }
    }

    /** Looks at every threshold of a column. */
    private void scan(int column, double[] by, int offset, double[] classWeights, double own) {
        long[] bins = occupied.words();
        if (growth.impurity == Tree.Impurity.GINI) {
            scanGini(column, by, offset, classWeights, own);
            return;
        }
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
                if (before >= 0 && leftWeight >= growth.leafRows && own - leftWeight >= growth.leafRows) {
                    offer(column, before, bin, Double.NaN, leftWeight, own);
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
    private void scanGini(int column, double[] by, int offset, double[] classWeights, double own) {
        long[] bins = occupied.words();
        if (classes == 2) {
            scanGiniOfTwo(column, by, offset, classWeights, own);
            return;
        }
        Arrays.fill(left, 0);
        double rightSquares = 0;
        for (int c = 0; c < classes; c++) {
            right[c] = classWeights[c];
            rightSquares += right[c] * right[c];
        }
        double leftSquares = 0;
        double leftWeight = 0;
        // A gain within rounding is none: the first column and the lowest threshold keep the split.
        double rounding = 1e-12 * own;
        double best = own - bestImpurity + rounding;
        int before = -1;
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
                if (before >= 0 && leftWeight >= growth.leafRows && rightWeight >= growth.leafRows) {
                    double over = leftSquares * rightWeight + rightSquares * leftWeight;
                    double under = leftWeight * rightWeight;
                    if (over > best * under) {
                        double purity = over / under;
                        best = purity + rounding;
                        bestColumn = column;
                        bestBin = before;
                        bestImpurity = own - purity;
                        bestThreshold = binned.threshold(column, before, bin);
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
    }

    /** The same for two classes, in local variables. */
    private void scanGiniOfTwo(int column, double[] by, int offset, double[] classWeights, double own) {
        long[] bins = occupied.words();
        double least = growth.leafRows;
        double rounding = 1e-12 * own;
        double best = own - bestImpurity + rounding;
        double left0 = 0;
        double left1 = 0;
        double right0 = classWeights[0];
        double right1 = classWeights[1];
        int before = -1;
        int bestLeft = -1;
        int bestRight = -1;
        for (int word = 0; word < bins.length; word++) {
            for (long bits = bins[word]; bits != 0; bits &= bits - 1) {
                int bin = word * Long.SIZE + Long.numberOfTrailingZeros(bits);
                double w0 = by[offset + 2 * bin];
                double w1 = by[offset + 2 * bin + 1];
                if (!(w0 + w1 > 0)) {
                    continue;
                }
                double leftWeight = left0 + left1;
                double rightWeight = right0 + right1;
                if (leftWeight >= least && rightWeight >= least) {
                    double over = (left0 * left0 + left1 * left1) * rightWeight
                            + (right0 * right0 + right1 * right1) * leftWeight;
                    double under = leftWeight * rightWeight;
                    if (over > best * under) {
                        best = over / under + rounding;
                        bestLeft = before;
                        bestRight = bin;
                    }
                }
                left0 += w0;
                left1 += w1;
                right0 -= w0;
                right1 -= w1;
                before = bin;
            }
        }
        if (bestLeft >= 0) {
            bestColumn = column;
            bestBin = bestLeft;
            bestImpurity = own - (best - rounding);
            bestThreshold = binned.threshold(column, bestLeft, bestRight);
        }
    }

    /** Takes a split into account; {@code left} and {@code right} are the class weights of its sides. */
    private void offer(int column, int leftBin, int rightBin, double threshold, double leftWeight, double own) {
        double impurity = growth.impurity.of(left, leftWeight) + growth.impurity.of(right, own - leftWeight);
        // A gain within rounding is none: the first column and the lowest threshold keep the split.
        if (impurity < bestImpurity - 1e-12 * own) {
            bestColumn = column;
            bestBin = leftBin;
            bestImpurity = impurity;
            bestThreshold = Double.isNaN(threshold) ? binned.threshold(column, leftBin, rightBin) : threshold;
        }
    }

    /** Looks at one threshold, drawn between the least and the greatest value of the node's rows. */
    private void drawn(int column, double[] classWeights, double own) {
        int first = -1;
        int last = -1;
        for (int bin = 0; bin < binned.bins(column); bin++) {
            if (present(bin)) {
                first = first < 0 ? bin : first;
                last = bin;
            }
        }
        if (first == last) {
            return;
        }
        double low = binned.low(column, first);
        double drawn = low + chance.uniform() * (binned.high(column, last) - low);
        Arrays.fill(left, 0);
        System.arraycopy(classWeights, 0, right, 0, classes);
        double leftWeight = 0;
        int leftBin = first;
        int rightBin = first;
        for (int bin = first; bin <= last; bin++) {
            if (!present(bin)) {
                continue;
            }
            rightBin = bin;
            if (bin > first && (bin == last || binned.high(column, bin) > drawn)) {
                break;
            }
            for (int c = 0; c < classes; c++) {
                double w = sums[bin * classes + c];
                left[c] += w;
                right[c] -= w;
                leftWeight += w;
            }
            leftBin = bin;
        }
        if (leftWeight >= growth.leafRows && own - leftWeight >= growth.leafRows) {
            // Within a bin of several values rows cannot be told apart: the edge stands for what was drawn.
            boolean between = drawn >= binned.high(column, leftBin) && drawn < binned.low(column, rightBin);
            offer(column, leftBin, rightBin, between ? drawn : Double.NaN, leftWeight, own);
        }
    }

    private boolean present(int bin) {
        for (int c = 0; c < classes; c++) {
            if (sums[bin * classes + c] > 0) {
                return true;
            }
        }
        return false;
    }

    private static double sum(double[] values) {
        double sum = 0;
        for (double v : values) {
            sum += v;
        }
        return sum;
    }
}

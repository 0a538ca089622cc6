package keenfold.core.classify.tree;

import java.util.Arrays;
import java.util.Optional;
import keenfold.core.data.RandomSource;
import keenfold.core.learned.FitFailure;

/**
 * Grows trees whose leaves are to hold few classes, from binned columns.
 *
 * <p>Where all columns are looked at, there are many rows and their weights are whole, the larger side of a split gets its
 * class weights by bin as its parent's less its sister's, which is then exact.
 */
final class ClassGrower {
    private static final int WORTH_KEEPING = 1024;
    private static final int MOST_KEPT = 1 << 18;

    private final Binned binned;
    private final int classes;
    private final Growth growth;
    private final RandomSource chance;
    private final GrowingRows rows;
    private final int[] columns;
    private final double total;
    private final boolean whole;

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
        this.rows = new GrowingRows(target, weight);
        this.columns = new int[binned.columns()];
        Arrays.setAll(columns, j -> j);
        this.total = sum(weight);
        this.whole = Arrays.stream(weight).allMatch(w -> w == Math.rint(w));
    }

    Node grow() {
        return TwoClassSearch.serves(classes, growth.impurity, whole, total)
                ? grow(new TwoClassSearch(binned, rows, growth.leafRows))
                : grow(new ManyClassSearch(binned, rows, growth.leafRows, classes, growth.impurity));
    }

    private <S> Node grow(SplitSearch<S> search) {
        int count = rows.count();
        Optional<S> all = keeps(search, count) ? Optional.of(search.sums(0, count)) : Optional.empty();
        return grow(search, 0, count, growth.depth, all);
    }

    private boolean keeps(SplitSearch<?> search, int count) {
        return whole
                && growth.columns >= columns.length
                && !growth.anyThreshold
                && count >= WORTH_KEEPING
                && search.values() <= MOST_KEPT;
    }

    /** @param kept class weights by bin of all columns, if they are kept */
    private <S> Node grow(SplitSearch<S> search, int begin, int end, int depthLeft, Optional<S> kept) {
        FitFailure.ifInterrupted();
        // Summed anew: of weights that are not whole, what another node leaves may be a little below 0.
        double[] classWeights = new double[classes];
        rows.addClassWeights(begin, end, classWeights);
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
        search.start(begin, end, classWeights, own, impurity);
        look(search, kept);
        if (!search.found()) {
            return node;
        }
        int column = search.column();
        double threshold = search.threshold();
        int middle = rows.partition(begin, end, binned.codes(column), search.bin());
        Optional<S> ofLeft = Optional.empty();
        Optional<S> ofRight = Optional.empty();
        if (kept.isPresent() && keeps(search, Math.max(middle - begin, end - middle))) {
            boolean leftIsLarger = middle - begin > end - middle;
            S smaller = leftIsLarger ? search.sums(middle, end) : search.sums(begin, middle);
            search.subtract(kept.get(), smaller);
            ofLeft = leftIsLarger ? kept : Optional.of(smaller);
            ofRight = leftIsLarger ? Optional.of(smaller) : kept;
        }
        Node left = grow(search, begin, middle, depthLeft - 1, ofLeft);
        Node right = grow(search, middle, end, depthLeft - 1, ofRight);
        node.split(column, threshold, left, right);
        return node;
    }

    private <S> void look(SplitSearch<S> search, Optional<S> kept) {
        int tried = 0;
        for (int k = 0; k < columns.length; k++) {
            if (growth.columns < columns.length) {
                if (tried >= growth.columns && search.found()) {
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
            if (growth.anyThreshold) {
                search.drawn(j, chance);
            } else if (kept.isPresent()) {
                search.best(j, kept.get());
            } else {
                search.best(j);
            }
        }
    }

    private static double sum(double[] values) {
        double sum = 0;
        for (double v : values) {
            sum += v;
        }
        return sum;
    }
}

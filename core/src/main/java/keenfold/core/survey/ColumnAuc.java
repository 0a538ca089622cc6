package keenfold.core.survey;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.data.WeightedSort;
import keenfold.core.split.KFold;
import keenfold.core.split.Splits;

/**
 * How well each column of a table tells the classes by itself, cross-validated.
 *
 * <p>Definition: in each of ten stratified folds, repeated on small tables, the values of a column are put into parts: the
 * levels of categories, up to ten intervals of about as many training rows of numbers (by the mid-ranks of training rows),
 * and a part for missing values. A test row's probability of class c is (n<sub>c</sub> + 10 p<sub>c</sub>) / (n + 10), with
 * the n training rows of its part and the shares p of all training rows. The result is the auc of these probabilities
 * among rows that were tested in the same fold; of more than two classes the mean over pairs of classes (Hand and Till
 * 2001, doi:10.1023/A:1010920819831), of which pairs that never meet in a fold have no part. 0.5 tells nothing.
 */
public final class ColumnAuc {
    /** Rows that are looked at, evenly spaced over the table; more would change the second decimal little. */
    private static final int ENOUGH_ROWS = 20_000;

    /** Tables of fewer rows are divided several times, so that about as many rows are tested. */
    private static final int TESTED_ROWS = 5_000;

    private static final int MOST_CLASSES = 100;
    private static final int LEAST_ROWS = 20;
    private static final int FOLDS = 10;
    private static final int MOST_PARTS = 10;
    private static final int ROWS_PER_PART = 20;
    private static final double PRIOR_ROWS = 10;
    private static final int CHANCE_COLUMNS = 40;
    private static final Seed SEED = new Seed(1);

    private final int[] rows;
    private final int[] classOf;
    private final int classes;
    private final Splits splits;

    private ColumnAuc(int[] rows, int[] classOf, int classes, Splits splits) {
        this.rows = rows;
        this.classOf = classOf;
        this.classes = classes;
        this.splits = splits;
    }

    /** Returns the divided rows of a target; empty if it has too few rows, one class or more than a hundred. */
    public static Optional<ColumnAuc> dividing(Categories all) {
        Categories target = all.withoutUnused();
        int[] labelled = IntStream.range(0, target.rows())
                .filter(i -> !target.missing(i))
                .toArray();
        int step = Math.max(1, (labelled.length + ENOUGH_ROWS - 1) / ENOUGH_ROWS);
        int[] rows = IntStream.range(0, labelled.length)
                .filter(i -> i % step == 0)
                .map(i -> labelled[i])
                .toArray();
        int classes = target.levels().size();
        if (rows.length < LEAST_ROWS || classes < 2 || classes > MOST_CLASSES) {
            return Optional.empty();
        }
        int[] classOf = IntStream.of(rows).map(target::code).toArray();
        DataSet data = DataSet.of(
                "survey",
                new Table(rows.length, List.of(Numbers.of("row", new double[rows.length]))),
                new Classes(target.levels(), 0),
                classOf);
        int repeats = Math.max(1, Math.min(10, TESTED_ROWS / rows.length));
        return Optional.of(
                new ColumnAuc(rows, classOf, classes, new KFold(FOLDS, repeats, true).divide(data, SEED.value())));
    }

    /** Returns the auc of a column of the table that the target is from. O(n log n) time. */
    public double auc(Column column) {
        Column looked = column.select(rows);
        return looked.match(this::ofNumbers, c -> ofCategories(c.withoutUnused()));
    }

    /**
     * Returns the auc that one in twenty columns of random numbers reaches: mean and 1.645 standard deviations of some, whose
     * auc is about normal.
     */
    public double reachedByChance() {
        double[] aucs =
                IntStream.range(0, CHANCE_COLUMNS).mapToDouble(this::ofChance).toArray();
        double mean = Arrays.stream(aucs).average().orElse(Double.NaN);
        double squares = Arrays.stream(aucs).map(a -> (a - mean) * (a - mean)).sum();
        return mean + 1.645 * Math.sqrt(squares / (CHANCE_COLUMNS - 1));
    }

    private double ofChance(int number) {
        RandomSource chance = SEED.with("chance").with(number).chance();
        double[] values = new double[rows.length];
        Arrays.setAll(values, i -> chance.uniform());
        return ofNumbers(Numbers.of("chance", values));
    }

    private double ofCategories(Categories column) {
        Pairs pairs = new Pairs(classes);
        int missing = column.levels().size();
        int[] partOf = new int[rows.length];
        Arrays.setAll(partOf, i -> column.missing(i) ? missing : column.code(i));
        for (int r = 0; r < splits.repeats(); r++) {
            for (int f = 0; f < splits.folds(r); f++) {
                add(pairs, r, f, partOf, missing + 1);
            }
        }
        return pairs.auc();
    }

    private double ofNumbers(Numbers column) {
        int[] present =
                IntStream.range(0, rows.length).filter(i -> !column.missing(i)).toArray();
        int[] sorted = WeightedSort.order(
                Arrays.stream(present).mapToDouble(column::get).toArray());
        int[] order = IntStream.of(sorted).map(i -> present[i]).toArray();
        int parts = Math.max(3, Math.min(MOST_PARTS, rows.length / ROWS_PER_PART));
        Pairs pairs = new Pairs(classes);
        int[] partOf = new int[rows.length];
        Arrays.fill(partOf, parts);
        for (int r = 0; r < splits.repeats(); r++) {
            int[] foldOf = splits.foldsOf(r);
            for (int f = 0; f < splits.folds(r); f++) {
                intervals(column, order, foldOf, f, parts, partOf);
                add(pairs, r, f, partOf, parts + 1);
            }
        }
        return pairs.auc();
    }

    /** Puts rows into intervals by the mid-ranks of the training rows; equal values are in one interval. */
    private static void intervals(Numbers column, int[] order, int[] foldOf, int fold, int parts, int[] partOf) {
        int training = 0;
        for (int row : order) {
            training += foldOf[row] == fold ? 0 : 1;
        }
        int below = 0;
        int from = 0;
        while (from < order.length) {
            int to = from;
            int equal = 0;
            double value = column.get(order[from]);
            while (to < order.length && column.get(order[to]) == value) {
                equal += foldOf[order[to++]] == fold ? 0 : 1;
            }
            int part = training == 0
                    ? 0
                    : (int) Math.min(parts - 1, (long) parts * (2L * below + equal) / (2L * training));
            for (int i = from; i < to; i++) {
                partOf[order[i]] = part;
            }
            below += equal;
            from = to;
        }
    }

    /** Learns the shares of classes in each part on the other folds, and adds the pairs of this one. */
    private void add(Pairs pairs, int repeat, int fold, int[] partOf, int parts) {
        int[] foldOf = splits.foldsOf(repeat);
        double[][] learned = new double[parts][];
        int[][] tested = new int[parts][];
        double[] all = new double[classes];
        int training = 0;
        for (int i = 0; i < foldOf.length; i++) {
            int part = partOf[i];
            if (foldOf[i] == fold) {
                tested[part] = tested[part] == null ? new int[classes] : tested[part];
                tested[part][classOf[i]]++;
            } else {
                learned[part] = learned[part] == null ? new double[classes] : learned[part];
                learned[part][classOf[i]]++;
                all[classOf[i]]++;
                training++;
            }
        }
        int[] used = IntStream.range(0, parts).filter(p -> tested[p] != null).toArray();
        double[][] shares = new double[used.length][classes];
        int[][] counts = new int[used.length][];
        for (int u = 0; u < used.length; u++) {
            double[] own = learned[used[u]] == null ? new double[classes] : learned[used[u]];
            double sum = Arrays.stream(own).sum();
            counts[u] = tested[used[u]];
            for (int c = 0; c < classes; c++) {
                // Whole numbers over whole numbers: shares that are equal are equal to the last bit.
                shares[u][c] = (own[c] * training + PRIOR_ROWS * all[c]) / (sum + PRIOR_ROWS);
            }
        }
        pairs.add(shares, counts);
    }

    /** Pairs of tested rows of two classes, by whether the one of class i has the greater probability of i. */
    private static final class Pairs {
        private final double[][] right;
        private final double[][] count;

        Pairs(int classes) {
            right = new double[classes][classes];
            count = new double[classes][classes];
        }

        /**
         * @param shares of the classes in each part, times the training rows
         * @param counts tested rows of each class in each part
         */
        void add(double[][] shares, int[][] counts) {
            int k = right.length;
            int[] sums = new int[k];
            for (int[] part : counts) {
                for (int c = 0; c < k; c++) {
                    sums[c] += part[c];
                }
            }
            double[] own = new double[shares.length];
            for (int i = 0; i < k; i++) {
                if (sums[i] == 0) {
                    continue;
                }
                for (int p = 0; p < own.length; p++) {
                    own[p] = shares[p][i];
                }
                int[] order = WeightedSort.order(own);
                for (int j = 0; j < k; j++) {
                    if (j != i && sums[j] > 0) {
                        right[i][j] += concordant(own, order, counts, i, j);
                        count[i][j] += (double) sums[i] * sums[j];
                    }
                }
            }
        }

        private static double concordant(double[] score, int[] order, int[][] counts, int i, int j) {
            double sum = 0;
            double lower = 0;
            int from = 0;
            while (from < order.length) {
                int to = from;
                double ownRows = 0;
                double otherRows = 0;
                while (to < order.length && score[order[to]] == score[order[from]]) {
                    ownRows += counts[order[to]][i];
                    otherRows += counts[order[to++]][j];
                }
                sum += ownRows * (lower + otherRows / 2);
                lower += otherRows;
                from = to;
            }
            return sum;
        }

        double auc() {
            double sum = 0;
            int defined = 0;
            for (int i = 0; i < right.length; i++) {
                for (int j = 0; j < right.length; j++) {
                    if (i != j && count[i][j] > 0) {
                        sum += right[i][j] / count[i][j];
                        defined++;
                    }
                }
            }
            return defined == 0 ? Double.NaN : sum / defined;
        }
    }
}

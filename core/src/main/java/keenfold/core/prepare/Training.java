package keenfold.core.prepare;

import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Checks;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;

/** Prepared training rows with their classes and case weights. */
public final class Training {
    private final Table table;
    private final int[] target;
    private final double[] weights;
    private final List<String> labels;
    private final int[] groups;

    private Training(Table table, int[] target, double[] weights, List<String> labels, int[] groups) {
        this.table = table;
        this.target = target;
        this.weights = weights;
        this.labels = labels;
        this.groups = groups;
    }

    /**
     * Returns training rows.
     *
     * @param target class index per row, 0 … classes − 1
     * @param weights case weight per row, positive
     * @throws IllegalArgumentException if lengths differ or there is no row
     */
    public static Training of(Table table, int[] target, double[] weights, int classes) {
        Checks.that(target.length == table.rows(), "%d labels for %d rows", target.length, table.rows());
        Checks.that(weights.length == table.rows(), "%d weights for %d rows", weights.length, table.rows());
        Checks.that(table.rows() > 0, "no training row");
        return new Training(table, target.clone(), weights.clone(), numbered(classes), new int[0]);
    }

    /** Returns the rows of a data set, not yet prepared, with the groups that they belong to. */
    public static Training of(DataSet data, double[] weights) {
        Training unnamed =
                of(data.features(), data.targets(), weights, data.classes().count());
        Training training = new Training(
                unnamed.table, unnamed.target, unnamed.weights, data.classes().labels(), unnamed.groups);
        if (data.groups().isEmpty()) {
            return training;
        }
        Categories own = data.groups().get().withoutUnused();
        return training.inGroups(IntStream.range(0, data.rows()).map(own::code).toArray());
    }

    /** Returns the same rows with other case weights. */
    public Training withWeights(double[] other) {
        Checks.that(other.length == rows(), "%d weights for %d rows", other.length, rows());
        return new Training(table, target, other.clone(), labels, groups);
    }

    /** Returns the same rows with other columns. */
    public Training with(Table prepared) {
        Checks.that(prepared.rows() == table.rows(), "%d rows for %d", prepared.rows(), table.rows());
        return new Training(prepared, target, weights, labels, groups);
    }

    /**
     * Returns the same rows, which belong to groups: inner divisions keep each whole.
     *
     * @param codes group of each row, from 0
     */
    public Training inGroups(int[] codes) {
        Checks.that(codes.length == table.rows(), "%d groups for %d rows", codes.length, table.rows());
        return new Training(table, target, weights, labels, codes.clone());
    }

    /** Returns whether rows belong to groups. */
    public boolean grouped() {
        return groups.length > 0;
    }

    /** Returns a copy of the groups, empty if rows belong to none. */
    public int[] groups() {
        return groups.clone();
    }

    /** Returns some of the rows, in the order given. */
    public Training select(int[] rows) {
        int[] y = new int[rows.length];
        double[] w = new double[rows.length];
        int[] g = new int[grouped() ? rows.length : 0];
        for (int i = 0; i < rows.length; i++) {
            y[i] = target[rows[i]];
            w[i] = weights[rows[i]];
            if (grouped()) {
                g[i] = groups[rows[i]];
            }
        }
        return new Training(table.select(rows), y, w, labels, g);
    }

    /** Returns all rows but some. */
    public Training without(int[] rows) {
        boolean[] out = new boolean[rows()];
        for (int row : rows) {
            out[row] = true;
        }
        return select(IntStream.range(0, rows()).filter(i -> !out[i]).toArray());
    }

    /** Returns the prepared columns. */
    public Table table() {
        return table;
    }

    /** Returns the number of rows. */
    public int rows() {
        return target.length;
    }

    /** Returns the number of classes, K, with or without training rows. */
    public int classes() {
        return labels.size();
    }

    /** Returns the labels of the classes; their numbers from 1, where they have no names. */
    public List<String> labels() {
        return labels;
    }

    private static List<String> numbered(int classes) {
        return IntStream.rangeClosed(1, classes).mapToObj(Integer::toString).toList();
    }

    /** Returns the class index of a row. */
    public int target(int row) {
        return target[row];
    }

    /** Returns a copy of the class indexes. */
    public int[] targets() {
        return target.clone();
    }

    /** Returns the case weight of a row. */
    public double weight(int row) {
        return weights[row];
    }

    /** Returns a copy of the case weights. */
    public double[] weights() {
        return weights.clone();
    }

    /** Returns the total weight of each class. */
    public double[] classWeights() {
        double[] sums = new double[labels.size()];
        for (int i = 0; i < target.length; i++) {
            sums[target[i]] += weights[i];
        }
        return sums;
    }

    /** Returns the total weight of all rows. */
    public double totalWeight() {
        double sum = 0;
        for (double w : weights) {
            sum += w;
        }
        return sum;
    }

    /** Returns the number columns of a table as arrays, one per column; fails on a category column. */
    public static double[][] columns(Table table) {
        List<double[]> columns = table.columns().stream()
                .map(c -> c.match(Numbers::toArray, k -> {
                    throw Checks.wrong("column \"" + k.name() + "\" is no number column");
                }))
                .toList();
        return columns.toArray(double[][]::new);
    }
}

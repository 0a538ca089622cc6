package keenfold.core.data;

import java.util.Optional;
import java.util.stream.IntStream;

/**
 * A named table of labelled rows, as all candidates meet it.
 *
 * <p>Rows without a target are gone already; {@link #sourceRow} tells where each row stood in its file.
 */
public final class DataSet {
    private final String name;
    private final Table features;
    private final Classes classes;
    private final int[] target;
    private final Optional<Categories> groups;
    private final Optional<Numbers> order;
    private final int[] sourceRows;

    private DataSet(
            String name,
            Table features,
            Classes classes,
            int[] target,
            Optional<Categories> groups,
            Optional<Numbers> order,
            int[] sourceRows) {
        this.name = name;
        this.features = features;
        this.classes = classes;
        this.target = target;
        this.groups = groups;
        this.order = order;
        this.sourceRows = sourceRows;
    }

    /**
     * Returns a data set.
     *
     * @param features the columns that candidates may use
     * @param target per row the index of its class
     * @param groups per row the group it belongs to; no missing value
     * @param sourceRows per row its 1-based number among the data rows of its file, rising; one that counts for several cases
     *     stands there as often, one copy behind the other
     * @throws IllegalArgumentException if lengths differ, a class index is out of range or a group is missing
     */
    public static DataSet of(
            String name, Table features, Classes classes, int[] target, Optional<Categories> groups, int[] sourceRows) {
        int n = features.rows();
        Checks.that(target.length == n, "%d labels for %d rows", target.length, n);
        Checks.that(sourceRows.length == n, "%d source rows for %d rows", sourceRows.length, n);
        for (int c : target) {
            Checks.that(c >= 0 && c < classes.count(), "class index %d: there are %d classes", c, classes.count());
        }
        groups.ifPresent(g -> {
            Checks.that(g.rows() == n, "%d groups for %d rows", g.rows(), n);
            Checks.that(g.countMissing() == 0, "column \"%s\": a group is missing", g.name());
        });
        return new DataSet(name, features, classes, target.clone(), groups, Optional.empty(), sourceRows.clone());
    }

    /** Returns a data set without groups whose rows are numbered from 1. */
    public static DataSet of(String name, Table features, Classes classes, int[] target) {
        int[] rows = new int[target.length];
        java.util.Arrays.setAll(rows, i -> i + 1);
        return of(name, features, classes, target, Optional.empty(), rows);
    }

    /**
     * Returns the same data set, whose rows came in the order of the given numbers.
     *
     * @param when one number per row, none missing; equal numbers are the same time
     */
    public DataSet withOrder(Numbers when) {
        Checks.that(when.rows() == rows(), "%d values of order for %d rows", when.rows(), rows());
        for (int i = 0; i < when.rows(); i++) {
            Checks.that(!when.missing(i), "column \"%s\": the order of a row is missing", when.name());
        }
        return new DataSet(name, features, classes, target, groups, Optional.of(when), sourceRows);
    }

    /** Returns the same data set whose rows belong to other groups, or to none. */
    public DataSet withGroups(Optional<Categories> others) {
        others.ifPresent(g -> Checks.that(g.rows() == rows(), "%d groups for %d rows", g.rows(), rows()));
        return new DataSet(name, features, classes, target, others, order, sourceRows);
    }

    /** Returns the data set of some of the rows, in the order given; classes keep their numbers. */
    public DataSet select(int[] rows) {
        int[] source = new int[rows.length];
        for (int i = 0; i < rows.length; i++) {
            source[i] = sourceRows[rows[i]];
        }
        return new DataSet(
                name,
                features.select(rows),
                classes,
                targets(rows),
                groups.map(g -> g.select(rows).withoutUnused()),
                order.map(o -> o.select(rows)),
                source);
    }

    /**
     * Returns the data set in which each row stands so many times, one copy behind the other.
     *
     * @param times at least 0 for each row
     */
    public DataSet repeated(int[] times) {
        Checks.that(times.length == rows(), "%d counts for %d rows", times.length, rows());
        return select(IntStream.range(0, times.length)
                .flatMap(i -> IntStream.range(0, times[i]).map(t -> i))
                .toArray());
    }

    /** Returns whether a row is a copy of the one before it: one case more of the same row of its file. */
    public boolean copyOfTheOneBefore(int row) {
        return row > 0 && sourceRows[row] == sourceRows[row - 1];
    }

    /** Returns how many rows of its file there are: less than {@link #rows} where some count for several cases. */
    public int fileRows() {
        return (int)
                IntStream.range(0, rows()).filter(i -> !copyOfTheOneBefore(i)).count();
    }

    /** Returns the name, unique in its plan. */
    public String name() {
        return name;
    }

    /** Returns the number of rows, n. */
    public int rows() {
        return target.length;
    }

    /** Returns the feature columns. */
    public Table features() {
        return features;
    }

    /** Returns the classes of the target. */
    public Classes classes() {
        return classes;
    }

    /** Returns the class index of a row. */
    public int target(int row) {
        return target[row];
    }

    /** Returns a copy of the class indexes. */
    public int[] targets() {
        return target.clone();
    }

    /** Returns the class indexes of the given rows. */
    public int[] targets(int[] rows) {
        int[] chosen = new int[rows.length];
        for (int i = 0; i < rows.length; i++) {
            chosen[i] = target[rows[i]];
        }
        return chosen;
    }

    /** Returns the groups of the rows, if rows belong to groups. */
    public Optional<Categories> groups() {
        return groups;
    }

    /** Returns the numbers by which the rows came, if it is known which came first. */
    public Optional<Numbers> order() {
        return order;
    }

    /** Returns the features with the labels as one more column, which is how rows are told to be equal. */
    public Table labelled() {
        String unused = "target";
        while (features.column(unused).isPresent()) {
            unused += "_";
        }
        java.util.List<Column> all = new java.util.ArrayList<>(features.columns());
        all.add(Categories.ofCodes(unused, classes.labels(), target));
        return new Table(rows(), all);
    }

    /** Returns the 1-based number of a row among the data rows of its file. */
    public int sourceRow(int row) {
        return sourceRows[row];
    }

    /** Returns a copy of the source row numbers. */
    public int[] sourceRows() {
        return sourceRows.clone();
    }

    /** Returns how many rows each class has. */
    public int[] classCounts() {
        int[] counts = new int[classes.count()];
        for (int c : target) {
            counts[c]++;
        }
        return counts;
    }
}

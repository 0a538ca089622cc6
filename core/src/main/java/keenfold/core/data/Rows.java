package keenfold.core.data;

import java.util.Arrays;

/**
 * One side of a split: row numbers of a data set, with a case count each.
 *
 * <p>A case count of 2 means that the row stands for two equal cases. The arrays are read through this view and never
 * copied per row object.
 */
public final class Rows {
    private final int[] index;
    private final int[] counts;

    private Rows(int[] index, int[] counts) {
        this.index = index;
        this.counts = counts;
    }

    /** Returns a side of the given rows, each counted once. */
    public static Rows of(int... index) {
        int[] ones = new int[index.length];
        Arrays.fill(ones, 1);
        return new Rows(index.clone(), ones);
    }

    /**
     * Returns a side of the given rows with their case counts.
     *
     * @throws IllegalArgumentException if lengths differ or a count is below 1
     */
    public static Rows of(int[] index, int[] counts) {
        Checks.that(index.length == counts.length, "%d rows but %d counts", index.length, counts.length);
        for (int count : counts) {
            Checks.atLeast("case count", count, 1);
        }
        return new Rows(index.clone(), counts.clone());
    }

    /** Returns all rows of a data set of {@code n} rows. */
    public static Rows all(int n) {
        int[] index = new int[n];
        Arrays.setAll(index, i -> i);
        return of(index);
    }

    /** Returns how many rows there are, whatever their counts. */
    public int size() {
        return index.length;
    }

    /** Returns the row number at a position. */
    public int row(int position) {
        return index[position];
    }

    /** Returns the case count at a position. */
    public int count(int position) {
        return counts[position];
    }

    /** Returns a copy of the row numbers. */
    public int[] toArray() {
        return index.clone();
    }

    /** Returns the case counts as weights for a classifier. */
    public double[] weights() {
        return Arrays.stream(counts).asDoubleStream().toArray();
    }
}

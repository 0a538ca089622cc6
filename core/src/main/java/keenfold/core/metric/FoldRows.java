package keenfold.core.metric;

import java.util.Arrays;

/** The rows of the folds that are scored together, fold by fold; equal to those of others who predicted the same folds. */
final class FoldRows {
    static final FoldRows NONE = new FoldRows(new int[0], new int[0]);

    final int[] rows;
    /** By fold, of those that have rows: where its rows end. */
    final int[] ends;

    private final int hash;

    private FoldRows(int[] rows, int[] ends) {
        this.rows = rows;
        this.ends = ends;
        this.hash = 31 * Arrays.hashCode(rows) + Arrays.hashCode(ends);
    }

    static FoldRows of(Outcomes o) {
        int folds = 0;
        for (int i = 0; i < o.size(); i++) {
            folds = Math.max(folds, o.fold(i) + 1);
        }
        int[] next = new int[folds + 1];
        for (int i = 0; i < o.size(); i++) {
            next[o.fold(i) + 1]++;
        }
        Arrays.parallelPrefix(next, Integer::sum);
        int[] rows = new int[o.size()];
        for (int i = 0; i < rows.length; i++) {
            rows[next[o.fold(i)]++] = o.row(i);
        }
        return new FoldRows(
                rows,
                Arrays.stream(next, 0, folds).distinct().filter(end -> end > 0).toArray());
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof FoldRows o
                && hash == o.hash
                && Arrays.equals(rows, o.rows)
                && Arrays.equals(ends, o.ends);
    }

    @Override
    public int hashCode() {
        return hash;
    }
}

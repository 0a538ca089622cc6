package keenfold.core.metric;

import java.util.Arrays;
import java.util.stream.IntStream;

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
        int n = o.size();
        int[] order = Ranked.byFold(o, IntStream.range(0, n).toArray());
        return new FoldRows(
                Arrays.stream(order).map(o::row).toArray(),
                IntStream.rangeClosed(1, n)
                        .filter(i -> i == n || o.fold(order[i]) != o.fold(order[i - 1]))
                        .toArray());
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

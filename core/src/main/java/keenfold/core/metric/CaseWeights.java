package keenfold.core.metric;

import java.util.Arrays;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.Map;

/** How often each row of a table counts, in several draws at once; used by one thread. */
public final class CaseWeights {
    private final int[][] counts;
    private final int lanes;
    private final long most;
    private double[][] values = new double[0][];
    private final Map<FoldRows, int[][]> totals = new HashMap<>();

    private CaseWeights(int[][] counts, int lanes, long most) {
        this.counts = counts;
        this.lanes = lanes;
        this.most = most;
    }

    /**
     * Takes weights.
     *
     * @param counts by row number and lane, ≥ 0; rows that are drawn together may share one array; not copied
     * @param lanes number of draws
     */
    public static CaseWeights of(int[][] counts, int lanes) {
        long[] sums = new long[lanes];
        for (int[] row : counts) {
            for (int lane = 0; lane < lanes; lane++) {
                sums[lane] += row[lane];
            }
        }
        return new CaseWeights(counts, lanes, Arrays.stream(sums).max().orElse(0));
    }

    /** Returns one draw in which each of some rows counts once. */
    public static CaseWeights ones(int rows) {
        int[][] ones = new int[rows][];
        Arrays.fill(ones, new int[] {1});
        return of(ones, 1);
    }

    /** Returns the weights by row and lane; the arrays are not copied. */
    int[][] counts() {
        return counts;
    }

    /** Returns the same numbers as doubles, for sums of weighted losses; they are made once. */
    double[][] values() {
        if (values.length < counts.length) {
            IdentityHashMap<int[], double[]> shared = new IdentityHashMap<>();
            values = new double[counts.length][];
            for (int row = 0; row < values.length; row++) {
                values[row] = shared.computeIfAbsent(
                        counts[row], c -> Arrays.stream(c).asDoubleStream().toArray());
            }
        }
        return values;
    }

    /** Returns the sum of the weights of each fold, by fold and lane; added up once. */
    int[][] totals(FoldRows folds) {
        return totals.computeIfAbsent(folds, f -> {
            int[][] sums = new int[f.ends.length][lanes];
            int from = 0;
            for (int fold = 0; fold < sums.length; fold++) {
                Lanes.addRows(sums[fold], counts, f.rows, from, f.ends[fold]);
                from = f.ends[fold];
            }
            return sums;
        });
    }

    /** Returns the largest sum of the weights of all rows in any lane. */
    long most() {
        return most;
    }
}

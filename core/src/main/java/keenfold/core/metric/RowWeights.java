package keenfold.core.metric;

import java.util.HashMap;
import java.util.Map;

/** How often each row of a table counts in one draw; used by one thread. */
public final class RowWeights {
    private final double[] values;
    private final Map<FoldRows, double[]> totals = new HashMap<>();

    /** @param values by row number, ≥ 0; not copied */
    public RowWeights(double[] values) {
        this.values = values;
    }

    /** Returns the weights by row; not a copy. */
    public double[] values() {
        return values;
    }

    /** Returns the sum of the weights of each fold that has rows; added up once for all curves of the same folds. */
    double[] totals(FoldRows folds) {
        return totals.computeIfAbsent(folds, f -> {
            double[] sums = new double[f.ends.length];
            int at = 0;
            for (int fold = 0; fold < sums.length; fold++) {
                for (; at < f.ends[fold]; at++) {
                    sums[fold] += values[f.rows[at]];
                }
            }
            return sums;
        });
    }
}

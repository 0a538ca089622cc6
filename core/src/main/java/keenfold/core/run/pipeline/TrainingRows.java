package keenfold.core.run.pipeline;

import java.util.Arrays;
import keenfold.core.data.DataSet;
import keenfold.core.split.Splits;

/** Rows to learn from. */
public final class TrainingRows {
    private final DataSet rows;
    private final double[] weights;
    private final Splits outer;

    /**
     * @param rows not prepared
     * @param weights case weight per row, a whole number
     * @param outer how the comparison divides rows, which inner divisions of these follow
     */
    public TrainingRows(DataSet rows, double[] weights, Splits outer) {
        this.rows = rows;
        this.weights = weights.clone();
        this.outer = outer;
    }

    DataSet rows() {
        return rows;
    }

    double[] weights() {
        return weights.clone();
    }

    double weight(int row) {
        return weights[row];
    }

    double totalWeight() {
        return Arrays.stream(weights).sum();
    }

    Splits outer() {
        return outer;
    }

    int classes() {
        return rows.classes().count();
    }

    /** Some of the rows, by their indexes. */
    TrainingRows some(int[] indexes) {
        return new TrainingRows(
                rows.select(indexes),
                Arrays.stream(indexes).mapToDouble(i -> weights[i]).toArray(),
                outer);
    }
}

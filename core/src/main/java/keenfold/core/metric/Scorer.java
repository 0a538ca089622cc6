package keenfold.core.metric;

/**
 * A metric on fixed outcomes, for any case weights.
 *
 * <p>Several draws are scored in one pass over the sorted outcomes: {@code weights[row][lane]} is the weight of a row in
 * one of them. Rows that are drawn together may share one array. Weights are whole numbers ≥ 0 held as doubles: sums of
 * them are exact, and every lane is computed by itself in the order of the rows, so that no score depends on how many
 * lanes there are.
 */
public interface Scorer {
    /** How many draws are best scored in one pass: long enough for vector instructions, short enough for caches. */
    int LANES = 64;

    /**
     * Scores each lane.
     *
     * @param weights case weights by row number and lane; not modified
     * @param scores as long as there are lanes; filled with scores, NaN where the metric is undefined
     */
    void score(double[][] weights, double[] scores);

    /** Returns, per entry of the outcomes, the score of all other entries, each counted once. */
    double[] withoutEach();
}

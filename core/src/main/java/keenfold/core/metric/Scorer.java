package keenfold.core.metric;

/**
 * A metric on fixed outcomes, for any case weights.
 *
 * <p>Weights of several draws are interleaved, {@code weights[row * LANES + lane]}, so that one pass over the sorted
 * outcomes scores {@link #LANES} draws. Weights are whole numbers ≥ 0 held as doubles: sums of them are exact.
 */
public interface Scorer {
    /** How many draws are scored in one pass. */
    int LANES = 8;

    /**
     * Scores each lane.
     *
     * @param weights case weights by row number and lane; not modified
     * @param scores filled with LANES scores, NaN where the metric is undefined
     */
    void score(double[] weights, double[] scores);

    /** Returns, per entry of the outcomes, the score of all other entries, each counted once. */
    double[] withoutEach();
}

package keenfold.core.metric;

/**
 * A metric on fixed outcomes, for any case weights.
 *
 * <p>Several draws are scored in one pass over the sorted outcomes: each has a lane of the weights. Every
 * lane is computed by itself in the order of the rows, and sums of weights are exact, so that no score depends on how many
 * lanes there are.
 */
public interface Scorer {
    /** How many draws are best scored in one pass: long enough for vector instructions, short enough for caches. */
    int LANES = 128;

    /**
     * Scores each lane.
     *
     * @param weights of all rows that the outcomes name
     * @param scores as long as there are lanes; filled with scores, NaN where the metric is undefined
     */
    void score(CaseWeights weights, double[] scores);

    /** Returns, per entry of the outcomes, the score of all other entries, each counted once. */
    double[] withoutEach();
}

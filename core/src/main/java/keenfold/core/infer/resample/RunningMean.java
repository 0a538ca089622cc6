package keenfold.core.infer.resample;

/**
 * What is known of a mean once the first repeats are there.
 *
 * @param count repeats so far; splits, where each split is scored by itself
 * @param score of the latest of them
 * @param mean of all so far
 * @param standardError of that mean as an estimate for new rows; it settles at what the rows allow
 * @param between sd of the scores so far/√count: how far the mean could still move if there were endlessly many repeats;
 *     NaN for one
 */
public record RunningMean(int count, double score, double mean, double standardError, double between) {}

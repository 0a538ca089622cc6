package keenfold.core.infer;

/**
 * A candidate, and a class that its probabilities are looked at for.
 *
 * @param candidate by its index; admitted
 * @param classIndex of the data set's classes
 */
public record CandidateClass(int candidate, int classIndex) {}

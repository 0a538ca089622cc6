package keenfold.core.infer.contrast;

import java.util.List;
import keenfold.core.run.Parallel;

/** Tests pairs by one method; safe for several threads. */
public interface Tester {
    /** Returns what is found about two compared candidates that do not predict the same. */
    PairResult find(int candidate, int against, Pairing pairing);

    /**
     * Returns what is said of pairs as members of a family, in their order: by most methods what is found about each by
     * itself.
     *
     * @param found what was found about each
     */
    default List<PairResult> inFamily(List<PairResult> found, Parallel parallel) {
        return found;
    }

    /**
     * What is known of a pair before it is tested.
     *
     * @param difference first mean − second mean
     * @param differing on how many rows predictions differ
     */
    record Pairing(double difference, int differing) {
        boolean near() {
            return differing < ContrastFamily.FEW_ROWS;
        }
    }

    /** Returns whether calls may be made of what it finds. */
    default boolean calls() {
        return true;
    }
}

package keenfold.core.infer.contrast;

/** Tests pairs by one method; safe for several threads. */
public interface Tester {
    /** Returns what is found about two compared candidates that do not predict the same. */
    PairResult find(int candidate, int against, Pairing pairing);

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

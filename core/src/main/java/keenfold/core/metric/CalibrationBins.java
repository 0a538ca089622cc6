package keenfold.core.metric;

/**
 * The bins that probabilities are put into to be held against shares: ten of equal width, each with its lower end and without
 * its upper end, the last with 1.
 *
 * <p>Ends are tenths as they are meant: a probability that misses one by rounding lies on it, so that 0.2 belongs to the bin
 * that begins there whether it was computed as 0.2 or as 1 − 0.8.
 */
public final class CalibrationBins {
    /** How many there are. */
    public static final int COUNT = 10;

    /** Far above the rounding of a sum of probabilities, far below a difference that a classifier means. */
    private static final double ROUNDING = 1e-9;

    private CalibrationBins() {}

    /** Returns the 0-based bin of a probability, 0 to 1. */
    public static int of(double probability) {
        return Math.min(COUNT - 1, (int) (probability * COUNT + ROUNDING));
    }
}

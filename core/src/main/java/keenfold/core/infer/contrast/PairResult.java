package keenfold.core.infer.contrast;

import java.util.Arrays;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.infer.resample.Pivot;
import keenfold.core.infer.resample.Variance;

/**
 * What one method finds about one pair, before anything is adjusted for other pairs.
 *
 * @param candidate index of the first candidate
 * @param against index of the second
 * @param difference first − second
 * @param variance of the difference
 * @param p of this comparison alone; NaN if the pair is not tested, and so never better or worse
 * @param bounds ends of its interval by level
 * @param pivot its draws, where the method has such
 * @param note what is special about the pair, empty if nothing is
 */
record PairResult(
        int candidate,
        int against,
        double difference,
        Variance variance,
        double p,
        Bounds bounds,
        Optional<Pivot> pivot,
        String note) {
    /** Ends of an interval: low, then high; NaN where there is none. */
    interface Bounds {
        double[] at(double level);

        /** No interval at all. */
        static Bounds none() {
            return level -> new double[] {Double.NaN, Double.NaN};
        }

        /** centre ± reach(level). */
        static Bounds around(double centre, java.util.function.DoubleUnaryOperator reach) {
            return level -> {
                double r = reach.applyAsDouble(level);
                return new double[] {centre - r, centre + r};
            };
        }
    }

    /** Differences of at most this come from rounding. */
    private static final double ROUNDING = 1e-12;

    /** A difference of 0 that nothing moved: not tested, and known as exactly as can be. */
    static PairResult same(int candidate, int against, double difference, Variance variance) {
        return new PairResult(
                candidate,
                against,
                difference,
                variance,
                Double.NaN,
                Bounds.around(difference, level -> 0),
                Optional.empty(),
                Contrast.SAME_SCORES);
    }

    static boolean isRounding(double difference) {
        return Math.abs(difference) <= ROUNDING;
    }

    /** Returns the same without draws, and with the ends of its interval at these levels alone. */
    PairResult keeping(double... levels) {
        double[][] ends = Arrays.stream(levels).mapToObj(bounds::at).toArray(double[][]::new);
        Bounds kept = level -> ends[
                IntStream.range(0, levels.length)
                        .filter(i -> levels[i] == level)
                        .findFirst()
                        .orElseThrow()];
        return new PairResult(candidate, against, difference, variance, p, kept, Optional.empty(), note);
    }

    boolean tested() {
        return !Double.isNaN(p);
    }

    /** |δ|/√V. */
    double statistic() {
        return Math.abs(difference) / variance.standardError();
    }
}

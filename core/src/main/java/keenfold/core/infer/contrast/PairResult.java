package keenfold.core.infer.contrast;

import java.util.Optional;
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

    boolean tested() {
        return !Double.isNaN(p);
    }

    /** |δ|/√V. */
    double statistic() {
        return Math.abs(difference) / variance.standardError();
    }
}

package keenfold.core.infer.distribution;

/** Quantiles of samples. */
public final class Quantiles {
    private Quantiles() {}

    /** Returns a quantile of at least one value in rising order, by linear interpolation (type 7 of Hyndman and Fan). */
    public static double of(double[] sorted, double share) {
        double at = share * (sorted.length - 1);
        int below = (int) Math.floor(at);
        if (below >= sorted.length - 1) {
            return sorted[sorted.length - 1];
        }
        return sorted[below] + (at - below) * (sorted[below + 1] - sorted[below]);
    }
}

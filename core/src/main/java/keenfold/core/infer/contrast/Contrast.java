package keenfold.core.infer.contrast;

import keenfold.core.infer.resample.Variance;

/**
 * The difference of two candidates under one metric.
 *
 * @param candidate index of the candidate
 * @param against index of the candidate it is compared with
 * @param difference mean of the candidate − mean of the other, on the metric's own scale
 * @param variance of the difference by itself
 * @param familyVariance of the difference as one of its family, by which the family's intervals and calls are made
 * @param low lower end of the interval of this difference alone, cut to what the metric can give; NaN if there is none
 * @param high upper end
 * @param lowAll lower end of the interval that holds for all differences at once
 * @param highAll upper end
 * @param reach half the width of that interval before it is cut
 * @param p probability of so large a difference if there were none, for this comparison alone
 * @param pAdjusted the same for the whole family of comparisons
 * @param significant whether {@code pAdjusted} is below 1 − level
 * @param call the verdict
 * @param note what is special about the pair, empty if nothing is
 */
public record Contrast(
        int candidate,
        int against,
        double difference,
        Variance variance,
        Variance familyVariance,
        double low,
        double high,
        double lowAll,
        double highAll,
        double reach,
        double p,
        double pAdjusted,
        boolean significant,
        Call call,
        String note) {
    /** The standard normal quantile of 0.8, to the two digits that are customary. */
    private static final double NORMAL_80 = 0.84;

    /** The note of a pair that predicts the same throughout. */
    public static final String IDENTICAL = "identical predictions";

    /** The note of a pair whose difference no draw moves. */
    public static final String NO_SPREAD = "no spread was seen";

    /** The note of a pair whose scores are equal, but for rounding, in every draw. */
    public static final String SAME_SCORES = "the same score in every draw";

    /** Returns the same contrast seen from the other candidate. */
    public Contrast flipped() {
        return new Contrast(
                /* candidate= */ against,
                /* against= */ candidate,
                0 - difference,
                variance,
                familyVariance,
                0 - high,
                0 - low,
                0 - highAll,
                0 - lowAll,
                reach,
                p,
                pAdjusted,
                significant,
                call.flipped(),
                note);
    }

    /**
     * Returns the difference that a test like this one would call with probability 0.8: (q + 0.84)·√V, q the critical value
     * in force and V that of the family; NaN where there is no interval, or no spread.
     *
     * <p>Source: the power of a test of a normal mean, such as Cohen (1988), Statistical Power Analysis, section 2.4.
     */
    public double detectable() {
        return reach > 0 ? reach + NORMAL_80 * familyVariance.standardError() : Double.NaN;
    }

    /**
     * Returns about how many rows (groups) like these would decide a difference of this size with probability 0.8, rounded up
     * to two digits: m·((q + 0.84)·√V/|δ|)²; NaN where the difference is below √V/2, of which that cannot be said.
     *
     * @param units m, how many there are
     */
    public double unitsForCall(int units) {
        double size = Math.abs(difference);
        double detectable = detectable();
        if (!(size >= standardError() / 2) || Double.isNaN(detectable)) {
            return Double.NaN;
        }
        double needed = units * (detectable / size) * (detectable / size);
        double unit = 1;
        while (needed / unit >= 100) {
            unit *= 10;
        }
        return Math.ceil(needed / unit) * unit;
    }

    /** Returns the standard error of the difference. */
    public double standardError() {
        return variance.standardError();
    }
}

package keenfold.core.infer.contrast;

import keenfold.core.infer.resample.Variance;

/**
 * The difference of two candidates under one metric.
 *
 * @param candidate index of the candidate
 * @param against index of the candidate it is compared with
 * @param difference mean of the candidate − mean of the other, on the metric's own scale
 * @param variance of the difference
 * @param low lower end of the interval of this difference alone; NaN if there is none
 * @param high upper end
 * @param lowAll lower end of the interval that holds for all differences at once
 * @param highAll upper end
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
        double low,
        double high,
        double lowAll,
        double highAll,
        double p,
        double pAdjusted,
        boolean significant,
        Call call,
        String note) {
    /** The note of a pair that predicts the same throughout. */
    public static final String IDENTICAL = "identical predictions";

    /** The note of a pair whose difference no draw moves. */
    public static final String NO_SPREAD = "no spread was seen";

    /** Returns the same contrast seen from the other candidate. */
    public Contrast flipped() {
        return new Contrast(
                /* candidate= */ against,
                /* against= */ candidate,
                0 - difference,
                variance,
                0 - high,
                0 - low,
                0 - highAll,
                0 - lowAll,
                p,
                pAdjusted,
                significant,
                call.flipped(),
                note);
    }

    /** Returns the standard error of the difference. */
    public double standardError() {
        return variance.standardError();
    }
}

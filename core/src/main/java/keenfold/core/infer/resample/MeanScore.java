package keenfold.core.infer.resample;

import java.util.Optional;

/**
 * What is known of one candidate's score under one metric.
 *
 * @param candidate its index
 * @param mean θ, the average of the repeat scores; NaN if one of them is undefined
 * @param sd standard deviation of the fold scores (divisor one less than their number)
 * @param min least fold score
 * @param max greatest fold score
 * @param undefined in how many folds the metric is undefined
 * @param variance of the mean; empty for a candidate that takes part in nothing that compares
 * @param low lower end of the interval of the mean, cut to the metric's range; NaN if there is none
 * @param high upper end
 * @param interval how the interval was made
 * @param train average score of the fits on their own training rows; NaN unless the run was asked for it
 */
public record MeanScore(
        int candidate,
        double mean,
        double sd,
        double min,
        double max,
        int undefined,
        Optional<Variance> variance,
        double low,
        double high,
        Interval interval,
        double train) {
    /** How an interval was made. */
    public enum Interval {
        /** From the pivot over the draws. */
        BOOTSTRAP("bootstrap"),
        /** Clopper and Pearson's, on the rows: fewer than 5 errors or successes, or no spread. */
        CLOPPER_PEARSON("clopper-pearson"),
        /** One-sided, of a mean at an end of its range that no draw moves: by the number of rows of the smallest class. */
        LIMIT("limit"),
        /** Student's t on the fold scores, their variance widened: of adopted scores. */
        FOLDS("fold-scores"),
        /** None: no spread was seen, or there is no comparison. */
        NONE("none");

        private final String label;

        Interval(String label) {
            this.label = label;
        }

        /** Returns the name in outputs. */
        public String label() {
            return label;
        }
    }

    /** Returns the standard error of the mean, NaN if there is none. */
    public double standardError() {
        return variance.map(Variance::standardError).orElse(Double.NaN);
    }
}

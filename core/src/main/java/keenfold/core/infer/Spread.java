package keenfold.core.infer;

import java.util.Arrays;
import keenfold.core.infer.distribution.Quantiles;
import keenfold.core.infer.resample.VarianceModel;

/**
 * How the scores of a candidate spread, in several forms.
 *
 * @param foldSd standard deviation of the fold scores (divisor one less than their number)
 * @param repeatSd standard deviation of the repeats' scores; NaN for one repeat
 * @param least fold score
 * @param quarter of the fold scores lie below it (quantile of type 7)
 * @param median of the fold scores
 * @param threeQuarters of the fold scores lie below it
 * @param most fold score
 * @param foldStandardError sd of a repeat's fold scores/√folds, averaged over repeats
 * @param standardError of the mean, for new rows
 */
public record Spread(
        double foldSd,
        double repeatSd,
        double least,
        double quarter,
        double median,
        double threeQuarters,
        double most,
        double foldStandardError,
        double standardError) {
    /** Returns the spread of one candidate under one metric. */
    public static Spread of(MetricInference metric, int candidate) {
        double[] folds = Arrays.stream(metric.foldScores().of(candidate))
                .filter(s -> !Double.isNaN(s))
                .sorted()
                .toArray();
        double[] repeats = metric.panel().partScores(metric.metric(), candidate);
        boolean any = folds.length > 0;
        return new Spread(
                sd(folds),
                sd(repeats),
                any ? folds[0] : Double.NaN,
                any ? Quantiles.of(folds, 0.25) : Double.NaN,
                any ? Quantiles.of(folds, 0.5) : Double.NaN,
                any ? Quantiles.of(folds, 0.75) : Double.NaN,
                any ? folds[folds.length - 1] : Double.NaN,
                metric.foldStandardError(candidate),
                metric.means().get(candidate).standardError());
    }

    /** Returns the mean, NaN of nothing. */
    public static double mean(double[] values) {
        return values.length == 0 ? Double.NaN : VarianceModel.mean(values);
    }

    /** Returns the standard deviation with divisor n − 1, NaN of fewer than two values. */
    public static double sd(double[] values) {
        return values.length < 2 ? Double.NaN : Math.sqrt(VarianceModel.sampleVariance(values));
    }
}

package keenfold.core.infer.contrast;

import java.util.Optional;
import keenfold.core.infer.resample.PairedDraws;
import keenfold.core.infer.resample.Pivot;
import keenfold.core.infer.resample.Variance;
import keenfold.core.infer.resample.VarianceModel;

/** Interval and p-value of a difference from its widened draws; see {@link Pivot} and {@link VarianceModel}. */
public final class PivotTester implements Tester {
    private final PairedDraws paired;

    /** Tests by the draws of all candidates. */
    public PivotTester(PairedDraws paired) {
        this.paired = paired;
    }

    @Override
    public PairResult find(int a, int b, Pairing pairing) {
        double[] draws = paired.differences(a, b);
        Variance variance = paired.variances().ofDifference(a, b, draws);
        double difference = pairing.difference();
        boolean spread = variance.raw() > 0 && variance.total() > 0;
        if (!spread) {
            variance = paired.variances().ofUnmoved(difference);
        }
        String note = ContrastFamily.note(pairing, spread);
        if (!(variance.total() > 0 && variance.freedom() > 0)) {
            return new PairResult(
                    a, b, difference, variance, Double.NaN, PairResult.Bounds.none(), Optional.empty(), note);
        }
        Pivot pivot = spread ? Pivot.of(draws, variance, paired.roots()) : Pivot.ofUnmoved(variance, paired.roots());
        double se = variance.standardError();
        double p = pairing.near() ? Double.NaN : pivot.p(Math.abs(difference) / se);
        return new PairResult(
                a,
                b,
                difference,
                variance,
                p,
                PairResult.Bounds.around(difference, level -> pivot.quantile(level) * se),
                Optional.of(pivot),
                note);
    }
}

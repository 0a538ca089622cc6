package keenfold.core.infer;

import java.util.Optional;

/** Interval and p-value of a difference from its widened draws; see {@link Pivot} and {@link VarianceModel}. */
final class PivotTester implements Tester {
    private final MetricInference inference;

    PivotTester(MetricInference inference) {
        this.inference = inference;
    }

    @Override
    public PairResult find(int a, int b, Pairing pairing) {
        double[] draws = inference.differences(a, b);
        Variance variance = inference.variances().ofDifference(a, b, draws);
        double difference = pairing.difference();
        boolean spread = variance.raw() > 0 && variance.total() > 0;
        if (!spread) {
            variance = inference.variances().ofUnmoved(difference);
        }
        String note = Contrasts.note(pairing, spread);
        if (!(variance.total() > 0 && variance.freedom() > 0)) {
            return new PairResult(
                    a, b, difference, variance, Double.NaN, PairResult.Bounds.none(), Optional.empty(), note);
        }
        Pivot pivot =
                spread ? Pivot.of(draws, variance, inference.roots()) : Pivot.ofUnmoved(variance, inference.roots());
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

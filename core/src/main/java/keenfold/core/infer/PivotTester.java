package keenfold.core.infer;

import java.util.Optional;

/** Interval and p-value of a difference from its widened draws; see {@link Pivot} and {@link VarianceModel}. */
final class PivotTester implements Tester {
    private final MetricInference inference;

    PivotTester(MetricInference inference) {
        this.inference = inference;
    }

    @Override
    public Finding find(int a, int b, Pairing pairing) {
        double[] draws = inference.differences(a, b);
        Variance variance = inference.variances().ofDifference(a, b, draws);
        boolean spread = variance.raw() > 0 && variance.total() > 0;
        String note = Contrasts.note(pairing, spread);
        if (!spread) {
            return new Finding(
                    a, b, pairing.difference(), variance, Double.NaN, Finding.Bounds.none(), Optional.empty(), note);
        }
        Pivot pivot = Pivot.of(draws, variance, inference.roots());
        double se = variance.standardError();
        double p = pairing.near() ? Double.NaN : pivot.p(Math.abs(pairing.difference()) / se);
        return new Finding(
                a,
                b,
                pairing.difference(),
                variance,
                p,
                Finding.Bounds.around(pairing.difference(), level -> pivot.quantile(level) * se),
                Optional.of(pivot),
                note);
    }
}

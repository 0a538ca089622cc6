package keenfold.core.infer.contrast;

import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import keenfold.core.infer.resample.PairedDraws;
import keenfold.core.infer.resample.Pivot;
import keenfold.core.infer.resample.Variance;
import keenfold.core.infer.resample.VarianceModel;
import keenfold.core.run.Parallel;

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
        return found(a, b, pairing, draws, paired.variances().ofDifference(a, b, draws));
    }

    /** The same with the λ of the family, which those of its pairs are drawn towards. */
    @Override
    public List<PairResult> inFamily(List<PairResult> found, Parallel parallel) {
        List<PairResult> widened = found.stream().filter(PairResult::tested).toList();
        VarianceModel.OfFamily variances = paired.variances()
                .ofFamily(widened.stream()
                        .map(f -> new int[] {f.candidate(), f.against()})
                        .toList());
        Iterator<PairResult> inFamily = parallel.map(widened.size(), i -> {
                    PairResult f = widened.get(i);
                    double[] draws = paired.differences(f.candidate(), f.against());
                    Variance variance = variances.of(i, draws);
                    Pairing pairing = new Pairing(f.difference(), ContrastFamily.FEW_ROWS);
                    return found(f.candidate(), f.against(), pairing, draws, variance);
                })
                .iterator();
        return found.stream().map(f -> f.tested() ? inFamily.next() : f).toList();
    }

    private PairResult found(int a, int b, Pairing pairing, double[] draws, Variance widened) {
        Variance variance = widened;
        double difference = pairing.difference();
        boolean spread = variance.raw() > 0 && variance.total() > 0;
        if (!spread && PairResult.isRounding(difference)) {
            return PairResult.same(a, b, difference, variance);
        }
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

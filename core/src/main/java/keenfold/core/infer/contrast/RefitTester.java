package keenfold.core.infer.contrast;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.infer.distribution.StudentT;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.Variance;
import keenfold.core.infer.resample.VarianceModel;
import keenfold.core.metric.Metric;

/**
 * A t-test whose variance comes from whole runs on resampled rows.
 *
 * <p>Definition: V is the variance (divisor N − 1) of the N differences of the refits about their own mean; δ is that of
 * the run itself; interval and p-value by t with min(N, m) − 1 degrees of freedom, m rows (groups). No calls below N = 50.
 *
 * <p>Conservative: a resample has fewer distinct rows than the data, so that its models vary more.
 */
public final class RefitTester implements Tester {
    private final AlignedPredictions panel;
    private final Map<Integer, double[]> scores = new HashMap<>();
    private final int units;

    /** @throws IllegalArgumentException if there are no refits */
    public RefitTester(AlignedPredictions panel, Metric metric, List<Integer> compared) {
        this.panel = panel;
        Checks.that(
                panel.refits() > 1,
                "method refit needs whole runs on resampled rows, of which this ledger has %d; write evidence: {refit:"
                        + " 100} into the plan and run it again, which adds them",
                panel.refits());
        for (int c : compared) {
            double[] own = IntStream.range(0, panel.refits())
                    .mapToDouble(n -> panel.refit(n, c).map(metric::score).orElse(Double.NaN))
                    .toArray();
            scores.put(c, own);
        }
        this.units = panel.units().count();
    }

    @Override
    public boolean calls() {
        return panel.refits() >= InferenceSettings.FEWEST_REFITS;
    }

    @Override
    public PairResult find(int a, int b, Pairing pairing) {
        double[] x = scores.getOrDefault(a, new double[0]);
        double[] y = scores.getOrDefault(b, new double[0]);
        double[] d = IntStream.range(0, x.length)
                .mapToDouble(i -> x[i] - y[i])
                .filter(v -> !Double.isNaN(v))
                .toArray();
        double total = d.length < 2 ? 0 : VarianceModel.sampleVariance(d);
        double nu = Math.min(d.length, units) - 1.0;
        Variance variance = new Variance(total, total, Double.NaN, nu, Double.NaN, Double.NaN);
        boolean spread = total > 0;
        double se = variance.standardError();
        String note = ContrastFamily.note(pairing, spread);
        if (d.length < x.length && note.isEmpty()) {
            note = "defined in " + d.length + " of " + x.length + " refits";
        }
        return new PairResult(
                a,
                b,
                pairing.difference(),
                variance,
                !spread || pairing.near() ? Double.NaN : StudentT.twoSided(pairing.difference() / se, nu),
                spread
                        ? PairResult.Bounds.around(pairing.difference(), level -> StudentT.reach(level, nu) * se)
                        : PairResult.Bounds.none(),
                Optional.empty(),
                note);
    }
}

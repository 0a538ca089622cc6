package keenfold.core.infer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.CaseWeights;
import keenfold.core.metric.Curve;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.RankCurve;
import keenfold.core.metric.RowWeights;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Trials;
import keenfold.core.run.result.Results;
import keenfold.core.split.KFold;
import keenfold.core.split.MonteCarlo;
import keenfold.core.split.Scheme;
import org.junit.jupiter.api.Test;

class CurvesTest {
    private static final Inference INFERENCE = inference(new KFold(4, 3, true));

    private static Inference inference(Scheme scheme) {
        Results results = Trials.results(new Comparison(
                List.of(Trials.task(
                        Trials.data("d", 3, 90, 1.1, 0), scheme, "auc", "average-precision", "calibration-error")),
                // Few neighbours give many ties.
                List.of(Trials.candidate("logit", "logistic"), Trials.candidate("near", "nearest", "neighbours=5")),
                4));
        return Inference.of(
                AlignedPredictions.of(results, 0),
                new InferenceSettings(400, 0.9, 0, Optional.empty()),
                Parallel.of(2));
    }

    /** Fawcett's way by hand: four ranked rows + - + -, and the same with the two in the middle tied. */
    @Test
    void aCurveOfFourRows() {
        Outcomes apart = Outcomes.of(2, 0, new int[] {0, 1, 2, 3}, new int[] {1, 0, 1, 0}, pairs(0.9, 0.7, 0.6, 0.2));
        Curve roc = RankCurve.of(RankCurve.Kind.ROC, apart, 1).plain().orElseThrow();
        assertThat(points(roc)).isEqualTo("0,0 0,0.5 0.5,0.5 0.5,1 1,1");
        Curve recalls =
                RankCurve.of(RankCurve.Kind.PRECISION_RECALL, apart, 1).plain().orElseThrow();
        assertThat(points(recalls)).isEqualTo("0,1 0.5,1 0.5,0.667 1,0.667");
        Outcomes tied = Outcomes.of(2, 0, new int[] {0, 1, 2, 3}, new int[] {1, 0, 1, 0}, pairs(0.9, 0.7, 0.7, 0.2));
        Curve diagonal = RankCurve.of(RankCurve.Kind.ROC, tied, 1).plain().orElseThrow();
        assertThat(points(diagonal)).isEqualTo("0,0 0,0.5 0.5,1 1,1");
        assertThat(diagonal.at(0.25)).isEqualTo(0.75);
    }

    private static MeanCurve curve(Inference inference, int candidate, RankCurve.Kind kind) {
        return MeanCurve.of(
                        inference.panel(),
                        inference.evidence(),
                        Parallel.of(2),
                        kind,
                        List.of(new CandidateClass(candidate, 1)))
                .get(0)
                .orElseThrow();
    }

    private static double[] pairs(double... positive) {
        return Arrays.stream(positive)
                .flatMap(p -> Arrays.stream(new double[] {1 - p, p}))
                .toArray();
    }

    private static String points(Curve curve) {
        StringBuilder text = new StringBuilder();
        for (int i = 0; i < curve.size(); i++) {
            text.append(number(curve.x(i)))
                    .append(',')
                    .append(number(curve.y(i)))
                    .append(' ');
        }
        return text.toString().strip();
    }

    private static String number(double value) {
        return new java.text.DecimalFormat("0.###", java.text.DecimalFormatSymbols.getInstance(java.util.Locale.ROOT))
                .format(value);
    }

    /** Whatever the folds, ties and weights, the areas are the metrics' own numbers. */
    @Test
    void areasAreTheMetrics() {
        RandomSource chance = new Seed(5).chance();
        for (Inference inference : List.of(INFERENCE, inference(new MonteCarlo(0.3, 6, true)))) {
            for (int candidate = 0; candidate < 2; candidate++) {
                for (RankCurve.Kind kind : RankCurve.Kind.values()) {
                    MetricInference metric = inference.metric(kind == RankCurve.Kind.ROC ? "auc" : "average-precision");
                    MeanCurve curve = curve(inference, candidate, kind);
                    assertThat(curve.mean().area())
                            .isCloseTo(metric.means().get(candidate).mean(), within(1e-12));
                    Outcomes part = inference.panel().parts(candidate).get(1);
                    assertThat(curve.parts().get(1).area())
                            .isCloseTo(metric.metric().score(part), within(1e-12));
                    double[] plain = new double[inference.panel().rows()];
                    int[][] weights = new int[plain.length][1];
                    for (int i = 0; i < plain.length; i++) {
                        weights[i][0] = chance.below(3);
                        plain[i] = weights[i][0];
                    }
                    double[] scored = new double[1];
                    metric.metric().scorer(part).score(CaseWeights.of(weights, 1), scored);
                    RankCurve ranked = RankCurve.of(kind, part, 1);
                    Curve under = ranked.weighted(plain).orElseThrow();
                    assertThat(under.area()).isCloseTo(scored[0], within(1e-12));
                    double[] some = ranked.at(21, new RowWeights(plain));
                    for (int g = 0; g < 21; g++) {
                        assertThat(some[g]).isCloseTo(under.at(g / 20.0), within(1e-12));
                    }
                    assertThat(some[21]).isCloseTo(scored[0], within(1e-12));
                }
            }
        }
    }

    /** The band is as wide, in area, as the metric's standard error says, and holds the mean curve. */
    @Test
    void bandsGoWithTheStandardError() {
        MetricInference auc = INFERENCE.metric("auc");
        MeanCurve curve = curve(INFERENCE, 0, RankCurve.Kind.ROC);
        double between = 0;
        for (int g = 0; g < MeanCurve.GRID; g++) {
            double own = curve.mean().at(MeanCurve.grid(g));
            assertThat(curve.low().get(g)).isBetween(0.0, own + 0.02);
            assertThat(curve.high().get(g)).isBetween(own - 0.02, 1.0);
            between += (curve.high().get(g) - curve.low().get(g)) / MeanCurve.GRID;
        }
        double se = auc.means().get(0).standardError();
        // Pointwise, so wider than that of the area, and not by much more.
        assertThat(between).isBetween(2 * 1.645 * se * 0.9, 2 * 1.645 * se * 3);
    }

    @Test
    void aClassThatIsNowhereHasNoCurve() {
        Outcomes one = Outcomes.of(2, 0, new int[] {0, 1}, new int[] {0, 0}, pairs(0.9, 0.7));
        assertThat(RankCurve.of(RankCurve.Kind.ROC, one, 1).plain()).isEmpty();
        assertThat(RankCurve.of(RankCurve.Kind.ROC, one, 0).plain()).isEmpty();
        assertThat(RankCurve.of(RankCurve.Kind.PRECISION_RECALL, one, 0).plain())
                .isPresent();
    }

    /** Each bin counted anew; and with a single repeat, bins add up to the calibration error. */
    @Test
    void binsOfProbability() {
        Inference single = inference(new KFold(5, 1, true));
        MetricInference metric = single.metric("calibration-error");
        Outcomes part = single.panel().parts(0).get(0);
        List<Reliability.Bin> bins =
                Reliability.of(metric, List.of(new CandidateClass(0, 1))).get(0);
        double error = 0;
        for (Reliability.Bin bin : bins) {
            double rows = 0;
            double hits = 0;
            for (int i = 0; i < part.size(); i++) {
                boolean within = part.probability(i, 1) >= bin.from() && part.probability(i, 1) < bin.to();
                rows += within ? 1 : 0;
                hits += within ? part.actual(i) : 0;
            }
            assertThat(bin.rows()).isEqualTo(rows);
            if (rows > 0) {
                assertThat(bin.observed()).isCloseTo(hits / rows, within(1e-12));
                assertThat(bin.observed()).isBetween(bin.low() - 1e-12, bin.high() + 1e-12);
                error += Math.abs(bin.predicted() - bin.observed()) * rows / part.size();
            } else {
                assertThat(bin.observed()).isNaN();
            }
        }
        assertThat(error).isCloseTo(metric.means().get(0).mean(), within(1e-12));
    }
}

package keenfold.core.infer.contrast;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.PairedDraws;
import keenfold.core.infer.resample.Pivot;
import keenfold.core.infer.resample.Variance;
import keenfold.core.infer.resample.VarianceModel;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Trials;
import keenfold.core.run.result.Results;
import keenfold.core.split.KFold;
import keenfold.core.split.RollingOrigin;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Which may be the best, and ranks, recomputed plainly from the draws. */
class StandingsTest {
    private static final int DRAWS = 999;
    private static final Results RESULTS = Trials.results(new Comparison(
            List.of(Trials.task(
                    Trials.data("d", 3, 120, 1.6, 0), new KFold(5, 3, true), "auc", "log-loss", "accuracy")),
            List.of(
                    Trials.candidate("guess", "majority"),
                    Trials.candidate("logit", "logistic"),
                    Trials.candidate("bayes", "naive-bayes"),
                    Trials.candidate("near", "nearest", "neighbours=1"),
                    Trials.candidate("tree", "tree", "depth=2")),
            4));

    private static MetricInference inference(String metric, Method method, Optional<String> against) {
        InferenceSettings evidence = new InferenceSettings(DRAWS, 0.95, 0, against);
        return Inference.of(
                        AlignedPredictions.of(RESULTS, 0),
                        evidence.withMethod(method, Optional.empty()),
                        Parallel.of(2))
                .metric(metric);
    }

    /** T*_b of j against i, turned so that higher is better. */
    private static double[] pivots(MetricInference metric, int j, int i) {
        PairedDraws paired = metric.pairedDraws();
        double[] draws = paired.differences(j, i);
        Variance variance = metric.contrast(i, j).orElseThrow().familyVariance();
        Pivot pivot = Pivot.of(draws, variance, paired.roots());
        double mean = VarianceModel.mean(draws);
        double turn = metric.metric().higherIsBetter() ? 1 : -1;
        return IntStream.range(0, draws.length)
                .mapToDouble(b -> turn * Math.signum(draws[b] - mean) * pivot.size(b))
                .toArray();
    }

    @ParameterizedTest
    @CsvSource({"auc", "log-loss"})
    void theyFollowFromTheDraws(String name) {
        MetricInference metric = inference(name, Method.PIVOT, Optional.empty());
        Standings standings = metric.standings().orElseThrow();
        for (int i = 0; i < 5; i++) {
            double[] signed = new double[DRAWS];
            double[] sizes = new double[DRAWS];
            Arrays.fill(signed, Double.NEGATIVE_INFINITY);
            double[] statistics = new double[5];
            for (int j = 0; j < 5; j++) {
                if (j != i) {
                    Contrast c = metric.contrast(j, i).orElseThrow();
                    statistics[j] = metric.metric().turned(c.difference())
                            / c.familyVariance().standardError();
                    double[] own = pivots(metric, j, i);
                    for (int b = 0; b < DRAWS; b++) {
                        signed[b] = Math.max(signed[b], own[b]);
                        sizes[b] = Math.max(sizes[b], Math.abs(own[b]));
                    }
                }
            }
            statistics[i] = Double.NEGATIVE_INFINITY;
            double most = Arrays.stream(statistics).max().orElseThrow();
            long atLeast = Arrays.stream(signed).filter(t -> t >= most).count();
            Standing standing = standings.of(i);
            assertThat(standing.pBest()).isCloseTo((1 + atLeast) / (DRAWS + 1.0), within(1e-12));
            // p of 0.05 and more: 49 draws or more beyond it.
            assertThat(standing.mayBeBest()).isEqualTo(1 + atLeast >= 50);
            Arrays.sort(sizes);
            double critical = sizes[950];
            long better = Arrays.stream(statistics).filter(t -> t > critical).count();
            long worse = Arrays.stream(statistics)
                    .filter(t -> t < -critical && t > Double.NEGATIVE_INFINITY)
                    .count();
            assertThat(standing.rankLow()).isEqualTo((int) (1 + better));
            assertThat(standing.rankHigh()).isEqualTo((int) (5 - worse));
        }
        assertThat(standings.all()).as("the guess is not").anyMatch(s -> !s.mayBeBest());
        assertThat(standings.all()).as("ranks are told apart").anyMatch(s -> s.rankLow() > 1);
    }

    /** Asking fewer questions loses no candidate that all pairs would lose. */
    @ParameterizedTest
    @CsvSource({"PIVOT", "CASES", "CORRECTED_T"})
    void theSetIsNoLargerThanAllPairsLeave(Method method) {
        MetricInference metric = inference("auc", method, Optional.empty());
        Standings standings = metric.standings().orElseThrow();
        for (Standing s : standings.all()) {
            boolean beaten = metric.contrasts().stream()
                    .anyMatch(c -> c.candidate() == s.candidate() && c.call() == Call.WORSE
                            || c.against() == s.candidate() && c.call() == Call.BETTER);
            if (beaten) {
                assertThat(s.mayBeBest()).as(method + ", " + s.candidate()).isFalse();
            }
            assertThat(s.rankLow()).isLessThanOrEqualTo(s.rankHigh());
        }
        assertThat(standings.all()).anyMatch(Standing::mayBeBest);
    }

    /** Without draws Holm over the comparisons of a candidate, one-sided for the best. */
    @Test
    void withoutDrawsTheyAreHolms() {
        MetricInference metric = inference("auc", Method.CORRECTED_T, Optional.empty());
        for (int i = 0; i < 5; i++) {
            double least = 1;
            for (int j = 0; j < 5; j++) {
                if (j != i) {
                    Contrast c = metric.contrast(j, i).orElseThrow();
                    least = Math.min(least, c.difference() > 0 ? c.p() / 2 : 1 - c.p() / 2);
                }
            }
            Standing standing = metric.standings().orElseThrow().of(i);
            assertThat(standing.pBest()).isCloseTo(Math.min(1, 4 * least), within(1e-12));
            assertThat(standing.mayBeBest()).isEqualTo(4 * least >= 0.05);
        }
    }

    /** A comparison named in the plan makes the family of contrasts smaller, not the question which is best. */
    @Test
    void theyAreOfAllCandidatesWhateverThePlanNames() {
        Standings all =
                inference("auc", Method.PIVOT, Optional.empty()).standings().orElseThrow();
        Standings named =
                inference("auc", Method.PIVOT, Optional.of("guess")).standings().orElseThrow();
        assertThat(named.all()).isEqualTo(all.all());
        for (Standing s : all.all()) {
            boolean within = IntStream.range(0, 5)
                    .filter(j -> j != s.candidate())
                    .allMatch(j -> lead(j, s.candidate()) <= all.reach(s.candidate(), j));
            assertThat(within).isEqualTo(s.mayBeBest());
            assertThat(s.deficit()).isNotNegative();
        }
    }

    private static double lead(int j, int i) {
        return inference("auc", Method.PIVOT, Optional.empty())
                .contrast(j, i)
                .orElseThrow()
                .difference();
    }

    @Test
    void whereNothingIsCalledThereAreNone() {
        DataSet data = Trials.data("d", 3, 90, 1, 0);
        double[] when = IntStream.range(0, 90).asDoubleStream().toArray();
        Results inOrder = Trials.results(new Comparison(
                List.of(Trials.task(
                        data.withOrder(keenfold.core.data.Numbers.of("when", when)),
                        new RollingOrigin(0.5, 0.25, 0, java.util.OptionalDouble.empty()),
                        "accuracy")),
                List.of(Trials.candidate("logit", "logistic"), Trials.candidate("near", "nearest")),
                4));
        MetricInference metric = Inference.of(
                        AlignedPredictions.of(inOrder, 0), InferenceSettings.DEFAULT.withDraws(199), Parallel.of(1))
                .metric("accuracy");
        assertThat(metric.standings()).isEmpty();
    }

    /** (q + 0.84)·√V and the rows that it takes, by hand: q = 3, √V = 0.02, δ = 0.03. */
    @Test
    void whatCouldBeSeenIsOneLineOfArithmetic() {
        Variance variance = new Variance(0.0004, 0.0004, 0.0004, 99, 0, 0);
        Contrast c = new Contrast(
                0, 1, 0.03, variance, variance, -0.01, 0.07, -0.03, 0.09, 0.06, 0.1, 0.3, false, Call.UNDECIDED, "");
        assertThat(c.detectable()).isCloseTo(0.06 + 0.84 * 0.02, within(1e-12));
        // 200·(0.0768/0.03)² = 1310.7
        assertThat(c.unitsForCall(200)).isEqualTo(1400);
        assertThat(c.unitsForCall(5)).as("32.8 rows").isEqualTo(33);
        Contrast small = new Contrast(
                0, 1, 0.0099, variance, variance, -0.01, 0.07, -0.03, 0.09, 0.06, 0.1, 0.3, false, Call.UNDECIDED, "");
        assertThat(small.unitsForCall(200)).as("below half a standard error").isNaN();
    }
}

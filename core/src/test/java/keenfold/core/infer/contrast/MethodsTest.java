package keenfold.core.infer.contrast;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.distribution.Quantiles;
import keenfold.core.infer.distribution.Special;
import keenfold.core.infer.distribution.StudentT;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.CaseWeights;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.Scorer;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Trials;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.split.KFold;
import org.apache.commons.statistics.distribution.BinomialDistribution;
import org.apache.commons.statistics.distribution.TDistribution;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Every method of testing against its definition, computed the plain way. */
class MethodsTest {
    private static final List<Candidate> CANDIDATES = List.of(
            Trials.candidate("guess", "majority"),
            Trials.candidate("logit", "logistic"),
            Trials.candidate("near", "nearest", "neighbours=1"));
    private static final KFold FOLDS = new KFold(5, 3, true);
    private static final Comparison COMPARISON = new Comparison(
            List.of(Trials.task(
                    Trials.data("d", 3, 90, 1.1, 0), FOLDS, "accuracy", "auc", "log-loss", "f1", "average-precision")),
            CANDIDATES,
            4);
    private static final Results RESULTS = Trials.results(COMPARISON);
    private static final InferenceSettings EVIDENCE = InferenceSettings.DEFAULT.withDraws(499);

    private static MetricInference inference(Results results, String metric, Method method) {
        return Inference.of(
                        AlignedPredictions.of(results, 0),
                        EVIDENCE.withMethod(method, Optional.empty()),
                        Parallel.of(2))
                .metric(metric);
    }

    @ParameterizedTest
    @CsvSource({"0.3, 5", "2.5, 1", "-4, 99", "12, 3.5"})
    void studentsTailsAreRight(double t, double nu) {
        TDistribution law = TDistribution.of(nu);
        double expected = 2 * law.survivalProbability(Math.abs(t));
        assertThat(StudentT.twoSided(t, nu)).isCloseTo(expected, within(1e-12));
        assertThat(StudentT.reach(1 - expected, nu)).isCloseTo(Math.abs(t), within(1e-6 * Math.abs(t)));
    }

    @ParameterizedTest
    @CsvSource({"0, 5", "3, 3", "7, 1", "20, 41", "0, 0"})
    void mcNemarIsTheBinomialTest(int b, int c) {
        double expected = b + c == 0
                ? 1
                : Math.min(1, 2 * BinomialDistribution.of(b + c, 0.5).cumulativeProbability(Math.min(b, c)));
        assertThat(McNemar.p(b, c)).isCloseTo(expected, within(1e-12));
    }

    @Test
    void mcNemarCountsTheFirstRepeatAlone() {
        Contrast c =
                inference(RESULTS, "accuracy", Method.MCNEMAR).contrast(1, 2).orElseThrow();
        AlignedPredictions panel = AlignedPredictions.of(RESULTS, 0);
        Outcomes x = panel.parts(1).get(0);
        Outcomes y = panel.parts(2).get(0);
        int first = 0;
        int second = 0;
        for (int i = 0; i < x.size(); i++) {
            boolean a = x.predicted(i) == x.actual(i);
            boolean b = y.predicted(i) == y.actual(i);
            first += a && !b ? 1 : 0;
            second += b && !a ? 1 : 0;
        }
        assertThat(c.difference()).isCloseTo((first - second) / 90.0, within(1e-15));
        assertThat(c.p()).isEqualTo(McNemar.p(first, second));
        assertThat(c.low()).isNaN();
        assertThatThrownBy(() -> inference(RESULTS, "auc", Method.MCNEMAR).contrasts())
                .hasMessageContaining("ask for --metric accuracy or error, not auc");
    }

    /** t = δ/(S_d·√(1/J + n_test/n_train)), from the fold scores themselves. */
    @ParameterizedTest
    @ValueSource(strings = {"accuracy", "auc", "log-loss"})
    void correctedTIsItsFormula(String metric) {
        MetricInference inference = inference(RESULTS, metric, Method.CORRECTED_T);
        int m = List.of("accuracy", "auc", "log-loss").indexOf(metric);
        double[] d = new double[15];
        for (Fit f : RESULTS.fits()) {
            double score = f.result().orElseThrow().score(m);
            d[f.repeat() * 5 + f.fold()] += f.candidate() == 1 ? score : f.candidate() == 2 ? -score : 0;
        }
        double mean = Arrays.stream(d).average().orElseThrow();
        double variance = Arrays.stream(d).map(v -> (v - mean) * (v - mean)).sum() / 14;
        double se = Math.sqrt((1 / 15.0 + 18 / 72.0) * variance);
        Contrast c = inference.contrast(1, 2).orElseThrow();
        assertThat(c.standardError()).isCloseTo(se, within(1e-12));
        TDistribution law = TDistribution.of(14);
        assertThat(c.p()).isCloseTo(2 * law.survivalProbability(Math.abs(c.difference()) / se), within(1e-10));
        assertThat(c.high() - c.difference())
                .isCloseTo(law.inverseCumulativeProbability(0.975) * se, within(1e-7 * se));
        // Holm over three pairs: at least the plain p, at most three times it.
        assertThat(c.pAdjusted()).isBetween(c.p(), Math.min(1, 3 * c.p()) + 1e-15);
    }

    @Test
    void correctedTWantsFoldsWorthTheName() {
        DataSet data = Trials.data("d", 3, 40, 1, 0);
        Results few = Trials.results(
                new Comparison(List.of(Trials.task(data, new KFold(2, 2, true), "accuracy")), CANDIDATES, 4));
        assertThatThrownBy(() -> inference(few, "accuracy", Method.CORRECTED_T).contrasts())
                .hasMessageContaining("needs 5 splits: there are 4");
        Results single = Trials.results(
                new Comparison(List.of(Trials.task(data, new KFold(40, 1, false), "accuracy")), CANDIDATES, 4));
        assertThatThrownBy(
                        () -> inference(single, "accuracy", Method.CORRECTED_T).contrasts())
                .hasMessageContaining("fold scores are single rows");
    }

    @Test
    void holmByHand() {
        assertThat(Adjust.holm(new double[] {0.01, 0.04, 0.03, Double.NaN})).containsExactly(0.03, 0.06, 0.06, 1);
        assertThat(Adjust.holm(new double[] {0.5, 0.9})).containsExactly(1, 1);
    }

    /** Percentile ends and p-value from draws that are made anew, row by row. */
    @ParameterizedTest
    @ValueSource(strings = {"accuracy", "auc", "log-loss"})
    void percentilesAreThoseOfPlainResampling(String metric) {
        MetricInference inference = inference(RESULTS, metric, Method.CASES);
        double[] d = plainDraws(inference, 1, 2);
        double[] sorted = d.clone();
        Arrays.sort(sorted);
        Contrast c = inference.contrast(1, 2).orElseThrow();
        // Type 7: position 0.025·498 = 12.45 from the least.
        assertThat(c.low()).isCloseTo(sorted[12] + 0.45 * (sorted[13] - sorted[12]), within(1e-12));
        long atMost = Arrays.stream(d).filter(v -> v <= 0).count();
        long atLeast = Arrays.stream(d).filter(v -> v >= 0).count();
        assertThat(c.p()).isCloseTo(Math.min(1, 2.0 * Math.min(1 + atMost, 1 + atLeast) / 500), within(1e-15));
        double mean = Arrays.stream(d).average().orElseThrow();
        double variance = Arrays.stream(d).map(v -> (v - mean) * (v - mean)).sum() / 498 * 90 / 89;
        assertThat(c.standardError()).isCloseTo(Math.sqrt(variance), within(1e-10));
    }

    /** Differences of means over rows that are written out as often as they were drawn. */
    private static double[] plainDraws(MetricInference inference, int a, int b) {
        AlignedPredictions panel = inference.panel();
        double[] d = new double[499];
        for (int draw = 0; draw < d.length; draw++) {
            keenfold.core.data.RandomSource chance = new keenfold.core.data.Seed(panel.seed())
                    .with("draw")
                    .with(draw)
                    .chance();
            int[] times = new int[90];
            for (int i = 0; i < 90; i++) {
                times[chance.below(90)]++;
            }
            d[draw] = mean(inference, panel.parts(a), times) - mean(inference, panel.parts(b), times);
        }
        return d;
    }

    private static double mean(MetricInference inference, List<Outcomes> parts, int[] times) {
        return parts.stream()
                .mapToDouble(part -> {
                    int[] entries = IntStream.range(0, part.size())
                            .flatMap(i -> IntStream.range(0, times[part.row(i)]).map(t -> i))
                            .toArray();
                    List<Outcomes> one = new ArrayList<>();
                    for (int e = 0; e < entries.length; e++) {
                        int i = entries[e];
                        double[] p = {part.probability(i, 0), part.probability(i, 1)};
                        one.add(Outcomes.of(2, part.fold(i), new int[] {e}, new int[] {part.actual(i)}, p));
                    }
                    return inference.metric().score(Outcomes.join(one));
                })
                .average()
                .orElseThrow();
    }

    /** Efron's own formulas, the acceleration from the means without each row. */
    @Test
    void bcaIsItsFormula() {
        MetricInference inference = inference(RESULTS, "log-loss", Method.CASES_BCA);
        double[] sorted = plainDraws(inference, 1, 2);
        Arrays.sort(sorted);
        AlignedPredictions panel = inference.panel();
        double[] without = new double[90];
        for (int out = 0; out < 90; out++) {
            int[] times = new int[90];
            Arrays.fill(times, 1);
            times[out] = 0;
            without[out] = mean(inference, panel.parts(1), times) - mean(inference, panel.parts(2), times);
        }
        double middle = Arrays.stream(without).average().orElseThrow();
        double cubes = Arrays.stream(without).map(v -> Math.pow(middle - v, 3)).sum();
        double squares =
                Arrays.stream(without).map(v -> Math.pow(middle - v, 2)).sum();
        double acceleration = cubes / (6 * Math.pow(squares, 1.5));
        Contrast c = inference.contrast(1, 2).orElseThrow();
        double share = Arrays.stream(sorted).filter(v -> v < c.difference()).count() / 499.0;
        double bias = Special.normalQuantile(share);
        double z = bias + Special.normalQuantile(0.025);
        double at = org.apache.commons.statistics.distribution.NormalDistribution.of(0, 1)
                .cumulativeProbability(bias + z / (1 - acceleration * z));
        assertThat(c.low()).isCloseTo(Quantiles.of(sorted, at), within(1e-9));
    }

    /** The interval at level 1 − p ends at 0: that is what its p means. */
    @Test
    void bcaPInvertsItsInterval() {
        MetricInference inference = inference(RESULTS, "log-loss", Method.CASES_BCA);
        for (Contrast c : inference.contrasts()) {
            if (c.p() > 0.02 && c.p() < 0.9) {
                PairResult found = new CaseTester(inference.pairedDraws(), true)
                        .find(c.candidate(), c.against(), new Tester.Pairing(c.difference(), 90));
                double[] ends = found.bounds().at(1 - c.p());
                double nearest = Math.min(Math.abs(ends[0]), Math.abs(ends[1]));
                assertThat(nearest).isLessThan(0.05 * c.standardError());
            }
        }
    }

    @Test
    void whatAMethodDoesNotHaveIsRefused() {
        assertThatThrownBy(() -> EVIDENCE.withMethod(Method.CASES, Optional.of(Adjust.MAX_T)))
                .hasMessageContaining("max-t needs the draws of method pivot");
        assertThat(inference(RESULTS, "auc", Method.PIVOT)
                        .by(Method.PIVOT, Optional.of(Adjust.NONE))
                        .contrasts())
                .allMatch(c -> c.pAdjusted() == c.p() && c.lowAll() == c.low());
    }

    /** Lanes are computed each by itself: no score depends on how many draws are scored at once. */
    @ParameterizedTest
    @ValueSource(strings = {"accuracy", "auc", "log-loss", "f1", "average-precision"})
    void blocksChangeNoBit(String metric) {
        MetricInference inference = inference(RESULTS, metric, Method.PIVOT);
        Scorer scorer = inference
                .metric()
                .scorer(AlignedPredictions.of(RESULTS, 0).parts(2).get(1));
        keenfold.core.data.RandomSource chance = new keenfold.core.data.Seed(1).chance();
        int[][] weights = new int[90][Scorer.LANES];
        for (int[] ofRow : weights) {
            Arrays.setAll(ofRow, lane -> chance.below(4));
        }
        double[] together = new double[Scorer.LANES];
        scorer.score(CaseWeights.of(weights, Scorer.LANES), together);
        for (int lane = 0; lane < Scorer.LANES; lane += 7) {
            int l = lane;
            double[] alone = new double[1];
            int[][] own = Arrays.stream(weights).map(w -> new int[] {w[l]}).toArray(int[][]::new);
            scorer.score(CaseWeights.of(own, 1), alone);
            assertThat(alone[0]).isEqualTo(together[l]);
        }
        List<String> names = List.of("accuracy", "auc", "log-loss");
        Inference joint = Inference.of(AlignedPredictions.of(RESULTS, 0), EVIDENCE, Parallel.of(2));
        joint.together(names);
        if (names.contains(metric)) {
            assertThat(joint.metric(metric).contrasts()).isEqualTo(inference.contrasts());
        }
    }

    /** The chosen candidate of each draw, scored on the rows of weight 0, written out row by row. */
    @Test
    void leftOutRowsAreThoseOfWeightZero() {
        MetricInference inference = inference(RESULTS, "accuracy", Method.PIVOT);
        int[] chosen = new int[inference.draws()];
        Arrays.setAll(chosen, b -> b % 3);
        AlignedPredictions panel = inference.panel();
        double sum = 0;
        for (int draw = 0; draw < chosen.length; draw++) {
            keenfold.core.data.RandomSource chance = new keenfold.core.data.Seed(panel.seed())
                    .with("draw")
                    .with(draw)
                    .chance();
            int[] times = new int[90];
            for (int i = 0; i < 90; i++) {
                times[chance.below(90)]++;
            }
            int[] left = Arrays.stream(times).map(t -> t == 0 ? 1 : 0).toArray();
            sum += mean(inference, panel.parts(chosen[draw]), left) / chosen.length;
        }
        assertThat(Arrays.stream(inference.leftOut(chosen)).average().orElseThrow())
                .isCloseTo(sum, within(1e-12));
    }
}

package keenfold.core.infer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.infer.contrast.Call;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.distribution.StudentT;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.LossVariance;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.infer.resample.Variance;
import keenfold.core.infer.resample.VarianceForm;
import keenfold.core.infer.resample.VarianceModel;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Trials;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.split.KFold;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class InferenceTest {
    private static final InferenceSettings FEW = InferenceSettings.DEFAULT.withDraws(999);
    private static final String[] METRICS = {"accuracy", "auc", "log-loss", "brier", "f1", "recall"};
    private static final List<Candidate> CANDIDATES = List.of(
            Trials.candidate("guess", "majority"),
            Trials.candidate("logit", "logistic"),
            Trials.candidate("near/1", "nearest", "neighbours=1"),
            Trials.candidate("near/9", "nearest", "neighbours=9"),
            Trials.candidate("twin", "logistic"));

    private static Results results(int rows, KFold splits, int groups) {
        DataSet data = Trials.data("d", 11, rows, 1.1, groups);
        return Trials.results(new Comparison(List.of(Trials.task(data, splits, METRICS)), CANDIDATES, 21));
    }

    private static Inference inference(Results results, InferenceSettings evidence, int threads) {
        return Inference.of(AlignedPredictions.of(results, 0), evidence, Parallel.of(threads));
    }

    private static final Results REPEATED = results(120, new KFold(5, 4, true), 0);

    @Test
    void threadsChangeNoBit() {
        for (String metric : METRICS) {
            assertThat(inference(REPEATED, FEW, 3).metric(metric).contrasts())
                    .isEqualTo(inference(REPEATED, FEW, 1).metric(metric).contrasts());
        }
    }

    @Test
    void differencesAreDifferencesOfMeansAndFlipWithTheirPair() {
        for (String name : METRICS) {
            MetricInference metric = inference(REPEATED, FEW, 2).metric(name);
            List<MeanScore> means = metric.means();
            for (Contrast c : metric.contrasts()) {
                assertThat(c.difference())
                        .isEqualTo(means.get(c.candidate()).mean()
                                - means.get(c.against()).mean());
                Contrast back = metric.contrast(c.against(), c.candidate()).orElseThrow();
                assertThat(back.difference()).isEqualTo(0 - c.difference());
                assertThat(back.low()).isEqualTo(0 - c.high());
                assertThat(back.call()).isEqualTo(c.call().flipped());
            }
        }
    }

    /** The case bootstrap's se of a mean over n rows has the closed form √((n − 1)/n)·s/√n before m/(m − 1). */
    @Test
    void caseVarianceOfAMeanHasItsClosedForm() {
        MetricInference metric =
                inference(REPEATED, InferenceSettings.DEFAULT, 2).metric("log-loss");
        AlignedPredictions panel = AlignedPredictions.of(REPEATED, 0);
        double[] loss = new double[panel.rows()];
        for (Outcomes part : panel.parts(1)) {
            for (int i = 0; i < part.size(); i++) {
                loss[part.row(i)] -= Math.log(part.probability(i, part.actual(i)))
                        / panel.parts(1).size();
            }
        }
        double expected = VarianceModel.sampleVariance(loss) / loss.length;
        double cases = metric.means().get(1).variance().orElseThrow().cases();
        // The relative error of a variance from B draws is about √(2/B); three times that.
        assertThat(cases / expected).isCloseTo(1, within(3 * Math.sqrt(2.0 / 5000)));
    }

    @Test
    void intervalAndPValueAgreeAboutZero() {
        for (String name : METRICS) {
            for (Contrast c : inference(REPEATED, FEW, 2).metric(name).contrasts()) {
                if (!c.note().isEmpty()) {
                    continue;
                }
                assertThat(Math.round(1000 * c.p()) < 50).isEqualTo(c.low() > 0 || c.high() < 0);
                assertThat(c.pAdjusted()).isGreaterThanOrEqualTo(c.p());
                assertThat(c.lowAll()).isLessThanOrEqualTo(c.low());
                assertThat(c.significant()).isEqualTo(Math.round(1000 * c.pAdjusted()) < 50);
            }
        }
    }

    @Test
    void identicalPredictionsAreEquivalentWithoutFurtherAdo() {
        Contrast c = inference(REPEATED, FEW, 2).metric("auc").contrast(1, 4).orElseThrow();
        assertThat(c.note()).isEqualTo(Contrast.IDENTICAL);
        assertThat(c.call()).isEqualTo(Call.EQUIVALENT);
        assertThat(List.of(c.difference(), c.standardError(), c.p(), c.pAdjusted()))
                .containsExactly(0.0, 0.0, 1.0, 1.0);
    }

    @Test
    void aMarginMakesSmallDifferencesEquivalentAndChangesNothingElse() {
        MetricInference plain = inference(REPEATED, FEW, 2).metric("auc");
        MetricInference wide = inference(REPEATED, FEW.withMargin(0.9), 2).metric("auc");
        for (int i = 0; i < plain.contrasts().size(); i++) {
            assertThat(wide.contrasts().get(i).call()).isEqualTo(Call.EQUIVALENT);
            assertThat(wide.contrasts().get(i).pAdjusted())
                    .isEqualTo(plain.contrasts().get(i).pAdjusted());
        }
    }

    @Test
    void aComparisonNamedBeforehandHasTheSmallerFamily() {
        InferenceSettings named = new InferenceSettings(999, 0.95, 0, Optional.of("guess"));
        MetricInference metric = inference(REPEATED, named, 2).metric("auc");
        assertThat(metric.contrasts()).hasSize(4).allMatch(c -> c.candidate() == 0);
        MetricInference all = inference(REPEATED, FEW, 2).metric("auc");
        assertThat(metric.contrast(1, 0).orElseThrow().p())
                .isEqualTo(all.contrast(1, 0).orElseThrow().p());
        assertThat(metric.contrast(1, 2)).isEmpty();
    }

    @Test
    void anUndefinedCandidateIsShownButNotCompared() {
        Results precision = Trials.results(new Comparison(
                List.of(Trials.task(Trials.data("d", 11, 120, 1.1, 0), new KFold(5, 4, true), "precision")),
                CANDIDATES,
                21));
        MetricInference metric = inference(precision, FEW, 2).metric("precision");
        assertThat(metric.compared()).doesNotContain(0).contains(1);
        assertThat(metric.means().get(0).mean()).isNaN();
        assertThat(metric.means().get(0).undefined()).isEqualTo(20);
    }

    /** One failed fit leaves a common split fewer; eleven in a hundred put a candidate out. */
    @Test
    void failedFitsNarrowTheCommonSplitsAndTooManyPutACandidateOut() {
        Results one = failing(REPEATED, 1, 1);
        AlignedPredictions panel = AlignedPredictions.of(one, 0);
        assertThat(panel.common()).isEqualTo(19);
        assertThat(panel.failedCount(1)).isEqualTo(1);
        assertThat(panel.failures(1)).containsEntry("broken", 1);
        assertThat(panel.fitsOf(0)).hasSize(19);
        AlignedPredictions many = AlignedPredictions.of(failing(REPEATED, 1, 3), 0);
        assertThat(many.common()).isEqualTo(20);
        assertThat(many.admitted()).containsExactly(0, 2, 3, 4);
        MeanScore out = Inference.of(many, FEW, Parallel.of(1))
                .metric("accuracy")
                .means()
                .get(1);
        assertThat(out.mean()).isBetween(0.5, 1.0);
        assertThat(out.variance()).isEmpty();
        assertThat(Inference.of(panel, FEW, Parallel.of(1)).metric("auc").contrasts())
                .hasSize(10);
    }

    private static Results failing(Results results, int candidate, int count) {
        List<Fit> fits = new ArrayList<>();
        int left = count;
        for (Fit fit : results.fits()) {
            boolean fail = fit.candidate() == candidate && left-- > 0;
            fits.add(
                    fail
                            ? new Fit(
                                    0,
                                    candidate,
                                    fit.repeat(),
                                    fit.fold(),
                                    fit.times(),
                                    Double.NaN,
                                    Optional.empty(),
                                    "broken")
                            : fit);
        }
        return new Results(results.tasks(), results.candidates(), fits, results.seed());
    }

    @Test
    void onePartitionIsInflated() {
        Results single = results(100, new KFold(5, 1, true), 0);
        MetricInference metric = inference(single, FEW, 2).metric("accuracy");
        assertThat(metric.form()).isEqualTo(VarianceForm.INFLATED);
        Variance v = metric.means().get(1).variance().orElseThrow();
        // Five folds, a quarter as many test as training rows.
        assertThat(v.total()).isCloseTo(v.cases() * (1 + 5 * 0.25), within(1e-15));
        assertThat(v.freedom()).isEqualTo(99);
        assertThat(v.cases()).isCloseTo(v.raw() * 100 / 99, within(1e-15));
    }

    @Test
    void withGroupsTheUnitsAreGroups() {
        Results grouped = results(120, new KFold(4, 3, true), 15);
        Variance v = inference(grouped, FEW, 2)
                .metric("auc")
                .means()
                .get(1)
                .variance()
                .orElseThrow();
        assertThat(v.freedom()).isEqualTo(14);
        assertThat(v.cases() / v.raw()).isCloseTo(15.0 / 14, within(1e-12));
    }

    /** A mean of 1 has no spread: for a share of rows Clopper and Pearson's interval, 1 − 0.025^(1/n) from the top. */
    @Test
    void aPerfectScoreHasAnIntervalOfItsOwn() {
        Results perfect = Trials.results(new Comparison(
                List.of(Trials.task(Trials.data("d", 11, 60, 40, 0), new KFold(5, 2, true), "accuracy", "auc")),
                List.of(Trials.candidate("tree", "tree"), Trials.candidate("guess", "majority")),
                1));
        MeanScore accuracy =
                inference(perfect, FEW, 1).metric("accuracy").means().get(0);
        assertThat(accuracy.mean()).isEqualTo(1);
        assertThat(accuracy.interval()).isEqualTo(MeanScore.Interval.CLOPPER_PEARSON);
        assertThat(accuracy.high()).isEqualTo(1);
        assertThat(accuracy.low()).isCloseTo(Math.pow(0.025, 1.0 / 60), within(1e-9));
        MeanScore auc = inference(perfect, FEW, 1).metric("auc").means().get(0);
        // Some 40 % of 60 rows are of the smaller class: had one been out of order in truth more often than 1 −
        // 0.05^(1/s),
        // seeing none would have had less than a chance of 5 %.
        int rare =
                Arrays.stream(perfect.tasks().get(0).data().classCounts()).min().orElseThrow();
        assertThat(auc.interval()).isEqualTo(MeanScore.Interval.LIMIT);
        assertThat(auc.low()).isCloseTo(Math.pow(0.05, 1.0 / rare), within(1e-12));
        assertThat(auc.high()).isEqualTo(1);
        MeanScore guess = inference(perfect, FEW, 1).metric("auc").means().get(1);
        assertThat(guess.mean()).isEqualTo(0.5);
        assertThat(guess.interval()).isEqualTo(MeanScore.Interval.NONE);
    }

    /** No draw moves the difference of a perfect candidate and a guess: t = s/2, s rows of the smaller class. */
    @ParameterizedTest
    @CsvSource({"60, 0", "14, 0", "80, 10"})
    void aPerfectCandidateIsTestedByTheSmallestClass(int rows, int groups) {
        Results perfect = Trials.results(new Comparison(
                List.of(Trials.task(Trials.data("d", 11, rows, 40, groups), new KFold(2, 3, true), "auc")),
                List.of(Trials.candidate("logit", "logistic"), Trials.candidate("guess", "majority")),
                1));
        MetricInference auc =
                inference(perfect, InferenceSettings.DEFAULT.withDraws(4000), 1).metric("auc");
        DataSet data = perfect.tasks().get(0).data();
        Set<List<Integer>> units = new HashSet<>();
        int[] counts = new int[2];
        for (int i = 0; i < rows; i++) {
            int row = i;
            int unit = data.groups().map(g -> g.code(row)).orElse(i);
            counts[data.target(i)] += units.add(List.of(data.target(i), unit)) ? 1 : 0;
        }
        double s = Math.min(counts[0], counts[1]);
        Contrast c = auc.contrasts().get(0);
        assertThat(c.difference()).isEqualTo(0.5);
        assertThat(c.standardError()).isCloseTo(1 / s, within(1e-12));
        assertThat(c.variance().freedom()).isEqualTo(s - 1);
        double p = StudentT.twoSided(s / 2, s - 1);
        assertThat(c.p()).isCloseTo(p, within(4 * Math.sqrt(p * (1 - p) / 4000) + 1.0 / 4001));
        assertThat(c.call()).isEqualTo(p < 0.05 ? Call.BETTER : Call.UNDECIDED);
        assertThat(c.low() > 0).isEqualTo(c.p() < 0.05);
        assertThat(c.note()).isEqualTo(Contrast.NO_SPREAD);
    }

    @Test
    void lossCovarianceAgreesWithItsDefinition() {
        AlignedPredictions panel = AlignedPredictions.of(REPEATED, 0);
        List<Outcomes> parts = panel.parts(2);
        int n = panel.rows();
        int repeats = parts.size();
        double[][] loss = new double[repeats][n];
        int[][] fold = new int[repeats][n];
        for (int r = 0; r < repeats; r++) {
            Outcomes o = parts.get(r);
            for (int i = 0; i < n; i++) {
                double off = o.probability(i, 1) - o.actual(i);
                loss[r][o.row(i)] = off * off;
                fold[r][o.row(i)] = o.fold(i);
            }
        }
        double[] b = IntStream.range(0, n)
                .mapToDouble(i ->
                        Arrays.stream(loss).mapToDouble(l -> l[i]).average().orElseThrow())
                .toArray();
        double grand = Arrays.stream(b).average().orElseThrow();
        double x = 0;
        for (int r = 0; r < repeats; r++) {
            for (int f = 0; f < 5; f++) {
                double d = 0;
                double e = 0;
                double m = 0;
                for (int i = 0; i < n; i++) {
                    if (fold[r][i] == f) {
                        d += b[i] - grand;
                        e += (loss[r][i] - b[i]) * Math.sqrt(repeats / (repeats - 1.0));
                        m++;
                    }
                }
                x += -2 * m / (m - 1) * (d / m) * (e / m) / (5 * repeats);
            }
        }
        LossVariance widening = LossVariance.of(panel.task().metrics().get(3), parts, n, 2);
        assertThat(widening.between()).isCloseTo(x, within(1e-14));
        double w = 0;
        for (int c = 0; c < 2; c++) {
            int wanted = c;
            double[] own = IntStream.range(0, n)
                    .filter(i -> panel.task().data().target(i) == wanted)
                    .mapToDouble(i -> b[i])
                    .toArray();
            w += VarianceModel.sampleVariance(own) * (own.length - 1) / (n * (n - 1.0));
        }
        assertThat(widening.within()).isCloseTo(w, within(1e-14));
    }

    @Test
    void evidenceIsChecked() {
        assertThatThrownBy(() -> FEW.withDraws(50)).hasMessageContaining("draws = 50");
        assertThatThrownBy(() -> FEW.withLevel(95))
                .hasMessage("level = 95: expected a share between 0 and 1, such as 0.95");
        assertThatThrownBy(() -> FEW.withLevel(0.9999)).hasMessageContaining("too few for a level of 0.9999");
        assertThatThrownBy(() -> FEW.withMargin(-1)).hasMessageContaining("margin = -1");
        assertThatThrownBy(() -> inference(REPEATED, FEW, 1).metric("kappa"))
                .hasMessageContaining("is not among those");
    }
}

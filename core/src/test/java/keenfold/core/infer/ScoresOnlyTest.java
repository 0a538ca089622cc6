package keenfold.core.infer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.infer.contrast.Call;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.Method;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.pick.Picker;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Rule;
import keenfold.core.pick.Simplicity;
import keenfold.core.run.Parallel;
import keenfold.core.run.Trials;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Rescored;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.Splits;
import org.apache.commons.statistics.distribution.TDistribution;
import org.junit.jupiter.api.Test;

/** Results of which only fold scores are known. */
class ScoresOnlyTest {
    private static final List<Candidate> CANDIDATES = List.of(
            Trials.candidate("a", "majority"), Trials.candidate("b", "majority"), Trials.candidate("c", "majority"));

    /** Folds of two nameless rows each, the scores drawn about a mean of the candidate's own; c is b once more. */
    private static Results results(int repeats, int folds) {
        int[] of = new int[2 * folds];
        Arrays.setAll(of, i -> i / 2);
        int[][] foldOf = new int[repeats][];
        Arrays.fill(foldOf, of);
        int[] target = new int[of.length];
        Arrays.setAll(target, i -> i % 2);
        DataSet data = DataSet.of("d", new Table(of.length, List.of()), new Classes(List.of("0", "1"), 1), target);
        Task task =
                Task.of(data, Splits.elsewhere(foldOf), List.of(MetricName.parse("auc"), MetricName.parse("log-loss")));
        List<Fit> fits = new ArrayList<>();
        RandomSource chance = new Seed(3).chance();
        for (int r = 0; r < repeats; r++) {
            for (int f = 0; f < folds; f++) {
                double a = 0.7 + 0.05 * chance.normal();
                double b = 0.8 + 0.05 * chance.normal();
                for (int c = 0; c < 3; c++) {
                    Outcomes none = Outcomes.of(2, f, new int[0], new int[0], new double[0]);
                    double score = c == 0 ? a : b;
                    fits.add(new Fit(
                            0,
                            c,
                            r,
                            f,
                            new Fit.Times(0, 0, 0, 0),
                            Double.NaN,
                            Optional.of(new Fit.Result(none, new double[] {score, 1 - score})),
                            ""));
                }
            }
        }
        return new Results(List.of(task), CANDIDATES, fits, 1, List.of(), Results.Kept.SCORES);
    }

    private static Inference inference(Results results) {
        return Inference.of(AlignedPredictions.of(results, 0), InferenceSettings.DEFAULT, Parallel.of(1));
    }

    @Test
    void contrastsAreCorrectedTOnTheFolds() {
        Results results = results(3, 4);
        MetricInference auc = inference(results).metric("auc");
        double[] d = new double[12];
        for (Fit f : results.fits()) {
            double score = f.result().orElseThrow().score(0);
            d[f.repeat() * 4 + f.fold()] += f.candidate() == 0 ? score : f.candidate() == 1 ? -score : 0;
        }
        double mean = Arrays.stream(d).average().orElseThrow();
        double variance = Arrays.stream(d).map(v -> (v - mean) * (v - mean)).sum() / 11;
        Contrast c = auc.contrast(0, 1).orElseThrow();
        assertThat(c.difference()).isCloseTo(mean, within(1e-12));
        // Four folds: a test row for three training rows.
        assertThat(c.standardError()).isCloseTo(Math.sqrt((1 / 12.0 + 1 / 3.0) * variance), within(1e-12));
        assertThat(c.p())
                .isCloseTo(
                        2 * TDistribution.of(11).survivalProbability(Math.abs(mean) / c.standardError()),
                        within(1e-10));
        assertThat(auc.contrast(1, 2).orElseThrow().call())
                .as("the same scores throughout")
                .isEqualTo(Call.EQUIVALENT);
        assertThat(auc.method()).isEqualTo(Method.CORRECTED_T);
        assertThat(auc.draws()).isZero();
        assertThat(auc.dropped()).isZero();
    }

    @Test
    void meansHaveTheSpreadOfTheirFolds() {
        Results results = results(3, 4);
        MeanScore mean = inference(results).metric("log-loss").means().get(0);
        double[] own = results.fits().stream()
                .filter(f -> f.candidate() == 0)
                .mapToDouble(f -> f.result().orElseThrow().score(1))
                .toArray();
        assertThat(mean.mean()).isCloseTo(Arrays.stream(own).average().orElseThrow(), within(1e-15));
        assertThat(mean.standardError()).isCloseTo(Math.sqrt(1 / 12.0 + 1 / 3.0) * Spread.sd(own), within(1e-12));
        assertThat(mean.interval()).isEqualTo(MeanScore.Interval.FOLDS);
        double reach = TDistribution.of(11).inverseCumulativeProbability(0.975) * mean.standardError();
        assertThat(mean.high() - mean.mean()).isCloseTo(reach, within(1e-7));
    }

    @Test
    void fewFoldsAreShownAndNotTested() {
        MetricInference auc = inference(results(1, 3)).metric("auc");
        assertThat(auc.means().get(0).variance()).isEmpty();
        assertThat(auc.calls()).isFalse();
        assertThat(auc.contrasts()).hasSize(3);
        Contrast c = auc.contrast(0, 1).orElseThrow();
        assertThat(c.call()).isEqualTo(Call.NONE);
        assertThat(c.note()).isEqualTo("not tested");
        assertThat(c.low()).isNaN();
    }

    @Test
    void picksWorkWithoutDrawsAndSizes() {
        MetricInference auc = inference(results(3, 4)).metric("auc");
        Simplicity simplicity = Simplicity.of(auc.panel());
        Picks picks = Picker.pick(auc, simplicity, Rule.ONE_SE).orElseThrow();
        assertThat(picks.best()).isEqualTo(1);
        assertThat(picks.frequency()).isEmpty();
        assertThat(Picker.corrected(auc, simplicity, Rule.ONE_SE).value()).isNaN();
        Simplicity stated = Simplicity.ranked(auc.panel(), List.of("a", "b"));
        assertThat(Picker.pick(auc, stated, Rule.parse("m-se=1000"))
                        .orElseThrow()
                        .pick())
                .isZero();
    }

    @Test
    void whatNeedsPredictionsIsRefused() {
        Results results = results(3, 4);
        AlignedPredictions panel = AlignedPredictions.of(results, 0);
        assertThatThrownBy(() -> Inference.of(
                                panel,
                                InferenceSettings.DEFAULT.withMethod(Method.CASES, Optional.empty()),
                                Parallel.of(1))
                        .metric("auc")
                        .contrasts())
                .hasMessageContaining("method cases needs predictions, and only scores were adopted here");
        assertThatThrownBy(() -> inference(results).metric("auc").running(0)).hasMessageContaining("needs predictions");
        assertThatThrownBy(() -> Rescored.of(results, List.of(MetricName.parse("accuracy"))))
                .hasMessageContaining("accuracy needs predictions");
        Results again = Rescored.of(results, List.of(MetricName.parse("log-loss"), MetricName.parse("auc")));
        assertThat(again.fits().get(0).result().orElseThrow().score(1))
                .isEqualTo(results.fits().get(0).result().orElseThrow().score(0));
    }
}

package keenfold.core.infer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.infer.contrast.Call;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.infer.resample.RunningMean;
import keenfold.core.infer.resample.Variance;
import keenfold.core.infer.resample.VarianceForm;
import keenfold.core.infer.resample.VarianceModel;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.Parallel;
import keenfold.core.run.Trials;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.core.split.LeaveOneOut;
import keenfold.core.split.MonteCarlo;
import keenfold.core.split.OutOfBag;
import keenfold.core.split.RollingOrigin;
import keenfold.core.split.Scheme;
import keenfold.core.split.Splits;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The forms of the variance, one for each way of splitting, on predictions that are made up instead of learned. */
class FormsTest {
    private static DataSet data(String name, int[] target) {
        return DataSet.of(name, new Table(target.length, List.of()), new Classes(List.of("a", "b"), 0), target);
    }

    private static int[] coins(RandomSource chance, int n) {
        return IntStream.range(0, n).map(i -> chance.below(2)).toArray();
    }

    /** Results of predictors whose probability of class a is given by row. */
    private static Results results(DataSet data, Splits splits, String metric, double[]... p) {
        Task task = Task.of(data, splits, List.of(keenfold.core.metric.catalog.MetricName.parse(metric)));
        List<Candidate> candidates = IntStream.range(0, p.length)
                .mapToObj(c -> Trials.candidate("c" + c, "majority"))
                .toList();
        List<Fit> fits = new java.util.ArrayList<>();
        for (int c = 0; c < p.length; c++) {
            for (int r = 0; r < splits.repeats(); r++) {
                for (int f = 0; f < splits.folds(r); f++) {
                    int[] rows = splits.at(r, f).test().toArray();
                    double[] own = new double[2 * rows.length];
                    for (int i = 0; i < rows.length; i++) {
                        own[2 * i] = p[c][rows[i]];
                        own[2 * i + 1] = 1 - own[2 * i];
                    }
                    Outcomes o = Outcomes.of(2, f, rows, data.targets(rows), own);
                    double[] scores =
                            task.metrics().stream().mapToDouble(m -> m.score(o)).toArray();
                    Optional<Fit.Result> result = Optional.of(new Fit.Result(o, scores));
                    fits.add(new Fit(0, c, r, f, new Fit.Times(0, 0, 0, 0), 1, result, ""));
                }
            }
        }
        return new Results(List.of(task), candidates, fits, 7);
    }

    /** Probabilities that lean to the right class by {@code shift} normal standard deviations. */
    private static double[] fixed(RandomSource chance, int[] target, double shift) {
        return Arrays.stream(target)
                .mapToDouble(y -> 1 / (1 + Math.exp(-(chance.normal() + (y == 0 ? shift : -shift)))))
                .toArray();
    }

    private static MetricInference inference(Results results, int draws) {
        AlignedPredictions panel = AlignedPredictions.of(results, 0);
        return Inference.of(panel, InferenceSettings.DEFAULT.withDraws(draws), Parallel.of(2))
                .metric(panel.task().metrics().get(0).name());
    }

    /**
     * The mean over data sets of the standard error of a fixed predictor's accuracy, against the true one,
     * √(π(1 − π)/n): nothing depends on training rows, so that the case variance with nothing widened, and (1/J + ρ)·S²,
     * must both find it.
     */
    @ParameterizedTest
    @ValueSource(strings = {"widened", "monte-carlo", "out-of-bag", "cases"})
    void standardErrorsOfAFixedPredictorAreTrue(String form) {
        Scheme scheme =
                switch (form) {
                    case "monte-carlo" -> new MonteCarlo(0.2, 60, false);
                    case "out-of-bag" -> new OutOfBag(60, false);
                    default -> new KFold(5, 3, true);
                };
        int n = 150;
        double sum = 0;
        double share = 0;
        int sets = 120;
        for (int set = 0; set < sets; set++) {
            RandomSource chance = new Seed(set).with(form).chance();
            int[] y = coins(chance, n);
            DataSet data = data("d" + set, y);
            Splits splits = scheme.divide(data, set);
            Splits used = form.equals("cases") ? first(splits) : splits;
            MetricInference inference = inference(results(data, used, "accuracy", fixed(chance, y, 0.5)), 200);
            assertThat(inference.form().label())
                    .isEqualTo(form.equals("widened") || form.equals("cases") ? form : "resampled");
            sum += inference.means().get(0).standardError() / sets;
            share += inference.means().get(0).mean() / sets;
        }
        double tested = form.equals("cases") ? n / 5.0 : n;
        assertThat(sum / Math.sqrt(share * (1 - share) / tested)).isBetween(0.85, 1.15);
    }

    private static Splits first(Splits splits) {
        return Splits.sides(Splits.Form.SINGLE, new int[] {1}, new int[][] {splits.countsOf(0, 0)});
    }

    @Test
    void leaveOneOutIsInflatedByTestRowsPerTrainingRow() {
        RandomSource chance = new Seed(2).chance();
        int[] y = coins(chance, 60);
        DataSet data = data("loo", y);
        double[] p = fixed(chance, y, 0.5);
        MetricInference alone = inference(results(data, new LeaveOneOut().divide(data, 1), "accuracy", p), 300);
        MetricInference repeated = inference(results(data, new KFold(5, 3, true).divide(data, 1), "accuracy", p), 300);
        double widened = repeated.means().get(0).variance().orElseThrow().cases();
        assertThat(alone.form()).isEqualTo(VarianceForm.INFLATED);
        assertThat(alone.means().get(0).variance().orElseThrow().total())
                .isCloseTo(widened * (1 + 60 * (1 / 59.0)), within(1e-12));
    }

    @Test
    void splitsInTimeCallNothing() {
        int n = 200;
        int[] y = IntStream.range(0, n).map(i -> i % 2).toArray();
        DataSet data = data("time", y)
                .withOrder(
                        Numbers.of("day", IntStream.range(0, n).asDoubleStream().toArray()));
        RandomSource chance = new Seed(1).chance();
        double[] good = fixed(chance, y, 2);
        double[] bad = fixed(chance, y, 0);
        MetricInference time =
                inference(results(data, RollingOrigin.DEFAULT.divide(data, 1), "accuracy", good, bad), 400);
        Contrast c = time.contrasts().get(0);
        assertThat(c.difference()).isGreaterThan(0.3);
        assertThat(c.p()).isLessThan(0.05);
        assertThat(c.call()).isEqualTo(Call.NONE);
        assertThat(c.significant()).isFalse();
        assertThat(time.notices()).anyMatch(s -> s.code().equals("splits-in-time"));
        Splits one = first(new KFold(5, 1, true).divide(data, 1));
        MetricInference single = inference(results(data, one, "accuracy", good, bad), 400);
        assertThat(single.notices()).anyMatch(s -> s.code().equals("single-split"));
        assertThat(single.contrasts().get(0).call()).isEqualTo(Call.BETTER);
    }

    /** Test sides of a few rows lack a class in most draws: the splits that have both must serve. */
    @Test
    void drawsOfSmallTestSidesLeaveOutOnlyTheSplitsThatAreUndefined() {
        int[] y = IntStream.range(0, 60).map(i -> i < 15 ? 0 : 1).toArray();
        DataSet data = data("small", y);
        RandomSource chance = new Seed(5).chance();
        Splits splits = new MonteCarlo(0.2, 40, true).divide(data, 1);
        MetricInference auc = inference(results(data, splits, "auc", fixed(chance, y, 1), fixed(chance, y, 0)), 300);
        assertThat(auc.compared()).containsExactly(0, 1);
        assertThat(auc.dropped()).isZero();
        double[] scores =
                auc.panel().parts(0).stream().mapToDouble(auc.metric()::score).toArray();
        double mean = Arrays.stream(scores).average().orElseThrow();
        double s2 = Arrays.stream(scores).map(s -> (s - mean) * (s - mean)).sum() / 39;
        MeanScore first = auc.means().get(0);
        assertThat(first.mean()).isCloseTo(mean, within(1e-12));
        assertThat(first.standardError()).isCloseTo(Math.sqrt((1 / 40.0 + 12 / 48.0) * s2), within(1e-12));
        assertThat(first.variance().orElseThrow().freedom()).isEqualTo(39);
    }

    @Test
    void runningMeansAreThoseOfFewerRepeats() {
        RandomSource chance = new Seed(4).chance();
        int[] y = coins(chance, 80);
        DataSet data = data("r", y);
        double[] p = fixed(chance, y, 0.5);
        MetricInference six = inference(results(data, new KFold(4, 6, true).divide(data, 1), "auc", p), 300);
        List<RunningMean> running = six.running(0);
        assertThat(running).hasSize(6);
        assertThat(running.get(0).between()).isNaN();
        double[] scores = running.stream().mapToDouble(RunningMean::score).toArray();
        Variance whole = six.means().get(0).variance().orElseThrow();
        double repeats = VarianceModel.sampleVariance(scores);
        for (int r : new int[] {1, 2, 6}) {
            MetricInference fewer = inference(results(data, new KFold(4, r, true).divide(data, 1), "auc", p), 300);
            MeanScore mean = fewer.means().get(0);
            assertThat(running.get(r - 1).mean()).isCloseTo(mean.mean(), within(1e-12));
            // One form for all: what the repeats say of each other is said by all six, already of the first.
            double cases = mean.variance().orElseThrow().cases();
            double v = cases + Math.max(whole.lambda() * cases, (4 - 1) / 3.0 * repeats);
            assertThat(running.get(r - 1).standardError()).isCloseTo(Math.sqrt(v), within(1e-12));
        }
        assertThat(running.get(5).standardError()).isEqualTo(whole.standardError());
    }

    /** Splits that lack a class in a draw, or in most, leave the running standard error of split scores as it is. */
    @Test
    void runningMeansOfSmallSplitsHaveTheirStandardErrors() {
        int[] y = IntStream.range(0, 60).map(i -> i < 15 ? 0 : 1).toArray();
        DataSet data = data("small", y);
        double[] p = fixed(new Seed(5).chance(), y, 1);
        MetricInference auc = inference(results(data, new MonteCarlo(0.2, 30, true).divide(data, 1), "auc", p), 300);
        List<RunningMean> running = auc.running(0);
        assertThat(running).hasSize(30);
        double mean = running.stream().mapToDouble(RunningMean::score).average().orElseThrow();
        double s2 = running.stream()
                        .mapToDouble(r -> (r.score() - mean) * (r.score() - mean))
                        .sum()
                / 29;
        assertThat(running.get(4).standardError()).isCloseTo(Math.sqrt((1 / 5.0 + 12 / 48.0) * s2), within(1e-12));
        assertThat(running.get(29).standardError()).isCloseTo(auc.means().get(0).standardError(), within(1e-12));
    }
}

package keenfold.core.infer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.infer.contrast.Call;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.infer.resample.Variance;
import keenfold.core.infer.resample.VarianceModel;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.Parallel;
import keenfold.core.run.Trials;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Laws of the inference, on predictions that are made up instead of learned. */
class LawsTest {
    private static final List<String> LABELS = List.of("a", "b", "c");

    /** Makes the probability of each class of a row, for one candidate in one repeat. */
    private interface FittedPipeline {
        double[] of(int row, int actual, int repeat, RandomSource chance);
    }

    private static DataSet data(String name, int[] target, int classes, Optional<Categories> groups) {
        return DataSet.of(
                name,
                new Table(target.length, List.of()),
                new Classes(LABELS.subList(0, classes), 0),
                target,
                groups,
                IntStream.rangeClosed(1, target.length).toArray());
    }

    private static Results results(
            DataSet data, KFold scheme, long seed, List<FittedPipeline> predictors, String... metrics) {
        Task task = Trials.task(data, scheme, metrics);
        List<Candidate> candidates = new ArrayList<>();
        List<Fit> fits = new ArrayList<>();
        int k = data.classes().count();
        for (int c = 0; c < predictors.size(); c++) {
            candidates.add(Trials.candidate("c" + c, "majority"));
            RandomSource chance = new Seed(seed).with(c).chance();
            for (int r = 0; r < scheme.repeats(); r++) {
                for (int f = 0; f < scheme.folds(); f++) {
                    int[] rows = task.splits().at(r, f).test().toArray();
                    double[] p = new double[rows.length * k];
                    for (int i = 0; i < rows.length; i++) {
                        double[] own = predictors.get(c).of(rows[i], data.target(rows[i]), r, chance);
                        System.arraycopy(own, 0, p, i * k, k);
                    }
                    Outcomes o = Outcomes.of(k, f, rows, data.targets(rows), p);
                    double[] scores =
                            task.metrics().stream().mapToDouble(m -> m.score(o)).toArray();
                    fits.add(new Fit(
                            0, c, r, f, new Fit.Times(0, 0, 0, 0), 1, Optional.of(new Fit.Result(o, scores)), ""));
                }
            }
        }
        return new Results(List.of(task), candidates, fits, seed);
    }

    private static MetricInference inference(Results results, int draws, String metric) {
        return Inference.of(
                        AlignedPredictions.of(results, 0), InferenceSettings.DEFAULT.withDraws(draws), Parallel.of(2))
                .metric(metric);
    }

    /** Fixed noisy scores: the same in each repeat, so that nothing is widened and V_case must do alone. */
    private static FittedPipeline fixed(double[] noise, double shift) {
        return (row, actual, repeat, chance) -> {
            double p = 1 / (1 + Math.exp(-(noise[row] + (actual == 0 ? shift : 0))));
            return new double[] {p, 1 - p};
        };
    }

    private static double[] noise(RandomSource chance, int n) {
        return IntStream.range(0, n).mapToDouble(i -> chance.normal()).toArray();
    }

    /**
     * Under no difference p is uniform: of 300 data sets about 5 % have p below 0.05 and half below 0.5. Four binomial
     * standard deviations either way: 15 ± 15 and 150 ± 35.
     */
    @ParameterizedTest
    @ValueSource(strings = {"accuracy", "auc", "brier"})
    void pIsUniformWhereThereIsNoDifference(String metric) {
        int below = 0;
        int half = 0;
        for (int set = 0; set < 300; set++) {
            RandomSource chance = new Seed(set).with(metric).chance();
            int[] y = IntStream.range(0, 90)
                    .map(i -> chance.below(3) == 0 ? 0 : 1)
                    .toArray();
            DataSet data = data("d" + set, y, 2, Optional.empty());
            Results results = results(
                    data,
                    new KFold(3, 2, true),
                    set,
                    List.of(fixed(noise(chance, 90), 1), fixed(noise(chance, 90), 1)),
                    metric);
            double p = inference(results, 199, metric).contrasts().get(0).p();
            below += p < 0.05 ? 1 : 0;
            half += p < 0.5 ? 1 : 0;
        }
        assertThat(below).isBetween(3, 30);
        assertThat(half).isBetween(115, 185);
    }

    /** Six equal candidates: in about 5 % of data sets one pair or more is called; without max-T it would be 30 %. */
    @Test
    void theFamilyKeepsItsErrorRate() {
        int called = 0;
        for (int set = 0; set < 150; set++) {
            RandomSource chance = new Seed(set).with("family").chance();
            int[] y = IntStream.range(0, 80).map(i -> i % 2).toArray();
            List<FittedPipeline> six = IntStream.range(0, 6)
                    .mapToObj(c -> fixed(noise(chance, 80), 0.8))
                    .toList();
            Results results =
                    results(data("d" + set, y, 2, Optional.empty()), new KFold(4, 2, true), set, six, "accuracy");
            called += inference(results, 299, "accuracy").contrasts().stream().anyMatch(Contrast::significant) ? 1 : 0;
        }
        // 7.5 expected; four standard deviations are 10.7.
        assertThat(called).isLessThanOrEqualTo(18);
    }

    /** An interval of a mean holds the true value in about 95 % of data sets: here the accuracy of a fixed rule is 0.7. */
    @Test
    void intervalsCoverTheTrueMean() {
        int covered = 0;
        for (int set = 0; set < 200; set++) {
            RandomSource chance = new Seed(set).with("cover").chance();
            int n = 100;
            int[] y = IntStream.range(0, n).map(i -> i % 2).toArray();
            boolean[] right = new boolean[n];
            for (int i = 0; i < n; i++) {
                right[i] = chance.uniform() < 0.7;
            }
            FittedPipeline rule = (row, actual, repeat, c) -> {
                double own = right[row] ? 0.8 : 0.2;
                return actual == 0 ? new double[] {own, 1 - own} : new double[] {1 - own, own};
            };
            Results results = results(
                    data("d" + set, y, 2, Optional.empty()),
                    new KFold(5, 2, true),
                    set,
                    List.of(rule, rule),
                    "accuracy");
            MeanScore mean = inference(results, 399, "accuracy").means().get(0);
            covered += mean.low() <= 0.7 && 0.7 <= mean.high() ? 1 : 0;
        }
        // 190 expected; four standard deviations are 12.
        assertThat(covered).isBetween(178, 200);
    }

    /** Three classes: se and ν from plain recomputation, each row left out in turn. */
    @ParameterizedTest
    @CsvSource({"auc", "balanced-accuracy", "f1:class=b"})
    void threeClassesAgreeWithPlainRecomputation(String name) {
        RandomSource chance = new Seed(31).chance();
        int n = 75;
        int[] y = IntStream.range(0, n).map(i -> i % 3).toArray();
        double[][] own = {noise(chance, n), noise(chance, n)};
        List<FittedPipeline> two = new ArrayList<>();
        for (double[] noise : own) {
            two.add((row, actual, repeat, c) -> {
                double[] score = new double[3];
                double sum = 0;
                for (int k = 0; k < 3; k++) {
                    score[k] = Math.exp(noise[(row + 7 * k) % n] + (k == actual ? 1 : 0) + 0.7 * c.normal());
                    sum += score[k];
                }
                return new double[] {score[0] / sum, score[1] / sum, score[2] / sum};
            });
        }
        Results results = results(data("three", y, 3, Optional.empty()), new KFold(5, 3, true), 4, two, name);
        MetricInference inference = inference(results, 299, name);
        Contrast contrast = inference.contrasts().get(0);
        AlignedPredictions panel = AlignedPredictions.of(results, 0);
        Metric metric = panel.task().metrics().get(0);
        double[] without = new double[n];
        for (int i = 0; i < n; i++) {
            without[i] = leavingOut(metric, panel.parts(0), i) - leavingOut(metric, panel.parts(1), i);
        }
        double mean = VarianceModel.mean(without);
        double[] v = new double[3];
        for (int i = 0; i < n; i++) {
            v[y[i]] += (without[i] - mean) * (without[i] - mean);
        }
        double sum = v[0] + v[1] + v[2];
        double freedom = sum * sum / ((v[0] * v[0] + v[1] * v[1] + v[2] * v[2]) / 24);
        assertThat(contrast.variance().casesFreedom()).isCloseTo(freedom, within(1e-6 * freedom));
        double lambda = contrast.variance().lambda();
        assertThat(lambda).isPositive();
        assertThat(contrast.variance().total()).isCloseTo(contrast.variance().cases() * (1 + lambda), within(1e-15));
        double[] perRepeat = panel.parts(0).stream().mapToDouble(metric::score).toArray();
        Variance single = inference.means().get(0).variance().orElseThrow();
        assertThat(single.total())
                .isCloseTo(
                        single.cases()
                                + Math.max(
                                        single.lambda() * single.cases(),
                                        4 / 3.0 * VarianceModel.sampleVariance(perRepeat)),
                        within(1e-15));
    }

    private static double leavingOut(Metric metric, List<Outcomes> parts, int row) {
        double sum = 0;
        for (Outcomes part : parts) {
            List<Outcomes> others = new ArrayList<>();
            for (int i = 0; i < part.size(); i++) {
                if (part.row(i) != row) {
                    double[] p = {part.probability(i, 0), part.probability(i, 1), part.probability(i, 2)};
                    others.add(Outcomes.of(3, part.fold(i), new int[] {0}, new int[] {part.actual(i)}, p));
                }
            }
            sum += metric.score(Outcomes.join(others));
        }
        return sum / parts.size();
    }

    /** With 2 rows of a class, more than one draw in eight has none of them: rows are then drawn within classes, and it is said. */
    @Test
    void drawsThatWouldLoseAClassAreDrawnWithinClasses() {
        RandomSource chance = new Seed(8).chance();
        int[] y = IntStream.range(0, 60).map(i -> i < 2 ? 0 : 1).toArray();
        List<FittedPipeline> two = List.of(fixed(noise(chance, 60), 1), fixed(noise(chance, 60), 1));
        KFold scheme = new KFold(2, 2, true);
        MetricInference rare =
                inference(results(data("rare", y, 2, Optional.empty()), scheme, 1, two, "auc"), 400, "auc");
        assertThat(rare.dropped()).isZero();
        assertThat(rare.notices())
                .anyMatch(n -> n.code().equals("drawn-within-classes"))
                .anyMatch(n -> n.text().contains("fewer than 20 rows"));
        // With groups nothing but whole groups can be drawn: such draws are dropped and counted.
        String[] group = IntStream.range(0, 60).mapToObj(i -> "g" + i / 2).toArray(String[]::new);
        MetricInference grouped = inference(
                results(
                        data("rare", y, 2, Optional.of(Categories.of("g", group))),
                        new KFold(2, 2, true),
                        1,
                        two,
                        "auc"),
                400,
                "auc");
        assertThat(grouped.compared().isEmpty() || grouped.dropped() > 0).isTrue();
    }

    /** A class of fewer than 20 rows: V = V_case + max(λ·V_case, (k − 1)/3·V_rep), the classes' parts raised for auc. */
    @Test
    void smallClassesHaveAVarianceOfTheirOwn() {
        RandomSource chance = new Seed(9).chance();
        int[] y = IntStream.range(0, 80).map(i -> i < 12 ? 0 : 1).toArray();
        double[] noise = noise(chance, 80);
        FittedPipeline shaky = (row, actual, repeat, c) -> {
            double p = 1 / (1 + Math.exp(-(noise[row] + (actual == 0 ? 1 : 0) + c.normal())));
            return new double[] {p, 1 - p};
        };
        Results results = results(
                data("small", y, 2, Optional.empty()),
                new KFold(4, 3, true),
                2,
                List.of(shaky, fixed(noise(chance, 80), 1)),
                "f1",
                "auc");
        for (String name : List.of("f1", "auc")) {
            MetricInference inference = inference(results, 300, name);
            Variance v = inference.contrasts().get(0).variance();
            List<Outcomes> a = AlignedPredictions.of(results, 0).parts(0);
            List<Outcomes> b = AlignedPredictions.of(results, 0).parts(1);
            double[] perRepeat = IntStream.range(0, 3)
                    .mapToDouble(r -> inference.metric().score(a.get(r))
                            - inference.metric().score(b.get(r)))
                    .toArray();
            assertThat(v.total())
                    .isCloseTo(
                            v.cases() + Math.max(v.lambda() * v.cases(), VarianceModel.sampleVariance(perRepeat)),
                            within(1e-15));
            double plain = v.raw() * 80 / 79;
            assertThat(v.cases() / plain)
                    .isBetween(name.equals("auc") ? 1.01 : 1 - 1e-12, name.equals("auc") ? 12 / 11.0 : 1 + 1e-12);
        }
    }

    /** A guess of equal shares has one log-loss for all rows; sums of it in other orders differ in their last bit. */
    @Test
    void roundingIsNotTakenForSpread() {
        int[] y = IntStream.range(0, 78).map(i -> i % 3).toArray();
        FittedPipeline guess = (row, actual, repeat, c) -> new double[] {1 / 3.0, 1 / 3.0, 1 - 1 / 3.0 - 1 / 3.0};
        RandomSource chance = new Seed(12).chance();
        FittedPipeline other = (row, actual, repeat, c) -> {
            double p = 0.2 + 0.5 * chance.uniform();
            return new double[] {p, (1 - p) / 2, 1 - p - (1 - p) / 2};
        };
        Results results = results(
                data("even", y, 3, Optional.empty()),
                new KFold(3, 2, true),
                2,
                List.of(guess, other),
                "log-loss",
                "auc");
        for (String metric : List.of("log-loss", "auc")) {
            MeanScore mean = inference(results, 300, metric).means().get(0);
            assertThat(mean.standardError()).isZero();
            assertThat(mean.sd()).isZero();
            assertThat(mean.interval()).isEqualTo(MeanScore.Interval.NONE);
        }
    }

    @Test
    void nearIdenticalPairsAreNeverCalled() {
        RandomSource chance = new Seed(10).chance();
        int[] y = IntStream.range(0, 60).map(i -> i % 2).toArray();
        double[] noise = noise(chance, 60);
        FittedPipeline plain = fixed(noise, 3);
        FittedPipeline changed = (row, actual, repeat, c) -> row < 5
                ? new double[] {actual == 0 ? 0.01 : 0.99, actual == 0 ? 0.99 : 0.01}
                : plain.of(row, actual, repeat, c);
        Results results = results(
                data("near", y, 2, Optional.empty()),
                new KFold(3, 2, true),
                2,
                List.of(plain, changed, fixed(noise(chance, 60), 0)),
                "auc");
        MetricInference inference = inference(results, 500, "auc");
        Contrast near = inference.contrast(0, 1).orElseThrow();
        assertThat(near.note()).isEqualTo("predictions differ on 5 rows only");
        assertThat(near.p()).isEqualTo(1);
        assertThat(near.call()).isEqualTo(Call.UNDECIDED);
        assertThat(near.difference()).isPositive();
        // It stays out of the maximum: the others are adjusted as if it were not there.
        assertThat(inference.contrast(0, 2).orElseThrow().call()).isEqualTo(Call.BETTER);
    }
}

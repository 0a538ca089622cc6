package keenfold.core.infer.contrast;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.distribution.StudentT;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.HalvesVariance;
import keenfold.core.infer.resample.Variance;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.Comparison;
import keenfold.core.run.Halves;
import keenfold.core.run.Halving;
import keenfold.core.run.Parallel;
import keenfold.core.run.Trials;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.HalfFit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.core.split.Splits;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Variances from runs on halves, against values that another program computed from the definition. */
class HalvesTesterTest {
    private static final List<String> METRICS = List.of("accuracy", "auc", "balanced-accuracy", "log-loss");
    private static final int REPEATS = 3;
    private static final int SPLITS = 3;

    private static List<String[]> lines(String name) throws IOException {
        try (BufferedReader in = new BufferedReader(new InputStreamReader(
                Objects.requireNonNull(HalvesTesterTest.class.getResourceAsStream(name)), StandardCharsets.UTF_8))) {
            return in.lines().skip(1).map(l -> l.split(",", -1)).toList();
        }
    }

    /** Predictions of two candidates on 40 rows, three times two folds, and in the halves of three splits. */
    private static Results results(boolean grouped) throws IOException {
        List<String[]> lines = lines("halves_predictions.csv");
        int[] target = new int[40];
        int[][] foldOf = new int[REPEATS][40];
        Map<List<Integer>, List<String[]>> byFit = new LinkedHashMap<>();
        for (String[] line : lines) {
            int[] n = Arrays.stream(line).limit(6).mapToInt(Integer::parseInt).toArray();
            target[n[3]] = n[4];
            if (n[0] < 0) {
                foldOf[n[2]][n[3]] = n[5];
            }
            byFit.computeIfAbsent(List.of(n[0], n[1], n[2], n[5]), k -> new ArrayList<>())
                    .add(line);
        }
        String[] own = IntStream.range(0, 40).mapToObj(i -> "g" + i).toArray(String[]::new);
        DataSet data = DataSet.of(
                "hives",
                new Table(40, List.of(Numbers.of("x", new double[40]))),
                new Classes(List.of("no", "yes"), 1),
                target,
                grouped ? Optional.of(Categories.of("hive", own)) : Optional.empty(),
                IntStream.rangeClosed(1, 40).toArray());
        Task task = Task.of(
                data,
                Splits.partitions(foldOf),
                METRICS.stream().map(MetricName::parse).toList());
        List<Fit> fits = new ArrayList<>();
        List<HalfFit> halves = new ArrayList<>();
        byFit.forEach((key, rows) -> {
            Fit fit = fit(key.get(1), key.get(2), key.get(3), rows);
            if (key.get(0) < 0) {
                fits.add(fit);
            } else {
                halves.add(new HalfFit(key.get(0), fit));
            }
        });
        return new Results(
                List.of(task),
                List.of(Trials.candidate("logit", "logistic"), Trials.candidate("near", "nearest")),
                fits,
                1,
                halves);
    }

    private static Fit fit(int candidate, int repeat, int fold, List<String[]> rows) {
        int[] row = rows.stream().mapToInt(l -> Integer.parseInt(l[3])).toArray();
        int[] actual = rows.stream().mapToInt(l -> Integer.parseInt(l[4])).toArray();
        double[] p = rows.stream()
                .mapToDouble(l -> Double.parseDouble(l[6]))
                .flatMap(v -> java.util.stream.DoubleStream.of(1 - v, v))
                .toArray();
        double[] scores = new double[METRICS.size()];
        Fit.Result result = new Fit.Result(Outcomes.of(2, fold, row, actual, p), scores);
        return new Fit(0, candidate, repeat, fold, new Fit.Times(0, 0, 0, 0), 1, Optional.of(result), "");
    }

    private static MetricInference inference(Results results, String metric, Halving halving) {
        InferenceSettings evidence =
                new InferenceSettings(499, 0.95, 0, Optional.empty(), Method.HALVES, Optional.empty(), halving);
        return Inference.of(AlignedPredictions.of(results, 0), evidence, Parallel.of(2))
                .metric(metric);
    }

    @ParameterizedTest
    @CsvSource({"accuracy", "auc", "balanced-accuracy", "log-loss"})
    void itIsThatOfTheReference(String metric) throws IOException {
        double[] expected = lines("halves_expected.csv").stream()
                .filter(l -> l[0].equals(metric))
                .flatMapToDouble(l -> Arrays.stream(l).skip(1).mapToDouble(Double::parseDouble))
                .toArray();
        MetricInference found = inference(results(false), metric, new Halving(SPLITS, 2));
        Contrast c = found.contrast(0, 1).orElseThrow();
        Variance v = c.variance();
        HalvesVariance halves = v.halves().orElseThrow();
        assertThat(new double[] {halves.between(), halves.chance(), halves.scale(), halves.lambda()})
                .containsExactly(Arrays.copyOf(expected, 4), within(1e-12));
        double total = Math.max(
                expected[2] * (expected[0] - expected[1]) + expected[4] + expected[5] / REPEATS, v.cases() / 2);
        assertThat(v.total()).isCloseTo(total, within(1e-12));
        assertThat(v.freedom())
                .isCloseTo(Math.max(2, SPLITS * Math.min(1, total / (expected[0] + expected[4]))), within(1e-9));
        assertThat(c.p()).isCloseTo(StudentT.twoSided(c.difference() / Math.sqrt(total), v.freedom()), within(1e-12));
        assertThat(c.call()).as("three splits are too few for a call").isEqualTo(Call.NONE);
        // The preset's own variance stands beside it.
        assertThat(halves.preset())
                .isEqualTo(found.by(Method.PIVOT, Optional.empty())
                        .contrast(0, 1)
                        .orElseThrow()
                        .variance()
                        .total());
    }

    /** A row that is a group of its own is a row. */
    @Test
    void groupsOfOneRowChangeNothing() throws IOException {
        for (String metric : METRICS) {
            HalvesVariance rows = halves(false, metric);
            HalvesVariance groups = halves(true, metric);
            assertThat(new double[] {groups.between(), groups.chance(), groups.scale(), groups.lambda()})
                    .containsExactly(
                            new double[] {rows.between(), rows.chance(), rows.scale(), rows.lambda()}, within(1e-12));
        }
    }

    private static HalvesVariance halves(boolean grouped, String metric) throws IOException {
        return inference(results(grouped), metric, new Halving(SPLITS, 2))
                .contrast(0, 1)
                .orElseThrow()
                .variance()
                .halves()
                .orElseThrow();
    }

    @Test
    void whatIsNotThereIsSaid() throws IOException {
        Results results = results(false);
        Results none = new Results(results.tasks(), results.candidates(), results.fits(), 1);
        assertThatThrownBy(() -> inference(none, "auc", new Halving(3, 2)).contrasts())
                .hasMessageContaining("of which this ledger has none; write evidence: {halves: 25}");
        assertThatThrownBy(() -> inference(results, "auc", new Halving(4, 2)).contrasts())
                .hasMessageContaining("1 of 4 splits into halves lack a run")
                .hasMessageContaining("the first is split 4");
        assertThatThrownBy(() -> inference(results, "auc", new Halving(3, 3)).contrasts())
                .hasMessageContaining("3 of 3 splits into halves lack a run");
    }

    /** Fits of the tool's own classifiers: calls are made from ten splits on, the guess has no chance against a difference. */
    @Test
    void tenSplitsMakeCalls() {
        KFold folds = new KFold(3, 2, true);
        Comparison comparison = new Comparison(
                List.of(Trials.task(Trials.data("d", 3, 90, 2, 0), folds, "auc")),
                List.<Candidate>of(
                        Trials.candidate("guess", "majority"),
                        Trials.candidate("logit", "logistic"),
                        Trials.candidate("bayes", "naive-bayes")),
                4);
        Halving halving = new Halving(10, 2);
        Halves halves = new Halves(comparison, folds, halving);
        List<HalfFit> made = new ArrayList<>();
        for (int n = 0; n < halving.halves(); n++) {
            for (Fit fit : Trials.fits(halves.half(n), 2)) {
                made.add(halves.ofWhole(n, fit));
            }
        }
        Results results = new Results(comparison.tasks(), comparison.candidates(), Trials.fits(comparison, 2), 4, made);
        MetricInference auc = inference(results, "auc", halving);
        assertThat(auc.contrast(1, 0).orElseThrow().call()).isEqualTo(Call.BETTER);
        assertThat(auc.contrast(1, 2).orElseThrow().call()).isEqualTo(Call.UNDECIDED);
        assertThat(auc.contrasts()).allSatisfy(c -> assertThat(c.pAdjusted()).isGreaterThanOrEqualTo(c.p()));
    }
}

package keenfold.core.run.pipeline;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.classify.WrapperKind;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.metric.Costs;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.prepare.Preparation;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.Training;
import keenfold.core.run.Comparison;
import keenfold.core.run.Trials;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Recipe;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.core.split.OutOfBag;
import keenfold.core.split.Splits;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class WrapperTest {
    /** A candidate as {@code KIND WRAPPER.SETTING=VALUE …}; a wrapper without a setting stands alone. */
    private static Candidate wrapped(String text) {
        String[] words = text.split(" ", -1);
        Settings settings = Settings.none();
        List<WrapperKind> wrappers = new ArrayList<>();
        for (int i = 1; i < words.length; i++) {
            String[] parts = words[i].split("=", 2);
            settings = parts.length > 1 ? settings.with(parts[0], parts[1]) : settings;
            for (WrapperKind w : WrapperKind.all()) {
                if (parts[0].split("\\.", 2)[0].equals(w.name()) && !wrappers.contains(w)) {
                    wrappers.add(w);
                }
            }
        }
        Recipe recipe =
                new Recipe(Optional.empty(), ClassifierKinds.of(words[0]).orElseThrow(), wrappers);
        return new Candidate(text, text, recipe, settings, Map.of(), Optional.empty(), Optional.empty());
    }

    private static List<Fit> fits(DataSet data, Splits splits, Candidate... candidates) {
        List<MetricName> metrics = List.of(MetricName.parse("accuracy"), MetricName.parse("balanced-accuracy"));
        return Trials.fits(new Comparison(List.of(Task.of(data, splits, metrics)), List.of(candidates), 1), 1);
    }

    private static double[] positive(Fit fit) {
        Outcomes o = fit.result().orElseThrow().outcomes();
        return IntStream.range(0, o.size())
                .mapToDouble(i -> o.probability(i, 1))
                .toArray();
    }

    @Test
    void balancedClassesWeighTheSame() {
        Training t = Training.of(
                new Table(5, List.of(Numbers.of("x", 1, 2, 3, 4, 5))),
                new int[] {0, 0, 0, 0, 1},
                new double[] {1, 2, 1, 1, 1},
                3);
        Candidate weights = wrapped("majority balance.by=weights");
        Training even = weights.recipe().balanced(weights.settings(), t, new Seed(1));
        // W = 6, two classes present: 3 each.
        assertThat(even.weights()).containsExactly(0.6, 1.2, 0.6, 0.6, 3);
        // Classes of labels 1, 2, 3: 5·2 + 1·0.5 weigh as much as 6; a class that is not named counts once.
        Candidate named = wrapped("majority balance.of=1,2,2,0.5");
        double scale = 6 / 10.5;
        assertThat(named.recipe().balanced(named.settings(), t, new Seed(1)).weights())
                .containsExactly(new double[] {2 * scale, 4 * scale, 2 * scale, 2 * scale, 0.5 * scale}, within(1e-15));
        Candidate two = wrapped("majority balance.of=2,10");
        assertThat(two.recipe().balanced(two.settings(), t, new Seed(1)).weights())
                .containsExactly(new double[] {0.4, 0.8, 0.4, 0.4, 4}, within(1e-15));
        assertThat(two.wrapperTexts()).containsExactly("balance weights 2 x 10");
        assertThatThrownBy(() -> wrapped("majority balance.by=resampling balance.of=2,10"))
                .hasMessageContaining("of goes with by: weights");
        Candidate drawn = wrapped("majority balance.by=resampling");
        Training more = drawn.recipe().balanced(drawn.settings(), t, new Seed(1));
        assertThat(more.classWeights()).containsExactly(5, 5, 0);
        assertThat(more.weights()).containsExactly(1, 2, 1, 1, 5);
    }

    @Test
    void balanceMovesTheGuessAndCalibrationMovesItBack() {
        DataSet data = Trials.data("d", 2, 200, 1, 0);
        Splits splits = new KFold(4, 1, true).divide(data, 1);
        List<Fit> all = fits(
                data, splits, wrapped("majority balance"), wrapped("majority balance calibrate"), wrapped("majority"));
        for (int f = 0; f < 4; f++) {
            assertThat(Arrays.stream(positive(all.get(f)))).allMatch(p -> Math.abs(p - 0.5) < 1e-12);
            double share = positive(all.get(8 + f))[0];
            assertThat(Arrays.stream(positive(all.get(4 + f)))).allMatch(p -> Math.abs(p - share) < 0.01);
            assertThat(all.get(4 + f).size()).isEqualTo(3);
        }
    }

    /** The threshold found is the best of all that lie between two probabilities, tried one by one. */
    @Test
    void theThresholdIsTheBestOfAll() {
        DataSet data = Trials.data("d", 3, 80, 1, 0);
        Metric metric = MetricName.parse("f1").bind(data.classes(), data.classCounts());
        double[] p =
                IntStream.range(0, 80).mapToDouble(i -> (i * 37 % 80) / 100.0).toArray();
        double[] both = Arrays.stream(p)
                .flatMap(v -> Arrays.stream(new double[] {1 - v, v}))
                .toArray();
        double[] ones = new double[80];
        Arrays.fill(ones, 1);
        int[] target =
                IntStream.range(0, 80).map(i -> p[i] > 0.3 && i % 5 > 0 ? 1 : 0).toArray();
        double found = keenfold.core.metric.BestThreshold.of(metric, both, target, ones, 1);
        Outcomes plain = Outcomes.of(2, 0, IntStream.range(0, 80).toArray(), target, both);
        double best = Arrays.stream(p)
                .map(t -> metric.score(plain.withThreshold(1, t)))
                .max()
                .orElseThrow();
        assertThat(metric.score(plain.withThreshold(1, found))).isCloseTo(best, within(1e-12));
        assertThat(best).isGreaterThan(metric.score(plain) + 0.01);
    }

    /** A missed positive row costs nine times a false alarm, so that the threshold is the one of the least total cost. */
    @Test
    void theThresholdForCostCostsLeastOfAll() {
        DataSet data = Trials.data("d", 3, 80, 1, 0);
        String no = data.classes().labels().get(0);
        String yes = data.classes().labels().get(1);
        Metric metric = MetricName.parse("cost")
                .withCosts(new Costs(Map.of(yes, Map.of(no, 9.0), no, Map.of(yes, 1.0))))
                .bind(data.classes(), data.classCounts());
        double[] p =
                IntStream.range(0, 80).mapToDouble(i -> (i * 37 % 80) / 100.0).toArray();
        double[] both = Arrays.stream(p)
                .flatMap(v -> Arrays.stream(new double[] {1 - v, v}))
                .toArray();
        double[] ones = new double[80];
        Arrays.fill(ones, 1);
        int[] target =
                IntStream.range(0, 80).map(i -> p[i] > 0.3 && i % 5 > 0 ? 1 : 0).toArray();
        double found = keenfold.core.metric.BestThreshold.of(metric, both, target, ones, 1);
        double least = Double.POSITIVE_INFINITY;
        double own = 0;
        for (int t = -1; t < 80; t++) {
            double threshold = t < 0 ? found : p[t];
            double cost = 0;
            for (int i = 0; i < 80; i++) {
                boolean called = p[i] >= threshold;
                cost += target[i] == 1 ? (called ? 0 : 9) : called ? 1 : 0;
            }
            own = t < 0 ? cost : own;
            least = Math.min(least, cost);
        }
        assertThat(own).isEqualTo(least);
    }

    @Test
    void aThresholdChangesLabelsAndLeavesProbabilities() {
        DataSet data = Trials.data("d", 4, 300, 1.5, 0);
        Splits splits = new KFold(5, 1, true).divide(data, 1);
        List<Fit> all = fits(data, splits, wrapped("logistic"), wrapped("logistic threshold.for=balanced-accuracy"));
        double plain = 0;
        double moved = 0;
        for (int f = 0; f < 5; f++) {
            assertThat(positive(all.get(5 + f))).containsExactly(positive(all.get(f)));
            double threshold = all.get(5 + f).making().threshold().orElseThrow();
            Outcomes o = all.get(5 + f).result().orElseThrow().outcomes();
            for (int i = 0; i < o.size(); i++) {
                assertThat(o.predicted(i) == 1).isEqualTo(o.probability(i, 1) >= threshold);
            }
            plain += all.get(f).result().orElseThrow().score(1);
            moved += all.get(5 + f).result().orElseThrow().score(1);
        }
        // Three rows in ten are positive: one half is not the place for balanced accuracy.
        assertThat(moved).isGreaterThan(plain);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "tree balance.by=resampling calibrate.by=isotonic threshold.for=f1",
                "nearest balance.by=weights calibrate.by=platt",
                "boosting threshold.for=accuracy calibrate.folds=3",
                "forest balance.by=weights"
            })
    void testRowsNeverChangeWhatIsFitted(String text) {
        noLeak(wrapped(text));
    }

    private static void noLeak(Candidate candidate) {
        DataSet data = Trials.data("leak", 3, 100, 1.0, 0);
        Splits splits = new OutOfBag(1, false).divide(data, 4);
        int[] test = splits.at(0, 0).test().toArray();
        int[] labels = data.targets();
        // One test row keeps its values, the others and all test labels change.
        List<Column> columns = data.features().columns().stream()
                .<Column>map(c -> {
                    double[] x = ((Numbers) c).toArray();
                    Arrays.stream(test).skip(1).forEach(i -> x[i] = 1e6 * (i % 3));
                    return Numbers.of(c.name(), x);
                })
                .toList();
        Arrays.stream(test).forEach(i -> labels[i] = 1 - labels[i]);
        DataSet changed = DataSet.of("leak", new Table(100, columns), data.classes(), labels);
        Fit before = fits(data, splits, candidate).get(0);
        Fit after = fits(changed, splits, candidate).get(0);
        assertThat(before.failed()).as(before.message()).isFalse();
        assertThat(after.size()).isEqualTo(before.size());
        assertThat(after.making()).isEqualTo(before.making());
        assertThat(positive(after)[0]).isEqualTo(positive(before)[0]);
    }

    @Test
    void testRowsNeverChangeAStack() {
        Candidate a = Trials.candidate("a", "tree", "depth=3");
        Candidate b = Trials.candidate("b", "forest", "trees=5");
        noLeak(council("stack", Settings.none().with("with", "tree"), a, b));
    }

    @Test
    void aThresholdNeedsTwoClassesAndAMetricOfLabels() {
        assertThatThrownBy(() -> wrapped("tree threshold.for=auc")).hasMessageContaining("expected a metric of labels");
        assertThatThrownBy(() -> wrapped("tree calibrate threshold.folds=3"))
                .hasMessage("threshold: folds says nothing beside calibrate, whose folds serve both");
        assertThat(wrapped("tree threshold.folds=3").wrapperTexts()).containsExactly("threshold balanced-accuracy");
        assertThatThrownBy(() -> wrapped("tree calibrate.by=luck")).hasMessageContaining("expected platt or isotonic");
    }

    private static Candidate council(String kind, Settings settings, Candidate... members) {
        Recipe recipe = new Recipe(
                Optional.empty(), ClassifierKinds.of(kind).orElseThrow(), List.of(), List.of(members), Costs.NONE);
        return new Candidate(kind, kind, recipe, settings, Map.of(), Optional.empty(), Optional.empty());
    }

    private static Candidate renamed(Candidate c) {
        return new Candidate("other", "other", c.recipe(), c.settings(), Map.of(), Optional.empty(), Optional.empty());
    }

    /** Members inside a vote are the very candidates that stand beside it, chance included. */
    @Test
    void aVoteIsTheMeanOfItsMembers() {
        DataSet data = Trials.data("d", 5, 150, 1, 30);
        Splits splits = new KFold(3, 1, true).divide(data, 1);
        Candidate forest = Trials.candidate("woods", "forest", "trees=7");
        Candidate calibrated = wrapped("tree calibrate.by=isotonic");
        List<Fit> all = fits(
                data,
                splits,
                forest,
                calibrated,
                council("vote", Settings.none(), forest, calibrated),
                renamed(council(
                        "vote", Settings.none().with("weights", "3,1").with("by", "label"), forest, calibrated)));
        for (int f = 0; f < 3; f++) {
            double[] a = positive(all.get(f));
            double[] b = positive(all.get(3 + f));
            double[] mean = IntStream.range(0, a.length)
                    .mapToDouble(i -> (a[i] + b[i]) / 2)
                    .toArray();
            assertThat(positive(all.get(6 + f))).containsExactly(mean, within(1e-15));
            double[] shares = IntStream.range(0, a.length)
                    .mapToDouble(i -> (a[i] > 0.5 ? 0.75 : 0) + (b[i] > 0.5 ? 0.25 : 0))
                    .toArray();
            assertThat(positive(all.get(9 + f))).containsExactly(shares, within(1e-15));
            assertThat(all.get(6 + f).size())
                    .isEqualTo(Math.max(all.get(f).size(), all.get(3 + f).size()) + 1);
        }
    }

    /** The second classifier, by hand: members fitted to inner folds, their predictions put in columns, standardised. */
    @Test
    void aStackLearnsFromPredictionsOfRowsNotTrainedOn() {
        DataSet data = Trials.data("d", 6, 120, 1.2, 0);
        Candidate tree = Trials.candidate("t", "tree", "depth=2", "pruning=0");
        Candidate near = Trials.candidate("n", "nearest", "neighbours=9");
        Candidate stack = council("stack", Settings.none().with("folds", "4"), tree, near);
        double[] ones = new double[120];
        Arrays.fill(ones, 1);
        Splits outer = new KFold(3, 1, true).divide(data, 1);
        TrainingRows rows = new TrainingRows(data, ones, outer);
        Seed seed = new Seed(9);
        Splits inner = InnerSplits.divide(rows, 4, 1, seed.with("stack"), "stack");
        double[][] columns = new double[2][120];
        double[][] whole = new double[2][];
        for (int m = 0; m < 2; m++) {
            Candidate member = m == 0 ? tree : near;
            for (int f = 0; f < 4; f++) {
                int[] train = inner.at(0, f).train().toArray();
                int[] test = inner.at(0, f).test().toArray();
                double[] p = Pipeline.of(member, rows.some(train), seed)
                        .probabilities(data.features().select(test));
                for (int i = 0; i < test.length; i++) {
                    columns[m][test[i]] = p[2 * i + 1];
                }
            }
            double[] p = Pipeline.of(member, rows, seed).probabilities(data.features());
            whole[m] = IntStream.range(0, 120).mapToDouble(i -> p[2 * i + 1]).toArray();
        }
        Training second = Training.of(table(columns), data.targets(), ones, 2);
        Recipe logistic = Recipe.of(ClassifierKinds.of("logistic").orElseThrow());
        Preparation steps = Preparation.fit(logistic.steps(Settings.none()), second, new Seed(1));
        double[] expected = logistic.classifier(Settings.none())
                .fit(steps.training(), seed.chance())
                .probabilities(steps.apply(table(whole)));
        assertThat(Pipeline.of(stack, rows, seed).probabilities(data.features()))
                .containsExactly(expected, within(1e-9));
    }

    private static Table table(double[][] columns) {
        return new Table(columns[0].length, List.of(Numbers.of("t 2", columns[0]), Numbers.of("n 2", columns[1])));
    }

    @Test
    void wrongWeightsAreAFailedFit() {
        DataSet data = Trials.data("d", 7, 60, 1, 0);
        Candidate a = Trials.candidate("a", "majority");
        Candidate b = Trials.candidate("b", "naive-bayes");
        List<Fit> all = fits(
                data,
                new KFold(3, 1, true).divide(data, 1),
                council("vote", Settings.none().with("weights", "1,2,3"), a, b));
        assertThat(all).allMatch(f -> f.message().equals("vote has 3 weights for 2 members"));
        assertThatThrownBy(() -> council("vote", Settings.none(), a)).hasMessage("vote needs two or more members");
        assertThatThrownBy(() -> council("vote", Settings.none().with("weights", "1,x"), a, b))
                .hasMessageContaining("weights: x: expected numbers");
    }
}

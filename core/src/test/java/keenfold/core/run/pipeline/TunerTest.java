package keenfold.core.run.pipeline;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.Model;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;
import keenfold.core.metric.Costs;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Preparation;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.StepUse;
import keenfold.core.prepare.Training;
import keenfold.core.prepare.step.StepKinds;
import keenfold.core.run.Comparison;
import keenfold.core.run.Trials;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Recipe;
import keenfold.core.run.candidate.StepLists;
import keenfold.core.run.candidate.Tuning;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.core.split.OutOfBag;
import keenfold.core.split.RollingOrigin;
import keenfold.core.split.Split;
import keenfold.core.split.Splits;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class TunerTest {
    private static final Seed SEED = new Seed(77);

    private static Candidate tuned(String kind, Map<String, List<String>> choices, Tuning.By by, String metric) {
        return new Candidate(
                "t",
                "t",
                Recipe.of(ClassifierKinds.of(kind).orElseThrow()),
                Settings.none(),
                Map.of(),
                Optional.empty(),
                Optional.of(new Tuning(choices, 4, 2, by, MetricName.parse(metric))));
    }

    private static Map<String, List<String>> choices(String name, String... values) {
        Map<String, List<String>> choices = new LinkedHashMap<>();
        choices.put(name, List.of(values));
        return choices;
    }

    /** Drawn of nine combinations: three different ones, the same for the same seed, in the order of the grid. */
    @Test
    void aSampleOfTheGridIsTried() {
        Map<String, List<String>> both = choices("depth", "1", "2", "4");
        both.put("leaf-rows", List.of("1", "5", "9"));
        Tuning all = new Tuning(both, 3, 1, Tuning.By.BEST_MEAN, MetricName.parse("accuracy"));
        List<List<Settings>> drawn = new ArrayList<>();
        for (int i = 0; i < 2; i++) {
            drawn.add(new Tuning(both, 3, 1, Tuning.By.BEST_MEAN, MetricName.parse("accuracy"), Optional.of(3))
                    .tried(Settings.none(), SEED));
        }
        List<Settings> grid = all.grid(Settings.none());
        assertThat(drawn.get(0)).hasSize(3).doesNotHaveDuplicates().isEqualTo(drawn.get(1));
        assertThat(grid.stream().filter(drawn.get(0)::contains)).isEqualTo(drawn.get(0));
        assertThat(drawn.get(0)).isNotEqualTo(grid.subList(0, 3));
        assertThatThrownBy(() ->
                        new Tuning(both, 3, 1, Tuning.By.BEST_MEAN, MetricName.parse("accuracy"), Optional.of(10)))
                .hasMessageContaining("there are 9 combinations");
    }

    private static Settings choose(Candidate candidate, DataSet data, Splits outer) {
        Tuning tuning = candidate.tuning().orElseThrow();
        Metric metric = tuning.metric().bind(data.classes(), data.classCounts());
        return new Tuner(candidate, new TrainingRows(data, ones(data.rows()), outer), metric, SEED).choose();
    }

    /** The definition once more, with plain loops and each point fitted alone. */
    private static String slowly(Candidate candidate, DataSet data) {
        Tuning tuning = candidate.tuning().orElseThrow();
        Metric metric = tuning.metric().bind(data.classes(), data.classCounts());
        Splits inner = new KFold(tuning.folds(), tuning.repeats(), true)
                .divide(data, SEED.with("inner").value());
        List<Settings> grid = tuning.grid(candidate.settings());
        double[] mean = new double[grid.size()];
        double[] size = new double[grid.size()];
        double[] error = new double[grid.size()];
        for (int g = 0; g < mean.length; g++) {
            List<Double> folds = new ArrayList<>();
            List<Double> sizes = new ArrayList<>();
            for (int r = 0; r < tuning.repeats(); r++) {
                List<Outcomes> joined = new ArrayList<>();
                for (int f = 0; f < tuning.folds(); f++) {
                    Split split = inner.at(r, f);
                    int[] train = split.train().toArray();
                    int[] test = split.test().toArray();
                    Preparation steps = Preparation.fit(
                            candidate.recipe().steps(grid.get(g)),
                            Training.of(
                                    data.features().select(train),
                                    data.targets(train),
                                    ones(train.length),
                                    data.classes().count()),
                            SEED);
                    Model model = candidate.recipe().classifier(grid.get(g)).fit(steps.training(), SEED.chance());
                    Outcomes o = Outcomes.of(
                            data.classes().count(),
                            f,
                            test,
                            data.targets(test),
                            model.probabilities(steps.apply(data.features().select(test))));
                    joined.add(o);
                    folds.add(metric.score(o));
                    sizes.add(model.size());
                }
                mean[g] += metric.turned(metric.score(Outcomes.join(joined))) / tuning.repeats();
            }
            double centre = folds.stream().mapToDouble(d -> d).average().orElseThrow();
            double squares =
                    folds.stream().mapToDouble(d -> (d - centre) * (d - centre)).sum();
            error[g] = Math.sqrt(squares / (folds.size() - 1) / tuning.folds());
            double[] sorted = sizes.stream().mapToDouble(d -> d).sorted().toArray();
            size[g] = (sorted[sorted.length / 2] + sorted[(sorted.length - 1) / 2]) / 2;
        }
        int best = IntStream.range(0, mean.length)
                .boxed()
                .max(Comparator.comparingDouble(g -> mean[g]))
                .orElseThrow();
        double limit = mean[best] - (tuning.by() == Tuning.By.ONE_SE ? error[best] : 0) - 1e-12;
        return IntStream.range(0, mean.length)
                .filter(g -> mean[g] >= limit)
                .boxed()
                .min(Comparator.<Integer>comparingDouble(g -> size[g])
                        .thenComparing((a, b) -> simplest(candidate, a, b)))
                .map(g -> Tuner.text(grid.get(g), tuning.choices()))
                .orElseThrow();
    }

    /** Of settings that lead to equal sizes, the simpler one by itself. */
    private static int simplest(Candidate candidate, int a, int b) {
        List<Settings> grid = candidate.tuning().orElseThrow().grid(candidate.settings());
        return candidate.kind().settings().stream()
                .mapToInt(s -> s.simplest(grid.get(a).text(s), grid.get(b).text(s)))
                .filter(d -> d != 0)
                .findFirst()
                .orElse(0);
    }

    private static double[] ones(int n) {
        double[] ones = new double[n];
        Arrays.fill(ones, 1);
        return ones;
    }

    @ParameterizedTest
    @CsvSource({
        "nearest, neighbours, 1 5 15 40, BEST_MEAN, auc",
        "nearest, neighbours, 1 5 15 40, ONE_SE, log-loss",
        "logistic, strength, 0.1 10 1000 100000, BEST_MEAN, log-loss",
        "logistic, strength, 0.1 10 1000 100000, ONE_SE, accuracy",
        "tree, pruning, 0 0.004 0.02 0.1, BEST_MEAN, accuracy",
        "tree, pruning, 0 0.004 0.02 0.1, ONE_SE, auc"
    })
    void choosesWhatThePlainDefinitionChooses(String kind, String name, String values, Tuning.By by, String metric) {
        for (int set = 1; set <= 4; set++) {
            DataSet data = Trials.data("d", set, 120, 1.0, 0);
            Candidate candidate = tuned(kind, choices(name, values.split(" ", -1)), by, metric);
            Splits outer = new KFold(5, 2, true).divide(data, 1);
            assertThat(Tuner.text(choose(candidate, data, outer), choices(name)))
                    .isEqualTo(slowly(candidate, data));
        }
    }

    @Test
    void settingsOfStepsAreChosenToo() {
        for (int set = 1; set <= 4; set++) {
            DataSet data = Trials.data("d", set, 120, 1.0, 0);
            Map<String, List<String>> both = choices("strongest.number", "1", "2", "3");
            both.put("neighbours", List.of("3", "21"));
            Candidate candidate = new Candidate(
                    "t",
                    "t",
                    new Recipe(
                            Optional.of(StepUse.of(List.of(
                                    StepKinds.of("standardise").orElseThrow(),
                                    StepKinds.of("strongest").orElseThrow()))),
                            ClassifierKinds.of("nearest").orElseThrow(),
                            List.of()),
                    Settings.none(),
                    Map.of(),
                    Optional.empty(),
                    Optional.of(new Tuning(both, 4, 2, Tuning.By.ONE_SE, MetricName.parse("log-loss"))));
            assertThat(Tuner.text(choose(candidate, data, new KFold(5, 2, true).divide(data, 1)), both))
                    .isEqualTo(slowly(candidate, data));
        }
    }

    @Test
    void listsOfStepsAreChosenToo() {
        StepKind strongest = StepKinds.of("strongest").orElseThrow();
        Map<String, List<StepKind>> lists = new LinkedHashMap<>();
        lists.put("all", List.of(StepKinds.of("standardise").orElseThrow()));
        lists.put("one", List.of(strongest));
        lists.put("two", List.of(StepKinds.of("standardise").orElseThrow(), strongest));
        Set<String> chosen = new HashSet<>();
        for (int set = 1; set <= 6; set++) {
            DataSet data = Trials.data("d", set, 120, 0.6, 0);
            Map<String, List<String>> both = choices("prepare", "all", "one", "two");
            both.put("neighbours", List.of("3", "21"));
            Candidate candidate = new Candidate(
                    "t",
                    "t",
                    new Recipe(
                            Optional.of(StepLists.of(lists)),
                            ClassifierKinds.of("nearest").orElseThrow(),
                            List.of(),
                            List.of(),
                            Costs.NONE),
                    Settings.none().with("strongest.number", "1").with("strongest-2.number", "2"),
                    Map.of(),
                    Optional.empty(),
                    Optional.of(new Tuning(both, 4, 1, Tuning.By.BEST_MEAN, MetricName.parse("log-loss"))));
            Settings settings = choose(candidate, data, new KFold(5, 1, true).divide(data, 1));
            assertThat(Tuner.text(settings, both)).isEqualTo(slowly(candidate, data));
            chosen.add(settings.values().get("prepare"));
        }
        assertThat(chosen).hasSizeGreaterThan(1);
    }

    @Test
    void equalMeansGoToTheSimplerThenToTheFirstWritten() {
        // One column tells the classes apart without fail: any depth and both impurities score the same.
        double[] x = IntStream.range(0, 60).mapToDouble(i -> i % 2 + 0.001 * i).toArray();
        int[] y = IntStream.range(0, 60).map(i -> i % 2).toArray();
        DataSet data =
                DataSet.of("even", new Table(60, List.of(Numbers.of("x", x))), new Classes(List.of("a", "b"), 0), y);
        Map<String, List<String>> both = choices("depth", "7", "3", "5");
        both.put("impurity", List.of("entropy", "gini"));
        Candidate candidate = tuned("tree", both, Tuning.By.BEST_MEAN, "accuracy");
        Settings chosen = choose(candidate, data, new KFold(5, 2, true).divide(data, 1));
        assertThat(Tuner.text(chosen, both)).isEqualTo("depth=3 impurity=entropy");
    }

    @Test
    void innerSplitsAreInTimeWhereOuterOnesAre() {
        int n = 100;
        // The first half follows one rule, the second the opposite: only splits in time see how bad that is.
        int[] y = IntStream.range(0, n).map(i -> i % 2).toArray();
        double[] x =
                IntStream.range(0, n).mapToDouble(i -> i < 50 ? y[i] : 1 - y[i]).toArray();
        DataSet data = DataSet.of(
                        "turn", new Table(n, List.of(Numbers.of("x", x))), new Classes(List.of("a", "b"), 0), y)
                .withOrder(
                        Numbers.of("day", IntStream.range(0, n).asDoubleStream().toArray()));
        Candidate candidate = tuned("nearest", choices("neighbours", "1", "49"), Tuning.By.BEST_MEAN, "log-loss");
        Splits inTime = RollingOrigin.DEFAULT.divide(data, 1);
        assertThat(inTime.form()).isEqualTo(Splits.Form.IN_ORDER);
        assertThat(choose(candidate, data, inTime).values()).containsEntry("neighbours", "49");
    }

    @ParameterizedTest
    @ValueSource(strings = {"nearest neighbours 1 7 30", "tree depth 1 3 6", "logistic strength 0.1 30 3000"})
    void testRowsNeverChangeWhatIsChosenOrFitted(String text) {
        String[] words = text.split(" ", -1);
        Candidate candidate =
                tuned(words[0], choices(words[1], words[2], words[3], words[4]), Tuning.By.ONE_SE, "log-loss");
        DataSet data = Trials.data("leak", 3, 100, 1.0, 0);
        Splits splits = new OutOfBag(1, false).divide(data, 4);
        int[] test = splits.at(0, 0).test().toArray();
        double[][] x = new double[3][];
        for (int j = 0; j < 3; j++) {
            x[j] = ((Numbers) data.features().columns().get(j)).toArray();
            for (int row : test) {
                x[j][row] = 1e6 * (row % 3);
            }
        }
        int[] labels = data.targets();
        Arrays.stream(test).forEach(i -> labels[i] = 1 - labels[i]);
        DataSet changed = DataSet.of(
                "leak",
                new Table(100, List.of(Numbers.of("a", x[0]), Numbers.of("b", x[1]), Numbers.of("c", x[2]))),
                data.classes(),
                labels);
        List<MetricName> metrics = List.of(MetricName.parse("accuracy"));
        Fit before = Trials.fits(new Comparison(List.of(Task.of(data, splits, metrics)), List.of(candidate), 1), 1)
                .get(0);
        Fit after = Trials.fits(new Comparison(List.of(Task.of(changed, splits, metrics)), List.of(candidate), 1), 1)
                .get(0);
        assertThat(before.making().chosen()).isEqualTo(after.making().chosen()).contains(words[1] + "=");
        assertThat(after.size()).isEqualTo(before.size());
    }

    @Test
    void tuningThatCannotBeDoneIsOneFailedFitWithItsReason() {
        DataSet data = Trials.data("few", 2, 40, 1, 3);
        Candidate candidate = tuned("tree", choices("depth", "1", "2"), Tuning.By.BEST_MEAN, "auc");
        List<Fit> fits = Trials.fits(
                new Comparison(List.of(Trials.task(data, new KFold(3, 1, true), "accuracy")), List.of(candidate), 1),
                1);
        assertThat(fits)
                .allMatch(f -> f.failed() && f.message().contains("folds = 4: data set \"few\" has only 2 groups"));
    }

    /** Members that share work are the members that stand alone, to the last bit. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "nearest|neighbours=1|neighbours=4|neighbours=25 votes=by-distance|neighbours=500|neighbours=3 distance=mixed",
                "forest|trees=3|trees=20|trees=9 leaf-rows=4|trees=5 thresholds=drawn|trees=2 thresholds=drawn|trees=1",
                "boosting|rounds=3|rounds=30|rounds=9 row-share=0.5|rounds=30 patience=2|rounds=4 patience=2|rounds=90 patience=2",
                "tree|depth=1|depth=3|depth=9 pruning=0.01|depth=3 impurity=entropy|depth=4 leaf-rows=9|depth=9"
            })
    void sharedWorkChangesNothing(String text) {
        String[] parts = text.split("\\|", -1);
        ClassifierKind kind = ClassifierKinds.of(parts[0]).orElseThrow();
        List<Settings> all = new ArrayList<>();
        for (int i = 1; i < parts.length; i++) {
            Settings settings = Settings.none();
            for (String one : parts[i].split(" ", -1)) {
                settings = settings.with(one.split("=", 2)[0], one.split("=", 2)[1]);
            }
            all.add(settings);
        }
        DataSet data = Trials.data("shared", 6, 90, 1, 0);
        // Rounded, so that distances and cuts tie.
        Table table = new Table(
                90,
                data.features().columns().stream()
                        .<keenfold.core.data.Column>map(c -> Numbers.of(
                                c.name(),
                                Arrays.stream(((Numbers) c).toArray())
                                        .map(Math::rint)
                                        .toArray()))
                        .toList());
        double[] weights = IntStream.range(0, 90).mapToDouble(i -> 1 + i % 3).toArray();
        Training training = Training.of(table, data.targets(), weights, 2);
        List<Model> joint = kind.joint().orElseThrow().fit(all, training, SEED::chance);
        for (int i = 0; i < all.size(); i++) {
            Model alone = kind.make(all.get(i)).fit(training, SEED.chance());
            assertThat(joint.get(i).probabilities(table)).containsExactly(alone.probabilities(table));
            assertThat(joint.get(i).size()).isEqualTo(alone.size());
        }
    }

    @Test
    void aFamilyMarksWhatItShares() {
        DataSet data = Trials.data("d", 1, 60, 1, 0);
        List<Candidate> family = List.of(
                Trials.candidate("n/3", "nearest", "neighbours=3"),
                Trials.candidate("n/9", "nearest", "neighbours=9"),
                Trials.candidate("alone", "nearest", "neighbours=9"));
        List<Fit> fits = Trials.fits(
                new Comparison(List.of(Trials.task(data, new KFold(3, 1, true), "accuracy")), family, 1), 1);
        for (Fit fit : fits) {
            assertThat(fit.making().shared()).isEqualTo(fit.candidate() < 2);
        }
        assertThat(fits.get(3).result().orElseThrow().outcomes().probability(0, 0))
                .isEqualTo(fits.get(6).result().orElseThrow().outcomes().probability(0, 0));
    }

    /** Distances to a gap are no distances: a family whose steps leave gaps fails, and shares nothing. */
    @Test
    void gapsAreNoticedWhereWorkIsSharedToo() {
        DataSet whole = Trials.data("d", 1, 60, 1, 0);
        double[] x = ((Numbers) whole.features().columns().get(0)).toArray();
        x[7] = Double.NaN;
        DataSet data = DataSet.of("d", new Table(60, List.of(Numbers.of("x", x))), whole.classes(), whole.targets());
        Recipe bare =
                new Recipe(Optional.of(List.of()), ClassifierKinds.of("nearest").orElseThrow(), List.of());
        List<Candidate> family = new ArrayList<>();
        for (String k : List.of("3", "5")) {
            family.add(new Candidate(
                    "n/" + k,
                    "n",
                    bare,
                    Settings.none().with("neighbours", k),
                    Map.of(),
                    Optional.empty(),
                    Optional.empty()));
        }
        List<Fit> fits = Trials.fits(
                new Comparison(List.of(Trials.task(data, new KFold(3, 1, true), "accuracy")), family, 1), 1);
        assertThat(fits).allMatch(f -> f.message().contains("needs columns without gaps: \"x\" has some"));
    }

    private static List<Fit> fitsOfSharedWork(RuntimeException thrown) {
        ClassifierKind odd = new ClassifierKind(
                "odd",
                "",
                About.NOTHING,
                List.of(),
                s -> ClassifierKinds.of("majority").orElseThrow().make(s),
                Optional.of((all, training, fresh) -> {
                    throw thrown;
                }));
        List<Candidate> family = List.of(
                new Candidate("o/1", "o", odd, Settings.none(), List.of()),
                new Candidate("o/2", "o", odd, Settings.none(), List.of()));
        DataSet data = Trials.data("d", 1, 60, 1, 0);
        return Trials.fits(new Comparison(List.of(Trials.task(data, new KFold(3, 1, true), "accuracy")), family, 1), 1);
    }

    @Test
    void sharedWorkThatGivesNoModelIsDoneMemberByMember() {
        assertThat(fitsOfSharedWork(new FitFailure("odd")))
                .hasSize(6)
                .noneMatch(f -> f.failed() || f.making().shared());
    }

    /** Alone each member would be fitted without a word, and nobody would learn of the fault. */
    @Test
    void aFaultOfSharedWorkIsEachMembers() {
        assertThat(fitsOfSharedWork(new IllegalStateException("odd")))
                .hasSize(6)
                .allMatch(f -> f.message().equals("fault in Keen Fold: java.lang.IllegalStateException: odd"));
    }
}

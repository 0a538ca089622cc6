package keenfold.core.run.pipeline;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import keenfold.core.classify.AcrossFolds;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.WrapperKind;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.metric.Costs;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.StepUse;
import keenfold.core.prepare.step.StepKinds;
import keenfold.core.run.Comparison;
import keenfold.core.run.Fitter;
import keenfold.core.run.Trials;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Recipe;
import keenfold.core.run.candidate.Tuning;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.core.split.Split;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestFactory;

class PipelineTest {
    private static final long SEED = 5;
    private static final Map<String, String> SMALL =
            Map.of("forest", "trees=7", "boosting", "rounds=6", "network", "steps=15");

    /** Steps that work on columns of the data; the others come behind one-hot and standardise. */
    private static final Set<String> EARLY = Set.of(
            "log",
            "power",
            "rescale",
            "ordinal",
            "bins",
            "drop-constant",
            "leave-out",
            "keep-only",
            "date-parts",
            "words",
            "target-means");

    private static final DataSet DATA = mixed();
    private static final Task TASK = Trials.task(DATA, new KFold(3, 1, true), "accuracy", "log-loss");

    /** Numbers and a category, with gaps. */
    private static DataSet mixed() {
        int rows = 130;
        RandomSource chance = new Seed(3).chance();
        double[] weight = new double[rows];
        double[] mites = new double[rows];
        String[] race = new String[rows];
        int[] lost = new int[rows];
        for (int i = 0; i < rows; i++) {
            lost[i] = chance.below(10) < 4 ? 1 : 0;
            weight[i] = chance.below(12) == 0 ? Double.NaN : chance.normal() - lost[i];
            mites[i] = chance.below(30) + 5.0 * lost[i];
            race[i] = chance.below(15) == 0
                    ? null
                    : List.of("dark", "grey", "red").get(chance.below(2 + lost[i]));
        }
        return DataSet.of(
                "bees",
                new Table(
                        rows,
                        List.of(Numbers.of("weight", weight), Numbers.of("mites", mites), Categories.of("race", race))),
                new Classes(List.of("no", "yes"), 1),
                lost,
                Optional.empty(),
                java.util.stream.IntStream.rangeClosed(1, rows).toArray());
    }

    private static Settings settings(String text) {
        Settings all = Settings.none();
        for (String one : text.isEmpty() ? new String[0] : text.split(" ", -1)) {
            String[] parts = one.split("=", 2);
            all = all.with(parts[0], parts[1]);
        }
        return all;
    }

    private static Candidate candidate(
            String name, Optional<List<StepUse>> steps, String kind, List<WrapperKind> wrappers, String settings) {
        Recipe recipe = new Recipe(steps, ClassifierKinds.of(kind).orElseThrow(), wrappers);
        return new Candidate(name, name, recipe, settings(settings), Map.of(), Optional.empty(), Optional.empty());
    }

    private static Candidate behind(StepKind step, String kind) {
        List<StepKind> kinds = new ArrayList<>(List.of(StepKinds.of("fill").orElseThrow()));
        if (EARLY.contains(step.name())) {
            kinds.add(step);
        }
        kinds.addAll(List.of(
                StepKinds.of("one-hot").orElseThrow(),
                StepKinds.of("standardise").orElseThrow()));
        if (!kinds.contains(step)) {
            kinds.add(step);
        }
        String own = step.name().equals("words")
                ? "words.columns=race"
                : List.of("leave-out", "keep-only", "date-parts").contains(step.name())
                        ? step.name() + ".columns=mites"
                        : step.name().equals("strongest") ? "strongest.number=2" : "";
        return candidate(step.name(), Optional.of(StepUse.of(kinds)), kind, List.of(), own);
    }

    static Candidate council(String kind, String settings, List<Candidate> members) {
        Recipe recipe =
                new Recipe(Optional.empty(), ClassifierKinds.of(kind).orElseThrow(), List.of(), members, Costs.NONE);
        return new Candidate(kind, kind, recipe, settings(settings), Map.of(), Optional.empty(), Optional.empty());
    }

    static List<Candidate> everything() {
        List<Candidate> all = new ArrayList<>();
        for (ClassifierKind kind : ClassifierKinds.all()) {
            if (kind.input() == ClassifierKind.Input.COLUMNS) {
                all.add(candidate(
                        kind.name(), Optional.empty(), kind.name(), List.of(), SMALL.getOrDefault(kind.name(), "")));
            }
        }
        // Families, whose members are fitted together.
        for (String value : List.of("3", "9")) {
            all.add(Trials.candidate("near/" + value, "nearest", "neighbours=" + value));
            all.add(Trials.candidate("depth/" + value, "tree", "depth=" + value));
            all.add(Trials.candidate("pruned/" + value, "tree", "pruning=0.00" + value));
            all.add(Trials.candidate("ridge/" + value, "logistic", "strength=" + value));
            all.add(Trials.candidate("rounds/" + value, "boosting", "rounds=" + value));
            all.add(Trials.candidate("trees/" + value, "forest", "trees=" + value));
            all.add(Trials.candidate("normal/" + value, "discriminant", "pooled=0." + value));
        }
        StepKinds.all().forEach(s -> all.add(behind(s, "logistic")));
        for (String by : List.of("balance.by=weights", "balance.by=resampling")) {
            all.add(candidate(by, Optional.empty(), "tree", List.of(WrapperKind.BALANCE), by));
        }
        for (String by : List.of("calibrate.by=platt", "calibrate.by=isotonic")) {
            all.add(candidate(by, Optional.empty(), "forest", List.of(WrapperKind.CALIBRATE), by + " trees=5"));
        }
        all.add(candidate("cut", Optional.empty(), "naive-bayes", List.of(WrapperKind.THRESHOLD), ""));
        Tuning tuning =
                new Tuning(Map.of("depth", List.of("1", "4")), 3, 1, Tuning.By.BEST_MEAN, MetricName.parse("log-loss"));
        Candidate tuned = new Candidate(
                "tuned",
                "tuned",
                Recipe.of(ClassifierKinds.of("tree").orElseThrow()),
                Settings.none(),
                Map.of(),
                Optional.empty(),
                Optional.of(tuning));
        all.add(tuned);
        List<Candidate> members = List.of(
                candidate("woods", Optional.empty(), "forest", List.of(), "trees=5"),
                candidate("net", Optional.empty(), "network", List.of(), "steps=10"),
                tuned);
        all.add(council("vote", "", members));
        all.add(council("stack", "folds=3", members));
        return all;
    }

    /** A column of texts is there for whoever reads its words; to all others it is not there. */
    @Test
    void textsAreSeenByThoseThatReadTheirWordsAlone() {
        String[] texts = new String[DATA.rows()];
        Arrays.setAll(texts, i -> i % 9 == 2 ? null : "row " + i + (DATA.target(i) == 1 ? " lost" : " fine"));
        List<Column> columns = new ArrayList<>(DATA.features().columns());
        columns.add(1, Categories.of("remark", texts).asTexts());
        DataSet more = DataSet.of("bees", new Table(DATA.rows(), columns), DATA.classes(), DATA.targets());
        List<Candidate> candidates = List.of(
                Trials.candidate("plain", "logistic", "strength=2"),
                Trials.candidate("bayes", "naive-bayes", "pseudo-count=2"),
                Trials.candidate("mixed", "nearest", "distance=mixed"),
                candidate("raw", Optional.of(List.of()), "naive-bayes", List.of(), ""));
        double[][][] p = new double[2][][];
        for (int d = 0; d < 2; d++) {
            Task task = Trials.task(d == 0 ? DATA : more, new KFold(3, 1, true), "accuracy");
            p[d] = Trials.fits(new Comparison(List.of(task), candidates, SEED), 1).stream()
                    .map(f -> all(f.result().orElseThrow().outcomes()))
                    .toArray(double[][]::new);
        }
        for (int f = 0; f < p[0].length; f++) {
            // Sums that folds share serve columns as they are alone, within 1e-9 of what each fold finds by itself.
            assertThat(p[1][f]).containsExactly(p[0][f], within(1e-9));
        }
        StepKind words = StepKinds.of("words").orElseThrow();
        List<StepKind> steps = List.of(
                words,
                StepKinds.of("fill").orElseThrow(),
                StepKinds.of("one-hot").orElseThrow());
        Candidate reader =
                candidate("reader", Optional.of(StepUse.of(steps)), "tree", List.of(), "words.columns=remark");
        Task task = Trials.task(more, new KFold(3, 1, true), "accuracy");
        double[] ones = new double[more.rows()];
        Arrays.fill(ones, 1);
        Pipeline fitted = Pipeline.of(reader, new TrainingRows(more, ones, task.splits()), new Seed(SEED).with("fit"));
        assertThat(fitted.predictor().prepared())
                .contains("remark=lost", "remark=fine")
                .doesNotContain("remark");
        assertThat(fitted.predictor().textColumns(more.features())).containsExactly("remark");
    }

    /** Training rows of a split as {@link FittedPipeline#train} would have them. */
    private static TrainingRows trainingRows(Split split) {
        return new TrainingRows(
                DATA.select(split.train().toArray()), split.train().weights(), TASK.splits());
    }

    private static double[] all(Outcomes outcomes) {
        double[] p = new double[2 * outcomes.size()];
        Arrays.setAll(p, i -> outcomes.probability(i / 2, i % 2));
        return p;
    }

    /** Whatever is in a plan, a fold fitted again is the fold that the run found, to the last bit, and so is train's way. */
    @TestFactory
    Stream<DynamicTest> aFoldFittedAgainIsTheSame() {
        List<Candidate> candidates = everything();
        Comparison comparison = new Comparison(List.of(TASK), candidates, SEED);
        List<Fit> fits = Trials.fits(comparison, 2);
        Fitter fitter = new Fitter(comparison);
        return fits.stream()
                .map(fit ->
                        DynamicTest.dynamicTest(candidates.get(fit.candidate()).name() + " " + fit.fold(), () -> {
                            Candidate candidate = candidates.get(fit.candidate());
                            assertThat(fit.message()).isEmpty();
                            Outcomes found = fit.result().orElseThrow().outcomes();
                            Split split = TASK.splits().at(fit.repeat(), fit.fold());
                            int[] rows = split.test().toArray();
                            Table raw = DATA.features().select(rows);
                            Pipeline again = fitter.again(0, candidate, split);
                            Outcomes same =
                                    again.outcomes(fit.fold(), rows, DATA.targets(rows), again.probabilities(raw));
                            assertThat(all(same)).containsExactly(all(found));
                            assertThat(same.labels()).containsExactly(found.labels());
                            assertThat(again.sizeUpTo(split.train().size())).isEqualTo(fit.size());
                            Seed scope = new Seed(SEED)
                                    .with("fit")
                                    .with(fit.repeat())
                                    .with(fit.fold());
                            double[] trained = Pipeline.of(candidate, trainingRows(split), scope)
                                    .predictor()
                                    .probabilities(raw);
                            // What begins near the solution of all rows ends within 1e-7 of its own.
                            boolean near = candidate.recipe().kind().input() == ClassifierKind.Input.COLUMNS
                                    && candidate.recipe().classifier(candidate.settings()) instanceof AcrossFolds;
                            assertThat(trained).containsExactly(all(found), within(near ? 1e-6 : 1e-15));
                        }));
    }

    /** Weights go to the column that a prepared one was made of; a product was made of two, and then nothing is said. */
    @Test
    void ownWeightsGoToTheColumnsOfTheData() {
        TrainingRows rows = trainingRows(TASK.splits().at(0, 0));
        Pipeline plain = Pipeline.of(behind(StepKinds.of("standardise").orElseThrow(), "tree"), rows, new Seed(1));
        assertThat(plain.ownWeights(DATA.features()).keySet()).containsExactly("mites", "race", "weight");
        assertThat(plain.ownWeights(DATA.features()).values().stream()
                        .mapToDouble(w -> w)
                        .sum())
                .isEqualTo(1, within(1e-12));
        List<StepUse> products = StepUse.of(Stream.of("fill", "one-hot", "interactions")
                .map(n -> StepKinds.of(n).orElseThrow())
                .collect(Collectors.toList()));
        Pipeline crossed = Pipeline.of(candidate("x", Optional.of(products), "tree", List.of(), ""), rows, new Seed(1));
        assertThat(crossed.ownWeights(DATA.features())).isEmpty();
    }
}

package keenfold.view.text;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.Notice;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.pick.Picker;
import keenfold.core.pick.Rule;
import keenfold.core.pick.SimplerBy;
import keenfold.core.pick.Simplicity;
import keenfold.core.prepare.Settings;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Runner;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.Audit;
import keenfold.core.split.KFold;
import keenfold.core.survey.Breakdown;
import keenfold.core.survey.ColumnProfile;
import keenfold.core.survey.Suspicion;
import keenfold.results.Contrasts;
import keenfold.results.Evaluation;
import keenfold.results.FoldMap;
import keenfold.results.Picking;
import keenfold.results.Scores;
import keenfold.results.Survey;
import keenfold.results.notice.Notices;
import keenfold.results.notice.PickNotices;
import keenfold.results.notice.SuspicionWords;
import org.junit.jupiter.api.Test;

/** The views on a small comparison: what they say, and that it fits. */
class ViewsTest {
    private static final Ink PLAIN = Ink.of(false);
    private static final KFold SCHEME = new KFold(4, 2, true);

    private static DataSet data(int rows, double shift, int positives) {
        RandomSource chance = new Seed(rows).chance();
        int[] y = IntStream.range(0, rows).map(i -> i < positives ? 1 : 0).toArray();
        double[] x =
                Arrays.stream(y).mapToDouble(c -> chance.normal() + shift * c).toArray();
        return DataSet.of(
                "bees",
                new Table(rows, List.of(Numbers.of("x", x))),
                new Classes(List.of("lives", "lost"), 1),
                y,
                Optional.empty(),
                IntStream.rangeClosed(1, rows).toArray());
    }

    private static Candidate candidate(String name, String kind) {
        return new Candidate(name, name, ClassifierKinds.of(kind).orElseThrow(), Settings.none(), List.of());
    }

    private static Candidate wholeTree() {
        Settings whole = Settings.none().with("pruning", "0");
        return new Candidate("tree", "tree", ClassifierKinds.of("tree").orElseThrow(), whole, List.of());
    }

    private static Results results(DataSet data, Candidate... candidates) {
        Task task = Task.of(
                data,
                SCHEME.divide(data, 1),
                List.of(MetricName.parse("auc"), MetricName.parse("accuracy"), MetricName.parse("precision")));
        Comparison comparison = new Comparison(List.of(task), List.of(candidates), 1);
        List<Fit> fits = new ArrayList<>();
        Runner.on(Parallel.of(1)).run(comparison, comparison.units(), (unit, done) -> fits.addAll(done));
        return new Results(comparison.tasks(), comparison.candidates(), fits, 1);
    }

    private static Inference inference(Results results, double margin) {
        return Inference.of(
                AlignedPredictions.of(results, 0),
                new InferenceSettings(300, 0.95, margin, Optional.empty()),
                Parallel.of(1));
    }

    static Evaluation evaluation(Inference... inferences) {
        return new Evaluation(
                List.of(inferences),
                List.of("auc"),
                "auc",
                Optional.of(SCHEME),
                Optional.empty(),
                List.of(),
                List.of());
    }

    static final Results CLEAR = results(
            data(120, 2.5, 30),
            candidate("guess", "majority"),
            candidate("logit", "logistic"),
            candidate("twin", "logistic"));

    @Test
    void scoresNameWhatTheyShow() {
        String text = ScoresView.render(
                Scores.of(evaluation(inference(CLEAR, 0)), List.of("auc", "accuracy", "precision"), Scores.Extras.NONE),
                PLAIN);
        assertThat(text)
                .contains("auc (higher is better)")
                .containsPattern("guess +0\\.5000 +0 +0 +0 +- +0\\.500 +0\\.500 +no interval")
                .containsPattern("guess +- +- +- +- +- +undefined in 8 folds, not compared")
                .contains("logit, twin: fill, one-hot, standardise\n")
                .contains("sd: spread of the 8 fold scores")
                .contains("300 draws of rows, widened");
        assertThat(Wrap.width(text)).isLessThanOrEqualTo(100);
        // The best mean stands first, whatever the order of the plan.
        assertThat(text.indexOf("logit")).isLessThan(text.indexOf("guess"));
    }

    @Test
    void contrastsSayTheirCallAndItsReason() {
        String text = ContrastView.render(
                Contrasts.of(evaluation(inference(CLEAR, 0.6)), List.of("auc"), Contrasts.ALL), PLAIN);
        assertThat(text)
                .contains("equivalent: identical predictions")
                .contains("equivalent (better by less than the margin)")
                .containsPattern("candidate +against +difference");
        assertThat(text.replaceAll("\\s+", " "))
                .contains("if there were none, for all 3 comparisons of the family (step-down max-T)")
                .contains("equivalent where it is surely within 0.6 either way")
                .contains("auc: which may be the best candidate mean auc se rank may be best p");
        Inference plain = inference(CLEAR, 0);
        MetricInference auc = plain.metric("auc");
        assertThat(ContrastView.render(Contrasts.part(plain, auc, "logit"), PLAIN))
                .containsPattern("guess .* worse")
                .doesNotContain("guess +logit");
        assertThat(ContrastView.render(new Contrasts.Part(plain, auc, "t", List.of(), true), PLAIN))
                .isEqualTo("no two candidates can be compared by auc\n");
    }

    @Test
    void whatFindsNoRoomBesideAPairStandsBelow() {
        Results named = results(
                data(120, 2.5, 30),
                candidate("a candidate with a name of some length", "logistic"),
                candidate("another one of about the same length", "logistic"));
        String text = ContrastView.render(
                Contrasts.of(evaluation(inference(named, 0)), List.of("auc"), Contrasts.ALL), PLAIN);
        assertThat(Wrap.width(text)).isLessThanOrEqualTo(100);
        assertThat(text.replaceAll("\\s+", " "))
                .contains("equivalent: identical predictions: a candidate with a name of some length and another one");
    }

    @Test
    void picksGiveReasonAndPrice() {
        MetricInference auc = inference(CLEAR, 0).metric("auc");
        AlignedPredictions panel = AlignedPredictions.of(CLEAR, 0);
        var picks = Picker.pick(auc, Simplicity.of(panel), Rule.ONE_SE).orElseThrow();
        Simplicity bySize = Simplicity.of(panel);
        Picking picking = Picking.of(evaluation(inference(CLEAR, 0)), "auc", Rule.ONE_SE, Simplicity::of);
        String text = PickView.render(picking, PLAIN);
        assertThat(text.replaceAll("\\s+", " "))
                .contains("Pick by auc: logit")
                .contains("no simpler candidate lies within one standard error of it")
                .contains("rules side by side")
                .contains("not applied: within-margin: no margin is given")
                .containsPattern("choosing by one-se, 0\\.\\d+")
                .contains("To quote: \"Of 3 candidates compared on the same splits");
        assertThat(Wrap.width(text)).isLessThanOrEqualTo(100);
        assertThat(PickView.brief(panel, auc, picks, bySize, 0.95, Ink.of(true)))
                .startsWith("\u001B[1mPick: logit\u001B[0m by one-se");
        assertThat(PickNotices.of(panel, auc, picks)).anyMatch(c -> c.text().contains("was selected from 3"));
    }

    /** A stump has fewer parameters than naive Bayes, which a forest of one comes after all the same. */
    @Test
    void aPickThatSizeAloneWouldTurnSaysSo() {
        Candidate stump = new Candidate(
                "stump",
                "stump",
                ClassifierKinds.of("forest").orElseThrow(),
                Settings.none().with("trees", "1").with("depth", "1"),
                List.of());
        Results two = results(data(80, 1, 30), candidate("plain", "naive-bayes"), stump);
        Rule anything = Rule.parse("m-se=1000");
        Inference inference = inference(two, 0);
        Picking picking = Picking.quick(evaluation(inference), "auc", anything, Simplicity::of);
        assertThat(PickView.render(picking, PLAIN))
                .contains("Pick by auc: plain")
                .containsPattern("candidate +tier +size")
                .containsPattern("plain +2 ")
                .containsPattern("stump +6 ");
        AlignedPredictions panel = inference.panel();
        MetricInference auc = inference.metric("auc");
        Simplicity bySize = Simplicity.of(panel, SimplerBy.SIZE);
        assertThat(PickNotices.of(
                        panel,
                        auc,
                        Picker.pick(auc, Simplicity.of(panel), anything).orElseThrow()))
                .anyMatch(
                        n -> n.text().matches("by size alone, stump \\(size .*\\) would be picked instead of plain.*"));
        assertThat(PickNotices.of(panel, auc, Picker.pick(auc, bySize, anything).orElseThrow(), bySize))
                .noneMatch(n -> n.text().startsWith("by size alone"));
    }

    @Test
    void wideComparisonsDropMetricsRatherThanThePage() {
        Results named = results(
                data(80, 1, 30),
                candidate("a candidate with a name of some length", "majority"),
                candidate("another one of about the same length", "naive-bayes"));
        Inference inference = inference(named, 0);
        Evaluation evaluation = evaluation(inference);
        String text = ComparisonView.render(
                Scores.of(evaluation, List.of("auc", "accuracy", "precision"), Scores.Extras.NONE),
                Picking.quick(evaluation, "auc", Rule.ONE_SE, Simplicity::of),
                PLAIN);
        assertThat(Wrap.width(text)).isLessThanOrEqualTo(100);
        assertThat(text)
                .containsPattern("a cand.*\\.\\..*length")
                .contains("bees: 80 rows; lives 50 (63 %), lost 30 (38 %, positive)");
    }

    private static List<Notice> cautionsOfData(int positives) {
        DataSet data = data(200, 0, positives);
        return Notices.ofData(data, KFold.DEFAULT.divide(data, 1));
    }

    @Test
    void cautionsAreRaisedWhereTheyBelong() {
        DataSet few = data(40, 0, 6);
        assertThat(Notices.ofData(few, KFold.DEFAULT.divide(few, 1)))
                .anyMatch(c -> c.text().contains("class \"lost\" has 6 rows for 10 folds"))
                .anyMatch(c -> c.text().contains("with 40 rows only large differences"));
        assertThat(cautionsOfData(15)).anyMatch(c -> c.text().contains("has only 15 rows"));
        assertThat(cautionsOfData(60)).isEmpty();
        Results hopeless = results(data(100, 0, 20), candidate("guess", "majority"), wholeTree());
        AlignedPredictions panel = AlignedPredictions.of(hopeless, 0);
        MetricInference accuracy = inference(hopeless, 0).metric("accuracy");
        assertThat(Notices.ofScores(panel, accuracy))
                .anyMatch(c -> c.text().contains("80 % of rows are of one class")
                        && c.text().contains("accuracy of 0.800"))
                .anyMatch(c -> c.text().contains("changes a lot for tree"));
        assertThat(Notices.ofFits(panel)).anyMatch(c -> c.text().contains("2 repeats show little"));
        var picks = Picker.pick(accuracy, Simplicity.of(panel), Rule.BEST_MEAN).orElseThrow();
        assertThat(PickNotices.of(panel, accuracy, picks))
                .anyMatch(c -> c.text().contains("no candidate has a better mean than the majority guess"));
    }

    @Test
    void surveysFitThePageAndDrawTheirShapes() {
        List<Survey.OfColumn> columns = List.of(
                column(Numbers.of("whole", 1, 2, 3, 4, 5), Survey.Kind.NUMBERS),
                column(Numbers.of("tiny", 1e-9, 2e-9, 3e-9, 4e-9, Double.NaN), Survey.Kind.NUMBERS),
                column(Numbers.of("day", 20000, 20001, 20002, 20003, 20004), Survey.Kind.DATES),
                column(Categories.of("kind", "a", "b", "b", null, "<b>"), Survey.Kind.CATEGORIES));
        Categories y = Categories.of("y", "p", "q", "p", "p", "q");
        String text = SurveyView.render(survey(columns, y, Optional.empty()), false, PLAIN);
        assertThat(text)
                .contains("t.csv: 5 rows, 4 columns")
                .containsPattern("whole +0 +5 +3\\.00 +1\\.58 +1 +2 +3 +4 +5 +9\\.9\\.\\.9\\.9\\.9")
                .containsPattern("tiny +20 % +4 +2\\.5e-09")
                .containsPattern("day +0 +5 +2024-10-04 +2024-10-06 +2024-10-08")
                .containsPattern("kind +20 % +3 +b 2, <b> 1, a 1")
                .containsPattern("p +3 +60 % +#+")
                .contains("Always guessing \"p\" has an accuracy of 0.600, a balanced accuracy of 0.500");
        assertThat(Wrap.width(text)).isLessThanOrEqualTo(100);
        Breakdown by = Breakdown.of(y, Categories.of("c", "u", "u", "v", "v", "v"), Optional.empty());
        assertThat(SurveyView.render(survey(columns, y, Optional.of(by)), false, PLAIN))
                .containsPattern("u +2 +1 \\(50 %\\)")
                .containsPattern("v +3 +2 \\(67 %\\)");
        for (Suspicion.Kind kind : Suspicion.Kind.values()) {
            assertThat(SuspicionWords.of(new Suspicion(kind, "x", 42)).text())
                    .isNotBlank()
                    .doesNotEndWith(".");
        }
    }

    private static Survey.OfColumn column(Column column, Survey.Kind kind) {
        return new Survey.OfColumn(ColumnProfile.of(column), kind, "", Double.NaN);
    }

    private static Survey survey(List<Survey.OfColumn> columns, Categories y, Optional<Breakdown> by) {
        return new Survey(
                "t.csv", "t.csv", columns, Optional.of(ColumnProfile.of(y)), Double.NaN, 0, by, List.of(), List.of());
    }

    @Test
    void aMapOfSplitsFitsThePageWhateverClassesAreCalled() {
        List<String> labels = IntStream.range(0, 4)
                .mapToObj(c -> "class number " + c + " with a long name")
                .toList();
        DataSet data = DataSet.of(
                "long",
                new Table(40, List.of(Numbers.of("x", new double[40]))),
                new Classes(labels, 0),
                IntStream.range(0, 40).map(i -> i % 4).toArray());
        Task task = Task.of(data, new KFold(2, 1, true).divide(data, 1), List.of(MetricName.parse("accuracy")));
        FoldMap.OfSet set =
                new FoldMap.OfSet(task, Audit.of(data, task.splits(), false, true), 0, Set.of(), Optional.empty());
        String text = FoldsView.render(set, Optional.of(new KFold(2, 1, true)), 0, 1, Ink.of(false));
        assertThat(text.lines()).allMatch(l -> l.length() <= 100);
        assertThat(text).contains("2 more classes do not fit").contains("test class number 1 with a long name");
    }
}

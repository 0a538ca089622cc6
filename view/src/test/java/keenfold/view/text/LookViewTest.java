package keenfold.view.text;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.Method;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.pick.Picker;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Rule;
import keenfold.core.pick.SimplerBy;
import keenfold.core.pick.Simplicity;
import keenfold.core.run.Importance;
import keenfold.core.run.Parallel;
import keenfold.core.run.result.Rescored;
import keenfold.core.run.result.Results;
import keenfold.results.AcrossDataSets;
import keenfold.results.Contrasts;
import keenfold.results.Evaluation;
import keenfold.results.Look;
import keenfold.results.Looks;
import keenfold.results.Picking;
import keenfold.results.notice.Notices;
import keenfold.results.notice.PickNotices;
import keenfold.results.table.NumberFormats;
import org.junit.jupiter.api.Test;

/** What the closer looks print: layout and words, the numbers being tested where they are made. */
class LookViewTest {
    private static final Ink PLAIN = Ink.of(false);
    private static final Results RESULTS = Rescored.of(
            ViewsTest.CLEAR,
            List.of(
                    MetricName.parse("auc"),
                    MetricName.parse("accuracy"),
                    MetricName.parse("recall:class=lives"),
                    MetricName.parse("recall:class=lost")));
    private static final AlignedPredictions PANEL = AlignedPredictions.of(RESULTS, 0);

    private static Inference inference(Method method) {
        return Inference.of(
                PANEL, InferenceSettings.DEFAULT.withDraws(300).withMethod(method, Optional.empty()), Parallel.of(1));
    }

    private static final Inference PIVOT = inference(Method.PIVOT);
    private static final MetricInference AUC = PIVOT.metric("auc");
    private static final Evaluation EVALUATION = ViewsTest.evaluation(PIVOT);
    private static final List<String> LOGIT = List.of("logit");

    private static void fits(String text) {
        assertThat(Wrap.width(text)).as(text).isLessThanOrEqualTo(100);
    }

    @Test
    void splitsAreListedFoldByFold() {
        String text = LookView.folds(Looks.folds(EVALUATION, List.of("auc"), List.of()), PLAIN);
        fits(text);
        assertThat(text.lines().filter(l -> l.matches(" +[12] +[1-4] .*"))).hasSize(8);
        assertThat(text)
                .contains("auc of each split, higher is better")
                .containsPattern("repeat +fold +guess +logit +twin");
    }

    @Test
    void classesStandInLines() {
        String text = LookView.classes(Looks.classes(EVALUATION, List.of("recall"), LOGIT), PLAIN);
        fits(text);
        assertThat(text)
                .containsPattern("class +rows +recall +se\n")
                .containsPattern("lives +\\d+ +\\d\\.\\d+")
                .containsPattern("lost +\\d+ +\\d\\.\\d+");
    }

    @Test
    void matricesSayWhatTheirCellsAre() {
        for (LookView.Cells cells : LookView.Cells.values()) {
            String text = LookView.confusion(Looks.confusion(EVALUATION, true, LOGIT), cells, PLAIN);
            fits(text);
            assertThat(text)
                    .contains(
                            switch (cells) {
                                case COUNTS -> "rows, averaged over the repeats";
                                case ROWS -> "recall on the diagonal";
                                case COLUMNS -> "precision on the diagonal";
                            });
            assertThat(text.lines().dropWhile(l -> !l.startsWith("logit:")).takeWhile(l -> !l.isEmpty()))
                    .hasSize(4);
        }
    }

    @Test
    void thresholdsSayWhereTheyWereFound() {
        Look look = Looks.thresholds(EVALUATION, "accuracy", LOGIT);
        String text = LookView.thresholds(look, PLAIN);
        fits(text);
        assertThat(text.lines().filter(l -> l.matches(" +0\\.\\d\\d .*"))).hasSize(19);
        assertThat(text.replaceAll("\\s+", " "))
                .contains("\"lost\" is predicted at and above this probability")
                .contains("Found on the other folds' rows it is worth");
        Look alone = new Look(EVALUATION, "look", "thresholds", look.table().where("kind", "grid"), List.of());
        assertThat(LookView.thresholds(alone, PLAIN)).contains("There are no other folds to find a best threshold on.");
    }

    @Test
    void spreadsAreNamed() {
        String text = LookView.spread(Looks.spread(EVALUATION, List.of("auc"), LOGIT), PLAIN);
        fits(text);
        assertThat(text).contains("sd folds").contains("sd repeats").contains("fold-se");
    }

    @Test
    void columnsAreOrderedByWhatTheyAreWorth() {
        Importance.Drops drops = new Importance.Drops(
                1,
                List.of(0.8, 0.9),
                List.of(List.of(0.01, 0.02), List.of(0.3, 0.2)),
                Map.of("idle", 0.1, "busy", 0.9),
                0);
        Importance.Drops silent = new Importance.Drops(0, drops.score(), drops.drops(), Map.of(), 0);
        Looks.ColumnWorth worth = new Looks.ColumnWorth(PIVOT, List.of("idle", "busy"), List.of(drops, silent));
        String text = LookView.columns(Looks.columns(EVALUATION, "auc", List.of(worth), List.of()), PLAIN);
        fits(text);
        assertThat(text)
                .contains("over 2 splits")
                // A model that says nothing about columns has no weights of its own.
                .containsPattern("column +logit +sd +own +guess +sd\n")
                .containsPattern("busy +0\\.2500 +0\\.071 +90 % +0\\.2500 +0\\.071\nidle +0\\.0150");
    }

    @Test
    void dataSetsStandSideBySide() {
        String text = LookView.dataSets(Looks.dataSets(EVALUATION, List.of("auc")), PLAIN);
        fits(text);
        assertThat(text).contains("auc by data set, higher is better").containsPattern("candidate +bees +se\n");
    }

    @Test
    void acrossPutsTheFavouredFirst() {
        Evaluation twice = ViewsTest.evaluation(PIVOT, PIVOT);
        AcrossDataSets across = AcrossDataSets.of(twice, List.of("auc"));
        assertThat(across.warnings()).anyMatch(w -> w.code().equals("too-few-data-sets"));
        String text = AcrossView.render(across, PLAIN);
        fits(text);
        assertThat(text)
                .contains("auc across 2 data sets")
                .contains("Friedman chi-square")
                .doesNotContainPattern("\nguess +logit +\\d");
    }

    @Test
    void everyRuleHasItsReason() {
        Inference inference =
                Inference.of(PANEL, InferenceSettings.DEFAULT.withDraws(300).withMargin(0.6), Parallel.of(1));
        List<String> reasons = new ArrayList<>();
        for (Rule.Kind kind : Rule.Kind.values()) {
            Rule rule = kind == Rule.Kind.M_SE ? Rule.parse("m-se=50") : Rule.of(kind);
            String text =
                    PickView.render(Picking.quick(ViewsTest.evaluation(inference), "auc", rule, Simplicity::of), PLAIN);
            fits(text);
            reasons.add(text.replaceAll("\\s+", " "));
            assertThat(text).doesNotContain("Corrected for choosing");
        }
        assertThat(reasons.get(1))
                .contains("lies within 50 standard errors of it")
                .contains("Its price:");
        assertThat(reasons.get(5))
                .contains("lies within the margin of it")
                .contains("by the rule within-margin we chose");
        assertThat(reasons.get(6)).contains("by best-mean:").contains("was chosen (rule best-mean)");
    }

    @Test
    void otherOrdersAreShownAsSuch() {
        for (SimplerBy by : List.of(SimplerBy.COLUMNS, SimplerBy.TRAIN_TIME, SimplerBy.RANK)) {
            String text = PickView.render(
                    Picking.quick(EVALUATION, "auc", Rule.parse("m-se=50"), panel -> Simplicity.of(panel, by)), PLAIN);
            fits(text);
            assertThat(text.replaceAll("\\s+", " ")).contains("The order is by " + by.label());
        }
        Simplicity none = Simplicity.of(PANEL, SimplerBy.RANK);
        Picks picks = Picker.pick(AUC, none, Rule.ONE_SE).orElseThrow();
        assertThat(PickNotices.of(PANEL, AUC, picks, none))
                .anyMatch(c -> c.text().contains("no candidate has a rank, so that none counts as simpler"));
    }

    @Test
    void methodsSayWhatTheyLeaveOut() {
        assertThat(Notices.ofMethod(PANEL, inference(Method.PIVOT).metric("auc")))
                .isEmpty();
        for (Method method : List.of(Method.CASES, Method.CASES_BCA, Method.CORRECTED_T)) {
            MetricInference metric = inference(method).metric("auc");
            assertThat(Notices.ofMethod(PANEL, metric)).hasSize(1);
            Evaluation evaluation = ViewsTest.evaluation(inference(method));
            String text = ContrastView.render(Contrasts.of(evaluation, List.of("auc"), Contrasts.ALL), PLAIN);
            fits(text);
            assertThat(text).contains("Holm");
        }
        assertThat(IntStream.of(0, 10).mapToObj(d -> NumberFormats.p(0.00002, d)))
                .containsExactly("< 0.0001", "< 0.09");
    }
}

package keenfold.view.text;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.infer.AcrossSets;
import keenfold.core.infer.Confusions;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.Spread;
import keenfold.core.infer.Thresholds;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.Method;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.pick.Corrected;
import keenfold.core.pick.Picker;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Rule;
import keenfold.core.pick.SimplerBy;
import keenfold.core.pick.Simplicity;
import keenfold.core.run.Importance;
import keenfold.core.run.Parallel;
import keenfold.core.run.result.Rescored;
import keenfold.core.run.result.Results;
import org.junit.jupiter.api.Test;

/** What the closer looks print: layout and words, the numbers being tested where they are made. */
class DetailViewsTest {
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

    private static final MetricInference AUC = inference(Method.PIVOT).metric("auc");

    private static void fits(String text) {
        assertThat(Wrap.width(text)).as(text).isLessThanOrEqualTo(100);
    }

    @Test
    void splitsAreListedFoldByFold() {
        String text = DetailViews.byFold(PANEL, AUC, 0, PANEL.admitted(), PLAIN);
        fits(text);
        assertThat(text.lines().filter(l -> l.matches(" +[12] +[1-4] .*"))).hasSize(8);
        assertThat(text).startsWith("auc of each split, higher is better");
    }

    @Test
    void classesStandInLines() {
        String text = DetailViews.byClass(inference(Method.PIVOT), 1, List.of("recall"), PLAIN);
        fits(text);
        assertThat(text).containsPattern("lives +\\d+ +\\d\\.\\d+").containsPattern("lost +\\d+ +\\d\\.\\d+");
    }

    @Test
    void matricesSayWhatTheirCellsAre() {
        Confusions confusions = Confusions.of(PANEL, 1);
        for (DetailViews.Cells cells : DetailViews.Cells.values()) {
            String text = DetailViews.confusion(PANEL, 1, confusions, cells, PLAIN);
            fits(text);
            assertThat(text)
                    .contains(
                            switch (cells) {
                                case COUNTS -> "rows, averaged over the repeats";
                                case ROWS -> "recall on the diagonal";
                                case COLUMNS -> "precision on the diagonal";
                            });
            assertThat(text.lines()).hasSize(4);
        }
    }

    @Test
    void thresholdsSayWhereTheyWereFound() {
        Thresholds thresholds = Thresholds.of(PANEL, 1);
        MetricInference accuracy = inference(Method.PIVOT).metric("accuracy");
        String text = DetailViews.thresholds(
                PANEL, 1, "accuracy", thresholds.points(accuracy.metric()), thresholds.best(accuracy.metric()), PLAIN);
        fits(text);
        assertThat(text.lines().filter(l -> l.matches(" +0\\.\\d\\d .*"))).hasSize(19);
        assertThat(text.replaceAll("\\s+", " "))
                .contains("\"lost\" is predicted from this probability on")
                .contains("Found on the other folds' rows it is worth");
        assertThat(DetailViews.thresholds(PANEL, 1, "accuracy", List.of(), Optional.empty(), PLAIN))
                .contains("There are no other folds to find a best threshold on.");
    }

    @Test
    void spreadsAreNamed() {
        String text = DetailViews.spread(PANEL, AUC, Map.of(1, Spread.of(AUC, 1)), PLAIN);
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
        String text = DetailViews.byColumn(PANEL, AUC, List.of("idle", "busy"), List.of(drops), PLAIN);
        fits(text);
        assertThat(text).containsPattern("busy +0\\.2500 +0\\.071 +90 %\\nidle +0\\.0150");
    }

    @Test
    void dataSetsStandSideBySide() {
        String text = DetailViews.byDataSet(List.of(AUC, AUC), PLAIN);
        fits(text);
        assertThat(text).contains("auc by data set, higher is better").contains("guess");
    }

    @Test
    void acrossPutsTheFavouredFirst() {
        List<MetricInference> twice = List.of(AUC, AUC);
        String text = AcrossView.render(AcrossSets.of(twice), twice, 0.95, PLAIN);
        fits(text);
        assertThat(text)
                .contains("auc across 2 data sets")
                .contains("Friedman chi-square")
                .doesNotContainPattern("\nguess +logit +\\d");
    }

    @Test
    void everyRuleHasItsReason() {
        Simplicity simplicity = Simplicity.of(PANEL);
        Inference inference =
                Inference.of(PANEL, InferenceSettings.DEFAULT.withDraws(300).withMargin(0.6), Parallel.of(1));
        MetricInference auc = inference.metric("auc");
        List<String> reasons = new ArrayList<>();
        for (Rule.Kind kind : Rule.Kind.values()) {
            Rule rule = kind == Rule.Kind.M_SE ? Rule.parse("m-se=50") : Rule.of(kind);
            Picks picks = Picker.pick(auc, simplicity, rule).orElseThrow();
            String text = PickView.render(
                    inference,
                    auc,
                    picks,
                    List.of(),
                    new PickView.Worth(Corrected.NONE, Corrected.NONE),
                    simplicity,
                    Optional.empty(),
                    PLAIN);
            fits(text);
            reasons.add(text.replaceAll("\\s+", " "));
            fits(PickView.legend(auc, rule, simplicity, PLAIN));
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
            Simplicity simplicity = Simplicity.of(PANEL, by);
            Picks picks = Picker.pick(AUC, simplicity, Rule.parse("m-se=50")).orElseThrow();
            String text = PickView.render(
                    inference(Method.PIVOT),
                    AUC,
                    picks,
                    List.of(),
                    new PickView.Worth(new Corrected(0.7, 0.001, 0.7), new Corrected(0.6, 0.001, 0.6)),
                    simplicity,
                    Optional.empty(),
                    PLAIN);
            fits(text);
            assertThat(text).contains(by.label());
            assertThat(PickView.legend(AUC, Rule.ONE_SE, simplicity, PLAIN)).contains("The order is by " + by.label());
        }
        Simplicity none = Simplicity.of(PANEL, SimplerBy.RANK);
        Picks picks = Picker.pick(AUC, none, Rule.ONE_SE).orElseThrow();
        assertThat(PickNotices.of(PANEL, AUC, picks, none))
                .anyMatch(c -> c.contains("no candidate has a rank, so that none counts as simpler"));
    }

    @Test
    void methodsSayWhatTheyLeaveOut() {
        assertThat(Notices.ofMethod(PANEL, inference(Method.PIVOT).metric("auc")))
                .isEmpty();
        for (Method method : List.of(Method.CASES, Method.CASES_BCA, Method.CORRECTED_T)) {
            MetricInference metric = inference(method).metric("auc");
            assertThat(Notices.ofMethod(PANEL, metric)).hasSize(1);
            String legend =
                    ContrastView.legend(List.of(metric), inference(method).evidence(), PLAIN);
            fits(legend);
            assertThat(legend).contains("Holm");
            fits(ContrastView.render(inference(method), metric, metric.contrasts(), "title", false, PLAIN));
        }
        assertThat(IntStream.of(0, 10).mapToObj(d -> NumberFormats.p(0.00002, d)))
                .containsExactly("< 0.0001", "< 0.09");
    }
}

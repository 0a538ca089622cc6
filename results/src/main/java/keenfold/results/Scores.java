package keenfold.results;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.data.Notice;
import keenfold.core.data.Plural;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.infer.resample.Variance;
import keenfold.core.infer.resample.VarianceForm;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Simplicity;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.results.notice.Notices;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;
import keenfold.results.table.ValueKind;

/** Means and spreads of candidates under some metrics, and what a fit costs. */
public final class Scores implements Result {
    private final Evaluation evaluation;
    private final List<String> metrics;
    private final Extras extras;

    private Scores(Evaluation evaluation, List<String> metrics, Extras extras) {
        this.evaluation = evaluation;
        this.metrics = List.copyOf(metrics);
        this.extras = extras;
    }

    /**
     * Computes means.
     *
     * @param metrics by name
     * @param extras what stands beside them
     */
    public static Scores of(Evaluation evaluation, List<String> metrics, Extras extras) {
        evaluation.inferences().forEach(i -> i.together(metrics));
        return new Scores(evaluation, metrics, extras);
    }

    /**
     * What stands beside means if it is asked for.
     *
     * @param training scores on the training rows
     * @param ranks which candidates may be the best, and the ranks that each may have
     */
    public record Extras(boolean training, boolean ranks) {
        /** Nothing. */
        public static final Extras NONE = new Extras(false, false);
    }

    /** Returns how each candidate stands among all; no row where that was not asked for, or no differences are called. */
    public ResultTable standings(Inference inference, MetricInference metric) {
        ResultTable all = StandingsTable.of(inference, metric);
        return extras.ranks() ? all : all.where("candidate", "");
    }

    /** Returns what it was made of. */
    public Evaluation evaluation() {
        return evaluation;
    }

    /** Returns the names of the metrics. */
    public List<String> metrics() {
        return metrics;
    }

    /** Returns a row for each data set, metric and candidate, in plan order. */
    @Override
    public ResultTable table() {
        return ResultTable.joined(evaluation.inferences().stream()
                .flatMap(
                        i -> metrics.stream().map(i::metric).map(m -> means(i, m, m.means(), extras, Optional.empty())))
                .toList());
    }

    /** Returns one metric of one data set, the best mean first. */
    public ResultTable ranked(Inference inference, MetricInference metric) {
        return means(inference, metric, Evaluation.ranked(metric), extras, Optional.empty());
    }

    /** Returns one metric of one data set, the best mean first, the pick marked. */
    public static ResultTable ranked(Inference inference, MetricInference metric, Optional<Picks> picks) {
        return means(inference, metric, Evaluation.ranked(metric), Extras.NONE, picks);
    }

    private static ResultTable means(
            Inference inference, MetricInference metric, List<MeanScore> means, Extras extras, Optional<Picks> picks) {
        var table = ResultTable.<MeanScore>define()
                .name("dataset", m -> Evaluation.name(inference))
                .programs()
                .name("candidate", m -> Evaluation.name(inference, m.candidate()))
                .name("metric", m -> metric.metric().name())
                .programs()
                .number("mean", ValueKind.MEAN, MeanScore::mean)
                .error("se");
        if (extras.training()) {
            table.number("", ValueKind.fixed(3), MeanScore::train)
                    .headed("training")
                    .people();
        }
        table.number("sd", ValueKind.DEVIATION, MeanScore::sd)
                .number("se", ValueKind.DEVIATION, MeanScore::standardError);
        if (metric.form() == VarianceForm.WIDENED) {
            table.number("", ValueKind.DEVIATION, m -> variance(m, Variance::instability))
                    .headed("instability")
                    .people();
        }
        table.interval(
                        NumberFormats.level(inference.evidence().level()) + " interval",
                        "se",
                        MeanScore::low,
                        MeanScore::high)
                .number("min", ValueKind.fixed(3), MeanScore::min)
                .number("max", ValueKind.fixed(3), MeanScore::max)
                .text("", m -> remark(inference.panel(), metric, m, picks))
                .people()
                .text("interval", m -> m.interval().label())
                .json()
                .column("undefined_folds", ValueKind.WHOLE, MeanScore::undefined)
                .json()
                .number("train", ValueKind.fixed(3), MeanScore::train);
        if (extras.training()) {
            table.programs();
        } else {
            table.json();
        }
        table.column("draws_dropped", ValueKind.WHOLE, m -> metric.dropped())
                .json()
                .number("lambda", ValueKind.SHORT, m -> variance(m, Variance::lambda))
                .json()
                .number("instability", ValueKind.SHORT, m -> variance(m, Variance::instability))
                .programs()
                .number("freedom", ValueKind.SHORT, m -> variance(m, Variance::freedom))
                .json()
                .number("X", ValueKind.SHORT, m -> variance(m, Variance::covariance))
                .json()
                .number("G", ValueKind.SHORT, m -> variance(m, Variance::together))
                .json()
                .number("w", ValueKind.SHORT, m -> variance(m, Variance::weight))
                .json();
        if (extras.ranks()) {
            StandingsTable.columns(table, metric, MeanScore::candidate, true);
        }
        return table.of(means);
    }

    private static double variance(MeanScore mean, java.util.function.ToDoubleFunction<Variance> part) {
        return mean.variance().map(part::applyAsDouble).orElse(Double.NaN);
    }

    private static String remark(AlignedPredictions panel, MetricInference metric, MeanScore m, Optional<Picks> picks) {
        List<String> remarks = new ArrayList<>();
        picks.filter(p -> p.pick() == m.candidate()).ifPresent(p -> remarks.add("the pick"));
        picks.filter(p -> p.best() == m.candidate()).ifPresent(p -> remarks.add("best mean"));
        int failed = panel.failedCount(m.candidate());
        if (failed > 0) {
            remarks.add(failed + " failed");
        }
        if (m.undefined() > 0) {
            remarks.add("undefined in " + Plural.of(m.undefined(), "fold"));
        }
        if (!metric.compared().contains(m.candidate())) {
            remarks.add("not compared");
        } else if (m.interval() == MeanScore.Interval.NONE) {
            remarks.add("no interval");
        } else if (m.interval() == MeanScore.Interval.CLOPPER_PEARSON) {
            remarks.add("Clopper-Pearson");
        } else if (m.interval() == MeanScore.Interval.LIMIT) {
            remarks.add("one-sided, no spread");
        }
        return String.join(", ", remarks);
    }

    /** Returns what candidates are made of and what one fit costs: median size, mean seconds. */
    public static ResultTable costs(AlignedPredictions panel) {
        Simplicity sizes = Simplicity.of(panel);
        return ResultTable.<Integer>define()
                .name("name", c -> panel.candidates().get(c).name())
                .headed("candidate")
                .name("family", c -> panel.candidates().get(c).family())
                .json()
                .number("size", ValueKind.SIZE, sizes::size)
                .column("fits", ValueKind.WHOLE, panel::fitCount)
                .json()
                .column("failed", ValueKind.WHOLE, panel::failedCount)
                .json()
                .column("common", ValueKind.WHOLE, c -> panel.common())
                .json()
                .number("train_seconds", ValueKind.SECONDS, c -> seconds(panel.fitsOf(c), true))
                .headed("train")
                .number("predict_seconds", ValueKind.SECONDS, c -> seconds(panel.fitsOf(c), false))
                .headed("predict")
                .text("", c -> panel.shared(c) ? "shared" : "")
                .people()
                .column("shared", ValueKind.WHOLE, panel::shared)
                .json()
                .column("steps", ValueKind.LIST, c -> panel.candidates().get(c).stepTexts())
                .json()
                .column("wrappers", ValueKind.LIST, c -> panel.candidates()
                        .get(c)
                        .wrapperTexts())
                .json()
                .column("chosen", ValueKind.TEXT, panel::chosen)
                .json()
                .of(IntStream.range(0, panel.candidates().size()).boxed().toList());
    }

    /** Returns the mean seconds, by the clock, of fits: of training, or of prediction. */
    public static double seconds(List<Fit> fits, boolean train) {
        return fits.stream()
                .mapToDouble(f -> train ? f.times().trainWall() : f.times().predictWall())
                .average()
                .orElse(Double.NaN);
    }

    /** Returns the steps before a classifier and what it is wrapped in, in words. */
    public static String steps(Candidate candidate) {
        List<String> steps = candidate.stepTexts();
        List<String> wrappers = candidate.wrapperTexts();
        List<String> first = candidate.recipe().members().isEmpty()
                ? steps
                : List.of("predictions of "
                        + candidate.recipe().members().stream()
                                .map(Candidate::name)
                                .collect(Collectors.joining(" and "))
                        + (steps.isEmpty() ? "" : ", " + String.join(", ", steps)));
        return (first.isEmpty() ? "none" : String.join(", ", first))
                + (wrappers.isEmpty() ? "" : "; " + String.join(", ", wrappers));
    }

    @Override
    public Map<String, Object> document() {
        Map<String, Object> document = new LinkedHashMap<>();
        document.put("primary", evaluation.primary());
        document.put(
                "datasets", evaluation.inferences().stream().map(this::dataSet).toList());
        return document;
    }

    private Map<String, Object> dataSet(Inference inference) {
        AlignedPredictions panel = inference.panel();
        DataSet data = panel.task().data();
        boolean rows = !panel.scoresOnly();
        Map<String, Object> set = new LinkedHashMap<>();
        set.put("name", data.name());
        set.put("rows", rows ? panel.rows() : Optional.empty());
        set.put("classes", rows ? data.classes().labels() : List.of());
        set.put("positive", rows ? data.classes().positiveLabel() : Optional.empty());
        set.put("variance", inference.metric(metrics.get(0)).form().label());
        set.put("draws", inference.evidence().draws());
        set.put("level", inference.evidence().level());
        List<ResultTable> means = metrics.stream()
                .map(inference::metric)
                .map(m -> means(inference, m, m.means(), extras, Optional.empty()))
                .toList();
        List<Map<String, Object>> candidates = new ArrayList<>();
        for (ResultTable.Row row : costs(panel).rows()) {
            Map<String, Object> candidate = new LinkedHashMap<>(row.values());
            Map<String, Object> byMetric = new LinkedHashMap<>();
            for (int m = 0; m < means.size(); m++) {
                byMetric.put(
                        metrics.get(m),
                        means.get(m)
                                .without("dataset", "candidate", "metric")
                                .rows()
                                .get(candidates.size())
                                .values());
            }
            candidate.put("metrics", byMetric);
            candidates.add(candidate);
        }
        set.put("candidates", candidates);
        return set;
    }

    @Override
    public List<Notice> notices() {
        List<Notice> notices = new ArrayList<>(evaluation.notices());
        for (Inference inference : evaluation.inferences()) {
            metrics.forEach(m -> notices.addAll(Notices.ofScores(inference.panel(), inference.metric(m))));
        }
        return notices;
    }
}

package keenfold.results;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.Checks;
import keenfold.core.data.Notice;
import keenfold.core.infer.Confusions;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.OperatingPoints;
import keenfold.core.infer.Spread;
import keenfold.core.infer.Thresholds;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.infer.resample.RunningMean;
import keenfold.core.metric.Confusion;
import keenfold.core.metric.Metric;
import keenfold.core.run.Importance;
import keenfold.core.run.result.Fit;
import keenfold.results.notice.Notices;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;
import keenfold.results.table.ValueKind;

/** The closer looks that need nothing but the ledger; of several candidates, {@code shown} names those looked at, or none for all. */
public final class Looks {
    private Looks() {}

    /** A candidate of a data set under a metric, with whatever a look is about. */
    private record One<T>(Inference inference, int candidate, String metric, T value) {
        String dataset() {
            return Evaluation.name(inference);
        }

        String name() {
            return Evaluation.name(inference, candidate);
        }
    }

    private static <T> ResultTable.Definition<One<T>> columns() {
        return ResultTable.<One<T>>define()
                .name("dataset", One::dataset)
                .programs()
                .name("candidate", One::name);
    }

    private static <T> ResultTable.Definition<One<T>> metricColumns() {
        return Looks.<T>columns().name("metric", One::metric).programs();
    }

    /** Returns how scores spread over folds and repeats. */
    public static Look spread(Evaluation evaluation, List<String> metrics, List<String> shown) {
        List<One<Spread>> rows = new ArrayList<>();
        for (Inference inference : evaluation.inferences()) {
            inference.together(metrics);
            for (String metric : metrics) {
                rows.addAll(spreads(inference, metric, Evaluation.shown(inference.panel(), shown)));
            }
        }
        return new Look(evaluation, "look", "spread", spread(rows), List.of());
    }

    /** Returns how the scores of candidates of one data set spread, in the order given. */
    public static ResultTable spread(Inference inference, MetricInference metric, List<Integer> candidates) {
        return spread(spreads(inference, metric.metric().name(), candidates));
    }

    private static List<One<Spread>> spreads(Inference inference, String metric, List<Integer> candidates) {
        return candidates.stream()
                .map(c -> new One<>(inference, c, metric, Spread.of(inference.metric(metric), c)))
                .toList();
    }

    private static ResultTable spread(List<One<Spread>> rows) {
        return Looks.<Spread>metricColumns()
                .number("sd_folds", ValueKind.DEVIATION, o -> o.value().foldSd())
                .number("sd_repeats", ValueKind.DEVIATION, o -> o.value().repeatSd())
                .number("min", ValueKind.fixed(3), o -> o.value().least())
                .number("quarter", ValueKind.fixed(3), o -> o.value().quarter())
                .headed("25 %")
                .number("median", ValueKind.fixed(3), o -> o.value().median())
                .number("three_quarters", ValueKind.fixed(3), o -> o.value().threeQuarters())
                .headed("75 %")
                .number("max", ValueKind.fixed(3), o -> o.value().most())
                .number("fold_se", ValueKind.DEVIATION, o -> o.value().foldStandardError())
                .headed("fold-se")
                .number("se", ValueKind.DEVIATION, o -> o.value().standardError())
                .of(rows);
    }

    /** Returns the score of each split. */
    public static Look folds(Evaluation evaluation, List<String> metrics, List<String> shown) {
        List<One<Fit>> rows = new ArrayList<>();
        for (Inference inference : evaluation.inferences()) {
            AlignedPredictions panel = inference.panel();
            for (String metric : metrics) {
                for (int c : Evaluation.shown(panel, shown)) {
                    panel.fitsOf(c).stream()
                            .filter(f -> f.result().isPresent())
                            .forEach(f -> rows.add(new One<>(inference, c, metric, f)));
                }
            }
        }
        ResultTable table = Looks.<Fit>columns()
                .column("repeat", ValueKind.WHOLE, o -> o.value().repeat() + 1)
                .column("fold", ValueKind.WHOLE, o -> o.value().fold() + 1)
                .name("metric", One::metric)
                .programs()
                .number("value", ValueKind.fixed(4), Looks::score)
                .of(rows);
        return new Look(evaluation, "by", "fold", table, List.of());
    }

    private static double score(One<Fit> one) {
        List<String> names = one.inference().panel().task().metrics().stream()
                .map(Metric::name)
                .toList();
        return one.value().result().orElseThrow().score(names.indexOf(one.metric()));
    }

    /** A mean of one class. */
    private record OfClass(String label, int rows, MeanScore mean) {}

    /**
     * Returns metrics of each class.
     *
     * @param evaluation in which each metric is there for each class, as {@link #ofClasses} names them
     * @param measures names of metrics without their class
     */
    public static Look classes(Evaluation evaluation, List<String> measures, List<String> shown) {
        List<String> labels = labels(evaluation);
        List<String> names = ofClasses(measures, labels);
        List<One<OfClass>> rows = new ArrayList<>();
        List<Notice> notices = new ArrayList<>();
        for (Inference inference : evaluation.inferences()) {
            inference.together(names);
            int[] counts = inference.panel().task().data().classCounts();
            for (int c : Evaluation.shown(inference.panel(), shown)) {
                for (int l = 0; l < labels.size(); l++) {
                    for (String measure : measures) {
                        String name = measure + ":class=" + labels.get(l);
                        rows.add(new One<>(
                                inference,
                                c,
                                measure,
                                new OfClass(
                                        labels.get(l),
                                        counts[l],
                                        inference.metric(name).means().get(c))));
                    }
                }
            }
            notices.addAll(Notices.ofClassScores(
                    inference.panel(), names.stream().map(inference::metric).toList(), measures));
        }
        ResultTable table = Looks.<OfClass>columns()
                .name("class", o -> o.value().label())
                .column("rows", ValueKind.WHOLE, o -> o.value().rows())
                .name("metric", One::metric)
                .number("mean", ValueKind.MEAN, o -> o.value().mean().mean())
                .error("se")
                .number("se", ValueKind.DEVIATION, o -> o.value().mean().standardError())
                .number("low", ValueKind.MEAN, o -> o.value().mean().low())
                .programs()
                .number("high", ValueKind.MEAN, o -> o.value().mean().high())
                .programs()
                .of(rows);
        return new Look(evaluation, "by", "class", table, notices);
    }

    /**
     * Returns the labels of the classes, which all data sets must have in common.
     *
     * @throws IllegalArgumentException if they do not
     */
    public static List<String> labels(Evaluation evaluation) {
        List<List<String>> all = evaluation.inferences().stream()
                .map(i -> i.panel().task().data().classes().labels())
                .distinct()
                .toList();
        Checks.that(all.size() == 1, "--by class: the data sets have different classes; name one with --dataset");
        return all.get(0);
    }

    /** Returns the names of some metrics of each class. */
    public static List<String> ofClasses(List<String> measures, List<String> labels) {
        return measures.stream()
                .flatMap(m -> labels.stream().map(l -> m + ":class=" + l))
                .toList();
    }

    /** Returns means with data sets side by side. */
    public static Look dataSets(Evaluation evaluation, List<String> metrics) {
        List<One<MeanScore>> rows = new ArrayList<>();
        for (String metric : metrics) {
            for (Inference inference : evaluation.inferences()) {
                inference.metric(metric).means().forEach(m -> rows.add(new One<>(inference, m.candidate(), metric, m)));
            }
        }
        ResultTable table = ResultTable.<One<MeanScore>>define()
                .name("dataset", One::dataset)
                .name("candidate", One::name)
                .name("metric", One::metric)
                .programs()
                .number("mean", ValueKind.MEAN, o -> o.value().mean())
                .error("se")
                .number("se", ValueKind.DEVIATION, o -> o.value().standardError())
                .number("low", ValueKind.MEAN, o -> o.value().low())
                .programs()
                .number("high", ValueKind.MEAN, o -> o.value().high())
                .programs()
                .of(rows);
        return new Look(evaluation, "by", "dataset", table, List.of());
    }

    /** A cell of a confusion matrix; {@code repeat} is NaN for the average over repeats. */
    private record Cell(
            double repeat, String actual, String predicted, double count, double ofActual, double ofPredicted) {}

    /** Returns what is taken for what; {@code perRepeat} adds each repeat's own matrix to their average. */
    public static Look confusion(Evaluation evaluation, boolean perRepeat, List<String> shown) {
        List<One<Cell>> rows = new ArrayList<>();
        for (Inference inference : evaluation.inferences()) {
            AlignedPredictions panel = inference.panel();
            List<String> labels = panel.task().data().classes().labels();
            for (int c : Evaluation.shown(panel, shown)) {
                Confusions all = Confusions.of(panel, c);
                for (int a = 0; a < labels.size(); a++) {
                    for (int p = 0; p < labels.size(); p++) {
                        Cell cell = new Cell(
                                Double.NaN,
                                labels.get(a),
                                labels.get(p),
                                all.count(a, p),
                                all.ofActual(a, p),
                                all.ofPredicted(a, p));
                        rows.add(new One<>(inference, c, "", cell));
                    }
                }
                for (int r = 0; perRepeat && r < all.parts().size(); r++) {
                    Confusion matrix = all.parts().get(r);
                    for (int a = 0; a < labels.size(); a++) {
                        for (int p = 0; p < labels.size(); p++) {
                            Cell cell = new Cell(
                                    r + 1.0,
                                    labels.get(a),
                                    labels.get(p),
                                    matrix.at(a, p),
                                    matrix.at(a, p) / matrix.actual(a),
                                    matrix.at(a, p) / matrix.predicted(p));
                            rows.add(new One<>(inference, c, "", cell));
                        }
                    }
                }
            }
        }
        ResultTable table = Looks.<Cell>columns()
                .number("repeat", ValueKind.SHORT, o -> o.value().repeat())
                .programs()
                .name("actual", o -> o.value().actual())
                .name("predicted", o -> o.value().predicted())
                .number("count", ValueKind.fixed(1), o -> o.value().count())
                .headed("rows")
                .number("of_actual", ValueKind.fixed(3), o -> o.value().ofActual())
                .headed("of the actual")
                .number("of_predicted", ValueKind.fixed(3), o -> o.value().ofPredicted())
                .headed("of the predicted")
                .of(rows);
        return new Look(evaluation, "look", "confusion", table, List.of());
    }

    /** Rates at a threshold, or of labels made by the thresholds of a way to choose them. */
    private record AtThreshold(String kind, Thresholds.Point point, Optional<Thresholds.Best> best) {
        double ofBest(java.util.function.ToDoubleFunction<Thresholds.Best> part) {
            return best.map(part::applyAsDouble).orElse(Double.NaN);
        }
    }

    /** The labels as they were predicted. */
    public static final String AS_PREDICTED = "as predicted";

    /** The threshold that is best on the rows of the other folds. */
    public static final String BEST_OF_OTHERS = "best of the other folds";

    /** The threshold that is best on the very rows that are scored, which is too good. */
    public static final String BEST_OF_SAME = "best of the same rows";

    /**
     * Returns rates and a score along the threshold of the positive class, and the best threshold.
     *
     * @throws IllegalArgumentException if there are more than two classes, or the metric is not one of labels
     */
    public static Look thresholds(Evaluation evaluation, String name, List<String> shown) {
        List<One<AtThreshold>> rows = new ArrayList<>();
        for (Inference inference : evaluation.inferences()) {
            Metric metric = inference.metric(name).metric();
            for (int c : Evaluation.shown(inference.panel(), shown)) {
                Thresholds all = Thresholds.of(inference.panel(), c);
                Optional<Thresholds.Best> best = all.best(metric);
                List<AtThreshold> own = new ArrayList<>();
                for (Thresholds.Point p : all.points(metric)) {
                    own.add(new AtThreshold("grid", p, Optional.empty()));
                }
                best.ifPresent(b -> {
                    own.add(new AtThreshold(AS_PREDICTED, b.asPredicted(), Optional.empty()));
                    own.add(new AtThreshold(BEST_OF_OTHERS, b.honest(), best));
                    own.add(new AtThreshold(BEST_OF_SAME, b.apparent(), Optional.empty()));
                });
                own.forEach(o -> rows.add(new One<>(inference, c, name, o)));
            }
        }
        ResultTable table = Looks.<AtThreshold>metricColumns()
                .text("kind", o -> o.value().kind())
                .programs()
                .number("threshold", ValueKind.fixed(2), o -> o.value().point().threshold())
                .number("called", ValueKind.SHARE, o -> o.value().point().called())
                .headed("called so")
                .number("recall", ValueKind.fixed(3), o -> o.value().point().recall())
                .number("specificity", ValueKind.fixed(3), o -> o.value()
                        .point()
                        .specificity())
                .number("precision", ValueKind.fixed(3), o -> o.value().point().precision())
                .number("npv", ValueKind.fixed(3), o -> o.value().point().npv())
                .number("score", ValueKind.fixed(3), o -> o.value().point().score())
                .headed(name)
                .number("threshold_low", ValueKind.fixed(3), o -> o.value().ofBest(Thresholds.Best::least))
                .json()
                .number("threshold_high", ValueKind.fixed(3), o -> o.value().ofBest(Thresholds.Best::most))
                .json()
                .of(rows);
        Notice advice = Notice.plain(
                "threshold-in-plan",
                "a candidate with threshold: in the plan finds its threshold inside each training side, and is compared"
                        + " as such");
        return new Look(evaluation, "look", "thresholds", table, List.of(advice));
    }

    /** One metric of one candidate at its operating points. */
    private record AtPoints(MeanScore mean, List<Double> thresholds) {
        double quantile(double share) {
            return thresholds.isEmpty()
                    ? Double.NaN
                    : thresholds.get((int) Math.round(share * (thresholds.size() - 1)));
        }
    }

    /**
     * Returns what candidates are worth at operating points.
     *
     * @param evaluation of the labels decided anew, on the data sets of {@code points}
     * @param points the thresholds
     * @param words what was asked for, such as "recall where specificity>=0.9"
     * @param shown names of candidates, all if there is none
     */
    public static Look operatingPoints(
            Evaluation evaluation, OperatingPoints points, String words, List<String> shown) {
        List<One<AtPoints>> rows = new ArrayList<>();
        for (int t = 0; t < evaluation.inferences().size(); t++) {
            Inference inference = evaluation.inferences().get(t);
            List<String> names = inference.panel().task().metrics().stream()
                    .map(Metric::name)
                    .toList();
            inference.together(names);
            List<Integer> candidates = Evaluation.shown(inference.panel(), shown);
            List<Integer> ranked = Evaluation.ranked(inference.metric(names.get(0))).stream()
                    .map(MeanScore::candidate)
                    .filter(candidates::contains)
                    .toList();
            for (int c : ranked) {
                for (String name : names) {
                    MeanScore mean = inference.metric(name).means().get(c);
                    rows.add(new One<>(
                            inference,
                            c,
                            name,
                            new AtPoints(mean, points.thresholds().get(t).get(c))));
                }
            }
        }
        String level = NumberFormats.level(evaluation.level());
        ResultTable table = Looks.<AtPoints>columns()
                .name("metric", One::metric)
                .number("mean", ValueKind.MEAN, o -> o.value().mean().mean())
                .error("se")
                .number("se", ValueKind.DEVIATION, o -> o.value().mean().standardError())
                .interval(level + " interval", "se", o -> o.value().mean().low(), o -> o.value()
                        .mean()
                        .high())
                .number("threshold", ValueKind.fixed(3), o -> o.value().quantile(0.5))
                .number("threshold_low", ValueKind.fixed(3), o -> o.value().quantile(0))
                .number("threshold_high", ValueKind.fixed(3), o -> o.value().quantile(1))
                .of(rows);
        Notice advice = Notice.plain(
                "threshold-in-plan",
                "a candidate with threshold: {for: METRIC, where: BOUND} in the plan finds its threshold inside each training"
                        + " side, and is compared as such");
        return new Look(evaluation, "look", words, table, List.of(advice));
    }

    /**
     * Returns how means settle as repeats are added.
     *
     * @param candidates names of those that are shown, all if there is none
     */
    public static Settling repeats(Evaluation evaluation, List<String> metrics, List<String> candidates) {
        return new Settling(evaluation, settling(evaluation, metrics, candidates), metrics, candidates);
    }

    private static ResultTable settling(Evaluation evaluation, List<String> metrics, List<String> candidates) {
        List<One<RunningMean>> rows = new ArrayList<>();
        for (Inference inference : evaluation.inferences()) {
            for (String name : metrics) {
                MetricInference metric = inference.metric(name);
                for (int c : Settling.shown(metric, candidates)) {
                    metric.running(c).forEach(r -> rows.add(new One<>(inference, c, name, r)));
                }
            }
        }
        return Looks.<RunningMean>metricColumns()
                .column("repeats", ValueKind.WHOLE, o -> o.value().count())
                .number("score", ValueKind.fixed(4), o -> o.value().score())
                .programs()
                .number("running_mean", ValueKind.MEAN, o -> o.value().mean())
                .headed("mean")
                .error("running_se")
                .number("running_se", ValueKind.DEVIATION, o -> o.value().standardError())
                .headed("se")
                .number("between_repeats", ValueKind.DEVIATION, o -> o.value().between())
                .programs()
                .of(rows);
    }

    /**
     * What columns are worth to candidates of one data set.
     *
     * @param columns names of the columns of the data set
     * @param drops one for each candidate that was looked at
     */
    public record ColumnWorth(Inference inference, List<String> columns, List<Importance.Drops> drops) {
        /** Copies the lists. */
        public ColumnWorth {
            columns = List.copyOf(columns);
            drops = List.copyOf(drops);
        }
    }

    /** What one column is worth to one candidate. */
    private record Drop(String column, double mean, double sd, int splits, double own) {}

    /** Returns what columns are worth, as it was found by training anew. */
    public static Look columns(Evaluation evaluation, String metric, List<ColumnWorth> worth, List<Notice> notices) {
        List<One<Drop>> rows = new ArrayList<>();
        for (ColumnWorth set : worth) {
            for (Importance.Drops d : set.drops()) {
                for (int j = 0; j < set.columns().size(); j++) {
                    String column = set.columns().get(j);
                    double[] drops = d.drops().get(j).stream()
                            .mapToDouble(Double::doubleValue)
                            .toArray();
                    double own = d.own().isEmpty() ? Double.NaN : d.own().getOrDefault(column, 0.0);
                    rows.add(new One<>(
                            set.inference(),
                            d.candidate(),
                            metric,
                            new Drop(column, Spread.mean(drops), Spread.sd(drops), drops.length, own)));
                }
            }
        }
        ResultTable table = Looks.<Drop>metricColumns()
                .name("column", o -> o.value().column())
                .number("drop", ValueKind.fixed(4), o -> o.value().mean())
                .number("sd", ValueKind.DEVIATION, o -> o.value().sd())
                .column("splits", ValueKind.WHOLE, o -> o.value().splits())
                .programs()
                .number("own_weight", ValueKind.SHARE, o -> o.value().own())
                .headed("own")
                .of(rows);
        List<Notice> all = new ArrayList<>(notices);
        all.add(
                Notice.plain(
                        "drops-of-like-columns",
                        "a drop says what the fitted models rely on; of columns with the same information, each looks unimportant"));
        return new Look(evaluation, "by", "column", table, all);
    }
}

package keenfold.bench;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import keenfold.core.data.DataSet;
import keenfold.core.data.Seed;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.NaiveT;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.Method;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.pick.Picker;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Rule;
import keenfold.core.pick.Simplicity;
import keenfold.core.run.Comparison;
import keenfold.core.run.Halves;
import keenfold.core.run.Halving;
import keenfold.core.run.Parallel;
import keenfold.core.run.Runner;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.HalfFit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.io.plan.PlanReader;

/**
 * One cell of the validity study: what is drawn, what is compared on it, and what is written down of each data set.
 *
 * @param part what is asked: {@code null}, {@code power}, {@code family}, {@code nested} or {@code halves}
 * @param kind of classifier, in the study's words
 * @param rows of a data set
 * @param share of the positive class
 */
record StudyCell(String part, String kind, int rows, double share) {
    private static final List<MetricName> METRICS = List.of(MetricName.parse("accuracy"), MetricName.parse("auc"));
    private static final KFold FOLDS = new KFold(10, 10, true);
    private static final double SHIFT = 1.6;
    private static final double TREE_SHIFT = 2.2;
    private static final double[] EVEN = {1, 1, 1, 1, 1, 1};
    private static final double[] FALLING = {1, .9, .8, .6, .4, .2};
    private static final int EQUALS = 6;
    private static final Halving HALVING = new Halving(25, 2);
    static final int[] NESTED = {1, 2, 3, 4, 6, 8, 12};
    private static final double MARGIN = 0.01;

    /** The name under which results are kept. */
    String name() {
        return String.format(Locale.ROOT, "%s/%s/%d/%.1f", part, kind, rows, share);
    }

    private boolean tree() {
        return kind.equals("tree");
    }

    private String classifier() {
        return switch (kind) {
            case "tree" -> "{classifier: tree, depth: 2}";
            case "nearest" -> "{classifier: nearest, neighbours: 1}";
            default -> "{classifier: discriminant}";
        };
    }

    private List<Double> block(double factor) {
        return tree() ? StudyData.block(TREE_SHIFT * factor, FALLING) : StudyData.block(SHIFT * factor, EVEN);
    }

    /** What the data sets of the cell are drawn from. */
    StudyData data() {
        double weaker = part.equals("power") ? 1 - 4.5 / Math.sqrt(rows) : 1;
        return switch (part) {
            case "family" -> new StudyData(java.util.Collections.nCopies(EQUALS, block(1)), share);
            case "nested" ->
                new StudyData(
                        List.of(
                                kind.equals("rising")
                                        ? StudyData.block(SHIFT * 1.25, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1)
                                        : StudyData.block(SHIFT, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0)),
                        share);
            default -> {
                if (kind.equals("correlated")) {
                    // Four columns are shared; each candidate has two of its own.
                    double each = block(1).get(0);
                    yield new StudyData(
                            List.of(
                                    List.of(each, each, each, each),
                                    List.of(each, each),
                                    List.of(each * weaker, each * weaker)),
                            share);
                }
                yield new StudyData(List.of(block(1), block(weaker)), share);
            }
        };
    }

    /** The candidates, written as a plan writes them. */
    List<Candidate> candidates() {
        StringBuilder plan =
                new StringBuilder("keenfold: 1\ndata: [{file: none.csv, target: y}]\nseed: 1\ncandidates:\n");
        if (part.equals("nested")) {
            for (int p : NESTED) {
                plan.append(entry("first" + p, columns(0, p)));
            }
        } else if (kind.equals("correlated")) {
            plan.append(entry("a", columns(0, 4) + ", " + columns(1, 2)));
            plan.append(entry("b", columns(0, 4) + ", " + columns(2, 2)));
        } else {
            int blocks = part.equals("family") ? EQUALS : 2;
            for (int b = 0; b < blocks; b++) {
                plan.append(entry(Character.toString('a' + b), columns(b, 6)));
            }
        }
        return PlanReader.parse("study", plan.toString()).candidates();
    }

    private String entry(String name, String columns) {
        return "  " + name + ": " + classifier().replace("{", "{prepare: [{keep-only: [" + columns + "]}], ") + "\n";
    }

    private static String columns(int block, int count) {
        List<String> names = new ArrayList<>();
        for (int c = 0; c < count; c++) {
            names.add("b" + block + "c" + c);
        }
        return String.join(", ", names);
    }

    /** What is written down of one data set. */
    Map<String, Double> once(int index, Seed study, int draws) {
        Seed seed = study.with(name()).with(index);
        DataSet data = data().draw("d" + index, rows, seed.with("data"));
        Task task = Task.of(data, FOLDS.divide(data, seed.value()), METRICS);
        Comparison comparison = new Comparison(List.of(task), candidates(), seed.value());
        List<Fit> fits = fits(comparison);
        List<HalfFit> halved = new ArrayList<>();
        if (part.equals("halves")) {
            Halves halves = new Halves(comparison, FOLDS, HALVING);
            for (int n = 0; n < HALVING.halves(); n++) {
                for (Fit f : fits(halves.half(n))) {
                    halved.add(halves.ofWhole(n, f));
                }
            }
        }
        AlignedPredictions panel = AlignedPredictions.of(
                new Results(comparison.tasks(), comparison.candidates(), fits, seed.value(), halved), 0);
        InferenceSettings evidence = InferenceSettings.DEFAULT
                .withDraws(draws)
                .withMargin(part.equals("nested") ? MARGIN : 0)
                .withHalving(part.equals("halves") ? HALVING : Halving.NONE);
        Inference inference = Inference.of(panel, evidence, Parallel.of(1));
        inference.together(METRICS.stream().map(MetricName::text).toList());
        Map<String, Double> found = new LinkedHashMap<>();
        for (MetricName name : METRICS) {
            MetricInference metric = inference.metric(name.text());
            switch (part) {
                case "family" -> family(metric, Simplicity.of(panel), found);
                case "nested" -> nested(metric, Simplicity.of(panel), found);
                default -> pair(metric, found);
            }
        }
        return found;
    }

    private static List<Fit> fits(Comparison comparison) {
        List<Fit> fits = new ArrayList<>();
        Runner.on(Parallel.of(1)).run(comparison, comparison.units(), (unit, done) -> fits.addAll(done));
        return fits;
    }

    private void pair(MetricInference metric, Map<String, Double> found) {
        String name = metric.metric().name() + ".";
        if (metric.compared().size() < 2) {
            return;
        }
        for (Method method : Method.values()) {
            if ((method == Method.HALVES) != part.equals("halves") && method != Method.PIVOT) {
                continue;
            }
            if (method == Method.MCNEMAR && !name.equals("accuracy.")) {
                continue;
            }
            Contrast c = metric.by(method, Optional.empty()).contrasts().get(0);
            found.put(name + method.label(), c.p());
        }
        found.put(name + "naive-t", NaiveT.p(metric, 0, 1));
        MeanScore mean = metric.means().get(0);
        found.put(name + "mean", mean.mean());
        found.put(name + "low", mean.low());
        found.put(name + "high", mean.high());
    }

    private static void family(MetricInference metric, Simplicity simplicity, Map<String, Double> found) {
        String name = metric.metric().name() + ".";
        List<Contrast> all = metric.contrasts();
        found.put(name + "any", all.stream().anyMatch(Contrast::significant) ? 1.0 : 0);
        found.put(
                name + "any-holm",
                metric.by(Method.PIVOT, Optional.of(keenfold.core.infer.contrast.Adjust.HOLM)).contrasts().stream()
                                .anyMatch(Contrast::significant)
                        ? 1.0
                        : 0);
        found.put(
                name + "any-none",
                metric.by(Method.PIVOT, Optional.of(keenfold.core.infer.contrast.Adjust.NONE)).contrasts().stream()
                                .anyMatch(Contrast::significant)
                        ? 1.0
                        : 0);
        double best = metric.means().stream().mapToDouble(MeanScore::mean).max().orElse(Double.NaN);
        found.put(name + "first", metric.means().get(0).mean());
        found.put(name + "best", best);
        found.put(
                name + "corrected",
                Picker.corrected(metric, simplicity, Rule.BEST_MEAN).estimate());
    }

    private static void nested(MetricInference metric, Simplicity simplicity, Map<String, Double> found) {
        Picks picks = Picker.pick(metric, simplicity, Rule.ONE_SE).orElseThrow();
        for (Picks.Choice choice : picks.choices()) {
            found.put(metric.metric().name() + "." + choice.rule().label(), (double) choice.pick());
        }
    }
}

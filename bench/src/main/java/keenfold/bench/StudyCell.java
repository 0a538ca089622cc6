package keenfold.bench;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.data.Seed;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.NaiveT;
import keenfold.core.infer.contrast.Adjust;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.Method;
import keenfold.core.infer.contrast.Standing;
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
 * @param part what is asked
 * @param kind of classifier in the study's words; of {@link Part#MIXED} two with a hyphen between
 * @param rows of a data set
 * @param classes how many
 * @param folds of each repeat
 * @param design {@link #ROWS}, {@link #GROUPS}, or what is special about the rows: {@code accuracy-980} or {@code -995} of
 *     {@link Part#APART}, {@code share-03} to {@code share-10} of {@link Part#UNEVEN}
 */
record StudyCell(Part part, String kind, int rows, int classes, int folds, String design) {
    /** Independent rows of classes that are equally probable. */
    static final String ROWS = "rows";
    /** Rows in groups of five. */
    static final String GROUPS = "groups";

    /** What is asked. */
    enum Part {
        /** One classifier on two blocks of columns that are drawn alike: there is no difference. */
        SAME,
        /** Two classifiers on the same columns: does the interval cover the average difference? */
        MIXED,
        /** As SAME, the second block being weaker. */
        POWER,
        /** Six equal candidates. */
        SIX,
        /** Ten candidates, of which the first is better and the others are equal. */
        TEN,
        /** Linear models on more and more columns. */
        NESTED,
        /** As SAME, with runs on halves too. */
        HALVES,
        /** As SAME, with classes that are nearly separable: 98 or 99.5 % of rows can be told right. */
        APART,
        /** As SAME, one class of two being rare: 3, 5 or 10 % of the rows. */
        UNEVEN
    }

    static final int[] NESTED_COLUMNS = {1, 2, 3, 4, 6, 8, 12};
    private static final List<String> METRICS = List.of("accuracy", "auc");
    private static final List<String> APART_METRICS = List.of("accuracy", "auc", "log-loss");
    private static final List<String> UNEVEN_METRICS = List.of("accuracy", "auc", "balanced-accuracy", "f1", "mcc");
    /** A tree tells classes apart by one column at a time: they are apart in one. */
    private static final double[] ONE = {1, 0, 0, 0, 0, 0};
    /** Each class of three is raised in a column of its own. */
    private static final double[] ONE_EACH = {1, 1, 1, 0, 0, 0};
    /** Trees of the study are not pruned, and their leaves give plain shares. */
    private static final String GROWN = ", leaf-rows: 5, pruning: 0, smoothing: 0";

    private static final List<String> DEAR = List.of("forest", "boosting", "boosting-drawn", "network", "svm");
    private static final double SHIFT = 1.6;
    private static final double MANY_CLASSES = 1.5;
    private static final double[] EVEN = {1, 1, 1, 1, 1, 1};
    private static final double BETTER = 1.3;
    private static final Halving HALVING = new Halving(25, 2);
    private static final double MARGIN = 0.01;

    /** The name under which results are kept. */
    String name() {
        return String.format(
                Locale.ROOT,
                "%s/%s/%d/%d/%d/%s",
                part.name().toLowerCase(Locale.ROOT),
                kind,
                rows,
                classes,
                folds,
                design);
    }

    private List<MetricName> metrics() {
        List<String> names =
                switch (part) {
                    case APART -> APART_METRICS;
                    case UNEVEN -> UNEVEN_METRICS;
                    default -> METRICS;
                };
        return names.stream().map(MetricName::parse).toList();
    }

    /** The splits: five repeats where fits take long, or are many. */
    KFold scheme() {
        boolean few = part == Part.HALVES || Arrays.stream(kind.split("-", 2)).anyMatch(DEAR::contains);
        return new KFold(folds, few || DEAR.contains(kind) ? 5 : 10, true);
    }

    private static String classifier(String kind) {
        return switch (kind) {
            case "linear" -> "classifier: discriminant";
            case "near1" -> "classifier: nearest, neighbours: 1";
            case "near5" -> "classifier: nearest, neighbours: 5";
            case "near15" -> "classifier: nearest, neighbours: 15";
            case "tree2" -> "classifier: tree, depth: 2" + GROWN;
            case "tree8" -> "classifier: tree, depth: 8" + GROWN;
            case "forest" -> "classifier: forest, trees: 25";
            case "boosting" -> "classifier: boosting, rounds: 25, depth: 2";
            case "boosting-drawn" -> "classifier: boosting, rounds: 25, depth: 2, row-share: 0.5";
            case "network" -> "classifier: network, units: 4, steps: 50, weight-decay: 1, patience: 10";
            case "svm" -> "classifier: svm";
            default -> throw new IllegalArgumentException("no classifier is called " + kind);
        };
    }

    private List<Double> block(double factor) {
        return StudyData.block(SHIFT * factor * (classes > 2 ? MANY_CLASSES : 1), EVEN);
    }

    /** A block in which a linear model tells the wanted share of rows right. */
    private List<Double> apart() {
        boolean most = design.equals("accuracy-995");
        boolean tree = kind.startsWith("tree");
        if (classes == 2) {
            // Φ(distance/2) = 0.98 and 0.995.
            return StudyData.block(most ? 5.15 : 4.11, tree ? ONE : EVEN);
        }
        // Two classes are √(2/3) of the size of the block apart, and a row has two others to be taken for.
        return StudyData.block((most ? 5.6 : 4.65) * Math.sqrt(1.5), tree ? ONE_EACH : EVEN);
    }

    private double share() {
        return part == Part.UNEVEN ? Integer.parseInt(design.substring("share-".length())) / 100.0 : 0;
    }

    /** What the data sets of the cell are drawn from. */
    StudyData data() {
        List<List<Double>> blocks =
                switch (part) {
                    case SAME, HALVES -> List.of(block(1), block(1));
                    case APART -> List.of(apart(), apart());
                    case UNEVEN -> List.of(block(1.25), block(1.25));
                    case MIXED -> List.of(block(1));
                    case POWER -> List.of(block(1), block(1 - 4.5 / Math.sqrt(rows)));
                    case SIX -> Collections.nCopies(6, block(1));
                    case TEN -> {
                        List<List<Double>> ten = new ArrayList<>(Collections.nCopies(10, block(1)));
                        ten.set(0, block(BETTER));
                        yield ten;
                    }
                    case NESTED ->
                        List.of(
                                kind.equals("rising")
                                        ? StudyData.block(SHIFT * 1.25, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1)
                                        : StudyData.block(SHIFT, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0));
                };
        return new StudyData(blocks, classes, design.equals(GROUPS) ? 5 : 1, share());
    }

    /** The candidates, written as a plan writes them. */
    List<Candidate> candidates() {
        StringBuilder plan =
                new StringBuilder("keenfold: 1\ndata: [{file: none.csv, target: y}]\nseed: 1\ncandidates:\n");
        switch (part) {
            case NESTED ->
                Arrays.stream(NESTED_COLUMNS).forEach(p -> plan.append(entry("first" + p, columns(0, p), "linear")));
            case MIXED -> {
                String[] two = kind.startsWith("boosting-drawn")
                        ? new String[] {"boosting-drawn", kind.substring("boosting-drawn-".length())}
                        : kind.split("-", 2);
                plan.append(entry("a", columns(0, EVEN.length), two[0]));
                plan.append(entry("b", columns(0, EVEN.length), two[1]));
            }
            default -> {
                for (int b = 0; b < data().shifts().size(); b++) {
                    plan.append(entry(Character.toString('a' + b), columns(b, EVEN.length), kind));
                }
            }
        }
        return PlanReader.parse("study", plan.toString()).candidates();
    }

    private static String entry(String name, String columns, String kind) {
        return "  " + name + ": {prepare: [{keep-only: [" + columns + "]}], " + classifier(kind) + "}\n";
    }

    private static String columns(int block, int count) {
        return String.join(
                ", ",
                IntStream.range(0, count).mapToObj(c -> "b" + block + "c" + c).toList());
    }

    /** What is written down of one data set. */
    Map<String, Double> once(int index, Seed study, int draws) {
        Seed seed = study.with(name()).with(index);
        DataSet data = data().draw("d" + index, rows, seed.with("data"));
        Task task = Task.of(data, scheme().divide(data, seed.value()), metrics());
        Comparison comparison = new Comparison(List.of(task), candidates(), seed.value());
        List<HalfFit> halved = new ArrayList<>();
        if (part == Part.HALVES) {
            Halves halves = new Halves(comparison, scheme(), HALVING);
            for (int n = 0; n < HALVING.halves(); n++) {
                for (Fit f : fits(halves.half(n))) {
                    halved.add(halves.ofWhole(n, f));
                }
            }
        }
        AlignedPredictions panel = AlignedPredictions.of(
                new Results(comparison.tasks(), comparison.candidates(), fits(comparison), seed.value(), halved), 0);
        InferenceSettings evidence = InferenceSettings.DEFAULT
                .withDraws(draws)
                .withMargin(part == Part.NESTED ? MARGIN : 0)
                .withHalving(part == Part.HALVES ? HALVING : Halving.NONE);
        Inference inference = Inference.of(panel, evidence, Parallel.of(1));
        inference.together(metrics().stream().map(MetricName::text).toList());
        Map<String, Double> found = new LinkedHashMap<>();
        for (MetricName name : metrics()) {
            MetricInference metric = inference.metric(name.text());
            // A candidate without a score in a fold is seldom, and the data set then says nothing.
            if (metric.compared().size() == comparison.candidates().size()) {
                of(metric, Simplicity.of(panel), found);
            }
        }
        return found;
    }

    private void of(MetricInference metric, Simplicity simplicity, Map<String, Double> found) {
        switch (part) {
            case SAME, MIXED, POWER, HALVES, APART, UNEVEN -> pair(metric, found);
            case SIX, TEN -> family(metric, simplicity, found);
            case NESTED -> nested(metric, simplicity, found);
        }
    }

    private static List<Fit> fits(Comparison comparison) {
        List<Fit> fits = new ArrayList<>();
        Runner.on(Parallel.of(1)).run(comparison, comparison.units(), (unit, done) -> fits.addAll(done));
        return fits;
    }

    /** The difference, and of each method its p-value and half of its interval. */
    private void pair(MetricInference metric, Map<String, Double> found) {
        String name = metric.metric().name() + ".";
        for (Method method : Method.values()) {
            boolean other = method == Method.MCNEMAR || method == Method.CASES_BCA;
            if (other || method == Method.HALVES && part != Part.HALVES) {
                continue;
            }
            Contrast c = metric.by(method, Optional.empty()).contrasts().get(0);
            found.put(name + method.label(), c.p());
            found.put(name + method.label() + "-reach", (c.high() - c.low()) / 2);
            if (method == Method.PIVOT) {
                found.put(name + "difference", c.difference());
                found.put(name + "variance", c.variance().total());
                found.put(name + "lambda", c.variance().lambda());
            }
            if (method == Method.HALVES) {
                found.put(name + "variance-halves", c.variance().total());
            }
        }
        found.put(name + "naive-t", NaiveT.p(metric, 0, 1));
        MeanScore mean = metric.means().get(0);
        found.put(name + "mean", mean.mean());
        found.put(name + "low", mean.low());
        found.put(name + "high", mean.high());
    }

    /** Of several candidates, of which all but perhaps the first are equal. */
    private void family(MetricInference metric, Simplicity simplicity, Map<String, Double> found) {
        String name = metric.metric().name() + ".";
        int first = part == Part.TEN ? 1 : 0;
        found.put(name + "any", anyFalse(metric, first));
        found.put(name + "any-holm", anyFalse(metric.by(Method.PIVOT, Optional.of(Adjust.HOLM)), first));
        found.put(name + "any-none", anyFalse(metric.by(Method.PIVOT, Optional.of(Adjust.NONE)), first));
        List<Standing> all = metric.standings().orElseThrow().all();
        int count = all.size();
        found.put(
                name + "set", (double) all.stream().filter(Standing::mayBeBest).count());
        found.put(name + "set-holds", all.get(0).mayBeBest() ? 1.0 : 0);
        // Not shown to be worse than the best mean, in a test of all pairs.
        int best = Picker.best(metric, simplicity).orElseThrow();
        List<Integer> left = IntStream.range(0, count)
                .filter(c ->
                        c == best || !metric.contrast(c, best).orElseThrow().significant())
                .boxed()
                .toList();
        found.put(name + "left", (double) left.size());
        found.put(name + "left-holds", left.contains(0) ? 1.0 : 0);
        long ranked = all.stream()
                .filter(s ->
                        s.candidate() < first ? s.rankLow() == 1 : s.rankLow() <= first + 1 && s.rankHigh() == count)
                .count();
        found.put(name + "ranks", (double) ranked / count);
        found.put(name + "ranks-all", ranked == count ? 1.0 : 0);
        found.put(
                name + "mean",
                metric.means().stream()
                        .skip(first)
                        .mapToDouble(MeanScore::mean)
                        .average()
                        .orElseThrow());
        found.put(
                name + "best",
                metric.means().stream().mapToDouble(MeanScore::mean).max().orElseThrow());
        found.put(
                name + "corrected",
                Picker.corrected(metric, simplicity, Rule.BEST_MEAN).estimate());
    }

    /** Whether any two of the equal candidates are told apart. */
    private static double anyFalse(MetricInference metric, int first) {
        return metric.contrasts().stream()
                        .anyMatch(c -> c.significant() && c.candidate() >= first && c.against() >= first)
                ? 1
                : 0;
    }

    private static void nested(MetricInference metric, Simplicity simplicity, Map<String, Double> found) {
        Picks picks = Picker.pick(metric, simplicity, Rule.ONE_SE).orElseThrow();
        String name = metric.metric().name();
        for (Picks.Choice choice : picks.choices()) {
            found.put(name + "." + choice.rule().label(), (double) choice.pick());
        }
        for (int c = 0; c < NESTED_COLUMNS.length; c++) {
            found.put(name + "-mean." + c, metric.means().get(c).mean());
        }
    }
}

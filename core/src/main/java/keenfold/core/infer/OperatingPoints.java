package keenfold.core.infer;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import keenfold.core.data.Checks;
import keenfold.core.metric.BestThreshold;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricLimit;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.Parallel;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Rescored;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;

/**
 * Every candidate with its labels decided anew: in each fold from the threshold that is best for a metric, among those that
 * keep a bound, on the rows of the other folds of the repeat, by their out-of-fold probabilities. Those rows are training rows
 * of the fold, so that what the labels are worth is as honest as any other score, and has standard errors and intervals as any.
 *
 * @param results the labels, scored by the metric, that of the bound, and recall, specificity and precision
 * @param thresholds of the folds that were scored, by data set and candidate, rising; none where a fit failed in each fold
 */
public record OperatingPoints(Results results, List<List<List<Double>>> thresholds) {
    /** What is shown of every operating point. */
    public static final List<String> RATES = List.of("recall", "specificity", "precision");

    /** Copies the lists. */
    public OperatingPoints {
        thresholds = thresholds.stream()
                .map(t -> t.stream().map(List::copyOf).toList())
                .toList();
    }

    /**
     * Finds thresholds.
     *
     * @param results with probabilities, of data sets of two classes divided into two or more folds
     * @param metric of labels that is to be best
     * @param limit that is to be kept, if any
     * @throws IllegalArgumentException if the results are not so, or the metric does not look at labels
     */
    public static OperatingPoints of(
            Results results, MetricName metric, Optional<MetricLimit> limit, Parallel parallel) {
        Checks.that(
                metric.measure().byLabels(),
                "%s does not depend on a threshold; name a metric of labels, such as balanced-accuracy, f1 or cost",
                metric.text());
        Checks.that(
                results.kept() == Results.Kept.PROBABILITIES,
                "operating points need probabilities, and only labels or scores were adopted here");
        for (Task task : results.tasks()) {
            Checks.that(
                    task.data().classes().binary(),
                    "operating points are for two classes: data set \"%s\" has %d (--dataset names another)",
                    task.data().name(),
                    task.data().classes().count());
            Checks.that(
                    task.splits().joined() && task.splits().mostFolds() > 1,
                    "data set \"%s\": there are no other folds to find a threshold on",
                    task.data().name());
        }
        int candidates = results.candidates().size();
        List<Decided> decided = parallel.map(results.tasks().size() * candidates, i -> {
            Task task = results.tasks().get(i / candidates);
            Metric bound = metric.bind(task.data().classes(), task.data().classCounts());
            Optional<BestThreshold.Condition> condition = limit.map(l -> new BestThreshold.Condition(
                    l.metric().bind(task.data().classes(), task.data().classCounts()), l.atLeast(), l.bound()));
            Decided own = new Decided(new ArrayList<>(), new ArrayList<>());
            for (List<Fit> repeat : repeats(results, i / candidates, i % candidates)) {
                decide(repeat, bound, condition, task.data().classes().positive(), own);
            }
            return own;
        });
        List<List<List<Double>>> found = new ArrayList<>();
        for (int t = 0; t < results.tasks().size(); t++) {
            found.add(decided.subList(t * candidates, (t + 1) * candidates).stream()
                    .map(d -> d.thresholds().stream().sorted().toList())
                    .toList());
        }
        List<Fit> moved = decided.stream().flatMap(d -> d.fits().stream()).toList();
        List<MetricName> names = new ArrayList<>(List.of(metric));
        limit.map(MetricLimit::metric).filter(m -> !names.contains(m)).ifPresent(names::add);
        RATES.stream().map(MetricName::parse).filter(m -> !names.contains(m)).forEach(names::add);
        List<Task> bare = results.tasks().stream()
                .map(t -> new Task(t.data(), t.splits(), List.of()))
                .toList();
        Results labelled = new Results(bare, results.candidates(), moved, results.seed(), List.of(), results.kept());
        return new OperatingPoints(Rescored.of(labelled, names), found);
    }

    /** The fits of one candidate with their new labels, and the thresholds that made them; filled piece by piece. */
    private record Decided(List<Double> thresholds, List<Fit> fits) {}

    /** The fits of a candidate on a data set, repeat by repeat. */
    private static List<List<Fit>> repeats(Results results, int task, int candidate) {
        Map<Integer, List<Fit>> byRepeat = new TreeMap<>();
        for (Fit fit : results.fits()) {
            if (fit.task() == task && fit.candidate() == candidate) {
                byRepeat.computeIfAbsent(fit.repeat(), r -> new ArrayList<>()).add(fit);
            }
        }
        return List.copyOf(byRepeat.values());
    }

    /** Decides the labels of the fits of one repeat. */
    private static void decide(
            List<Fit> repeat, Metric metric, Optional<BestThreshold.Condition> condition, int positive, Decided own) {
        List<Outcomes> parts = repeat.stream()
                .flatMap(f -> f.result().stream())
                .map(Fit.Result::outcomes)
                .toList();
        Map<Integer, Double> byFold = new HashMap<>();
        if (!parts.isEmpty()) {
            double[] best = Thresholds.ofOthers(Outcomes.join(parts), metric, condition, positive);
            repeat.stream().filter(f -> !f.failed()).forEach(f -> byFold.put(f.fold(), best[f.fold()]));
        }
        own.thresholds().addAll(byFold.values());
        for (Fit fit : repeat) {
            double threshold = byFold.getOrDefault(fit.fold(), 0.5);
            own.fits()
                    .add(fit.withResult(fit.result()
                            .map(r -> new Fit.Result(r.outcomes().withThreshold(positive, threshold), new double[0]))));
        }
    }
}

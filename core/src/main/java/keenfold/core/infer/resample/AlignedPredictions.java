package keenfold.core.infer.resample;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicReference;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.metric.CaseWeights;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.Scorer;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.Splits;

/**
 * The predictions of all candidates on one data set, on the common splits: those where no admitted candidate failed.
 *
 * <p>A candidate with more than a tenth of its fits failed, or missing, is not admitted: it keeps its own fold scores but
 * takes part in nothing that compares.
 */
public final class AlignedPredictions {
    /** The share of failed fits above which a candidate is not admitted. */
    public static final double MOST_FAILED = 0.1;

    private final Task task;
    private final long seed;
    private final List<Candidate> candidates;
    /** All fits by candidate, in the order of repeats and folds. */
    private final List<List<Fit>> fits;
    /** Of those the ones that did not fail, and within the common splits if the candidate is admitted. */
    private final List<List<Fit>> compared;

    private final List<Integer> admitted;
    private final List<List<Outcomes>> parts;
    private final int common;
    private final HalfRuns halfRuns;
    private final boolean scoresOnly;
    /** Made when first asked for: the same for every metric. */
    private final AtomicReference<Optional<TrainingEffects>> effects = new AtomicReference<>(Optional.empty());
    /** By metric and candidate; asked for again and again, and ranks must be sorted for them. */
    private final Map<Scored, double[]> partScores = new ConcurrentHashMap<>();

    /** Scorers of the metrics that several things are being computed of, by candidate. */
    private final Map<Metric, Map<Integer, List<Scorer>>> kept = new ConcurrentHashMap<>();

    private record Scored(Metric metric, int candidate) {}

    private AlignedPredictions(
            Task task,
            long seed,
            List<Candidate> candidates,
            List<List<Fit>> fits,
            List<List<Fit>> compared,
            List<Integer> admitted,
            List<List<Outcomes>> parts,
            int common,
            HalfRuns halfRuns,
            boolean scoresOnly) {
        this.task = task;
        this.seed = seed;
        this.candidates = candidates;
        this.fits = fits;
        this.compared = compared;
        this.admitted = admitted;
        this.parts = parts;
        this.common = common;
        this.halfRuns = halfRuns;
        this.scoresOnly = scoresOnly;
    }

    /** Returns the panel of one data set. */
    public static AlignedPredictions of(Results results, int taskIndex) {
        return of(results, taskIndex, false);
    }

    /**
     * Returns the panel of one data set.
     *
     * @param failedAllowed whether candidates are admitted however many of their fits failed, if not all did
     */
    public static AlignedPredictions of(Results results, int taskIndex, boolean failedAllowed) {
        Task task = results.tasks().get(taskIndex);
        Splits splits = task.splits();
        int[] first = new int[splits.repeats()];
        for (int r = 1; r < first.length; r++) {
            first[r] = first[r - 1] + splits.folds(r - 1);
        }
        List<List<Fit>> fits = byCandidate(results, taskIndex);
        List<Integer> admitted = IntStream.range(0, fits.size())
                .filter(c -> failedAllowed
                        ? succeeded(fits.get(c)) > 0
                        : splits.count() - succeeded(fits.get(c)) <= MOST_FAILED * splits.count())
                .boxed()
                .toList();
        // How many of the admitted candidates have a fit of each split.
        int[] present = new int[splits.count()];
        for (int c : admitted) {
            for (Fit fit : fits.get(c)) {
                present[first[fit.repeat()] + fit.fold()] += fit.failed() ? 0 : 1;
            }
        }
        List<List<Fit>> compared = new ArrayList<>();
        List<List<Outcomes>> parts = new ArrayList<>();
        for (int c = 0; c < fits.size(); c++) {
            boolean in = admitted.contains(c);
            List<Fit> own = fits.get(c).stream()
                    .filter(f -> !f.failed())
                    .filter(f -> !in || present[first[f.repeat()] + f.fold()] == admitted.size())
                    .toList();
            compared.add(own);
            parts.add(in && results.kept() != Results.Kept.SCORES ? parts(own, splits.joined()) : List.of());
        }
        return new AlignedPredictions(
                task,
                results.seed(),
                results.candidates(),
                fits,
                compared,
                admitted,
                parts,
                (int) Arrays.stream(present).filter(p -> p == admitted.size()).count(),
                new HalfRuns(
                        results.halves().stream()
                                .filter(h -> h.fit().task() == taskIndex)
                                .toList(),
                        task.splits().folds(0)),
                results.kept() == Results.Kept.SCORES);
    }

    /** The fits of a data set by candidate, in the order of repeats and folds. */
    private static List<List<Fit>> byCandidate(Results results, int taskIndex) {
        List<List<Fit>> fits = new ArrayList<>();
        for (int c = 0; c < results.candidates().size(); c++) {
            fits.add(new ArrayList<>());
        }
        for (Fit fit : results.fits()) {
            if (fit.task() == taskIndex) {
                fits.get(fit.candidate()).add(fit);
            }
        }
        fits.forEach(own -> own.sort(Comparator.comparingInt(Fit::repeat).thenComparingInt(Fit::fold)));
        return fits;
    }

    /** What is scored together: the fits of a repeat of a partition as one, otherwise each by itself. */
    private static List<Outcomes> parts(List<Fit> fits, boolean joined) {
        List<Outcomes> parts = new ArrayList<>();
        int from = 0;
        while (from < fits.size()) {
            int to = from + 1;
            while (joined
                    && to < fits.size()
                    && fits.get(to).repeat() == fits.get(from).repeat()) {
                to++;
            }
            parts.add(Outcomes.join(fits.subList(from, to).stream()
                    .flatMap(f -> f.result().stream())
                    .map(Fit.Result::outcomes)
                    .toList()));
            from = to;
        }
        return parts;
    }

    /** Returns the runs on halves of the rows. */
    public HalfRuns halfRuns() {
        return halfRuns;
    }

    private static long succeeded(List<Fit> fits) {
        return fits.stream().filter(f -> !f.failed()).count();
    }

    /** Returns the data set with its splits. */
    public Task task() {
        return task;
    }

    /** Returns the seed of the comparison. */
    public long seed() {
        return seed;
    }

    /** Returns all candidates in plan order, admitted or not. */
    public List<Candidate> candidates() {
        return candidates;
    }

    /** Returns the indexes of the admitted candidates, rising. */
    public List<Integer> admitted() {
        return admitted;
    }

    /** Returns the number of common splits. */
    public int common() {
        return common;
    }

    /** Returns the fits of a candidate that did not fail, by repeat and fold, and within the common splits if admitted. */
    public List<Fit> fitsOf(int candidate) {
        return compared.get(candidate);
    }

    /** Returns whether fits were scored on their training rows too. */
    public boolean hasTrainScores() {
        return fits.stream()
                .flatMap(List::stream)
                .flatMap(f -> f.result().stream())
                .anyMatch(r -> r.trainScores().length > 0);
    }

    /** Returns how many fits a candidate has, failed ones included. */
    public int fitCount(int candidate) {
        return fits.get(candidate).size();
    }

    /** Returns how many fits of a candidate failed. */
    public int failedCount(int candidate) {
        return (int) fits.get(candidate).stream().filter(Fit::failed).count();
    }

    /** Returns what tuning chose in the fits of a candidate, each choice with its count, by falling count. */
    public Map<String, Integer> chosen(int candidate) {
        Map<String, Integer> counts = new TreeMap<>();
        for (Fit fit : fits.get(candidate)) {
            if (!fit.making().chosen().isEmpty()) {
                counts.merge(fit.making().chosen(), 1, Integer::sum);
            }
        }
        Map<String, Integer> falling = new LinkedHashMap<>();
        counts.entrySet().stream()
                .sorted(Map.Entry.<String, Integer>comparingByValue().reversed())
                .forEach(e -> falling.put(e.getKey(), e.getValue()));
        return falling;
    }

    /** Returns whether work of a candidate's fits was shared with others of its family. */
    public boolean shared(int candidate) {
        return fits.get(candidate).stream().anyMatch(f -> f.making().shared());
    }

    /** Returns why fits of a candidate failed, each reason with its count, by falling count. */
    public Map<String, Integer> failures(int candidate) {
        Map<String, Integer> reasons = new HashMap<>();
        for (Fit fit : fits.get(candidate)) {
            if (fit.failed()) {
                reasons.merge(fit.reason(), 1, Integer::sum);
            }
        }
        return new TreeMap<>(reasons);
    }

    /**
     * Returns an admitted candidate's outcomes on the common splits: one part per repeat, or one per split where splits
     * are scored by themselves.
     */
    public List<Outcomes> parts(int candidate) {
        return parts.get(candidate);
    }

    /** Returns the score of each part of an admitted candidate, every row counted once; NaN where it is undefined. */
    public double[] partScores(Metric metric, int candidate) {
        return partScores
                .computeIfAbsent(new Scored(metric, candidate), k -> plainScores(metric, candidate))
                .clone();
    }

    private double[] plainScores(Metric metric, int candidate) {
        CaseWeights ones = CaseWeights.ones(rows());
        double[] score = new double[1];
        return scorers(metric, candidate).stream()
                .mapToDouble(s -> {
                    s.score(ones, score);
                    return score[0];
                })
                .toArray();
    }

    /** Returns what scores each part of an admitted candidate. */
    List<Scorer> scorers(Metric metric, int candidate) {
        return Optional.ofNullable(kept.get(metric))
                .map(own -> own.computeIfAbsent(candidate, c -> made(metric, c)))
                .orElseGet(() -> made(metric, candidate));
    }

    private List<Scorer> made(Metric metric, int candidate) {
        return parts(candidate).stream().map(metric::scorer).toList();
    }

    /**
     * Does work that scores by the same metrics several times, and keeps their scorers until it is done: to make one, ranks
     * must be sorted. All of them take as much memory as the predictions.
     */
    public void keepingScorers(List<Metric> metrics, Runnable work) {
        metrics.forEach(m -> kept.put(m, new ConcurrentHashMap<>()));
        try {
            work.run();
        } finally {
            metrics.forEach(kept::remove);
        }
    }

    /** Returns the sets of two or more admitted candidates that predict the same throughout, each in plan order. */
    public List<List<Integer>> identical() {
        List<List<Integer>> sets = new ArrayList<>();
        for (int candidate : admitted) {
            sets.stream()
                    .filter(set -> predictAlike(set.get(0), candidate))
                    .findFirst()
                    .ifPresentOrElse(set -> set.add(candidate), () -> sets.add(new ArrayList<>(List.of(candidate))));
        }
        return sets.stream().filter(set -> set.size() > 1).toList();
    }

    private boolean predictAlike(int a, int b) {
        List<Outcomes> left = parts.get(a);
        List<Outcomes> right = parts.get(b);
        return !left.isEmpty()
                && IntStream.range(0, left.size()).allMatch(p -> left.get(p).predictsAs(right.get(p)));
    }

    /** Returns the same panel of which only some parts are there, of splits that are scored each by itself. */
    AlignedPredictions only(List<Integer> kept) {
        List<List<Outcomes>> fewer = parts.stream()
                .map(own -> own.isEmpty() ? own : kept.stream().map(own::get).toList())
                .toList();
        return new AlignedPredictions(
                task, seed, candidates, fits, compared, admitted, fewer, kept.size(), halfRuns, scoresOnly);
    }

    /** Returns the number of rows of the data set. */
    public int rows() {
        return task.data().rows();
    }

    /** What other training rows would change, as the repeats show it; at least two of them. */
    TrainingEffects trainingEffects() {
        return effects.updateAndGet(made -> made.or(() -> Optional.of(TrainingEffects.of(this))))
                .orElseThrow();
    }

    /** Returns whether there are fold scores alone, and no predictions. */
    public boolean scoresOnly() {
        return scoresOnly;
    }

    /** Returns ρ, test rows per distinct training row, averaged over the splits. */
    public double testPerTraining() {
        return task.splits().testPerTraining();
    }

    /** Returns whether the typical fold tests a single row, so that fold scores say nothing about spread. */
    public boolean testsSingleRows() {
        return !scoresOnly && task.splits().joined() && 2 * task.splits().mostFolds() > rows();
    }

    /** Returns what cases are drawn: groups where rows belong to groups, rows otherwise. */
    public ResamplingUnits units() {
        Optional<Categories> groups = task.data().groups();
        return ResamplingUnits.of(this, groups);
    }
}

package keenfold.results;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.infer.Inference;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.prepare.Settings;
import keenfold.core.run.Parallel;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;

/** Results whose predictions are made directly, with no classifier, so that any case can be had. */
public final class MadePredictions {
    private static final Fit.Times NO_TIME = new Fit.Times(0, 0, 0, 0);

    private MadePredictions() {}

    /** The probabilities that a candidate gives a row. */
    @FunctionalInterface
    public interface Guess {
        /**
         * Returns K probabilities.
         *
         * @param row with what is drawn for this row in all repeats
         * @param repeat what is drawn for this row in this repeat
         */
        double[] of(int actual, RandomSource row, RandomSource repeat);
    }

    /** Rows of classes in turn, of which {@code counts} says how many there are; {@code groupSize} rows belong together. */
    public static DataSet data(int[] counts, int groupSize) {
        int rows = Arrays.stream(counts).sum();
        int[] left = counts.clone();
        int[] y = new int[rows];
        for (int i = 0, c = 0; i < rows; c = (c + 1) % counts.length) {
            if (left[c] > 0) {
                left[c]--;
                y[i++] = c;
            }
        }
        return DataSet.of(
                "hives",
                new Table(rows, List.of(Numbers.of("x", new double[rows]))),
                new Classes(
                        IntStream.range(0, counts.length)
                                .mapToObj(c -> "class" + c)
                                .toList(),
                        counts.length - 1),
                y,
                groupSize > 1
                        ? Optional.of(Categories.of(
                                "site",
                                IntStream.range(0, rows)
                                        .mapToObj(i -> "s" + i / groupSize)
                                        .toArray(String[]::new)))
                        : Optional.empty(),
                IntStream.rangeClosed(1, rows).toArray());
    }

    /** Results of candidates by name; one that is called {@code guess} is a majority guess. */
    public static Results results(
            DataSet data, KFold scheme, long seed, List<String> metrics, Map<String, Guess> candidates) {
        Task task = Task.of(
                data,
                scheme.divide(data, seed),
                metrics.stream().map(MetricName::parse).toList());
        List<Candidate> all = candidates.keySet().stream()
                .map(n -> new Candidate(
                        n,
                        n,
                        ClassifierKinds.of(
                                        n.equals("guess") ? "majority" : n.startsWith("simple") ? "logistic" : "forest")
                                .orElseThrow(),
                        Settings.none(),
                        List.of()))
                .toList();
        List<Fit> fits = new ArrayList<>();
        for (int c = 0; c < all.size(); c++) {
            Guess guess = candidates.get(all.get(c).name());
            for (int r = 0; r < task.splits().repeats(); r++) {
                for (int f = 0; f < task.splits().folds(r); f++) {
                    int[] rows = task.splits().at(r, f).test().toArray();
                    fits.add(fit(task, all.get(c), c, r, f, outcomes(data, all.get(c), guess, seed, r, f, rows)));
                }
            }
        }
        return new Results(List.of(task), all, fits, seed);
    }

    private static Outcomes outcomes(
            DataSet data, Candidate candidate, Guess guess, long seed, int repeat, int fold, int[] rows) {
        int k = data.classes().count();
        double[] p = new double[rows.length * k];
        for (int i = 0; i < rows.length; i++) {
            Seed row = new Seed(seed).with(candidate.name()).with(rows[i]);
            double[] own = guess.of(
                    data.target(rows[i]), row.chance(), row.with(repeat).chance());
            System.arraycopy(own, 0, p, i * k, k);
        }
        return Outcomes.of(k, fold, rows, data.targets(rows), p);
    }

    private static Fit fit(Task task, Candidate candidate, int c, int repeat, int fold, Outcomes outcomes) {
        double[] scores = task.metrics().stream()
                .mapToDouble((Metric m) -> m.score(outcomes))
                .toArray();
        double size =
                candidate.name().startsWith("simple") ? 2 : candidate.name().equals("guess") ? 1 : 20;
        return new Fit(0, c, repeat, fold, NO_TIME, size, Optional.of(new Fit.Result(outcomes, scores)), "");
    }

    /** The inference of results of one data set. */
    public static Inference inference(Results results, InferenceSettings evidence) {
        return Inference.of(AlignedPredictions.of(results, 0), evidence, Parallel.of(2));
    }
}

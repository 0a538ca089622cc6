package keenfold.core.run.pipeline;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.classify.Model;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.prepare.Settings;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Recipe;
import keenfold.core.run.candidate.Tuning;
import keenfold.core.split.Split;
import keenfold.core.split.Splits;

/**
 * Chooses settings on the training rows of one split alone.
 *
 * <p>Definition: the training rows are divided once more, stratified and with whole groups (in time, where the outer
 * splits are); each point of the grid is trained and tested on the same inner splits, preparing steps included. Its mean
 * is that of the inner repeats, joined as outer ones are. {@code best-mean} takes the best; {@code one-se} the simplest
 * whose mean is within sd/√folds of it, sd over the best one's inner fold scores. Simpler is the smaller median size to two
 * significant digits, then the known direction of a chosen setting, then the first written; equal means (1e-12) go to the
 * simpler. A point that fails, or is undefined, on an inner split cannot be chosen.
 */
public final class Tuner {
    private static final double EQUAL = 1e-12;

    private final Candidate candidate;
    private final Tuning tuning;
    private final TrainingRows rows;
    private final Splits splits;
    private final Metric metric;
    private final Seed seed;

    Tuner(Candidate candidate, TrainingRows rows, Metric metric, Seed seed) {
        this.candidate = candidate;
        this.tuning = candidate.tuning().orElseThrow();
        this.rows = rows;
        this.metric = metric;
        this.seed = seed.with("inner");
        this.splits = divide();
    }

    private Splits divide() {
        return InnerSplits.divide(rows, tuning.folds(), tuning.repeats(), seed, "tuning");
    }

    /** Inner scores of one point of the grid. */
    private static final class Point {
        private final int index;
        private final Settings settings;
        private final List<List<Outcomes>> byRepeat = new ArrayList<>();
        private final List<Double> foldScores = new ArrayList<>();
        private final List<Double> sizes = new ArrayList<>();
        private String failure = "";

        Point(int index, Settings settings) {
            this.index = index;
            this.settings = settings;
        }

        double size() {
            double[] sorted =
                    sizes.stream().mapToDouble(Double::doubleValue).sorted().toArray();
            double median = (sorted[(sorted.length - 1) / 2] + sorted[sorted.length / 2]) / 2;
            return new java.math.BigDecimal(median)
                    .round(new java.math.MathContext(2))
                    .doubleValue();
        }
    }

    /**
     * Returns the settings chosen.
     *
     * @throws FitFailure if no point of the grid could be scored
     */
    Settings choose() {
        List<Settings> grid = tuning.tried(candidate.settings(), seed);
        List<Point> points = IntStream.range(0, grid.size())
                .mapToObj(i -> new Point(i, grid.get(i)))
                .toList();
        for (int r = 0; r < splits.repeats(); r++) {
            for (Point p : points) {
                p.byRepeat.add(new ArrayList<>());
            }
            for (int f = 0; f < splits.folds(r); f++) {
                score(splits.at(r, f), points);
            }
        }
        double[] means = points.stream().mapToDouble(this::mean).toArray();
        int best = IntStream.range(0, means.length)
                .filter(i -> !Double.isNaN(means[i]))
                .boxed()
                .max(Comparator.comparingDouble(i -> metric.turned(means[i])))
                .orElseThrow(() -> new FitFailure("tuning: " + reason(points)));
        double limit = metric.turned(means[best])
                - (tuning.by() == Tuning.By.ONE_SE ? standardError(points.get(best)) : 0)
                - EQUAL;
        return points.stream()
                .filter(p -> metric.turned(means[p.index]) >= limit)
                .min(this::simpler)
                .orElse(points.get(best))
                .settings;
    }

    private String reason(List<Point> points) {
        return points.stream()
                .map(p -> p.failure)
                .filter(f -> !f.isEmpty())
                .findFirst()
                .orElse(metric.name() + " is undefined on an inner split for every choice; tune by another metric");
    }

    private void score(Split split, List<Point> points) {
        FitFailure.ifInterrupted();
        TrainingRows train = rows.some(split.train().toArray());
        Seed inner = seed.with(split.repeat()).with(split.fold());
        Recipe recipe = candidate.recipe();
        // Points whose steps do the same are prepared once, and trained together where that shares work.
        Map<Object, List<Point>> alike = points.stream()
                .collect(Collectors.groupingBy(
                        p -> recipe.columnsKey(p.settings), LinkedHashMap::new, Collectors.toList()));
        alike.values().forEach(some -> {
            try {
                score(split, some, train, Prepared.of(recipe, some.get(0).settings, train, inner), inner);
            } catch (FitFailure e) {
                some.forEach(p -> p.failure = String.valueOf(e.getMessage()));
            }
        });
    }

    private void score(Split split, List<Point> points, TrainingRows train, Prepared prepared, Seed inner) {
        int[] test = split.test().toArray();
        Table tested = prepared.apply(rows.rows().features().select(test));
        Recipe recipe = candidate.recipe();
        List<Model> together =
                recipe.together(points.stream().map(p -> p.settings).toList(), prepared.training(), tested, inner);
        for (int i = 0; i < points.size(); i++) {
            Point p = points.get(i);
            if (p.failure.isEmpty()) {
                try {
                    Pipeline.Known known = new Pipeline.Known(
                            together.isEmpty() ? Optional.empty() : Optional.of(together.get(i)), Optional.empty());
                    Pipeline fitted = Pipeline.fit(recipe, p.settings, prepared, tested, train, inner, known);
                    Outcomes outcomes = outcomes(split, test, fitted, tested);
                    p.byRepeat.get(split.repeat()).add(outcomes);
                    p.foldScores.add(metric.score(outcomes));
                    p.sizes.add(fitted.sizeUpTo(train.totalWeight()));
                } catch (FitFailure e) {
                    p.failure = String.valueOf(e.getMessage());
                }
            }
        }
    }

    /** A row that counts twice is tested twice. */
    private Outcomes outcomes(Split split, int[] test, Pipeline fitted, Table tested) {
        int classes = rows.classes();
        double[] probabilities = fitted.ofPrepared(tested);
        int[] times = Arrays.stream(test)
                .flatMap(i -> IntStream.range(0, (int) rows.weight(i)).map(t -> i))
                .toArray();
        double[] all = new double[times.length * classes];
        int at = 0;
        for (int i = 0; i < test.length; i++) {
            for (int t = 0; t < (int) rows.weight(test[i]); t++) {
                System.arraycopy(probabilities, i * classes, all, classes * at++, classes);
            }
        }
        return fitted.outcomes(split.fold(), times, rows.rows().targets(times), all);
    }

    /** NaN where the point failed or is undefined anywhere. */
    private double mean(Point p) {
        if (!p.failure.isEmpty()) {
            return Double.NaN;
        }
        double sum = 0;
        int count = 0;
        for (List<Outcomes> repeat : p.byRepeat) {
            List<List<Outcomes>> together = splits.joined()
                    ? List.of(repeat)
                    : repeat.stream().map(List::of).toList();
            for (List<Outcomes> one : together) {
                sum += metric.score(Outcomes.join(one));
                count++;
            }
        }
        return sum / count;
    }

    private double standardError(Point best) {
        double[] defined = best.foldScores.stream()
                .mapToDouble(Double::doubleValue)
                .filter(s -> !Double.isNaN(s))
                .toArray();
        double mean = Arrays.stream(defined).sum() / defined.length;
        double squares = 0;
        for (double s : defined) {
            squares += (s - mean) * (s - mean);
        }
        return defined.length < 2 ? 0 : Math.sqrt(squares / (defined.length - 1) / splits.folds(0));
    }

    private int simpler(Point a, Point b) {
        int bySize = Double.compare(a.size(), b.size());
        if (bySize != 0) {
            return bySize;
        }
        for (String name : tuning.choices().keySet()) {
            int order = candidate
                    .recipe()
                    .setting(name)
                    .map(s -> s.simplest(
                            a.settings.values().getOrDefault(name, ""),
                            b.settings.values().getOrDefault(name, "")))
                    .orElse(0);
            if (order != 0) {
                return order;
            }
        }
        return Integer.compare(a.index, b.index);
    }

    /** The chosen values as text: {@code depth=4 pruning=0.01}. */
    public static String text(Settings settings, Map<String, List<String>> choices) {
        return choices.keySet().stream()
                .map(key -> key + "=" + settings.values().get(key))
                .collect(Collectors.joining(" "));
    }
}

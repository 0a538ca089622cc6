package keenfold.io.ledger.adopted;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.TreeSet;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Table;
import keenfold.core.data.ValueException;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.Splits;
import keenfold.io.InputException;

/**
 * Turns a table of scores into tasks and fits. Nothing is known about rows; each data set stands for its folds, two rows a fold,
 * so that there are as many test rows per training row as folds allow.
 */
public final class AdoptedScores {
    private static final Fit.Times NO_TIMES = new Fit.Times(Double.NaN, Double.NaN, Double.NaN, Double.NaN);
    /** Classes that are never shown: a task must have two. */
    private static final Classes NOBODYS = new Classes(List.of("0", "1"), 1);

    private final AdoptedTable table;
    private final String stem;
    private final String metric;

    /**
     * @param metrics of a table with a column a candidate and none for the metric, the one that its numbers are
     * @throws InputException if it does not say which metric its numbers are, or says it twice
     */
    public AdoptedScores(AdoptedTable table, String stem, List<MetricName> metrics) {
        this.table = table;
        this.stem = stem;
        this.metric = metrics.isEmpty() ? "" : metrics.get(0).text();
        if (!table.wide()) {
            table.require("candidate", "metric", "value");
        } else if (!table.has("metric") && metrics.size() != 1) {
            throw new InputException(
                    table.file().toString(),
                    "has a column for each candidate; say with --metric NAME what its numbers are, such as --metric"
                            + " accuracy");
        }
        if (table.has("metric") && !metrics.isEmpty()) {
            throw new InputException(
                    "--metric " + metric, table.file() + " has a column metric, which says what its numbers are");
        }
    }

    /** Scores of one data set: by repeat and fold, then candidate, then metric. */
    private record Place(int repeat, int fold) implements Comparable<Place> {
        @Override
        public int compareTo(Place o) {
            return repeat != o.repeat ? Integer.compare(repeat, o.repeat) : Integer.compare(fold, o.fold);
        }
    }

    private final Map<String, TreeMap<Place, Map<String, Map<String, Double>>>> sets = new LinkedHashMap<>();
    private final Set<String> candidates = new LinkedHashSet<>();
    private final Set<String> names = new LinkedHashSet<>();

    /**
     * Reads the table.
     *
     * @throws InputException if it cannot be adopted, by line
     */
    public Adopted read() {
        for (int line = 0; line < table.size(); line++) {
            if (table.wide()) {
                for (String candidate : table.wideCandidates()) {
                    candidates.add(candidate);
                    // A candidate that was not tried on a data set has no number there.
                    if (!table.text(line, candidate).isEmpty()) {
                        add(line, candidate, table.has("metric") ? table.text(line, "metric") : metric, candidate);
                    }
                }
            } else {
                add(line, table.text(line, "candidate"), table.text(line, "metric"), "value");
            }
        }
        if (sets.isEmpty()) {
            throw new InputException(table.file().toString(), "holds no number");
        }
        List<MetricName> metrics = names.stream().map(MetricName::parse).toList();
        List<Task> tasks = new ArrayList<>();
        List<Fit> fits = new ArrayList<>();
        sets.forEach((name, places) -> {
            Task task = task(name, places.navigableKeySet(), metrics);
            fits(tasks.size(), List.copyOf(candidates), places, metrics, fits);
            tasks.add(task);
        });
        return new Adopted(
                tasks,
                List.copyOf(candidates),
                fits,
                Results.Kept.SCORES,
                List.of(
                        "scores were adopted without predictions: standard errors and p-values come from the spread of the"
                                + " folds (corrected-t), which is liberal for unstable classifiers; adopt predictions where you"
                                + " have them"));
    }

    private void add(int line, String candidate, String metricName, String column) {
        String set = table.text(line, "dataset");
        if (candidate.isEmpty()) {
            throw table.wrong(line, "candidate", "is empty");
        }
        try {
            MetricName.parse(metricName).bind(NOBODYS, new int[] {1, 1});
        } catch (ValueException e) {
            throw table.wrong(line, "metric", String.valueOf(e.getMessage()));
        }
        candidates.add(candidate);
        names.add(metricName);
        Place place = new Place(table.whole(line, "repeat"), table.whole(line, "fold"));
        Double before = sets.computeIfAbsent(set.isEmpty() ? stem : set, k -> new TreeMap<>())
                .computeIfAbsent(place, k -> new LinkedHashMap<>())
                .computeIfAbsent(candidate, k -> new LinkedHashMap<>())
                .putIfAbsent(metricName, table.number(line, column).orElse(Double.NaN));
        if (before != null) {
            throw table.wrong(
                    line,
                    column,
                    "there are two values of " + metricName + " for \"" + candidate + "\" in repeat " + place.repeat
                            + ", fold " + place.fold);
        }
    }

    private Task task(String name, Set<Place> places, List<MetricName> metrics) {
        List<Integer> repeats =
                List.copyOf(new TreeSet<>(places.stream().map(Place::repeat).toList()));
        int most = 0;
        for (int repeat : repeats) {
            most = Math.max(
                    most, (int) places.stream().filter(p -> p.repeat == repeat).count());
        }
        int[][] foldOf = new int[repeats.size()][2 * most];
        for (int r = 0; r < foldOf.length; r++) {
            int repeat = repeats.get(r);
            int folds = (int) places.stream().filter(p -> p.repeat == repeat).count();
            for (int i = 0; i < foldOf[r].length; i++) {
                foldOf[r][i] = i / 2 < folds ? i / 2 : -1;
            }
        }
        int[] target = new int[2 * most];
        Arrays.setAll(target, i -> i % 2);
        DataSet data = DataSet.of(name, new Table(target.length, List.of()), NOBODYS, target);
        try {
            Splits splits;
            if (most == 1 && repeats.size() > 1) {
                // Single splits again and again: what they were trained on is not known, and not asked for.
                int[] ones = new int[repeats.size()];
                Arrays.fill(ones, 1);
                int[][] sides = new int[repeats.size()][4];
                for (int[] side : sides) {
                    side[2] = 1;
                    side[3] = 1;
                }
                data = DataSet.of(name, new Table(4, List.of()), NOBODYS, new int[] {0, 1, 0, 1});
                splits = Splits.sides(Splits.Form.RANDOM, ones, sides);
            } else {
                splits = Splits.elsewhere(foldOf);
            }
            return Task.of(data, splits, metrics);
        } catch (ValueException e) {
            throw new InputException(table.file().toString(), "data set \"" + name + "\": " + e.getMessage(), e);
        }
    }

    private static void fits(
            int taskIndex,
            List<String> candidates,
            SortedMap<Place, Map<String, Map<String, Double>>> places,
            List<MetricName> metrics,
            List<Fit> fits) {
        int repeat = -1;
        int fold = 0;
        int last = Integer.MIN_VALUE;
        for (Map.Entry<Place, Map<String, Map<String, Double>>> place : places.entrySet()) {
            if (place.getKey().repeat != last) {
                last = place.getKey().repeat;
                repeat++;
                fold = 0;
            }
            for (Map.Entry<String, Map<String, Double>> own : place.getValue().entrySet()) {
                double[] scores = metrics.stream()
                        .mapToDouble(m -> own.getValue().getOrDefault(m.text(), Double.NaN))
                        .toArray();
                Outcomes none = Outcomes.of(2, fold, new int[0], new int[0], new double[0]);
                fits.add(new Fit(
                        taskIndex,
                        candidates.indexOf(own.getKey()),
                        repeat,
                        fold,
                        NO_TIMES,
                        Double.NaN,
                        Optional.of(new Fit.Result(none, scores)),
                        ""));
            }
            fold++;
        }
    }
}

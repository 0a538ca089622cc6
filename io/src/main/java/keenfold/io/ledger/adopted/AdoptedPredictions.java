package keenfold.io.ledger.adopted;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.TreeSet;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.CodePoints;
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
import keenfold.io.plan.AdoptedKind;

/** Turns a table of predictions into tasks and fits; every complaint names its line. */
public final class AdoptedPredictions {
    private static final String PROBABILITY = "p:";
    private static final Fit.Times NO_TIMES = new Fit.Times(Double.NaN, Double.NaN, Double.NaN, Double.NaN);

    private final AdoptedTable table;
    private final String stem;
    private final Optional<String> asked;
    private final Map<String, String> there;
    private final List<MetricName> metrics;
    private final boolean probabilities;
    private final List<String> candidates = new ArrayList<>();
    private final List<String> notices = new ArrayList<>();

    /**
     * Prepares to read a table.
     *
     * @param table of predictions
     * @param stem the name of the data set of lines that name none
     * @param asked the positive class of two, if it is named
     * @param there positive classes of data sets that the ledger holds
     * @param metrics to be scored; the usual ones if empty
     */
    public AdoptedPredictions(
            AdoptedTable table,
            String stem,
            Optional<String> asked,
            Map<String, String> there,
            List<MetricName> metrics) {
        this.table = table;
        this.stem = stem;
        this.asked = asked;
        this.there = there;
        this.metrics = metrics;
        this.probabilities = table.header().stream().anyMatch(h -> h.startsWith(PROBABILITY));
        table.require("row", "candidate", "actual");
        if (!probabilities) {
            table.require("predicted");
        }
    }

    /** The lines of one data set: by candidate, then repeat and fold, then row. */
    private static final class Lines {
        final Map<String, SortedMap<Integer, SortedMap<Integer, SortedMap<Integer, Integer>>>> byCandidate =
                new LinkedHashMap<>();
        final TreeMap<Integer, String> actual = new TreeMap<>();
        final TreeMap<Integer, String> group = new TreeMap<>();
        final Set<String> labels = new TreeSet<>(CodePoints.ORDER);
    }

    /**
     * Reads the table.
     *
     * @throws InputException if it cannot be adopted, by line
     */
    public Adopted read() {
        Map<String, Lines> sets = new LinkedHashMap<>();
        for (int line = 0; line < table.size(); line++) {
            String set = table.text(line, "dataset");
            add(sets.computeIfAbsent(set.isEmpty() ? stem : set, k -> new Lines()), line);
        }
        List<Task> tasks = new ArrayList<>();
        List<Fit> fits = new ArrayList<>();
        for (Map.Entry<String, Lines> set : sets.entrySet()) {
            Task task = task(set.getKey(), set.getValue());
            for (int c = 0; c < candidates.size(); c++) {
                fits(tasks.size(), c, task, set.getValue(), fits);
            }
            tasks.add(task);
        }
        if (!probabilities) {
            notices.add("labels were adopted without probabilities: metrics of ranks and losses are not to be had, and"
                    + " standard errors allow for other training rows by right and wrong labels alone");
        }
        return new Adopted(
                tasks, candidates, fits, probabilities ? Results.Kept.PROBABILITIES : Results.Kept.LABELS, notices);
    }

    private void add(Lines lines, int line) {
        String candidate = table.text(line, "candidate");
        if (candidate.isEmpty()) {
            throw table.wrong(line, "candidate", "is empty");
        }
        if (!candidates.contains(candidate)) {
            try {
                AdoptedKind.candidate(candidate);
            } catch (ValueException e) {
                throw table.wrong(line, "candidate", String.valueOf(e.getMessage()));
            }
            candidates.add(candidate);
        }
        if (table.text(line, "row").isEmpty()) {
            throw table.wrong(line, "row", "is empty; it is the number of the row in its data, from 1");
        }
        int row = table.whole(line, "row");
        int repeat = table.whole(line, "repeat");
        int fold = table.whole(line, "fold");
        String actual = table.text(line, "actual");
        if (actual.isEmpty()) {
            throw table.wrong(line, "actual", "is empty");
        }
        String before = lines.actual.putIfAbsent(row, actual);
        if (before != null && !before.equals(actual)) {
            throw table.wrong(
                    line,
                    "actual",
                    "row " + row + " is of class \"" + actual + "\" here, and \"" + before + "\" further up");
        }
        String group = table.text(line, "group");
        if (!group.isEmpty()) {
            String other = lines.group.putIfAbsent(row, group);
            if (other != null && !other.equals(group)) {
                throw table.wrong(
                        line,
                        "group",
                        "row " + row + " is of group \"" + group + "\" here, and \"" + other + "\" further up");
            }
        }
        lines.labels.add(actual);
        if (!table.text(line, "predicted").isEmpty()) {
            lines.labels.add(table.text(line, "predicted"));
        }
        for (String column : table.header()) {
            if (column.startsWith(PROBABILITY) && !table.text(line, column).isEmpty()) {
                lines.labels.add(column.substring(PROBABILITY.length()));
            }
        }
        SortedMap<Integer, SortedMap<Integer, Integer>> folds = lines.byCandidate
                .computeIfAbsent(candidate, k -> new TreeMap<>())
                .computeIfAbsent(repeat, k -> new TreeMap<>());
        folds.forEach((f, rows) -> {
            Integer there = rows.get(row);
            if (there != null) {
                throw table.wrong(
                        line,
                        "row",
                        "row " + row + " is predicted twice by \"" + candidate + "\" in repeat " + repeat
                                + ", first on line " + table.place(there));
            }
        });
        folds.computeIfAbsent(fold, k -> new TreeMap<>()).put(row, line);
    }

    private Task task(String name, Lines lines) {
        String first = lines.byCandidate.keySet().iterator().next();
        SortedMap<Integer, SortedMap<Integer, SortedMap<Integer, Integer>>> splits =
                lines.byCandidate.getOrDefault(first, new TreeMap<>());
        lines.byCandidate.forEach((candidate, own) -> requireSame(name, first, splits, candidate, own));
        for (String candidate : candidates) {
            if (!lines.byCandidate.containsKey(candidate)) {
                notices.add("data set \"" + name + "\" has no prediction of \"" + candidate
                        + "\": it is not compared there");
            }
        }
        int[] rows = lines.actual.keySet().stream().mapToInt(Integer::intValue).toArray();
        List<String> labels = List.copyOf(lines.labels);
        if (labels.size() < 2) {
            throw new InputException(
                    table.file().toString(),
                    "data set \"" + name + "\" has a single class, " + String.join(", ", labels));
        }
        int[] target = Arrays.stream(rows)
                .map(r -> labels.indexOf(lines.actual.getOrDefault(r, "")))
                .toArray();
        int[] counts = new int[labels.size()];
        Arrays.stream(target).forEach(t -> counts[t]++);
        Optional<String> positive = asked.or(() -> Optional.ofNullable(there.get(name)));
        positive.ifPresent(p -> {
            if (!labels.contains(p)) {
                throw new InputException(
                        table.file().toString(),
                        (asked.isPresent() ? "--positive " + p : "positive class " + p + " of the ledger")
                                + ": data set \"" + name + "\" has the classes " + String.join(", ", labels));
            }
        });
        if (positive.isEmpty() && labels.size() == 2) {
            notices.add("data set \"" + name + "\": \"" + labels.get(Classes.rarest(counts))
                    + "\", the rarer class, is taken for the positive one; name another with --positive");
        }
        Classes classes = new Classes(labels, positive.map(labels::indexOf).orElse(Classes.rarest(counts)));
        Optional<Categories> groups = lines.group.isEmpty()
                ? Optional.empty()
                : Optional.of(Categories.of(
                        "group",
                        Arrays.stream(rows)
                                .mapToObj(r -> Optional.ofNullable(lines.group.get(r))
                                        .orElseThrow(() -> new InputException(
                                                table.file().toString(), "row " + r + " has no group, as others have")))
                                .toArray(String[]::new)));
        DataSet data = DataSet.of(name, new Table(rows.length, List.of()), classes, target, groups, rows);
        return InputException.at(
                table.file().toString(),
                () -> {
                    Splits made = splits(splits, rows);
                    return Task.of(data, made, scored(data, made));
                },
                why -> "data set \"" + name + "\": " + why);
    }

    private List<MetricName> scored(DataSet data, Splits splits) {
        if (!metrics.isEmpty()) {
            for (MetricName metric : metrics) {
                if (!probabilities && !metric.measure().byLabels()) {
                    throw new InputException(
                            table.file().toString(),
                            metric.text() + " needs probabilities, columns p:CLASS, and only labels are there");
                }
            }
            return metrics;
        }
        boolean ranks = splits.shareInMixedCompany(data.targets()) >= Task.LEAST_MIXED;
        List<String> names = !probabilities
                ? List.of("accuracy", "balanced-accuracy", "f1", "mcc")
                : ranks
                        ? List.of("auc", "accuracy", "balanced-accuracy", "log-loss")
                        : List.of("log-loss", "accuracy", "balanced-accuracy", "brier");
        return names.stream().map(MetricName::parse).toList();
    }

    /** Every candidate of a data set is tested on the same rows in the same folds. */
    private void requireSame(
            String name,
            String first,
            SortedMap<Integer, SortedMap<Integer, SortedMap<Integer, Integer>>> splits,
            String candidate,
            SortedMap<Integer, SortedMap<Integer, SortedMap<Integer, Integer>>> own) {
        own.forEach((repeat, folds) -> folds.forEach((fold, rows) -> rows.forEach((row, line) -> {
            if (Optional.ofNullable(splits.get(repeat))
                    .map(f -> f.get(fold))
                    .filter(r -> r.containsKey(row))
                    .isEmpty()) {
                throw table.wrong(
                        line,
                        "row",
                        "row " + row + " is predicted by \"" + candidate + "\" in repeat " + repeat + ", fold " + fold
                                + ", but not there by \"" + first + "\"; candidates must meet the same rows in the same"
                                + " folds");
            }
        })));
        splits.forEach((repeat, folds) -> folds.forEach((fold, rows) -> rows.forEach((row, line) -> {
            boolean there = Optional.ofNullable(own.get(repeat))
                    .map(f -> f.get(fold))
                    .filter(r -> r.containsKey(row))
                    .isPresent();
            if (!there) {
                throw table.wrong(
                        line,
                        "row",
                        "row " + row + " of data set \"" + name + "\", repeat " + repeat + ", fold " + fold
                                + " is predicted by \"" + first + "\", but not by \"" + candidate
                                + "\"; candidates must meet the same rows in the same folds");
            }
        })));
    }

    private static Splits splits(
            SortedMap<Integer, SortedMap<Integer, SortedMap<Integer, Integer>>> repeats, int[] rows) {
        Map<Integer, Integer> index = new TreeMap<>();
        for (int row : rows) {
            index.put(row, index.size());
        }
        boolean single = repeats.size() > 1 && repeats.values().stream().allMatch(f -> f.size() == 1);
        List<int[]> all = new ArrayList<>();
        repeats.forEach((repeat, folds) -> {
            int[] of = new int[rows.length];
            Arrays.fill(of, single ? 1 : -1);
            int number = 0;
            for (SortedMap<Integer, Integer> tested : folds.values()) {
                int fold = number++;
                tested.keySet().forEach(row -> of[index.getOrDefault(row, 0)] = fold);
            }
            all.add(of);
        });
        int[][] made = all.toArray(int[][]::new);
        if (!single) {
            return Splits.elsewhere(made);
        }
        // Repeats of one fold each are random splits: what one does not test, it was trained on.
        int[] ones = new int[made.length];
        Arrays.fill(ones, 1);
        return Splits.sides(Splits.Form.RANDOM, ones, made);
    }

    private void fits(int taskIndex, int candidate, Task task, Lines lines, List<Fit> fits) {
        var own = lines.byCandidate.get(candidates.get(candidate));
        if (own == null) {
            return;
        }
        Map<Integer, Integer> index = new TreeMap<>();
        for (int i = 0; i < task.data().rows(); i++) {
            index.put(task.data().sourceRow(i), i);
        }
        int repeat = 0;
        for (SortedMap<Integer, SortedMap<Integer, Integer>> folds : own.values()) {
            int fold = 0;
            for (SortedMap<Integer, Integer> rows : folds.values()) {
                Outcomes outcomes = outcomes(task, fold, rows, index);
                double[] scores = task.metrics().stream()
                        .mapToDouble(m -> m.score(outcomes))
                        .toArray();
                fits.add(new Fit(
                        taskIndex,
                        candidate,
                        repeat,
                        fold++,
                        NO_TIMES,
                        Double.NaN,
                        Optional.of(new Fit.Result(outcomes, scores)),
                        ""));
            }
            repeat++;
        }
    }

    private Outcomes outcomes(Task task, int fold, SortedMap<Integer, Integer> rows, Map<Integer, Integer> index) {
        List<String> labels = task.data().classes().labels();
        int k = labels.size();
        int n = rows.size();
        int[] row = new int[n];
        int[] predicted = new int[n];
        double[] probability = new double[n * k];
        boolean labelled = false;
        int i = 0;
        for (Map.Entry<Integer, Integer> one : rows.entrySet()) {
            int line = one.getValue();
            row[i] = index.getOrDefault(one.getKey(), 0);
            String label = table.text(line, "predicted");
            labelled |= !label.isEmpty();
            if (probabilities) {
                probabilities(line, labels, probability, i * k);
            } else {
                if (label.isEmpty()) {
                    throw table.wrong(line, "predicted", "is empty");
                }
                probability[i * k + labels.indexOf(label)] = 1;
            }
            predicted[i] = label.isEmpty() ? mostProbable(probability, i * k, k) : labels.indexOf(label);
            i++;
        }
        int[] actual = task.data().targets(row);
        return labelled
                ? Outcomes.of(k, fold, row, actual, probability, predicted)
                : Outcomes.of(k, fold, row, actual, probability);
    }

    private static int mostProbable(double[] values, int from, int count) {
        int best = 0;
        for (int c = 1; c < count; c++) {
            best = values[from + c] > values[from + best] ? c : best;
        }
        return best;
    }

    /** Fills the probabilities of one row, each as it is written. */
    private void probabilities(int line, List<String> labels, double[] to, int at) {
        double sum = 0;
        for (int c = 0; c < labels.size(); c++) {
            String column = PROBABILITY + labels.get(c);
            double p = table.number(line, column).orElse(0.0);
            if (!Outcomes.isProbability(p)) {
                throw table.wrong(line, column, p + " is no probability: expected 0 to 1");
            }
            to[at + c] = p;
            sum += p;
        }
        if (!Outcomes.isWhole(sum)) {
            throw table.wrong(
                    line,
                    PROBABILITY + labels.get(0),
                    "the probabilities of the line sum to " + sum + ", not to 1; the classes are " + labels);
        }
    }
}

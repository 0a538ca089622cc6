package keenfold.io.ledger.adopted;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import keenfold.core.data.DataSet;
import keenfold.core.data.Plural;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.Splits;
import keenfold.io.InputException;

/**
 * Several adopted tables or ledgers as one: their data sets by name, their candidates by name. A data set that is in two of
 * them has the same rows in the same folds in both.
 */
public final class AdoptedUnion {
    private final Map<String, Part> sets = new LinkedHashMap<>();
    private final Set<String> candidates = new LinkedHashSet<>();
    private final Set<String> notices = new LinkedHashSet<>();
    private final List<String> metrics = new ArrayList<>();
    private final Map<Place, Scored> fits = new LinkedHashMap<>();
    private Optional<Results.Kept> kept = Optional.empty();

    /** A data set, what it is divided into, and the file that it was first read from. */
    private record Part(DataSet data, Splits splits, String file) {}

    private record Place(String set, String candidate, int repeat, int fold) {}

    /** A fit and its scores by metric. */
    private record Scored(Fit fit, Map<String, Double> scores) {}

    /** What of a table or ledger was there before, and the same. */
    public record Added(int taken, int twice) {}

    /**
     * Adds a table or ledger.
     *
     * @param source its file, for complaints
     * @param more what it holds
     * @param again whether fits that are there already are passed over, if they are the same
     * @throws InputException if it does not agree with those before it
     */
    public Added add(String source, Adopted more, boolean again) {
        if (kept.isPresent() && kept.get() != more.kept()) {
            throw new InputException(
                    source,
                    "holds " + words(more.kept()) + ", and what was read before it " + words(kept.get())
                            + "; keep them in ledgers of their own");
        }
        kept = Optional.of(more.kept());
        List<String> own =
                more.tasks().get(0).metrics().stream().map(Metric::name).toList();
        if (more.kept() == Results.Kept.SCORES) {
            own.stream().filter(m -> !metrics.contains(m)).forEach(metrics::add);
        } else if (metrics.isEmpty()) {
            metrics.addAll(own);
        } else {
            metrics.retainAll(own);
        }
        for (Task task : more.tasks()) {
            Part there = sets.putIfAbsent(task.data().name(), new Part(task.data(), task.splits(), source));
            if (there != null) {
                requireSame(source, task, there);
            }
        }
        candidates.addAll(more.candidates());
        notices.addAll(more.notices());
        int taken = 0;
        int twice = 0;
        for (Fit fit : more.fits()) {
            Place place = new Place(
                    more.tasks().get(fit.task()).data().name(),
                    more.candidates().get(fit.candidate()),
                    fit.repeat(),
                    fit.fold());
            Map<String, Double> scores = new LinkedHashMap<>();
            fit.result().ifPresent(r -> own.forEach(m -> scores.put(m, r.score(own.indexOf(m)))));
            Scored named = new Scored(fit, scores);
            Scored there = fits.putIfAbsent(place, named);
            if (there == null) {
                taken++;
            } else if (again && same(there, named)) {
                twice++;
            } else {
                throw new InputException(
                        source,
                        "candidate \"" + place.candidate + "\" of data set \"" + place.set
                                + "\" was read before it too"
                                + (again
                                        ? ", and differs in repeat " + (place.repeat + 1) + ", fold " + (place.fold + 1)
                                        : "; a further data set needs a column dataset that names it"));
            }
        }
        return new Added(taken, twice);
    }

    private static boolean same(Scored a, Scored b) {
        boolean failed = a.fit.failed();
        boolean scores = a.scores.keySet().stream()
                .filter(b.scores::containsKey)
                .allMatch(m -> Objects.equals(a.scores.get(m), b.scores.get(m)));
        return failed == b.fit.failed()
                && scores
                && (failed
                        || same(
                                a.fit.result().orElseThrow().outcomes(),
                                b.fit.result().orElseThrow().outcomes()));
    }

    private static boolean same(Outcomes a, Outcomes b) {
        boolean same = a.size() == b.size() && a.classes() == b.classes();
        for (int i = 0; same && i < a.size(); i++) {
            same = a.row(i) == b.row(i) && a.predicted(i) == b.predicted(i);
            for (int c = 0; same && c < a.classes(); c++) {
                same = a.probability(i, c) == b.probability(i, c);
            }
        }
        return same;
    }

    private static void requireSame(String source, Task task, Part there) {
        requireSame(source, task, new Task(there.data, there.splits, List.of()));
    }

    /** Refuses a data set whose rows, classes or folds are not those of another one of its name. */
    public static void requireSame(String source, Task own, Task there) {
        DataSet here = own.data();
        DataSet before = there.data();
        boolean same = Arrays.equals(here.sourceRows(), before.sourceRows())
                && here.classes().labels().equals(before.classes().labels())
                && Arrays.equals(here.targets(), before.targets());
        if (!same) {
            throw new InputException(
                    source,
                    "data set \"" + here.name() + "\" has other rows or classes than before ("
                            + Plural.of(here.rows(), "row") + " of "
                            + here.classes().labels() + " here, "
                            + before.rows() + " of " + before.classes().labels()
                            + " there); the same rows must be tested");
        }
        if (!own.splits().equals(there.splits())) {
            throw new InputException(
                    source,
                    "data set \"" + here.name()
                            + "\": the rows are tested in other folds than before; export --what folds says in which");
        }
    }

    private static String words(Results.Kept kept) {
        return switch (kept) {
            case PROBABILITIES -> "predictions";
            case LABELS -> "predicted labels without probabilities";
            case SCORES -> "scores alone";
        };
    }

    /**
     * Returns all as one.
     *
     * @throws InputException if nothing scores all of it
     */
    public Adopted all() {
        if (metrics.isEmpty()) {
            throw new InputException(
                    sets.values().iterator().next().file, "no metric is scored in all that is to be joined");
        }
        List<MetricName> names = metrics.stream().map(MetricName::parse).toList();
        List<String> order = List.copyOf(sets.keySet());
        List<String> named = List.copyOf(candidates);
        List<Task> tasks = sets.values().stream()
                .map(p -> Task.of(p.data, p.splits, names))
                .toList();
        List<Fit> all = new ArrayList<>();
        fits.forEach((place, scored) -> all.add(new Fit(
                order.indexOf(place.set),
                named.indexOf(place.candidate),
                place.repeat,
                place.fold,
                scored.fit.times(),
                scored.fit.size(),
                scored.fit
                        .result()
                        .map(r -> new Fit.Result(
                                r.outcomes(),
                                metrics.stream()
                                        .mapToDouble(m -> scored.scores.getOrDefault(m, Double.NaN))
                                        .toArray())),
                scored.fit.message())));
        return new Adopted(tasks, named, all, kept.orElseThrow(), List.copyOf(notices));
    }

    /** Returns the file that a data set was first read from. */
    public String file(String set) {
        return Optional.ofNullable(sets.get(set)).orElseThrow().file;
    }
}

package keenfold.io.ledger;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.metric.Costs;
import keenfold.core.metric.Metric;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.Comparison;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.io.InputException;
import keenfold.io.ledger.adopted.Adopted;
import keenfold.io.ledger.adopted.AdoptedPredictions;
import keenfold.io.ledger.adopted.AdoptedScores;
import keenfold.io.ledger.adopted.AdoptedTable;
import keenfold.io.ledger.adopted.AdoptedUnion;
import keenfold.io.plan.AdoptedKind;
import keenfold.io.plan.Choosing;
import keenfold.io.plan.Division;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.plan.SplitSource;
import keenfold.io.table.DataSpec;
import keenfold.io.table.Fingerprint;
import keenfold.io.table.LoadedData;
import keenfold.io.table.parse.TableFormat;

/**
 * Takes predictions or scores made elsewhere into a ledger: a new one, or one that is there already. Of a data set that is
 * there too, rows meet in the same folds; a ledger of adopted tables takes further data sets.
 */
public final class Adoption {
    private Adoption() {}

    /**
     * What was adopted.
     *
     * @param candidates their names
     * @param fits how many
     * @param notices what was seen and what to do
     */
    public record Report(List<String> candidates, int fits, List<String> notices) {
        /** Copies the lists. */
        public Report {
            candidates = List.copyOf(candidates);
            notices = List.copyOf(notices);
        }
    }

    /**
     * Adopts tables.
     *
     * <p>A table without a column {@code dataset} is of the data set of a ledger that is there and has a single one, or of one
     * that is called after its file. Several such tables are of one data set, unless a candidate is in two of them.
     *
     * @param files one or more, all of predictions or all of scores
     * @param positive the positive class of two, if it is named
     * @param metrics to be scored; the usual ones if empty; of a table with a column a candidate, the one that its numbers are
     * @throws InputException if a table cannot be adopted, by line; or does not agree with others or the ledger that is there
     */
    public static Report adopt(List<Path> files, Path ledger, Optional<String> positive, List<MetricName> metrics) {
        List<AdoptedTable> tables = files.stream().map(AdoptedTable::read).toList();
        Optional<LedgerContent> there =
                Files.exists(ledger) ? Optional.of(LedgerReader.read(ledger)) : Optional.empty();
        List<Task> tasks = there.map(c -> c.results().tasks()).orElse(List.of());
        Optional<String> single =
                tasks.size() == 1 ? Optional.of(tasks.get(0).data().name()) : Optional.empty();
        Map<String, String> positives = tasks.stream()
                .map(Task::data)
                .filter(d -> d.classes().binary())
                .collect(Collectors.toMap(DataSet::name, d -> d.classes().positiveLabel()));
        boolean apart = AdoptedTable.shareCandidates(
                tables.stream().filter(t -> !t.has("dataset")).toList());
        AdoptedUnion union = new AdoptedUnion();
        for (AdoptedTable table : tables) {
            Path stemOf = apart ? table.file() : files.get(0);
            String name = single.orElse(DataSpec.stem(stemOf.toString()));
            List<MetricName> scored = metrics.isEmpty() && !table.ofScores()
                    ? there.map(c -> c.plan().metrics()).orElse(List.of())
                    : metrics;
            if (table.ofScores() && positive.isPresent()) {
                throw new InputException(
                        "--positive " + positive.get(), "is for predictions; " + table.file() + " holds scores");
            }
            Adopted one = table.ofScores()
                    ? new AdoptedScores(table, name, metrics).read()
                    : new AdoptedPredictions(table, name, positive, positives, scored).read();
            one.tasks().forEach(t -> requireName(table.file(), t.data().name()));
            one.candidates().forEach(c -> candidate(table.file(), c));
            union.add(table.file().toString(), one, false);
        }
        Adopted adopted = union.all();
        if (there.isPresent()) {
            return into(ledger, there.get(), union, adopted);
        }
        write(ledger, union, adopted);
        return new Report(adopted.candidates(), adopted.fits().size(), adopted.notices());
    }

    /** Writes what was adopted into a new ledger. */
    private static void write(Path ledger, AdoptedUnion union, Adopted adopted) {
        List<Candidate> candidates =
                adopted.candidates().stream().map(c -> candidate(ledger, c)).toList();
        Plan plan = plan(union, adopted, candidates);
        List<LoadedData> data =
                adopted.tasks().stream().map(t -> loaded(t.data())).toList();
        Comparison comparison =
                new Comparison(adopted.tasks(), candidates, plan.seed().orElse(1L));
        LedgerWriter writer = LedgerWriter.open(ledger, plan, data, comparison, adopted.kept(), Optional.empty());
        try (writer) {
            writer.adopt(adopted.fits());
        }
    }

    /** Returns whether all that a plan compares was made elsewhere. */
    static boolean isAdopted(Plan plan) {
        return plan.candidates().stream().allMatch(AdoptedKind::is);
    }

    /**
     * Joins ledgers of adopted tables, whose data sets, candidates or metrics may differ.
     *
     * @param target is not there yet; whoever calls gives it its name when it is whole
     * @throws InputException if they say different things of the same fit, or cannot be joined
     */
    static MergeReport merge(List<Path> ledgers, Path target) {
        AdoptedUnion union = new AdoptedUnion();
        List<MergeReport.Part> parts = new ArrayList<>();
        for (Path ledger : ledgers) {
            LedgerContent content = LedgerReader.read(ledger);
            AdoptedUnion.Added added = union.add(ledger.toString(), of(content), true);
            parts.add(new MergeReport.Part(ledger, added.taken(), added.twice(), content.damage()));
        }
        Adopted all = union.all();
        write(target, union, all);
        int fits = all.fits().size();
        return new MergeReport(parts, fits, fits, Map.of());
    }

    private static Adopted of(LedgerContent content) {
        Results results = content.results();
        return new Adopted(
                results.tasks(),
                results.candidates().stream().map(Candidate::name).toList(),
                results.fits(),
                results.kept(),
                List.of());
    }

    private static Candidate candidate(Path file, String name) {
        return InputException.at(
                file.toString(), () -> AdoptedKind.candidate(name), why -> "column \"candidate\": " + why);
    }

    private static void requireName(Path file, String name) {
        InputException.at(file.toString(), () -> PlanReader.plainName(name), why -> "column \"dataset\": " + why);
    }

    private static Plan plan(AdoptedUnion union, Adopted adopted, List<Candidate> candidates) {
        List<DataSpec> specs = adopted.tasks().stream()
                .map(t -> spec(t, union.file(t.data().name())))
                .toList();
        List<MetricName> names = adopted.tasks().get(0).metrics().stream()
                .map(m -> MetricName.parse(m.name()))
                .toList();
        return new Plan(
                Optional.empty(),
                specs,
                new Division(new SplitSource.GivenFile(specs.get(0).file()), false, Optional.empty()),
                Optional.of(1L),
                names,
                Costs.NONE,
                names.get(0),
                candidates,
                InferenceSettings.DEFAULT,
                Choosing.PRESET,
                Map.of());
    }

    private static LoadedData loaded(DataSet data) {
        return new LoadedData(
                data, Fingerprint.of(data), List.of(), Optional.empty(), Optional.empty(), Set.of(), Optional.empty());
    }

    private static DataSpec spec(Task task, String file) {
        return new DataSpec(
                file,
                task.data().name(),
                "actual",
                Optional.of(task.data().classes().positiveLabel()),
                task.data().groups().map(g -> g.name()),
                Optional.empty(),
                Optional.empty(),
                List.of(),
                TableFormat.PLAIN);
    }

    /** Adds candidates to a ledger whose data sets, rows and folds are the same; to an adopted one further data sets too. */
    private static Report into(Path ledger, LedgerContent content, AdoptedUnion union, Adopted adopted) {
        for (Task task : content.results().tasks()) {
            if (task.data().fileRows() < task.data().rows()) {
                throw new InputException(
                        ledger.toString(),
                        "rows of data set \"" + task.data().name()
                                + "\" count for several cases (weights), which a table of"
                                + " predictions does not tell apart; write each case in a row of its own instead");
            }
        }
        if (adopted.kept() == Results.Kept.SCORES != (content.results().kept() == Results.Kept.SCORES)) {
            throw new InputException(
                    ledger.toString(),
                    adopted.kept() == Results.Kept.SCORES
                            ? "holds predictions, and the table scores alone; adopt it into a ledger of its own"
                            : "holds scores alone, and the table predictions; adopt it into a ledger of its own");
        }
        List<Task> tasks = new ArrayList<>(content.results().tasks());
        List<DataSpec> specs = new ArrayList<>(content.plan().data());
        List<Candidate> candidates = new ArrayList<>(content.plan().candidates());
        List<String> names =
                content.plan().metrics().stream().map(MetricName::text).toList();
        int tasksBefore = tasks.size();
        int candidatesBefore = candidates.size();
        for (Task own : adopted.tasks()) {
            String name = own.data().name();
            String file = union.file(name);
            Optional<Task> there =
                    tasks.stream().filter(t -> t.data().name().equals(name)).findFirst();
            if (there.isPresent()) {
                AdoptedUnion.requireSame(file, own, there.get());
                continue;
            }
            if (!isAdopted(content.plan())) {
                throw new InputException(
                        file,
                        "data set \"" + name + "\" is not in " + ledger + ", the ledger of a run; there are "
                                + tasks.stream().map(t -> t.data().name()).toList());
            }
            tasks.add(Task.of(own.data(), own.splits(), content.plan().metrics()));
            specs.add(spec(own, file));
        }
        for (String name : adopted.candidates()) {
            if (candidates.stream().noneMatch(c -> c.name().equals(name))) {
                candidates.add(candidate(ledger, name));
            }
        }
        List<Fit> fits = new ArrayList<>();
        for (Fit fit : adopted.fits()) {
            Task own = adopted.tasks().get(fit.task());
            String file = union.file(own.data().name());
            int task = IntStream.range(0, tasks.size())
                    .filter(t -> tasks.get(t).data().name().equals(own.data().name()))
                    .findFirst()
                    .orElseThrow();
            String name = adopted.candidates().get(fit.candidate());
            int candidate = IntStream.range(0, candidates.size())
                    .filter(c -> candidates.get(c).name().equals(name))
                    .findFirst()
                    .orElseThrow();
            if (task < tasksBefore && candidate < candidatesBefore) {
                throw new InputException(
                        file,
                        "a candidate called \"" + name + "\" is in " + ledger + " already, on data set \""
                                + own.data().name()
                                + "\"; a further data set needs a column dataset that names it");
            }
            List<String> scored = own.metrics().stream().map(Metric::name).toList();
            scored.stream().filter(m -> !names.contains(m)).findFirst().ifPresent(m -> {
                throw new InputException(file, "metric " + m + " is not in " + ledger + ", which has " + names);
            });
            fits.add(new Fit(
                    task,
                    candidate,
                    fit.repeat(),
                    fit.fold(),
                    fit.times(),
                    fit.size(),
                    fit.result()
                            .map(r -> new Fit.Result(
                                    r.outcomes(),
                                    names.stream()
                                            .mapToDouble(
                                                    m -> scored.contains(m) ? r.score(scored.indexOf(m)) : Double.NaN)
                                            .toArray())),
                    fit.message()));
        }
        List<LoadedData> further = tasks.subList(tasksBefore, tasks.size()).stream()
                .map(t -> loaded(t.data()))
                .toList();
        Plan plan = content.plan()
                .withCandidates(candidates)
                .withFiles(specs, content.plan().division());
        LedgerWriter.extend(ledger, plan, candidatesBefore, tasks, further, fits);
        return new Report(adopted.candidates(), fits.size(), adopted.notices());
    }
}

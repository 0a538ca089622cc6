package keenfold.io.ledger;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import keenfold.core.data.DataSet;
import keenfold.core.infer.Evidence;
import keenfold.core.metric.Costs;
import keenfold.core.metric.MetricName;
import keenfold.core.run.Candidate;
import keenfold.core.run.Comparison;
import keenfold.core.run.Fit;
import keenfold.core.run.Results;
import keenfold.core.run.Task;
import keenfold.io.InputException;
import keenfold.io.plan.AdoptedKind;
import keenfold.io.plan.Choosing;
import keenfold.io.plan.Division;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.plan.SplitSource;
import keenfold.io.table.DataSpec;
import keenfold.io.table.Fingerprint;
import keenfold.io.table.LoadedData;
import keenfold.io.table.TableFormat;

/**
 * Takes predictions or scores made elsewhere into a ledger: a new one, or one that is there already and whose rows meet in
 * the same folds.
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
     * Adopts a table.
     *
     * @param positive the positive class of two, if it is named
     * @param metrics to be scored; the usual ones if empty
     * @throws InputException if the table cannot be adopted, by line; or does not agree with the ledger that is there
     */
    public static Report adopt(Path file, Path ledger, Optional<String> positive, List<MetricName> metrics) {
        AdoptedTable table = AdoptedTable.read(file);
        String stem = DataSpec.stem(file.toString());
        boolean scores = table.has("metric") && table.has("value");
        if (Files.exists(ledger)) {
            return into(ledger, table, stem, scores);
        }
        Adopted adopted = scores
                ? new AdoptedScores(table, stem).read()
                : new AdoptedPredictions(table, stem, positive, metrics).read();
        adopted.tasks().forEach(t -> requireName(file, t.data().name()));
        List<Candidate> candidates =
                adopted.candidates().stream().map(c -> candidate(file, c)).toList();
        Plan plan = plan(file, adopted, candidates);
        List<LoadedData> data =
                adopted.tasks().stream().map(t -> loaded(t.data())).toList();
        Comparison comparison =
                new Comparison(adopted.tasks(), candidates, plan.seed().orElse(1L));
        LedgerWriter writer = LedgerWriter.open(ledger, plan, data, comparison, adopted.kept(), Optional.empty());
        try (writer) {
            writer.adopt(adopted.fits());
        }
        return new Report(adopted.candidates(), adopted.fits().size(), adopted.notices());
    }

    private static Candidate candidate(Path file, String name) {
        try {
            return AdoptedKind.candidate(name);
        } catch (IllegalArgumentException e) {
            throw new InputException(file.toString(), "column \"candidate\": " + e.getMessage(), e);
        }
    }

    private static void requireName(Path file, String name) {
        try {
            PlanReader.plainName(name);
        } catch (IllegalArgumentException e) {
            throw new InputException(file.toString(), "column \"dataset\": " + e.getMessage(), e);
        }
    }

    private static Plan plan(Path file, Adopted adopted, List<Candidate> candidates) {
        List<DataSpec> specs = new ArrayList<>();
        for (Task task : adopted.tasks()) {
            specs.add(new DataSpec(
                    file.toString(),
                    task.data().name(),
                    "actual",
                    Optional.of(task.data().classes().positiveLabel()),
                    task.data().groups().map(g -> g.name()),
                    Optional.empty(),
                    List.of(),
                    TableFormat.PLAIN));
        }
        List<MetricName> names = adopted.tasks().get(0).metrics().stream()
                .map(m -> MetricName.parse(m.name()))
                .toList();
        return new Plan(
                Optional.empty(),
                specs,
                new Division(new SplitSource.GivenFile(file.toString()), false, Optional.empty()),
                Optional.of(1L),
                names,
                Costs.NONE,
                names.get(0),
                candidates,
                Evidence.DEFAULT,
                Choosing.PRESET,
                Map.of());
    }

    private static LoadedData loaded(DataSet data) {
        return new LoadedData(
                data, Fingerprint.of(data), List.of(), Optional.empty(), Optional.empty(), Set.of(), Optional.empty());
    }

    /** Adds candidates to a ledger whose data sets, rows and folds are the same. */
    private static Report into(Path ledger, AdoptedTable table, String stem, boolean scores) {
        LedgerContent content = LedgerReader.read(ledger);
        if (scores != (content.results().kept() == Results.Kept.SCORES)) {
            throw new InputException(
                    ledger.toString(),
                    scores
                            ? "holds predictions, and the table scores alone; adopt it into a ledger of its own"
                            : "holds scores alone, and the table predictions; adopt it into a ledger of its own");
        }
        Map<String, Integer> index = new HashMap<>();
        List<Task> tasks = content.results().tasks();
        tasks.forEach(t -> index.put(t.data().name(), index.size()));
        Optional<String> positive =
                tasks.size() == 1 && tasks.get(0).data().classes().binary()
                        ? Optional.of(tasks.get(0).data().classes().positiveLabel())
                        : Optional.empty();
        Adopted adopted = scores
                ? new AdoptedScores(
                                table, tasks.size() == 1 ? tasks.get(0).data().name() : stem)
                        .read()
                : new AdoptedPredictions(
                                table,
                                tasks.size() == 1 ? tasks.get(0).data().name() : stem,
                                positive,
                                content.plan().metrics())
                        .read();
        List<Candidate> all = new ArrayList<>(content.plan().candidates());
        for (String name : adopted.candidates()) {
            if (all.stream().anyMatch(c -> c.name().equals(name))) {
                throw new InputException(
                        table.file().toString(), "a candidate called \"" + name + "\" is in " + ledger + " already");
            }
            all.add(candidate(table.file(), name));
        }
        int before = content.plan().candidates().size();
        List<Fit> fits = new ArrayList<>();
        for (Fit fit : adopted.fits()) {
            Task own = adopted.tasks().get(fit.task());
            Integer there = index.get(own.data().name());
            if (there == null) {
                throw new InputException(
                        table.file().toString(),
                        "data set \"" + own.data().name() + "\" is not in " + ledger + "; there are " + index.keySet());
            }
            requireSame(table, own, tasks.get(there));
            fits.add(new Fit(
                    there,
                    before + fit.candidate(),
                    fit.repeat(),
                    fit.fold(),
                    fit.times(),
                    fit.size(),
                    fit.result(),
                    fit.message()));
        }
        LedgerWriter.extend(ledger, content.plan().withCandidates(all), before, tasks, fits);
        return new Report(adopted.candidates(), fits.size(), adopted.notices());
    }

    private static void requireSame(AdoptedTable table, Task own, Task there) {
        boolean rows =
                java.util.Arrays.equals(own.data().sourceRows(), there.data().sourceRows());
        boolean classes =
                own.data().classes().labels().equals(there.data().classes().labels());
        boolean actual = rows
                && classes
                && java.util.Arrays.equals(own.data().targets(), there.data().targets());
        if (!actual) {
            throw new InputException(
                    table.file().toString(),
                    "data set \"" + own.data().name() + "\" has other rows or classes than in the ledger ("
                            + own.data().rows() + " rows of "
                            + own.data().classes().labels() + " here, "
                            + there.data().rows() + " of "
                            + there.data().classes().labels()
                            + " there); the same rows must be tested");
        }
        if (!own.splits().equals(there.splits())) {
            throw new InputException(
                    table.file().toString(),
                    "data set \"" + own.data().name()
                            + "\": the rows are tested in other folds than in the ledger; export --what folds says in"
                            + " which");
        }
    }
}

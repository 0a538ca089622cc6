package keenfold.study.plan;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ThreadLocalRandom;
import java.util.function.BiFunction;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.data.Classes;
import keenfold.core.data.ColumnRange;
import keenfold.core.data.DataSet;
import keenfold.core.data.Notice;
import keenfold.core.data.Suggestion;
import keenfold.core.infer.ExpectedPower;
import keenfold.core.metric.Costs;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.StepUse;
import keenfold.core.prepare.step.OneHotWidth;
import keenfold.core.prepare.step.StepKinds;
import keenfold.core.run.Comparison;
import keenfold.core.run.Halves;
import keenfold.core.run.Halving;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.StepLists;
import keenfold.core.run.result.Task;
import keenfold.core.split.Audit;
import keenfold.core.split.KFold;
import keenfold.core.split.Splits;
import keenfold.io.InputException;
import keenfold.io.ledger.LedgerReader;
import keenfold.io.plan.Division;
import keenfold.io.plan.Plan;
import keenfold.io.plan.SplitSource;
import keenfold.io.table.Chosen;
import keenfold.io.table.DataParts;
import keenfold.io.table.DataReader;
import keenfold.io.table.DataSpec;
import keenfold.io.table.GivenSplits;
import keenfold.io.table.LoadedData;
import keenfold.results.FoldMap;
import keenfold.results.notice.Notices;

/**
 * A plan with its data read and its splits made.
 *
 * @param plan with a seed
 * @param data one per data entry of the plan
 * @param comparison what is to be run
 */
public record LoadedPlan(Plan plan, List<LoadedData> data, Comparison comparison) {
    private static final int SEED_BOUND = 1_000_000_000;

    /** Reads the data of a plan; {@code place} goes into complaints about what plan and data ask of each other. */
    public static LoadedPlan of(Plan plan, String place, List<Path> folders) {
        List<LoadedData> data = new ArrayList<>();
        for (DataSpec spec : plan.data()) {
            data.add(DataReader.read(spec, parts(plan), folders));
        }
        long seed = plan.seed().orElseThrow();
        requireCosts(plan.costs(), data, place);
        requireLabels(plan.candidates(), data, place);
        requireDates(plan.candidates(), data, place);
        requireTexts(plan.candidates(), data, place);
        return InputException.at(place, () -> {
            List<Task> tasks = data.stream()
                    .map(d -> Task.of(d.data(), splits(plan.division(), d, seed, folders), plan.metrics()))
                    .toList();
            return new LoadedPlan(plan, data, new Comparison(tasks, plan.candidates(), seed));
        });
    }

    /** Before the first fit: a threshold or a tuning by cost would meet what is missing in each of them. */
    private static void requireCosts(Costs costs, List<LoadedData> data, String place) {
        if (costs.none()) {
            return;
        }
        List<Classes> concerned = data.stream()
                .map(d -> d.data().classes())
                .filter(costs::concern)
                .toList();
        InputException.at(place + ", key \"costs\"", () -> {
            (concerned.isEmpty() ? List.of(data.get(0).data().classes()) : concerned).forEach(costs::require);
            return costs;
        });
    }

    /** A weight of a class that no data set has would change nothing, without a word. */
    private static void requireLabels(List<Candidate> candidates, List<LoadedData> data, String place) {
        Set<String> labels = new LinkedHashSet<>();
        data.forEach(d -> labels.addAll(d.data().classes().labels()));
        for (Candidate candidate : candidates) {
            for (String label :
                    candidate.recipe().namedWeights(candidate.settings()).keySet()) {
                if (!labels.contains(label)) {
                    throw new InputException(
                            place + ", key \"candidates." + candidate.family() + ".balance.of\"",
                            "there is no class \"" + label + "\"" + Suggestion.hint(label, List.copyOf(labels)));
                }
            }
        }
    }

    /** Parts of a number that is no date would be made without a word. */
    private static void requireDates(List<Candidate> candidates, List<LoadedData> data, String place) {
        requireColumns(StepKinds.DATE_PARTS, candidates, data, place, (set, name) -> {
            String others = set.dates().stream().sorted().collect(Collectors.joining(", "));
            return set.dates().contains(name)
                    ? Optional.empty()
                    : Optional.of("is not one of ISO dates (2026-03-31)"
                            + (others.isEmpty() ? ", and no other is" : "; these are: " + others));
        });
    }

    /** Each fit would fail by itself. */
    private static void requireTexts(List<Candidate> candidates, List<LoadedData> data, String place) {
        requireColumns(StepKinds.WORDS, candidates, data, place, (set, name) -> set.data()
                .features()
                .column(name)
                .flatMap(c -> c.match(
                        n -> Optional.of(
                                "holds numbers; \"text: [" + name + "]\" in its entry of data reads it as text"),
                        k -> Optional.empty())));
    }

    /** Refuses a step whose settings name a column of the data that it cannot take, with what is wrong with it. */
    private static void requireColumns(
            StepKind kind,
            List<Candidate> candidates,
            List<LoadedData> data,
            String place,
            BiFunction<LoadedData, String, Optional<String>> wrong) {
        for (Candidate candidate : candidates) {
            for (StepUse use : candidate.recipe().prepare().map(StepLists::all).orElse(List.of())) {
                if (!use.kind().equals(kind)) {
                    continue;
                }
                for (LoadedData set : data) {
                    List<String> columns = set.data().features().names();
                    for (String name :
                            ColumnRange.expanded(use.make(candidate.settings()).named(), columns)) {
                        Optional<String> what = columns.contains(name) ? wrong.apply(set, name) : Optional.empty();
                        if (what.isPresent()) {
                            throw new InputException(
                                    place + ", key \"candidates." + candidate.family() + ".prepare\"",
                                    kind.name() + ": column \"" + name + "\" of \""
                                            + set.data().name() + "\" " + what.get());
                        }
                    }
                }
            }
        }
    }

    /**
     * Reads the data of a ledger again.
     *
     * @param more another folder to look in, after the ledger's
     * @throws InputException if the data are not there, or are not those that the ledger was filled from
     */
    public static LoadedPlan ofLedger(Plan plan, Path ledger, Optional<Path> more) {
        LoadedPlan job = of(plan, ledger.toString(), folders(ledger, more));
        List<String> there = LedgerReader.fingerprints(ledger);
        for (int t = 0; t < there.size(); t++) {
            if (!there.get(t).equals(job.data.get(t).fingerprint())) {
                throw new InputException(
                        ledger.toString(),
                        "data set \"" + plan.data().get(t).name() + "\" has changed since the ledger was filled from it"
                                + " (fingerprints differ); put the old file back, or run the plan again");
            }
        }
        return job;
    }

    /** Where the data of a ledger are looked for. */
    public static List<Path> folders(Path ledger, Optional<Path> more) {
        List<Path> folders = new ArrayList<>();
        folders.add(Optional.ofNullable(ledger.toAbsolutePath().getParent()).orElse(Path.of("")));
        more.ifPresent(folders::add);
        return folders;
    }

    /**
     * Refuses what could only fail for lack of memory, before the first fit.
     *
     * @param memory bytes that there are
     * @throws InputException if a candidate would turn the levels of a column into more columns than that holds
     */
    public void requireRoom(long memory) {
        for (Task task : comparison.tasks()) {
            for (Candidate candidate : comparison.candidates()) {
                OneHotWidth made = OneHotWidth.of(
                        candidate.recipe().steps(candidate.settings()),
                        task.data().features());
                long bytes = made.bytes(task.data().rows());
                if (bytes > memory && !made.columns().isEmpty()) {
                    OneHotWidth.OfColumn widest = made.columns().get(0);
                    throw new InputException(
                            task.data().name() + ", column \"" + widest.name() + "\"",
                            String.format(
                                    Locale.ROOT,
                                    "has %d levels, each of which becomes a column for \"%s\": %.1f GB for %d rows, where"
                                            + " %.1f GB of memory are there; leave the column out (leave-out, or --leave-out"
                                            + " '%s'), or let frequent levels alone have a column (prepare: [fill,"
                                            + " {one-hot: 50}])",
                                    widest.levels(),
                                    candidate.name(),
                                    bytes * 1e-9,
                                    task.data().rows(),
                                    memory * 1e-9,
                                    widest.name()));
                }
            }
        }
    }

    /** Returns the splits of some data sets. */
    public FoldMap folds(List<Integer> shown) {
        return FoldMap.of(shown.stream().map(this::foldsOf).toList(), comparison.seed(), notices());
    }

    /** Returns the splits of one data set, checked. */
    public FoldMap.OfSet foldsOf(int t) {
        Task task = comparison.tasks().get(t);
        LoadedData loaded = data.get(t);
        return new FoldMap.OfSet(
                task,
                Audit.of(
                        task.data(),
                        task.splits(),
                        plan.division().bindEqual(),
                        plan.division().stratified()),
                loaded.heldBack().map(DataSet::rows).orElse(0),
                loaded.dates(),
                power(t));
    }

    /** Returns what differences can be expected to be seen on a data set; nothing where none will be called. */
    public Optional<ExpectedPower> power(int t) {
        return ExpectedPower.of(
                comparison.tasks().get(t).splits(),
                comparison.candidates().size(),
                plan.evidence().level());
    }

    /** Returns the index of a data set by its name. */
    public int index(String dataset) {
        return IntStream.range(0, data.size())
                .filter(t -> data.get(t).data().name().equals(dataset))
                .findFirst()
                .orElseThrow();
    }

    /**
     * Reads a data set with the rows that are held back among the others.
     *
     * @throws InputException if they are in a file of their own, and what is tested is in another
     */
    public DataSet everyRow(int t, List<Path> folders) {
        DataParts parts = parts(plan);
        if (parts.test().isPresent() && parts.heldBack().isPresent()) {
            throw new InputException(
                    parts.heldBack().get(),
                    "holds the holdout, and the tested rows are in a file of their own too: put"
                            + " all rows into one file to train on them");
        }
        DataParts whole = new DataParts(
                parts.test().or(parts::heldBack),
                Optional.empty(),
                Optional.empty(),
                parts.bindEqual(),
                parts.seed(),
                parts.given());
        return DataReader.read(plan.data().get(t), whole, folders).data();
    }

    private static DataParts parts(Plan plan) {
        Division division = plan.division();
        SplitSource source = division.source();
        return new DataParts(
                source instanceof SplitSource.Apart apart ? Optional.of(apart.test()) : Optional.empty(),
                division.holdout().flatMap(Division.SetAside::file),
                division.holdout().flatMap(Division.SetAside::drawn),
                division.bindEqual(),
                plan.seed().orElseThrow(),
                source instanceof SplitSource.GivenColumn given ? Optional.of(given.column()) : Optional.empty());
    }

    private static Splits splits(Division division, LoadedData loaded, long seed, List<Path> folders) {
        DataSet data = loaded.data();
        SplitSource source = division.source();
        if (source instanceof SplitSource.Made made) {
            return made.scheme().divide(data, division.bindEqual(), seed);
        }
        Splits splits;
        if (source instanceof SplitSource.GivenFile given) {
            splits = GivenSplits.read(data, given.file(), folders);
        } else if (loaded.given().isPresent()) {
            splits = GivenSplits.of(data, loaded.given().get());
        } else {
            Chosen tested = loaded.tested().orElseThrow();
            int[] counts = new int[data.rows()];
            Arrays.setAll(counts, i -> tested.has(i) ? 0 : 1);
            splits = Splits.sides(Splits.Form.SINGLE, new int[] {1}, new int[][] {counts});
        }
        Audit.requireWhole(data, splits, division.bindEqual());
        return splits;
    }

    /** The plan with its own seed, that of the ledger it may go on with, or one drawn now. */
    public static Plan seeded(Plan plan, Path ledger) {
        if (plan.seed().isPresent()) {
            return plan;
        }
        Optional<Long> there = Files.exists(ledger) ? LedgerReader.plan(ledger).seed() : Optional.empty();
        return plan.withSeed(there.orElseGet(LoadedPlan::drawnSeed));
    }

    /** A seed that nothing depends on yet. */
    public static long drawnSeed() {
        return ThreadLocalRandom.current().nextInt(1, SEED_BOUND);
    }

    /**
     * The runs on halves of the rows that the plan asks for, if it does.
     *
     * @throws InputException if the plan divides rows in a way that cannot be repeated on them
     */
    public Optional<Halves> halves() {
        Halving halving = plan.evidence().halving();
        if (halving.splits() == 0) {
            return Optional.empty();
        }
        String place = "evidence: {halves: " + halving.splits() + "}";
        KFold scheme = plan.division()
                .scheme()
                .filter(KFold.class::isInstance)
                .map(KFold.class::cast)
                .orElseThrow(() -> new InputException(
                        place,
                        "each half is divided into folds anew, which needs splits of scheme k-fold; ask for that, or"
                                + " leave out halves"));
        return InputException.at(place, () -> Optional.of(new Halves(comparison, scheme, halving)));
    }

    /** Returns what is to be known of the data and their splits. */
    public List<Notice> notices() {
        List<Notice> notices = new ArrayList<>();
        for (int t = 0; t < data.size(); t++) {
            notices.addAll(data.get(t).notices());
            notices.addAll(
                    Notices.ofData(data.get(t).data(), comparison.tasks().get(t).splits()));
        }
        return notices;
    }
}

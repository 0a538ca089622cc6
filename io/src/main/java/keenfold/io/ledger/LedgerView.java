package keenfold.io.ledger;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.function.Function;
import keenfold.core.data.Checks;
import keenfold.core.data.ValueException;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.FitIdentity;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.io.InputException;
import keenfold.io.ledger.table.AboutTable;
import keenfold.io.ledger.table.CandidateTable;
import keenfold.io.ledger.table.DataSetTable;
import keenfold.io.ledger.table.PlanTable;
import keenfold.io.ledger.table.PlanVersion;
import keenfold.io.ledger.table.StoredFits;
import keenfold.io.ledger.table.TestedRows;
import keenfold.io.plan.Plan;
import keenfold.io.table.DataSpec;

/**
 * The rows of a ledger as one comparison: that of the plan in force, or that with all candidates and data sets that were in
 * the plan before. Those are called {@code NAME@N}, N being the last version of the plan that they stood in.
 */
final class LedgerView implements StoredFits.Places {
    private final Path file;
    private final boolean withMetrics;
    private final Connection connection;
    private final List<PlanVersion> versions;
    private final Map<Integer, Plan> plans = new HashMap<>();
    private final Map<Integer, Task> whole = new LinkedHashMap<>();
    private final Map<Integer, Integer> dataSetPlaces = new HashMap<>();
    private final Map<Integer, Integer> repeats = new HashMap<>();
    private final Map<Integer, Integer> candidatePlaces = new HashMap<>();
    private final List<Task> tasks = new ArrayList<>();
    private final Plan plan;
    private final List<String> former = new ArrayList<>();
    private Optional<TestedRows> tested = Optional.empty();

    private LedgerView(Path file, Connection connection, boolean withFormer, boolean withMetrics) throws SQLException {
        this.file = file;
        this.withMetrics = withMetrics;
        this.connection = connection;
        this.versions = PlanTable.versions(connection);
        Checks.that(!versions.isEmpty(), "it has no plan");
        Plan inForce = versions.get(versions.size() - 1).plan(file);
        List<DataSpec> specs = new ArrayList<>(inForce.data());
        List<DataSetTable.Row> sets = DataSetTable.read(connection);
        sets.forEach(s -> dataSetPlaces.put(s.id(), NOWHERE));
        for (DataSetTable.Row row :
                placed(sets, DataSetTable.Row::place, inForce.data().size(), "data set")) {
            DataSpec spec = inForce.data().get(tasks.size());
            Checks.that(
                    spec.name().equals(row.name()),
                    "data set %d: it is called \"%s\", and \"%s\" in the plan",
                    tasks.size() + 1,
                    row.name(),
                    spec.name());
            add(row, spec, row.name(), inForce);
        }
        List<Candidate> candidates = new ArrayList<>(inForce.candidates());
        List<CandidateTable.Row> rows = CandidateTable.read(connection);
        rows.forEach(c -> candidatePlaces.put(c.id(), NOWHERE));
        for (CandidateTable.Row row :
                placed(rows, CandidateTable.Row::place, inForce.candidates().size(), "candidate")) {
            int place = row.place().orElseThrow();
            Checks.that(
                    inForce.candidates().get(place).name().equals(row.name()),
                    "candidate %d is called \"%s\", and \"%s\" in the plan",
                    place + 1,
                    row.name(),
                    inForce.candidates().get(place).name());
            candidatePlaces.put(row.id(), place);
        }
        for (CandidateTable.Row row : rows) {
            if (row.place().isEmpty()) {
                former.add(formerName(row));
                if (withFormer) {
                    candidatePlaces.put(row.id(), candidates.size());
                    candidates.add(former(row));
                }
            }
        }
        for (DataSetTable.Row row : sets) {
            if (row.place().isEmpty()) {
                former.add(formerName(row));
                if (withFormer) {
                    DataSpec spec = former(row);
                    addFormer(row, spec, inForce);
                    specs.add(spec);
                }
            }
        }
        this.plan = inForce.withCandidates(candidates).withFiles(specs, inForce.division());
    }

    /**
     * Reads the view.
     *
     * @param withFormer whether what is not in the plan any more is to be seen too
     * @throws IllegalArgumentException if the head cannot be what a ledger says
     */
    static LedgerView of(Path file, Connection connection, boolean withFormer) throws SQLException {
        return new LedgerView(file, connection, withFormer, true);
    }

    /**
     * Reads everything that the ledger holds, whatever the plan says of it; its data sets have no metrics.
     *
     * @throws IllegalArgumentException if the head cannot be what a ledger says
     */
    static LedgerView ofAll(Path file, Connection connection) throws SQLException {
        return new LedgerView(file, connection, true, false);
    }

    /** Rows by place, each place taken once. */
    private static <T> List<T> placed(List<T> rows, Function<T, OptionalInt> place, int count, String what) {
        List<Optional<T>> placed = new ArrayList<>(java.util.Collections.nCopies(count, Optional.empty()));
        for (T row : rows) {
            OptionalInt at = place.apply(row);
            if (at.isPresent()) {
                Checks.that(
                        at.getAsInt() >= 0 && at.getAsInt() < count,
                        "the plan has %d of %s, and %d is there",
                        count,
                        what + "s",
                        at.getAsInt() + 1);
                placed.set(at.getAsInt(), Optional.of(row));
            }
        }
        List<T> all = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            int number = i + 1;
            all.add(placed.get(i).orElseThrow(() -> Checks.wrong(what + " " + number + " is not there")));
        }
        return all;
    }

    private void add(DataSetTable.Row row, DataSpec spec, String name, Plan inForce) throws SQLException {
        Task all = DataSetTable.read(connection, row.id(), name, spec, withMetrics ? inForce.metrics() : List.of())
                .orElseThrow(() -> Checks.wrong("data set \"" + name + "\" is not there"));
        whole.put(row.id(), all);
        dataSetPlaces.put(row.id(), tasks.size());
        repeats.put(row.id(), row.repeats());
        tasks.add(new Task(all.data(), all.splits().first(row.repeats()), all.metrics()));
    }

    private void addFormer(DataSetTable.Row row, DataSpec spec, Plan inForce) throws SQLException {
        try {
            add(row, spec, spec.name(), inForce);
        } catch (ValueException e) {
            throw new InputException(
                    file.toString(),
                    "data set \"" + spec.name() + "\" is not in the plan any more, and cannot be read by its metrics: "
                            + e.getMessage(),
                    e);
        }
    }

    /** What a candidate is called that is not in the plan any more. */
    static String formerName(CandidateTable.Row row) {
        return row.name() + "@" + row.plan();
    }

    /** What a data set is called that is not in the plan any more. */
    static String formerName(DataSetTable.Row row) {
        return row.name() + "@" + row.plan();
    }

    private Plan planOf(int number) {
        return plans.computeIfAbsent(number, n -> versions.stream()
                .filter(v -> v.number() == n)
                .findFirst()
                .orElseThrow(() -> Checks.wrong("version " + n + " of the plan is not there"))
                .plan(file));
    }

    /** Returns what a candidate of the ledger is, as the version of the plan says that its row names. */
    Candidate definition(CandidateTable.Row row) {
        return planOf(row.plan()).candidates().stream()
                .filter(c -> c.name().equals(row.named()))
                .findFirst()
                .orElseThrow(() -> Checks.wrong(
                        "version " + row.plan() + " of the plan has no candidate \"" + row.named() + "\""));
    }

    /**
     * Returns what decides the fits of a candidate of the ledger; nothing of one whose version of the plan cannot be read any
     * more, since a plug-in is gone: it is like no other.
     */
    Optional<FitIdentity> identity(CandidateTable.Row row) {
        try {
            return Optional.of(FitIdentity.of(definition(row)));
        } catch (InputException e) {
            if (row.place().isPresent()) {
                throw e;
            }
            return Optional.empty();
        }
    }

    private Candidate former(CandidateTable.Row row) {
        Candidate was = definition(row);
        return new Candidate(
                formerName(row),
                was.family() + "@" + row.plan(),
                was.recipe(),
                was.settings(),
                was.grid(),
                was.sample(),
                was.tuning(),
                was.timeLimit(),
                was.rank(),
                was.seedName());
    }

    private DataSpec former(DataSetTable.Row row) {
        return planOf(row.plan()).data().stream()
                .filter(d -> d.name().equals(row.named()))
                .findFirst()
                .orElseThrow(() ->
                        Checks.wrong("version " + row.plan() + " of the plan has no data set \"" + row.named() + "\""))
                .withName(formerName(row));
    }

    /** Returns the plan in force; with former candidates and data sets, if they were asked for. */
    Plan plan() {
        return plan;
    }

    /** Returns the data sets in the order of the plan, with the splits that it asks for. */
    List<Task> tasks() {
        return tasks;
    }

    /** Returns the data sets by id, with all splits that are there. */
    Map<Integer, Task> whole() {
        return whole;
    }

    /** Returns a data set by its id, with all splits that are there. */
    Task task(int id) {
        return Optional.ofNullable(whole.get(id))
                .orElseThrow(() -> Checks.wrong("data set " + (id + 1) + " is not there"));
    }

    /** Returns the names of candidates and data sets that are in the ledger and not in the plan any more. */
    List<String> former() {
        return former;
    }

    /** Returns what of predictions is kept. */
    Results.Kept kept() throws SQLException {
        String text = AboutTable.get(connection, AboutTable.KEPT);
        if (text.isEmpty()) {
            return Results.Kept.PROBABILITIES;
        }
        return Arrays.stream(Results.Kept.values())
                .filter(k -> k.name().equals(text))
                .findFirst()
                .orElseThrow(
                        () -> Checks.wrong("what is kept of predictions is \"" + text + "\", which no ledger says"));
    }

    /** Returns the fits of the ledger. */
    StoredFits fits() throws SQLException {
        return new StoredFits(connection, tested());
    }

    /** Returns which rows fits were tested on. */
    TestedRows tested() throws SQLException {
        if (tested.isEmpty()) {
            tested = Optional.of(
                    new TestedRows(whole, folds(plan), plan.seed().orElse(0L), kept() == Results.Kept.SCORES));
        }
        return tested.get();
    }

    /** Returns the name of a candidate by its id. */
    Optional<String> nameOf(int id) {
        return Optional.ofNullable(candidatePlaces.get(id))
                .filter(place -> place >= 0)
                .map(place -> plan.candidates().get(place).name());
    }

    /** How rows are divided into folds, where halves of them can be too. */
    static Optional<KFold> folds(Plan plan) {
        return plan.division().scheme().filter(KFold.class::isInstance).map(KFold.class::cast);
    }

    @Override
    public int dataSet(int id, int repeat) {
        Integer place = dataSetPlaces.get(id);
        if (place == null) {
            throw Checks.wrong("a fit is of a data set that is not there");
        }
        if (place < 0) {
            return NOWHERE;
        }
        int there = Optional.ofNullable(whole.get(id))
                .map(t -> t.splits().repeats())
                .orElse(0);
        Checks.that(repeat >= 0 && repeat < there, "a fit is of repeat %d of %d", repeat + 1, there);
        return repeat < repeats.getOrDefault(id, 0) ? place : NOWHERE;
    }

    @Override
    public int candidate(int id) {
        Integer place = candidatePlaces.get(id);
        if (place == null) {
            throw Checks.wrong("a fit is of a candidate that is not there");
        }
        return place;
    }
}

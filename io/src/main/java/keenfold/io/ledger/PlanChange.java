package keenfold.io.ledger;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import java.util.function.Function;
import keenfold.core.run.Comparison;
import keenfold.core.run.Shard;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.FitIdentity;
import keenfold.core.run.result.Task;
import keenfold.io.command.CommandKind;
import keenfold.io.ledger.table.CandidateTable;
import keenfold.io.ledger.table.DataSetTable;
import keenfold.io.ledger.table.Event;
import keenfold.io.ledger.table.HistoryTable;
import keenfold.io.ledger.table.PlanTable;
import keenfold.io.ledger.table.PlanVersion;
import keenfold.io.plan.AdoptedKind;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanDifference;
import keenfold.io.plan.PlanWriter;
import keenfold.io.table.LoadedData;

/**
 * Brings another plan into force in a ledger, where that leaves its fits true: its data sets, as far as both have them, have
 * the same rows in the same folds, and the seed is the same. Nothing is lost: what is not in the plan any more stays, out of
 * the comparison.
 */
final class PlanChange {
    private final Path file;
    private final Connection connection;
    private final LedgerView view;
    private final Plan before;
    private final Instant now;

    private final List<String> added = new ArrayList<>();
    private final List<String> back = new ArrayList<>();
    private final List<String> changed = new ArrayList<>();
    private final List<String> renamed = new ArrayList<>();
    private final List<String> left = new ArrayList<>();
    private final List<String> repeats = new ArrayList<>();
    private final List<Integer> dataSets = new ArrayList<>();
    private final List<Integer> candidates = new ArrayList<>();

    /** @throws IllegalArgumentException if the head cannot be what a ledger says */
    PlanChange(Path file, Connection connection, Instant now) throws SQLException {
        this.file = file;
        this.connection = connection;
        this.view = LedgerView.of(file, connection, false);
        this.before = view.plan();
        this.now = now;
    }

    /**
     * A plan in force.
     *
     * @param change what it changed
     * @param dataSets ids of the data sets of the comparison, in its order
     * @param candidates ids of its candidates, in its order
     */
    record InForce(LedgerChange change, List<Integer> dataSets, List<Integer> candidates) {
        InForce {
            dataSets = List.copyOf(dataSets);
            candidates = List.copyOf(candidates);
        }
    }

    /**
     * Brings a plan into force.
     *
     * @param data of the plan, in its order
     * @param comparison that the plan and the data make
     * @throws keenfold.io.InputException if fits of the ledger would not be those of the plan, with what differs
     */
    InForce to(Plan plan, List<LoadedData> data, Comparison comparison) throws SQLException {
        new Agreement(file, connection, view).check(plan, data, comparison);
        Plan whole = withAdopted(plan);
        PlanVersion last = PlanTable.last(connection);
        int fits = LedgerFile.number(connection, "SELECT count(*) FROM fit");
        boolean same = PlanWriter.write(whole).equals(last.yaml()) && !programsDiffer(whole);
        int version = same ? last.number() : PlanTable.add(connection, whole, fits, Event.time(now), Head.program());
        dataSets(version, plan, data, comparison);
        candidates(version, whole);
        if (fits == 0) {
            removeUnused();
        }
        List<String> metrics = new ArrayList<>();
        if (!same) {
            metrics.addAll(new Rescoring(connection, before, whole).complete(tasksById(comparison), view.kept()));
        }
        if (!same || !changed.isEmpty()) {
            history(version, whole, metrics);
        }
        List<Integer> own = candidates.subList(0, plan.candidates().size());
        return new InForce(change(version, whole, metrics, fits), dataSets, own);
    }

    /** A program that has changed makes a version of the plan of its own, by which its former fits are named. */
    private boolean programsDiffer(Plan plan) throws SQLException {
        Map<String, Optional<String>> there = new HashMap<>();
        for (CandidateTable.Row row : CandidateTable.read(connection)) {
            if (row.place().isPresent()) {
                there.put(row.name(), row.program());
            }
        }
        return plan.candidates().stream()
                .filter(c -> !AdoptedKind.is(c)
                        && there.getOrDefault(c.name(), Optional.empty()).isPresent())
                .anyMatch(c -> !CommandKind.fingerprint(c).equals(there.get(c.name())));
    }

    /** Refuses to write one share of a comparison into the ledger of another. */
    void requireShard(Optional<Shard> shard) throws SQLException {
        new Agreement(file, connection, view).checkShard(shard);
    }

    /**
     * Brings a plan into force that adds candidates and data sets whose results were made elsewhere.
     *
     * @param plan with all candidates and data sets, those that are there first
     * @param known how many candidates are there
     * @param tasks all of them
     * @param further the data of those that are new
     */
    InForce extended(Plan plan, int known, List<Task> tasks, List<LoadedData> further) throws SQLException {
        int fits = LedgerFile.number(connection, "SELECT count(*) FROM fit");
        int version = PlanTable.add(connection, plan, fits, Event.time(now), Head.program());
        for (DataSetTable.Row row : ordered(DataSetTable.read(connection), DataSetTable.Row::place)) {
            dataSets.add(row.id());
        }
        for (CandidateTable.Row row : ordered(CandidateTable.read(connection), CandidateTable.Row::place)) {
            candidates.add(row.id());
        }
        int next = 1 + LedgerFile.number(connection, "SELECT max(id) FROM dataset");
        int first = tasks.size() - further.size();
        for (int t = first; t < tasks.size(); t++) {
            String of = plan.data().get(t).file();
            Head.addDataSet(connection, next, t, version, of, further.get(t - first), tasks.get(t));
            added.add("data set " + tasks.get(t).data().name());
            dataSets.add(next++);
        }
        next = 1 + LedgerFile.number(connection, "SELECT max(id) FROM candidate");
        for (int c = known; c < plan.candidates().size(); c++) {
            Head.addCandidate(connection, next, c, version, plan.candidates().get(c));
            added.add(plan.candidates().get(c).name());
            candidates.add(next++);
        }
        CandidateTable.place(connection, version, plan.candidates(), candidates);
        history(version, plan, List.of());
        return new InForce(LedgerChange.none(version), dataSets, candidates);
    }

    static <T> List<T> ordered(List<T> rows, Function<T, OptionalInt> place) {
        return rows.stream()
                .filter(r -> place.apply(r).isPresent())
                .sorted(Comparator.comparingInt(r -> place.apply(r).orElseThrow()))
                .toList();
    }

    /** Candidates whose fits were made elsewhere cannot stand in a plan that is run; they stay until they are forgotten. */
    private Plan withAdopted(Plan plan) {
        Set<String> names = new HashSet<>();
        plan.candidates().forEach(c -> names.add(c.name()));
        List<Candidate> all = new ArrayList<>(plan.candidates());
        before.candidates().stream()
                .filter(c -> AdoptedKind.is(c) && !names.contains(c.name()))
                .forEach(all::add);
        return all.size() == plan.candidates().size() ? plan : plan.withCandidates(all);
    }

    private void dataSets(int version, Plan plan, List<LoadedData> data, Comparison comparison) throws SQLException {
        Map<String, DataSetTable.Row> there = new LinkedHashMap<>();
        for (DataSetTable.Row row : DataSetTable.read(connection)) {
            there.put(row.name(), row);
        }
        int next =
                1 + there.values().stream().mapToInt(DataSetTable.Row::id).max().orElse(-1);
        DataSetTable.unplace(connection);
        for (int t = 0; t < data.size(); t++) {
            Task task = comparison.tasks().get(t);
            String name = task.data().name();
            String of = plan.data().get(t).file();
            Optional<DataSetTable.Row> row = Optional.ofNullable(there.remove(name));
            if (row.isEmpty()) {
                Head.addDataSet(connection, next, t, version, of, data.get(t), task);
                dataSets.add(next++);
                added.add("data set " + name);
                continue;
            }
            DataSetTable.Row old = row.get();
            if (old.place().isEmpty()) {
                back.add("data set " + name);
            }
            int splits = Agreement.repeatsThere(connection, old);
            if (task.splits().repeats() != old.repeats()) {
                repeats.add(task.splits().repeats() + " of " + name + ", " + old.repeats() + " before");
            }
            DataSetTable.update(
                    connection,
                    new DataSetTable.Row(
                            old.id(),
                            OptionalInt.of(t),
                            version,
                            name,
                            name,
                            old.fingerprint(),
                            task.splits().repeats()),
                    of,
                    task.splits(),
                    splits);
            dataSets.add(old.id());
            if (!old.fingerprint().equals(data.get(t).fingerprint())) {
                // Of adopted results only rows, classes and folds were known.
                DataSetTable.describe(connection, old.id(), data.get(t));
            }
        }
        there.values().stream()
                .filter(r -> r.place().isPresent())
                .forEach(r -> left.add("data set " + LedgerView.formerName(r)));
    }

    private void candidates(int version, Plan plan) throws SQLException {
        List<CandidateTable.Row> rows = CandidateTable.read(connection);
        Map<Integer, Optional<FitIdentity>> identities = new HashMap<>();
        for (CandidateTable.Row row : rows) {
            identities.put(row.id(), view.identity(row));
        }
        int next = 1 + rows.stream().mapToInt(CandidateTable.Row::id).max().orElse(-1);
        List<Integer> fresh = new ArrayList<>();
        Set<String> names = new HashSet<>();
        plan.candidates().forEach(c -> names.add(c.name()));
        for (Candidate candidate : plan.candidates()) {
            Optional<FitIdentity> identity = Optional.of(FitIdentity.of(candidate));
            Optional<String> program =
                    AdoptedKind.is(candidate) ? Optional.empty() : CommandKind.fingerprint(candidate);
            List<CandidateTable.Row> alike = rows.stream()
                    .filter(r -> !candidates.contains(r.id())
                            && identity.equals(identities.get(r.id()))
                            && (program.isEmpty() || r.program().isEmpty() || program.equals(r.program())))
                    .toList();
            // One that was renamed here is found by a plan that has its old name, too.
            Optional<CandidateTable.Row> same = alike.stream()
                    .filter(r -> r.name().equals(candidate.name()))
                    .findFirst()
                    .or(() -> alike.stream()
                            .filter(r -> r.place().isPresent() && !names.contains(r.name()))
                            .findFirst());
            if (same.isPresent()) {
                candidates.add(same.get().id());
                if (same.get().place().isEmpty()) {
                    back.add(candidate.name());
                }
                if (!same.get().name().equals(candidate.name())) {
                    renamed.add(same.get().name() + " to " + candidate.name());
                }
            } else {
                boolean known = rows.stream()
                        .anyMatch(r -> r.place().isPresent() && r.name().equals(candidate.name()));
                (known ? changed : added).add(candidate.name());
                fresh.add(candidates.size());
                candidates.add(next++);
            }
        }
        rows.stream()
                .filter(r -> r.place().isPresent() && !candidates.contains(r.id()))
                .forEach(r -> left.add(LedgerView.formerName(r)));
        CandidateTable.place(connection, version, List.of(), List.of());
        for (int c : fresh) {
            Head.addCandidate(
                    connection, candidates.get(c), c, version, plan.candidates().get(c));
        }
        CandidateTable.place(connection, version, plan.candidates(), candidates);
    }

    /** Before the first fit nothing is worth keeping of what a plan leaves out. */
    private void removeUnused() throws SQLException {
        for (CandidateTable.Row row : CandidateTable.read(connection)) {
            if (row.place().isEmpty()) {
                CandidateTable.remove(connection, row.id());
            }
        }
        for (DataSetTable.Row row : DataSetTable.read(connection)) {
            if (row.place().isEmpty()) {
                DataSetTable.remove(connection, row.id());
            }
        }
        left.clear();
    }

    /** The data sets of the comparison by their ids, with all the splits that are there: fewer repeats may be asked for. */
    private Map<Integer, Task> tasksById(Comparison comparison) throws SQLException {
        Map<Integer, Task> tasks = new HashMap<>();
        for (int t = 0; t < dataSets.size(); t++) {
            Task now = comparison.tasks().get(t);
            Optional<Task> there = Optional.ofNullable(view.whole().get(dataSets.get(t)));
            boolean more = there.map(w -> w.splits().repeats() > now.splits().repeats())
                    .orElse(false);
            tasks.put(dataSets.get(t), more ? new Task(now.data(), there.get().splits(), now.metrics()) : now);
        }
        return tasks;
    }

    private void history(int version, Plan plan, List<String> metrics) throws SQLException {
        List<String> keys = PlanDifference.keys(before, plan);
        if (!keys.isEmpty()) {
            HistoryTable.add(connection, Event.of(now, Event.PLAN, "plan " + version, String.join(", ", keys)));
        }
        for (String name : added) {
            HistoryTable.add(connection, Event.of(now, Event.ADDED, name, "plan " + version));
        }
        for (String name : changed) {
            HistoryTable.add(connection, Event.of(now, Event.CHANGED, name, "plan " + version));
        }
        for (String name : back) {
            HistoryTable.add(connection, Event.of(now, Event.BACK, name, "plan " + version));
        }
        for (String name : renamed) {
            HistoryTable.add(connection, Event.of(now, Event.RENAMED, name, "plan " + version));
        }
        for (String name : left) {
            HistoryTable.add(connection, Event.of(now, Event.LEFT, name, "plan " + version));
        }
        for (String key : List.of("evidence", "pick")) {
            if (keys.contains(key)) {
                HistoryTable.add(
                        connection,
                        Event.of(
                                now,
                                key.equals("pick") ? Event.PICK : Event.EVIDENCE,
                                "plan " + version,
                                PlanDifference.line(plan, key).replaceFirst("^" + key + ": ", "")));
            }
        }
        if (!metrics.isEmpty()) {
            HistoryTable.add(connection, Event.of(now, Event.ADDED, "metrics", String.join(", ", metrics)));
        }
    }

    private LedgerChange change(int version, Plan plan, List<String> metrics, int fits) throws SQLException {
        if (fits == 0) {
            return LedgerChange.none(version);
        }
        Set<String> told = Set.of("data", "candidates", "splits", "metrics");
        List<String> others = PlanDifference.keys(before, plan).stream()
                .filter(k -> !told.contains(k))
                .toList();
        int kept = LedgerFile.number(
                connection,
                "SELECT count(*) FROM fit JOIN candidate c ON c.id = fit.candidate JOIN dataset d ON d.id = fit.dataset"
                        + " WHERE c.place IS NOT NULL AND d.place IS NOT NULL AND (purpose <> 'cv' OR repeat < d.repeats)");
        return new LedgerChange(
                version, added, back, changed, renamed, left, repeats, metrics, others, kept, fits - kept);
    }
}

package keenfold.io.ledger;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.FitIdentity;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.core.split.LeaveOneOut;
import keenfold.core.split.MonteCarlo;
import keenfold.core.split.OutOfBag;
import keenfold.core.split.Scheme;
import keenfold.io.InputException;
import keenfold.io.ShellWords;
import keenfold.io.ledger.table.AboutTable;
import keenfold.io.ledger.table.CandidateTable;
import keenfold.io.ledger.table.DataSetTable;
import keenfold.io.ledger.table.Event;
import keenfold.io.ledger.table.HistoryTable;
import keenfold.io.ledger.table.OpeningTable;
import keenfold.io.ledger.table.PlanTable;
import keenfold.io.ledger.table.PlanVersion;
import keenfold.io.ledger.table.RowCopies;
import keenfold.io.plan.AdoptedKind;
import keenfold.io.plan.FamilyUnion;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanWriter;
import keenfold.io.table.DataSpec;

/**
 * Joins what a ledger says beside its fits into another one. A data set that both have has the same rows in the same folds; a
 * candidate of the same name is the same one. What only one of them has is taken over, and the plan in force afterwards
 * compares what either did.
 */
final class HeadJoin {
    private final Connection into;
    private final Path target;
    private final Instant now;

    /**
     * @param into the ledger that is made
     * @param target its file, for messages
     */
    HeadJoin(Connection into, Path target, Instant now) {
        this.into = into;
        this.target = target;
        this.now = now;
    }

    /**
     * Where things of a ledger are in the joined one.
     *
     * @param dataSets id to id
     * @param candidates id to id
     */
    record Places(Map<Integer, Integer> dataSets, Map<Integer, Integer> candidates) {
        Places {
            dataSets = Map.copyOf(dataSets);
            candidates = Map.copyOf(candidates);
        }
    }

    /** Takes the head of the first ledger over as it is. */
    Places first(Path file, Connection from) throws SQLException {
        for (Head.Part table : Head.Part.values()) {
            RowCopies.copy(from, "SELECT * FROM " + table.table(), into, table.table(), Map.of());
        }
        AboutTable.remove(into, AboutTable.SHARD);
        LedgerView all = LedgerView.ofAll(file, from);
        Map<Integer, Integer> dataSets = new HashMap<>();
        all.whole().keySet().forEach(id -> dataSets.put(id, id));
        Map<Integer, Integer> candidates = new HashMap<>();
        for (CandidateTable.Row row : CandidateTable.read(from)) {
            candidates.put(row.id(), row.id());
        }
        return new Places(dataSets, candidates);
    }

    /**
     * Joins the head of a further ledger.
     *
     * @throws InputException if they cannot be joined, with what differs
     */
    Places further(Path file, Connection from) throws SQLException {
        LedgerView ours = LedgerView.ofAll(target, into);
        LedgerView theirs = LedgerView.ofAll(file, from);
        PlanVersion inForce = PlanTable.last(into);
        Plan before = inForce.plan(target);
        Plan added = PlanTable.read(from, file);
        requireAlike(file, from, before, added);
        Map<Integer, Integer> versions = versions(from);
        Map<String, Integer> repeats = new HashMap<>();
        Map<Integer, Integer> dataSets = dataSets(file, from, ours, theirs, versions, repeats);
        Map<String, Integer> named = new LinkedHashMap<>();
        List<Candidate> order = new ArrayList<>(before.candidates());
        Map<Integer, Integer> candidates = candidates(file, from, ours, theirs, versions, order, named);
        OpeningTable.join(into, OpeningTable.read(from), String.valueOf(file.getFileName()));
        Plan joined = joined(file, before, added, order);
        boolean same = PlanWriter.write(joined).equals(inForce.yaml());
        if (!same) {
            history(file, from);
        }
        int version = inForce.number();
        if (!same || PlanTable.last(into).number() != version) {
            // Stated now, and not before the first fit.
            int fits = Math.max(1, LedgerFile.number(into, "SELECT count(*) FROM fit"));
            version = PlanTable.last(into).number() + 1;
            PlanTable.write(
                    into, new PlanVersion(version, Event.time(now), Head.program(), fits, PlanWriter.write(joined)));
        }
        List<Integer> ids =
                joined.candidates().stream().map(c -> named.get(c.name())).toList();
        CandidateTable.place(into, version, joined.candidates(), ids);
        place(version, joined, repeats);
        return new Places(dataSets, candidates);
    }

    private void requireAlike(Path file, Connection from, Plan before, Plan added) throws SQLException {
        for (String key : List.of(AboutTable.TRAIN_SCORES, AboutTable.KEPT)) {
            String here = fact(from, key);
            String there = fact(into, key);
            if (!here.equals(there)) {
                throw new InputException(
                        file.toString(),
                        key.equals(AboutTable.KEPT)
                                ? "holds other results than the ledgers before it (predictions, labels or scores alone)"
                                : "was run otherwise than the ledgers before it: one of them with --train-scores, the"
                                        + " other without");
            }
        }
        boolean made = !adopted(before) && !adopted(added);
        if (made && !before.seed().equals(added.seed())) {
            throw new InputException(
                    file.toString(),
                    "its fits derive from seed " + words(added) + ", those of the ledgers before it from seed "
                            + words(before)
                            + "; such ledgers cannot be joined; keenfold versus ONE.kfl OTHER.kfl sets them against"
                            + " each other");
        }
    }

    /** What a ledger says of itself; one that does not say what it keeps keeps everything. */
    private static String fact(Connection ledger, String key) throws SQLException {
        String said = AboutTable.get(ledger, key);
        return said.isEmpty() && key.equals(AboutTable.KEPT) ? Results.Kept.PROBABILITIES.name() : said;
    }

    private static String words(Plan plan) {
        return plan.seed().map(s -> Long.toString(s)).orElse("none");
    }

    /** Whether all fits were made elsewhere: then nothing derives from a seed. */
    private static boolean adopted(Plan plan) {
        return plan.candidates().stream().allMatch(AdoptedKind::is);
    }

    /** Takes the versions of the other plan over that are not there; returns where each is. */
    private Map<Integer, Integer> versions(Connection from) throws SQLException {
        Map<Integer, Integer> places = new HashMap<>();
        // Versions of one text are told apart: between them a program has changed.
        List<PlanVersion> own = new ArrayList<>(PlanTable.versions(into));
        int next = own.get(own.size() - 1).number() + 1;
        for (PlanVersion version : PlanTable.versions(from)) {
            Optional<PlanVersion> same = own.stream()
                    .filter(v -> v.yaml().equals(version.yaml()) && (v.fits() == 0) == (version.fits() == 0))
                    .findFirst();
            int number = same.isPresent() ? same.get().number() : next++;
            if (same.isPresent()) {
                own.remove(same.get());
            } else {
                PlanTable.write(
                        into, new PlanVersion(number, version.at(), version.program(), version.fits(), version.yaml()));
            }
            places.put(version.number(), number);
        }
        return places;
    }

    private Map<Integer, Integer> dataSets(
            Path file,
            Connection from,
            LedgerView ours,
            LedgerView theirs,
            Map<Integer, Integer> versions,
            Map<String, Integer> repeats)
            throws SQLException {
        Map<String, DataSetTable.Row> there = new HashMap<>();
        for (DataSetTable.Row row : DataSetTable.read(into)) {
            there.put(row.name(), row);
            repeats.put(row.name(), row.repeats());
        }
        int next =
                1 + there.values().stream().mapToInt(DataSetTable.Row::id).max().orElse(-1);
        Map<Integer, Integer> places = new HashMap<>();
        for (DataSetTable.Row row : DataSetTable.read(from)) {
            Optional<DataSetTable.Row> own = Optional.ofNullable(there.get(row.name()));
            repeats.merge(row.name(), row.repeats(), Math::max);
            Task here = theirs.task(row.id());
            if (own.isEmpty()) {
                places.put(row.id(), next);
                copyDataSet(from, row, next++, versions.getOrDefault(row.plan(), 1));
                continue;
            }
            places.put(row.id(), own.get().id());
            Task before = ours.task(own.get().id());
            requireSame(file, row, own.get(), here, before, adopted(theirs.plan()) || adopted(ours.plan()));
            if (adopted(ours.plan()) && !adopted(theirs.plan())) {
                describe(from, row, own.get().id());
            }
            DataSetTable.extend(
                    into, own.get().id(), here.splits(), before.splits().repeats());
        }
        return places;
    }

    private static void requireSame(
            Path file, DataSetTable.Row row, DataSetTable.Row own, Task here, Task before, boolean adopted) {
        boolean rows = Arrays.equals(here.data().sourceRows(), before.data().sourceRows())
                && here.data().classes().equals(before.data().classes())
                && Arrays.equals(here.data().targets(), before.data().targets());
        if (!rows || (!adopted && !row.fingerprint().equals(own.fingerprint()))) {
            throw new InputException(
                    file.toString(),
                    "data set \"" + row.name() + "\" has other "
                            + (rows ? "values of columns" : "rows or classes")
                            + " than in the ledgers before it (fingerprints differ); keenfold rename --dataset gives one"
                            + " of them another name");
        }
        if (!here.splits().agrees(before.splits())) {
            throw new InputException(
                    file.toString(), "has other splits of data set \"" + row.name() + "\" than the ledgers before it");
        }
    }

    private void copyDataSet(Connection from, DataSetTable.Row row, int id, int version) throws SQLException {
        // Its place in the joined plan is not known yet.
        RowCopies.copy(
                from,
                "SELECT * FROM dataset WHERE id = " + row.id(),
                into,
                "dataset",
                Map.of(1, id, 2, -1, 3, version));
        for (String table : List.of("class", "split", "side")) {
            RowCopies.copy(from, "SELECT * FROM " + table + " WHERE dataset = " + row.id(), into, table, Map.of(1, id));
        }
    }

    /** Says of a data set of which only results were adopted what the ledger of a run knows. */
    private void describe(Connection from, DataSetTable.Row row, int id) throws SQLException {
        try (Statement statement = from.createStatement();
                ResultSet one = statement.executeQuery("SELECT file, fingerprint, groups, held_back,"
                        + " held_back_fingerprint FROM dataset WHERE id = " + row.id());
                PreparedStatement write = into.prepareStatement("UPDATE dataset SET file = ?, fingerprint = ?, groups ="
                        + " ?, held_back = ?, held_back_fingerprint = ? WHERE id = " + id)) {
            if (one.next()) {
                for (int c = 1; c <= 5; c++) {
                    write.setObject(c, one.getObject(c));
                }
                write.executeUpdate();
            }
        }
    }

    private Map<Integer, Integer> candidates(
            Path file,
            Connection from,
            LedgerView ours,
            LedgerView theirs,
            Map<Integer, Integer> versions,
            List<Candidate> order,
            Map<String, Integer> named)
            throws SQLException {
        List<CandidateTable.Row> own = new ArrayList<>(CandidateTable.read(into));
        Map<Integer, Optional<FitIdentity>> identities = new HashMap<>();
        for (CandidateTable.Row row : own) {
            identities.put(row.id(), ours.identity(row));
            row.place().ifPresent(p -> named.put(row.name(), row.id()));
        }
        int next = 1 + own.stream().mapToInt(CandidateTable.Row::id).max().orElse(-1);
        Map<Integer, Integer> places = new HashMap<>();
        List<String> collide = new ArrayList<>();
        for (CandidateTable.Row row : CandidateTable.read(from)) {
            Candidate candidate = theirs.definition(row);
            Optional<FitIdentity> identity = Optional.of(FitIdentity.of(candidate));
            Optional<CandidateTable.Row> same = own.stream()
                    .filter(o -> o.name().equals(row.name())
                            && identity.equals(identities.get(o.id()))
                            && (o.program().isEmpty()
                                    || row.program().isEmpty()
                                    || o.program().equals(row.program())))
                    .findFirst();
            boolean inPlan = row.place().isPresent();
            if (same.isPresent()) {
                places.put(row.id(), same.get().id());
                int id = same.get().id();
                if (inPlan && !named.containsKey(row.name())) {
                    named.put(row.name(), id);
                    order.add(candidate);
                } else if (inPlan && named.getOrDefault(row.name(), id) != id) {
                    // It is there, but under a plan of before: the one in force calls something else so.
                    collide.add(row.name());
                }
                continue;
            }
            if (inPlan && named.putIfAbsent(row.name(), next) != null) {
                collide.add(row.name());
            }
            places.put(row.id(), next);
            CandidateTable.Row taken = new CandidateTable.Row(
                    next++,
                    OptionalInt.empty(),
                    versions.getOrDefault(row.plan(), 1),
                    row.named(),
                    row.name(),
                    row.program());
            CandidateTable.add(into, taken, candidate);
            if (inPlan) {
                order.add(candidate);
            }
        }
        if (!collide.isEmpty()) {
            throw new InputException(
                    file.toString(),
                    (collide.size() == 1 ? "candidate " : "candidates ") + String.join(", ", collide)
                            + (collide.size() == 1 ? " is" : " are")
                            + " not what the ledgers before it call so: settings, steps or programs differ; give one of"
                            + " them another name first: keenfold rename "
                            + ShellWords.quoted(file.toString()) + " " + ShellWords.quoted(collide.get(0))
                            + " NEW-NAME");
        }
        return places;
    }

    /** The plan that compares what either plan does; how it is tested and picked is said by the first. */
    private static Plan joined(Path file, Plan before, Plan added, List<Candidate> order) {
        boolean onAdopted = adopted(before) && !adopted(added);
        Plan base = onAdopted ? added : before;
        List<DataSpec> data = new ArrayList<>(before.data());
        for (DataSpec spec : added.data()) {
            int at = data.stream().map(DataSpec::name).toList().indexOf(spec.name());
            if (at < 0) {
                data.add(spec);
            } else if (onAdopted) {
                data.set(at, spec);
            }
        }
        List<MetricName> metrics = new ArrayList<>(before.metrics());
        Set<String> names = new HashSet<>();
        metrics.forEach(m -> names.add(m.text()));
        added.metrics().stream().filter(m -> names.add(m.text())).forEach(metrics::add);
        boolean more = !adopted(before) && !adopted(added) && repeats(added) > repeats(before);
        return new Plan(
                before.note().or(added::note),
                data,
                more ? added.division() : base.division(),
                base.seed(),
                metrics,
                before.costs().none() ? added.costs() : before.costs(),
                before.primary(),
                InputException.at(file.toString(), () -> FamilyUnion.of(order)),
                before.evidence(),
                before.choosing(),
                Map.of());
    }

    private static int repeats(Plan plan) {
        Scheme scheme = plan.division().scheme().orElse(new LeaveOneOut());
        if (scheme instanceof KFold folds) {
            return folds.repeats();
        }
        if (scheme instanceof MonteCarlo random) {
            return random.repeats();
        }
        return scheme instanceof OutOfBag bag ? bag.repeats() : 1;
    }

    /** Says where the data sets stand in the joined plan. */
    private void place(int version, Plan joined, Map<String, Integer> repeats) throws SQLException {
        Map<String, Integer> ids = new HashMap<>();
        for (DataSetTable.Row row : DataSetTable.read(into)) {
            ids.put(row.name(), row.id());
        }
        DataSetTable.unplace(into);
        for (int t = 0; t < joined.data().size(); t++) {
            DataSpec spec = joined.data().get(t);
            DataSetTable.place(
                    into, ids.getOrDefault(spec.name(), -1), t, version, spec, repeats.getOrDefault(spec.name(), 1));
        }
    }

    private void history(Path file, Connection from) throws SQLException {
        List<Event> own = HistoryTable.read(into);
        for (Event event : HistoryTable.read(from)) {
            if (!own.contains(event)) {
                HistoryTable.add(into, event);
            }
        }
        HistoryTable.add(into, Event.of(now, Event.JOINED, String.valueOf(file.getFileName()), ""));
    }
}

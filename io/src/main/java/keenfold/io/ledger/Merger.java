package keenfold.io.ledger;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.core.data.Checks;
import keenfold.core.data.ValueException;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.Halving;
import keenfold.core.run.result.Results;
import keenfold.io.FileLook;
import keenfold.io.InputException;
import keenfold.io.Reason;
import keenfold.io.TemporaryFiles;
import keenfold.io.ledger.table.CandidateTable;
import keenfold.io.ledger.table.FitCopies;
import keenfold.io.ledger.table.FitRow;
import keenfold.io.ledger.table.FitValues;
import keenfold.io.ledger.table.OpeningTable;
import keenfold.io.ledger.table.PlanTable;
import keenfold.io.ledger.table.TestedRows;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanDifference;

/**
 * Joins ledgers whose data, folds and seed agree, such as the shards of a run or what two colleagues did, and rescues what is
 * sound of damaged ones.
 *
 * <p>Every fit is checked against its checksum on the way. The joined ledger is made beside its name and takes it when it is
 * whole, so that an interruption leaves nothing that could be taken for it.
 */
public final class Merger implements AutoCloseable {
    private static final int BATCH = 10_000;
    private static final String HEAD_DAMAGED =
            "what it says of plan, data and splits does not agree with its checksum, so"
                    + " its fits belong to no candidate";
    private static final List<String> ENDS = List.of("", "-journal", "-wal", "-shm");

    private final Path target;
    private final Path part;
    private final LedgerLock lock;
    private final Connection into;
    private final Instant now;
    private final List<Source> sources = new ArrayList<>();
    private final List<List<String>> metrics = new ArrayList<>();
    private Optional<Alike> alike = Optional.empty();
    private boolean begun;

    /** What was taken from one ledger. */
    private static final class Source {
        private final Path file;
        private long taken;
        private long twice;
        private final List<String> damaged = new ArrayList<>();

        Source(Path file) {
            this.file = file;
        }
    }

    /** All ledgers so far have the same head: its signature, where things are, and the joined ledger. */
    private record Alike(long signature, HeadJoin.Places places, LedgerView view) {}

    private Merger(Path target) throws SQLException, IOException {
        this.target = target;
        this.now = Instant.now();
        this.part = target.resolveSibling(TemporaryFiles.name(target));
        for (String end : ENDS) {
            TemporaryFiles.note(beside(part, end));
        }
        this.lock = LedgerLock.of(target);
        try {
            Files.createFile(part);
            this.into = LedgerFile.openForWriting(part);
        } catch (IOException | RuntimeException e) {
            remove();
            lock.close();
            throw e;
        }
        // Until it is whole, nobody needs it to survive anything.
        LedgerFile.run(into, "PRAGMA journal_mode=OFF");
        LedgerFile.run(into, "PRAGMA synchronous=OFF");
        // Fits come in another order than their index stands in: what it touches is to stay in memory (KiB).
        LedgerFile.run(into, "PRAGMA cache_size=-65536");
    }

    /** Removes what is not whole. */
    private void remove() {
        for (String end : ENDS) {
            TemporaryFiles.remove(beside(part, end));
        }
    }

    /**
     * Joins ledgers.
     *
     * @throws InputException if one is being written, is of another plan or other data, or says something else of the same
     *     fit, or if the target is there already
     */
    public static MergeReport merge(List<Path> ledgers, Path target) {
        Checks.that(!ledgers.isEmpty(), "no ledger to join");
        if (Files.exists(target)) {
            throw new InputException(target.toString(), "is there already; name another file with -o");
        }
        if (adoptedApart(ledgers)) {
            return mergeAdopted(ledgers, target);
        }
        try (Merger merger = new Merger(target)) {
            for (Path ledger : ledgers) {
                merger.add(ledger);
            }
            return merger.end();
        } catch (SQLException e) {
            throw LedgerFile.unusable(target, e);
        } catch (IOException e) {
            throw new InputException(target.toString(), "cannot be written: " + Reason.of(e), e);
        }
    }

    private static MergeReport mergeAdopted(List<Path> ledgers, Path target) {
        Path part = target.resolveSibling(TemporaryFiles.name(target));
        for (String end : ENDS) {
            TemporaryFiles.note(beside(part, end));
        }
        try {
            MergeReport report = Adoption.merge(ledgers, part);
            Files.move(part, target, StandardCopyOption.ATOMIC_MOVE);
            return report;
        } catch (IOException e) {
            throw new InputException(target.toString(), "cannot be written: " + Reason.of(e), e);
        } finally {
            for (String end : ENDS) {
                TemporaryFiles.remove(beside(part, end));
            }
        }
    }

    private static Path beside(Path file, String end) {
        return file.resolveSibling(file.getFileName() + end);
    }

    /** Whether all ledgers are of adopted tables, and not all of the same ones. */
    private static boolean adoptedApart(List<Path> ledgers) {
        List<Plan> plans = new ArrayList<>();
        for (Path ledger : ledgers) {
            Plan plan;
            try {
                plan = LedgerReader.plan(ledger);
            } catch (InputException e) {
                // What is wrong with it is said where it is read.
                return false;
            }
            if (!Adoption.isAdopted(plan)) {
                return false;
            }
            plans.add(plan);
        }
        return plans.stream()
                .anyMatch(p -> PlanDifference.ofFits(p, plans.get(0)).isPresent());
    }

    private void add(Path file) throws SQLException {
        if (!Files.exists(file)) {
            throw new InputException(file.toString(), "there is no such ledger");
        }
        FileLook look = FileLook.of(file);
        if (look == FileLook.PLAN || look == FileLook.TABLE || look == FileLook.MODEL) {
            throw new InputException(file.toString(), "is no ledger" + look.words());
        }
        // Held meanwhile, so that no shard is read while it is written; where it cannot be written, nobody does.
        Optional<LedgerLock> held = LedgerFile.writable(file) ? Optional.of(LedgerLock.of(file)) : Optional.empty();
        Source source = new Source(file);
        source.damaged.addAll(LedgerReader.damage(file));
        try (Connection from = LedgerFile.openSettled(file)) {
            if (Head.sound(from)) {
                addSound(source, from);
            } else {
                source.damaged.add(HEAD_DAMAGED);
            }
        } catch (ValueException e) {
            // Whatever is made of the values of a ledger checks them.
            throw new InputException(file.toString(), "the ledger is damaged: " + e.getMessage(), e);
        } catch (SQLException | IOException e) {
            source.damaged.add(
                    String.valueOf(e.getMessage()).contains("NOTADB")
                            ? "it is no ledger" + FileLook.of(file).words()
                            : "nothing of it can be read: " + e.getMessage());
        } finally {
            held.ifPresent(LedgerLock::close);
        }
        sources.add(source);
    }

    private void addSound(Source source, Connection from) throws SQLException {
        requirePlan(source.file, from);
        long signature = Head.signature(from);
        boolean again = alike.filter(a -> a.signature() == signature).isPresent();
        LedgerView own = again ? alike.get().view() : LedgerView.ofAll(source.file, from);
        TestedRows tested = own.tested();
        if (again) {
            // Of a further shard everything stands where that of the first does.
            mine(() -> OpeningTable.join(into, OpeningTable.read(from), String.valueOf(source.file.getFileName())));
            fits(source, from, alike.get().places(), own, tested);
            return;
        }
        boolean first = !begun;
        HeadJoin.Places places = head(source.file, from);
        LedgerView view = LedgerView.ofAll(target, into);
        alike = first ? Optional.of(new Alike(signature, places, view)) : Optional.empty();
        fits(source, from, places, view, tested);
    }

    private static void requirePlan(Path file, Connection from) throws SQLException {
        if (LedgerFile.number(from, "SELECT count(*) FROM plan") == 0) {
            throw new InputException(file.toString(), "holds no plan: it was never filled");
        }
    }

    /** Joins plan, data sets, splits and candidates of a ledger; returns where they are. */
    private HeadJoin.Places head(Path file, Connection from) throws SQLException {
        HeadJoin join = new HeadJoin(into, target, now);
        HeadJoin.Places[] places = new HeadJoin.Places[1];
        boolean first = !begun;
        mine(() -> places[0] = first ? join.first(file, from) : join.further(file, from));
        begun = true;
        metrics.add(PlanTable.read(from, file).metrics().stream()
                .map(MetricName::text)
                .toList());
        return places[0];
    }

    /** One fit after another by its number, so that a page that cannot be read costs its own fits alone. */
    private void fits(Source source, Connection from, HeadJoin.Places places, LedgerView view, TestedRows tested)
            throws SQLException {
        into.setAutoCommit(false);
        long last = last(from, view);
        try (PreparedStatement fit = from.prepareStatement(FitRow.FIT);
                PreparedStatement scores = from.prepareStatement(FitRow.SCORES);
                PreparedStatement prediction = from.prepareStatement(FitRow.PREDICTION);
                FitCopies copy = new FitCopies(into)) {
            for (int id = 1; id <= last; id++) {
                Optional<FitValues> values = Optional.empty();
                try {
                    Optional<FitRow> row = FitRow.read(id, fit, scores, prediction);
                    values = row.isPresent() ? sound(source, row.get(), tested, view, places) : values;
                } catch (SQLException | ValueException e) {
                    source.damaged.add("fit number " + id + " cannot be read (" + e.getMessage() + ")");
                }
                if (values.isPresent()) {
                    FitValues sound = values.get();
                    mine(() -> join(source, sound, copy, view, places));
                }
                if (id % BATCH == 0) {
                    mine(into::commit);
                }
            }
        }
        mine(into::commit);
        into.setAutoCommit(true);
    }

    private Optional<FitValues> sound(
            Source source, FitRow row, TestedRows tested, LedgerView view, HeadJoin.Places places) {
        try {
            FitValues values = FitValues.of(row, tested.task(row), tested.of(row));
            Checks.that(places.candidates().containsKey(row.candidate), "is of no candidate");
            return Optional.of(values);
        } catch (ValueException e) {
            source.damaged.add(place(row, view, places) + " does not agree with its checksum");
            return Optional.empty();
        }
    }

    /** What is done to the joined ledger. */
    private interface Act {
        void run() throws SQLException;
    }

    /** Does something to the joined ledger: a failure of it must not be laid to the one that is read. */
    private void mine(Act act) {
        try {
            act.run();
        } catch (SQLException e) {
            throw LedgerFile.unusable(target, e);
        }
    }

    /** The highest number of a fit; where the page that holds it is damaged, or it is, one that no sound ledger exceeds. */
    private long last(Connection from, LedgerView view) {
        long splits = view.whole().values().stream()
                .mapToLong(t -> t.splits().count())
                .sum();
        Halving halving = view.plan().evidence().halving();
        long most = 1000 + 10L * view.plan().candidates().size() * splits * (1 + halving.halves());
        try {
            return Math.min(most, LedgerFile.number(from, "SELECT max(id) FROM fit"));
        } catch (SQLException e) {
            return most;
        }
    }

    private void join(Source source, FitValues values, FitCopies copy, LedgerView view, HeadJoin.Places places)
            throws SQLException {
        FitRow row = values.row();
        FitRow moved = row.at(
                row.purpose,
                places.dataSets().getOrDefault(row.dataSet, -1),
                places.candidates().getOrDefault(row.candidate, -1));
        Optional<FitCopies.There> there = copy.find(moved);
        if (there.isPresent() && there.get().ok() == row.ok) {
            TestedRows tested = view.tested();
            FitRow own = copy.read(there.get());
            if (!FitValues.of(own, tested.task(own), tested.of(own))
                    .same(FitValues.unchecked(moved, tested.task(moved), tested.of(moved)))) {
                throw new InputException(
                        source.file.toString(),
                        place(row, view, places)
                                + " is in a ledger before it too, and differs: one of them was not made by this"
                                + " plan, data and program");
            }
            source.twice++;
            return;
        }
        if (there.isPresent() && !row.ok) {
            // Where one of two failed, for lack of time or memory, the other one counts.
            source.twice++;
            return;
        }
        if (there.isPresent()) {
            copy.forget(there.get());
        }
        copy.write(values, moved);
        source.taken++;
    }

    private String place(FitRow row, LedgerView view, HeadJoin.Places places) {
        String name = Optional.ofNullable(places.candidates().get(row.candidate))
                .flatMap(view::nameOf)
                .orElse("number " + row.candidate);
        return (row.ofHalf() ? "half " + (row.resample + 1) + ", " : "") + "the fit of " + name + ", repeat "
                + (row.repeat + 1) + ", fold " + (row.fold + 1);
    }

    /** How many fits a whole run has of each candidate. */
    private static long expected(LedgerView view) {
        Halving halving = view.plan().evidence().halving();
        long runs = (long) halving.halves() * halving.repeats();
        return view.tasks().stream()
                .mapToLong(task ->
                        task.splits().count() + (runs > 0 ? runs * task.splits().folds(0) : 0))
                .sum();
    }

    private MergeReport end() throws SQLException, IOException {
        if (!begun) {
            throw new InputException(
                    sources.get(0).file.toString(),
                    "nothing can be rescued: " + String.join("; ", sources.get(0).damaged));
        }
        rescore();
        LedgerView view = LedgerView.of(target, into, false);
        long each = expected(view);
        Map<String, Long> missing = new java.util.LinkedHashMap<>();
        long fits = 0;
        for (CandidateTable.Row row : CandidateTable.read(into)) {
            if (row.place().isPresent()) {
                long there = LedgerFile.number(
                        into,
                        "SELECT count(*) FROM fit JOIN dataset d ON d.id = fit.dataset WHERE d.place IS NOT NULL AND"
                                + " (purpose = 'half' OR repeat < d.repeats) AND candidate = " + row.id());
                fits += there;
                if (there < each) {
                    missing.put(row.name(), each - there);
                }
            }
        }
        Head.seal(into);
        LedgerFile.run(into, "PRAGMA journal_mode=DELETE");
        into.close();
        try (FileChannel channel = FileChannel.open(part, StandardOpenOption.WRITE)) {
            channel.force(true);
        }
        Files.move(part, target, StandardCopyOption.ATOMIC_MOVE);
        return new MergeReport(
                sources.stream()
                        .map(s -> new MergeReport.Part(s.file, s.taken, s.twice, s.damaged))
                        .toList(),
                fits,
                each * view.plan().candidates().size(),
                missing);
    }

    /** Fits of ledgers that had fewer metrics get the scores that they lack. */
    private void rescore() throws SQLException {
        LedgerView view = LedgerView.of(target, into, false);
        List<String> all = view.plan().metrics().stream().map(MetricName::text).toList();
        boolean lacking = metrics.stream().anyMatch(m -> !m.equals(all));
        if (lacking && view.kept() == Results.Kept.PROBABILITIES) {
            into.setAutoCommit(false);
            Rescoring.ofJoined(into, view).complete(view.whole(), view.kept());
            into.commit();
            into.setAutoCommit(true);
        }
    }

    @Override
    public void close() throws SQLException, IOException {
        try {
            into.close();
            remove();
        } finally {
            lock.close();
        }
    }
}

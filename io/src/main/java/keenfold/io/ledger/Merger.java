package keenfold.io.ledger;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.core.data.Checks;
import keenfold.core.run.Halving;
import keenfold.core.run.result.Task;
import keenfold.io.FileLook;
import keenfold.io.InputException;
import keenfold.io.Reason;
import keenfold.io.TemporaryFiles;
import keenfold.io.ledger.table.AboutTable;
import keenfold.io.ledger.table.FitCopies;
import keenfold.io.ledger.table.FitRow;
import keenfold.io.ledger.table.StatedTable;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanDifference;
import keenfold.io.plan.PlanReader;

/**
 * Joins ledgers of the same plan and data, such as the shards of a run, and rescues what is sound of damaged ones.
 *
 * <p>Every fit is checked against its checksum on the way. The joined ledger is made beside its name and takes it when it is
 * whole, so that an interruption leaves nothing that could be taken for it.
 */
public final class Merger implements AutoCloseable {
    private static final int BATCH = 10_000;
    private static final List<String> ENDS = List.of("", "-journal", "-wal", "-shm");

    private final Path target;
    private final Path part;
    private final LedgerLock lock;
    private final Connection into;
    private final List<Source> sources = new ArrayList<>();
    private Optional<Plan> first = Optional.empty();
    private List<Task> tasks = List.of();
    private Optional<FitCheck> check = Optional.empty();

    /** What was taken from one ledger. */
    private static final class Source {
        private final Path file;
        private boolean old;
        private long taken;
        private long twice;
        private final List<String> damaged = new ArrayList<>();

        Source(Path file) {
            this.file = file;
        }
    }

    private Merger(Path target) throws SQLException, IOException {
        this.target = target;
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
        Source source = new Source(file);
        if (!Files.exists(file)) {
            throw new InputException(file.toString(), "there is no such ledger");
        }
        FileLook look = FileLook.of(file);
        if (look == FileLook.PLAN || look == FileLook.TABLE || look == FileLook.MODEL) {
            throw new InputException(file.toString(), "is no ledger" + look.words());
        }
        source.damaged.addAll(LedgerReader.damage(file));
        // Held meanwhile, so that no shard is read while it is written; where it cannot be written, nobody does.
        Optional<LedgerLock> held = LedgerFile.writable(file) ? Optional.of(LedgerLock.of(file)) : Optional.empty();
        try (Connection from = LedgerFile.openSettled(file)) {
            source.old = LedgerFile.pragma(from, "user_version") < LedgerFile.FORMAT;
            if (source.old || Head.sound(from)) {
                head(file, from);
                fits(source, from);
            } else {
                source.damaged.add("what it says of plan, data and splits does not agree with its checksum, so its fits"
                        + " belong to no candidate");
            }
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

    /** Takes plan, data sets and splits of the first ledger, and compares those of all others with them. */
    private void head(Path file, Connection from) throws SQLException {
        String yaml = text(from, "SELECT yaml FROM plan");
        if (yaml.isEmpty()) {
            throw new InputException(file.toString(), "holds no plan: it was never filled");
        }
        if (tasks.isEmpty()) {
            Plan plan = PlanReader.parse(file + " (plan)", yaml);
            List<Task> own = LedgerReader.tasks(file, from, plan);
            for (Head.Part table : Head.Part.values()) {
                copy(from, table.table());
            }
            mine(() -> AboutTable.remove(into, AboutTable.SHARD));
            tasks = own;
            first = Optional.of(plan);
            check = Optional.of(new FitCheck(plan, own));
            return;
        }
        Plan plan = PlanReader.parse(file + " (plan)", yaml);
        Optional<PlanDifference> difference = PlanDifference.ofFits(plan, first.orElseThrow());
        if (difference.isPresent()) {
            throw new InputException(
                    file.toString(),
                    "is of another plan than the ledgers before it: it says \""
                            + difference.get().one() + "\", they \""
                            + difference.get().other() + "\"");
        }
        for (String query : new String[] {
            "SELECT group_concat(name || ' ' || fingerprint, ', ') FROM (SELECT * FROM dataset ORDER BY id)",
            "SELECT group_concat(key || '=' || value, ', ') FROM (SELECT * FROM about WHERE key NOT IN ('program', '"
                    + Head.CHECKSUM + "', '" + AboutTable.SHARD + "') AND key NOT LIKE '" + StatedTable.KEY
                    + "%' ORDER BY key)",
            "SELECT group_concat(hex(folds)) FROM (SELECT * FROM split ORDER BY dataset, repeat)",
            "SELECT group_concat(hex(counts)) FROM (SELECT * FROM side ORDER BY dataset, repeat, fold)"
        }) {
            if (!text(from, query).equals(text(into, query))) {
                throw new InputException(
                        file.toString(),
                        query.contains("fingerprint")
                                ? "is of other data than the ledgers before it (fingerprints differ)"
                                : query.contains("about")
                                        ? "was run otherwise than the ledgers before it (train scores, programs, or what"
                                                + " of the predictions is kept)"
                                        : "has other splits than the ledgers before it");
            }
        }
        try {
            mine(() -> StatedTable.join(into, from));
        } catch (IllegalArgumentException e) {
            throw new InputException(file.toString(), "the ledger is damaged: " + e.getMessage(), e);
        }
    }

    private Plan plan() {
        return first.orElseThrow();
    }

    private static String text(Connection from, String query) throws SQLException {
        try (Statement statement = from.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            return row.next() ? Optional.ofNullable(row.getString(1)).orElse("") : "";
        }
    }

    private void copy(Connection from, String table) throws SQLException {
        try (Statement statement = from.createStatement();
                ResultSet row = statement.executeQuery("SELECT * FROM " + table)) {
            int columns = row.getMetaData().getColumnCount();
            String marks = String.join(", ", java.util.Collections.nCopies(columns, "?"));
            try (PreparedStatement write = into.prepareStatement("INSERT INTO " + table + " VALUES (" + marks + ")")) {
                while (row.next()) {
                    for (int c = 1; c <= columns; c++) {
                        write.setObject(c, row.getObject(c));
                    }
                    mine(write::executeUpdate);
                }
            }
        }
    }

    /** One fit after another by its number, so that a page that cannot be read costs its own fits alone. */
    private void fits(Source source, Connection from) throws SQLException {
        into.setAutoCommit(false);
        long last = last(from);
        try (PreparedStatement fit = from.prepareStatement(FitRow.FIT);
                PreparedStatement scores = from.prepareStatement(FitRow.SCORES);
                PreparedStatement prediction = from.prepareStatement(FitRow.PREDICTION);
                FitCopies copy = new FitCopies(into)) {
            for (int id = 1; id <= last; id++) {
                Optional<FitRow> row = Optional.empty();
                try {
                    row = FitRow.read(id, fit, scores, prediction);
                } catch (SQLException | RuntimeException e) {
                    source.damaged.add("fit number " + id + " cannot be read (" + e.getMessage() + ")");
                }
                if (row.isPresent()) {
                    FitRow sound = row.get();
                    mine(() -> join(source, sound, copy));
                }
                if (id % BATCH == 0) {
                    mine(into::commit);
                }
            }
        }
        mine(into::commit);
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
    private long last(Connection from) {
        long most = 1000 + 10L * expected();
        try {
            return Math.min(most, LedgerFile.number(from, "SELECT max(id) FROM fit"));
        } catch (SQLException e) {
            return most;
        }
    }

    private void join(Source source, FitRow row, FitCopies copy) throws SQLException {
        if (!check.orElseThrow().sound(row, source.old)) {
            source.damaged.add(place(row) + " does not agree with its checksum");
            return;
        }
        Optional<FitCopies.There> there = copy.find(row);
        if (there.isPresent() && there.get().ok() == row.ok) {
            if (!same(copy, there.get(), row)) {
                throw new InputException(
                        source.file.toString(),
                        place(row) + " is in a ledger before it too, and differs: one of them was not made by this"
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
        copy.write(row);
        source.taken++;
    }

    private String place(FitRow row) {
        String name = row.candidate >= 0 && row.candidate < plan().candidates().size()
                ? plan().candidates().get(row.candidate).name()
                : "number " + row.candidate;
        return (row.ofHalf() ? "half " + (row.resample + 1) + ", " : "") + "the fit of " + name + ", repeat "
                + (row.repeat + 1) + ", fold " + (row.fold + 1);
    }

    /** Whether a fit says the same as one that is there, but for the seconds it took. */
    private boolean same(FitCopies copies, FitCopies.There there, FitRow row) throws SQLException {
        FitRow own = copies.read(there);
        return check.orElseThrow().sound(own, false) && own.found == row.found;
    }

    /** How many fits a whole run has. */
    private long expected() {
        Halving halving = plan().evidence().halving();
        long runs = (long) halving.halves() * halving.repeats();
        return plan().candidates().size()
                * tasks.stream()
                        .mapToLong(task -> task.splits().count()
                                + (runs > 0 ? runs * task.splits().folds(0) : 0))
                        .sum();
    }

    private MergeReport end() throws SQLException, IOException {
        if (tasks.isEmpty()) {
            throw new InputException(
                    sources.get(0).file.toString(),
                    "nothing can be rescued: " + String.join("; ", sources.get(0).damaged));
        }
        into.setAutoCommit(true);
        long fits = LedgerFile.number(into, "SELECT count(*) FROM fit");
        Map<String, Long> missing = new java.util.LinkedHashMap<>();
        long each = expected() / plan().candidates().size();
        for (int c = 0; c < plan().candidates().size(); c++) {
            long there = LedgerFile.number(into, "SELECT count(*) FROM fit WHERE candidate = " + c);
            if (there < each) {
                missing.put(plan().candidates().get(c).name(), each - there);
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
                expected(),
                missing);
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

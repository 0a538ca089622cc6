package keenfold.io.ledger;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.stream.IntStream;
import keenfold.core.run.Comparison;
import keenfold.core.run.FitSink;
import keenfold.core.run.Shard;
import keenfold.core.run.Unit;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.io.InputException;
import keenfold.io.ledger.table.FitRow;
import keenfold.io.ledger.table.FitTable;
import keenfold.io.plan.AdoptedKind;
import keenfold.io.plan.Plan;
import keenfold.io.table.LoadedData;

/**
 * The one writer of a ledger.
 *
 * <p>Finished units are handed over to a thread of its own, which commits them at most half a second later, each unit
 * whole. A process that is killed loses at most those; the next run does them again.
 */
public final class LedgerWriter implements FitSink, AutoCloseable {
    private static final long BATCH_MILLIS = 300;
    private static final int WAITING = 4096;
    private static final int ATTEMPTS_WITHOUT_MEMORY = 100;
    private static final int RUN = -1;

    private final Path file;
    private final LedgerLock lock;
    private final Connection connection;
    private final Comparison comparison;
    private final BlockingQueue<Batch> queue = new ArrayBlockingQueue<>(WAITING);
    private final Anchor anchor;
    private final PlanChange.InForce inForce;
    private volatile Optional<RuntimeException> failure = Optional.empty();
    private final Thread thread;
    private boolean closed;

    /** Failed fits of what is in the plan: of what is not, nobody would do them again. */
    private static final String FAILED =
            "status = 'failed' AND candidate IN (SELECT id FROM candidate WHERE place IS NOT"
                    + " NULL) AND dataset IN (SELECT id FROM dataset WHERE place IS NOT NULL)";

    /** @param half number of the half, for fits of a run on one; −1 for fits of the run itself */
    private record Batch(int half, List<Fit> fits, boolean last) {}

    private LedgerWriter(PlannedLedger ledger) {
        this.file = ledger.file();
        try {
            this.anchor = Anchor.of(file);
        } catch (IOException e) {
            throw new InputException(file.toString(), "was deleted while it was opened", e);
        }
        this.lock = ledger.lock();
        this.connection = ledger.connection();
        this.comparison = ledger.comparison();
        this.inForce = ledger.inForce();
        this.thread = new Thread(this::write, "keenfold-ledger");
        thread.setDaemon(true);
    }

    /**
     * Opens a ledger for a comparison, or makes it.
     *
     * @throws InputException if it holds another comparison, or cannot be written
     */
    public static LedgerWriter open(Path file, Plan plan, List<LoadedData> data, Comparison comparison) {
        return open(file, plan, data, comparison, Optional.empty());
    }

    /**
     * Opens the ledger of a shard, or makes it; without one, of the whole.
     *
     * <p>The ledger of a shard may lie on a disk that other machines share: it is locked for them, too, as long as it is
     * written.
     *
     * @throws InputException if it holds another comparison or another shard, or cannot be written
     */
    public static LedgerWriter open(
            Path file, Plan plan, List<LoadedData> data, Comparison comparison, Optional<Shard> shard) {
        if (!Files.exists(file)) {
            plan.candidates().stream().filter(AdoptedKind::is).findFirst().ifPresent(c -> {
                throw new InputException(
                        file.toString(),
                        "candidate \"" + c.name() + "\" was adopted and cannot be run; leave it out of the plan");
            });
        }
        return open(file, plan, data, comparison, Results.Kept.PROBABILITIES, shard);
    }

    /** Opens a ledger that holds what {@code kept} says. */
    static LedgerWriter open(
            Path file,
            Plan plan,
            List<LoadedData> data,
            Comparison comparison,
            Results.Kept kept,
            Optional<Shard> shard) {
        PlannedLedger ledger = PlannedLedger.open(file, plan, data, comparison, kept, shard);
        try {
            ledger.connection().commit();
        } catch (SQLException e) {
            ledger.close();
            throw LedgerFile.unusable(file, e);
        }
        return started(ledger);
    }

    private static LedgerWriter started(PlannedLedger ledger) {
        LedgerWriter writer = new LedgerWriter(ledger);
        writer.thread.start();
        return writer;
    }

    /** Returns what the plan changed about the ledger, if it was there. */
    public LedgerChange change() {
        return inForce.change();
    }

    /** Returns the units whose fits are not all there. */
    public List<Unit> missing() {
        return missing(u -> true);
    }

    /** Returns the units, of those that are wanted, whose fits are not all there. */
    public List<Unit> missing(Predicate<Unit> wanted) {
        return missing(RUN, comparison::forEachUnit, wanted);
    }

    /**
     * Returns the units of the run on a half, of those that are wanted, whose fits are not all there.
     *
     * @param half its number, from 0
     * @param repeats how often it is run
     */
    public List<Unit> missing(int half, int repeats, Predicate<Unit> wanted) {
        return missing(half, taker -> comparison.forEachUnitOfHalf(repeats, taker), wanted);
    }

    private List<Unit> missing(int half, Consumer<Consumer<Unit>> all, Predicate<Unit> wanted) {
        Set<List<Integer>> there = there(half);
        List<List<Integer>> members = members();
        List<Unit> missing = new ArrayList<>();
        all.accept(u -> {
            if (wanted.test(u) && !members.get(u.family()).stream().allMatch(m -> there.contains(place(u, m)))) {
                missing.add(u);
            }
        });
        return missing;
    }

    /**
     * Returns the candidates that lack no fit in some units, by their indices.
     *
     * @param half of the rows whose run the units are of; −1 for the run itself
     * @param units whose fits are not all there
     */
    public Set<Integer> complete(int half, List<Unit> units) {
        Set<List<Integer>> there = there(half);
        List<List<Integer>> members = members();
        Set<Integer> complete = new HashSet<>();
        IntStream.range(0, comparison.candidates().size()).forEach(complete::add);
        for (Unit unit : units) {
            members.get(unit.family()).stream()
                    .filter(m -> !there.contains(place(unit, m)))
                    .forEach(complete::remove);
        }
        return complete;
    }

    /** Where a fit of a member stands, by ids. */
    private List<Integer> place(Unit unit, int member) {
        return List.of(
                inForce.dataSets().get(unit.task()), inForce.candidates().get(member), unit.repeat(), unit.fold());
    }

    /** The members of each family, by their indices. */
    private List<List<Integer>> members() {
        Map<Candidate, Integer> index = new HashMap<>();
        for (Candidate candidate : comparison.candidates()) {
            index.put(candidate, index.size());
        }
        return comparison.families().stream()
                .map(f ->
                        f.members().stream().map(m -> index.getOrDefault(m, -1)).toList())
                .toList();
    }

    private Set<List<Integer>> there(int half) {
        Set<List<Integer>> there = new HashSet<>();
        String which =
                half < 0 ? "purpose = '" + FitRow.RUN + "'" : "purpose = '" + FitRow.HALF + "' AND resample = " + half;
        try (Statement statement = connection.createStatement();
                ResultSet rows =
                        statement.executeQuery("SELECT dataset, candidate, repeat, fold FROM fit WHERE " + which)) {
            while (rows.next()) {
                there.add(List.of(rows.getInt(1), rows.getInt(2), rows.getInt(3), rows.getInt(4)));
            }
        } catch (SQLException e) {
            throw LedgerFile.unusable(file, e);
        }
        return there;
    }

    /** Returns how many fits of the plan failed. */
    public int failed() {
        try {
            return LedgerFile.number(connection, "SELECT count(*) FROM fit WHERE " + FAILED);
        } catch (SQLException e) {
            throw LedgerFile.unusable(file, e);
        }
    }

    /** Forgets failed fits of the plan, so that a run does them again; returns how many there were. */
    public int forgetFailed() {
        try {
            int failed = failed();
            LedgerFile.run(connection, "DELETE FROM fit WHERE " + FAILED);
            connection.commit();
            return failed;
        } catch (SQLException e) {
            throw LedgerFile.unusable(file, e);
        }
    }

    @Override
    public void accept(Unit unit, List<Fit> fits) {
        throwFailure();
        put(new Batch(RUN, fits, false));
    }

    /** Takes fits made elsewhere. */
    void adopt(List<Fit> fits) {
        throwFailure();
        put(new Batch(RUN, fits, false));
    }

    /**
     * Adds candidates made elsewhere to a ledger, and data sets.
     *
     * @param plan with all candidates and data sets
     * @param before how many candidates there were
     * @param tasks all of them, further ones last
     * @param further the data of those
     */
    static void extend(Path file, Plan plan, int before, List<Task> tasks, List<LoadedData> further, List<Fit> fits) {
        // Plan, candidates and fits become one transaction: the writer's thread commits them together.
        try (LedgerWriter writer = started(PlannedLedger.extended(file, plan, before, tasks, further))) {
            writer.adopt(fits);
        }
    }

    /** Returns what takes the fits of the run on one half of the rows. */
    public FitSink half(int number) {
        return (unit, fits) -> {
            throwFailure();
            put(new Batch(number, fits, false));
        };
    }

    private void put(Batch batch) {
        try {
            while (!queue.offer(batch, BATCH_MILLIS, TimeUnit.MILLISECONDS)) {
                throwFailure();
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException("interrupted while writing " + file, e);
        }
    }

    private void throwFailure() {
        if (failure.isPresent()) {
            throw failure.get();
        }
    }

    private void write() {
        try {
            // SQLite copies nothing as long as a statement is open.
            Optional<String> lost = writeAll();
            failure = lost.map(this::rescued);
        } catch (SQLException e) {
            // SQLite, too, looks before it writes without a write-ahead log, and then says no more than "read-only".
            failure = Optional.of(
                    anchor.lost().<RuntimeException>map(this::rescued).orElseGet(() -> LedgerFile.unusable(file, e)));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (OutOfMemoryError e) {
            failure = Optional.of(new InputException(
                    file.toString(),
                    "no memory was left to write to it; what was written before is kept: run again with more memory, or"
                            + " fewer --threads",
                    e));
        } catch (RuntimeException e) {
            failure = Optional.of(e);
        }
    }

    /** Writes what comes until the last of it; returns what became of the file if its name no longer leads to it. */
    private Optional<String> writeAll() throws SQLException, InterruptedException {
        boolean last = false;
        Optional<String> lost = Optional.empty();
        while (!last && lost.isEmpty()) {
            List<Batch> batches = new ArrayList<>();
            batches.add(queue.take());
            long deadline = System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(BATCH_MILLIS);
            while (!batches.get(batches.size() - 1).last()) {
                Optional<Batch> next = Optional.ofNullable(
                        queue.poll(Math.max(0, deadline - System.nanoTime()), TimeUnit.NANOSECONDS));
                if (next.isEmpty()) {
                    break;
                }
                batches.add(next.get());
            }
            commit(batches);
            last = batches.get(batches.size() - 1).last();
            lost = anchor.lost();
        }
        return lost;
    }

    /**
     * Writes batches, all in one transaction.
     *
     * <p>A fit that takes all the memory there is meets the end of it soon, fails, and lets go of it. If the end is met
     * here first, the same is therefore written again a little later.
     */
    private void commit(List<Batch> batches) throws SQLException, InterruptedException {
        // What was written before belongs to the transaction too: plan and candidates of a ledger that is being made.
        Savepoint before = connection.setSavepoint();
        boolean written = false;
        for (int attempt = 1; !written; attempt++) {
            try (FitTable fits =
                    new FitTable(connection, comparison.tasks(), inForce.dataSets(), inForce.candidates())) {
                for (Batch batch : batches) {
                    for (Fit one : batch.fits()) {
                        fits.write(batch.half(), one);
                    }
                }
                written = true;
            } catch (OutOfMemoryError e) {
                if (attempt == ATTEMPTS_WITHOUT_MEMORY) {
                    throw e;
                }
                connection.rollback(before);
                Thread.sleep(BATCH_MILLIS);
            }
        }
        connection.commit();
    }

    /** Saves what was written to a file whose name no longer leads to it, as long as it is open. */
    private InputException rescued(String what) {
        List<Path> places = List.of(
                Optional.ofNullable(file.toAbsolutePath().getParent()).orElse(file),
                Path.of(System.getProperty("java.io.tmpdir")));
        String reason = "";
        for (Path folder : places) {
            try {
                Path to = LedgerFile.rescue(connection, folder, file);
                return new InputException(
                        file.toString(),
                        what + " while it was written; all that was done is in " + to
                                + ": move that to where it was, and run again");
            } catch (SQLException e) {
                reason = String.valueOf(e.getMessage());
            }
        }
        return new InputException(
                file.toString(), what + " while it was written, and what was in it could not be saved: " + reason);
    }

    /** Writes what is waiting, folds the write-ahead log into the one file, and lets go of the lock. */
    @Override
    public synchronized void close() {
        // A signal closes the writer while the run that it ends is about to.
        if (closed) {
            return;
        }
        closed = true;
        try {
            if (failure.isEmpty()) {
                put(new Batch(RUN, List.of(), true));
            }
            thread.join();
            settle();
            throwFailure();
        } catch (SQLException e) {
            throw LedgerFile.unusable(file, e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } finally {
            lock.close();
        }
    }

    private void settle() throws SQLException {
        try {
            if (failure.isEmpty()) {
                connection.setAutoCommit(true);
                LedgerFile.run(connection, "PRAGMA journal_mode=DELETE");
            }
        } finally {
            connection.close();
        }
    }
}

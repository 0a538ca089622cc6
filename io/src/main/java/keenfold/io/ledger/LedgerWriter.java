package keenfold.io.ledger;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
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
import java.util.stream.Collectors;
import keenfold.core.data.Categories;
import keenfold.core.data.DataSet;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.Candidate;
import keenfold.core.run.Comparison;
import keenfold.core.run.Family;
import keenfold.core.run.Fit;
import keenfold.core.run.FitSink;
import keenfold.core.run.Results;
import keenfold.core.run.Shard;
import keenfold.core.run.Task;
import keenfold.core.run.Unit;
import keenfold.core.split.Splits;
import keenfold.io.InputException;
import keenfold.io.command.CommandClassifier;
import keenfold.io.command.CommandKind;
import keenfold.io.plan.AdoptedKind;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanWriter;
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
    private static final int RUN = -1;

    private final Path file;
    private final LedgerLock lock;
    private final Connection connection;
    private final Comparison comparison;
    private final BlockingQueue<Batch> queue = new ArrayBlockingQueue<>(WAITING);
    private volatile Optional<SQLException> failure = Optional.empty();
    private final Thread thread;
    private boolean closed;

    /** @param resample of refits its number; −1 for fits of the run itself */
    private record Batch(int resample, List<Fit> fits, boolean last) {}

    private LedgerWriter(Path file, LedgerLock lock, Connection connection, Comparison comparison) {
        this.file = file;
        this.lock = lock;
        this.connection = connection;
        this.comparison = comparison;
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
        for (Candidate candidate : comparison.candidates()) {
            if (AdoptedKind.is(candidate)) {
                throw new InputException(
                        file.toString(),
                        "candidate \"" + candidate.name()
                                + "\" was adopted and cannot be run; leave it out of the plan");
            }
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
        LedgerLock lock = LedgerLock.of(file);
        try {
            Connection connection = LedgerFile.openForWriting(file, shard.isPresent());
            try {
                connection.setAutoCommit(false);
                if (LedgerFile.number(connection, "SELECT count(*) FROM plan") == 0) {
                    writeHead(connection, plan, data, comparison);
                    insert(connection, "INSERT INTO about VALUES (?, ?)", Agreement.KEPT, kept.name());
                    if (shard.isPresent()) {
                        insert(
                                connection,
                                "INSERT INTO about VALUES (?, ?)",
                                Agreement.SHARD,
                                shard.get().toString());
                    }
                } else {
                    Agreement agreement = new Agreement(file, connection);
                    agreement.check(plan, data, comparison);
                    agreement.checkShard(shard);
                    // How results are read may have changed since; which fits are made has not.
                    insert(connection, "UPDATE plan SET yaml = ?", PlanWriter.write(plan));
                }
                connection.commit();
                LedgerWriter writer = new LedgerWriter(file, lock, connection, comparison);
                writer.thread.start();
                return writer;
            } catch (SQLException | RuntimeException e) {
                connection.close();
                throw e;
            }
        } catch (SQLException e) {
            lock.close();
            throw LedgerFile.unusable(file, e);
        } catch (RuntimeException e) {
            lock.close();
            throw e;
        }
    }

    private static void writeHead(Connection connection, Plan plan, List<LoadedData> data, Comparison comparison)
            throws SQLException {
        insert(connection, "INSERT INTO plan VALUES (1, ?)", PlanWriter.write(plan));
        insert(
                connection,
                "INSERT INTO about VALUES ('program', ?)",
                "keenfold "
                        + Optional.ofNullable(LedgerWriter.class.getPackage().getImplementationVersion())
                                .orElse("0.1.0"));
        insert(
                connection,
                "INSERT INTO about VALUES (?, ?)",
                Agreement.TRAIN_SCORES,
                Boolean.toString(comparison.trainScores()));
        for (int t = 0; t < comparison.tasks().size(); t++) {
            writeTask(
                    connection,
                    t,
                    plan.data().get(t).file(),
                    data.get(t),
                    comparison.tasks().get(t));
        }
        for (int c = 0; c < comparison.candidates().size(); c++) {
            Candidate candidate = comparison.candidates().get(c);
            writeCandidate(connection, c, candidate);
            Optional<CommandClassifier> program = CommandKind.of(candidate);
            if (program.isPresent()) {
                insert(
                        connection,
                        "INSERT INTO about VALUES (?, ?)",
                        Agreement.PROGRAM_OF + candidate.name(),
                        program.get().fingerprint());
            }
        }
    }

    private static void writeCandidate(Connection connection, int id, Candidate candidate) throws SQLException {
        insert(
                connection,
                "INSERT INTO candidate VALUES (?, ?, ?, ?, ?, ?)",
                id,
                candidate.name(),
                candidate.family(),
                candidate.kind().name(),
                candidate.settings().values().entrySet().stream()
                        .map(e -> e.getKey() + "=" + e.getValue())
                        .collect(Collectors.joining(" ")),
                String.join(", ", candidate.stepTexts()));
    }

    private static void writeTask(Connection connection, int id, String file, LoadedData loaded, Task task)
            throws SQLException {
        DataSet data = task.data();
        int[] groups = data.groups().map(LedgerWriter::codes).orElse(new int[0]);
        try (PreparedStatement row =
                connection.prepareStatement("INSERT INTO dataset VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)")) {
            set(
                    row,
                    id,
                    data.name(),
                    file,
                    loaded.fingerprint(),
                    data.rows(),
                    task.splits().repeats(),
                    task.splits().mostFolds(),
                    data.classes().positiveLabel(),
                    Blobs.ofInts(data.sourceRows()),
                    Blobs.ofInts(data.targets()));
            if (groups.length > 0) {
                row.setBytes(11, Blobs.ofInts(groups));
            }
            row.setString(12, task.splits().form().label());
            if (loaded.heldBack().isPresent()) {
                int[] heldBack = loaded.heldBack().get().sourceRows();
                row.setBytes(13, Blobs.ofInts(heldBack));
            }
            row.executeUpdate();
        }
        int[] counts = data.classCounts();
        for (int c = 0; c < counts.length; c++) {
            insert(
                    connection,
                    "INSERT INTO class VALUES (?, ?, ?, ?)",
                    id,
                    c,
                    data.classes().labels().get(c),
                    counts[c]);
        }
        writeSplits(connection, id, task.splits());
    }

    private static void writeSplits(Connection connection, int id, Splits splits) throws SQLException {
        for (int r = 0; r < splits.repeats(); r++) {
            if (splits.namesSides()) {
                for (int f = 0; f < splits.folds(r); f++) {
                    insert(
                            connection,
                            "INSERT INTO side VALUES (?, ?, ?, ?)",
                            id,
                            r,
                            f,
                            Blobs.ofInts(splits.countsOf(r, f)));
                }
            } else {
                insert(connection, "INSERT INTO split VALUES (?, ?, ?)", id, r, Blobs.ofInts(splits.foldsOf(r)));
            }
        }
    }

    private static int[] codes(Categories groups) {
        int[] codes = new int[groups.rows()];
        java.util.Arrays.setAll(codes, groups::code);
        return codes;
    }

    private static void insert(Connection connection, String command, Object... values) throws SQLException {
        try (PreparedStatement row = connection.prepareStatement(command)) {
            set(row, values);
            row.executeUpdate();
        }
    }

    private static void set(PreparedStatement row, Object... values) throws SQLException {
        for (int i = 0; i < values.length; i++) {
            row.setObject(i + 1, values[i]);
        }
    }

    /** Returns the units whose fits are not all there. */
    public List<Unit> missing() {
        return missing(RUN);
    }

    /** Returns the units of a resample whose fits are not all there. */
    public List<Unit> missing(int resample) {
        Set<List<Integer>> there = new HashSet<>();
        String which = resample < 0 ? "purpose = 'cv'" : "purpose = 'refit' AND resample = " + resample;
        try (Statement statement = connection.createStatement();
                ResultSet rows =
                        statement.executeQuery("SELECT dataset, candidate, repeat, fold FROM fit WHERE " + which)) {
            while (rows.next()) {
                there.add(List.of(rows.getInt(1), rows.getInt(2), rows.getInt(3), rows.getInt(4)));
            }
        } catch (SQLException e) {
            throw LedgerFile.unusable(file, e);
        }
        List<Family> families = comparison.families();
        Map<Candidate, Integer> index = new HashMap<>();
        for (Candidate candidate : comparison.candidates()) {
            index.put(candidate, index.size());
        }
        return comparison.units().stream()
                // A resample is run once.
                .filter(u -> resample < 0 || u.repeat() == 0)
                .filter(u -> !families.get(u.family()).members().stream()
                        .allMatch(m ->
                                there.contains(List.of(u.task(), index.getOrDefault(m, -1), u.repeat(), u.fold()))))
                .toList();
    }

    /** Forgets failed fits, so that a run does them again; returns how many there were. */
    public int forgetFailed() {
        try {
            int failed = LedgerFile.number(connection, "SELECT count(*) FROM fit WHERE status = 'failed'");
            LedgerFile.run(connection, "DELETE FROM fit WHERE status = 'failed'");
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
     * Adds candidates made elsewhere to a ledger.
     *
     * @param plan with all candidates
     * @param before how many there were
     */
    static void extend(Path file, Plan plan, int before, List<Task> tasks, List<Fit> fits) {
        LedgerLock lock = LedgerLock.of(file);
        try {
            Connection connection = LedgerFile.openForWriting(file);
            try {
                connection.setAutoCommit(false);
                insert(connection, "UPDATE plan SET yaml = ?", PlanWriter.write(plan));
                for (int c = before; c < plan.candidates().size(); c++) {
                    writeCandidate(connection, c, plan.candidates().get(c));
                }
                // Plan, candidates and fits become one transaction: the writer's thread commits them together.
                Comparison comparison =
                        new Comparison(tasks, plan.candidates(), plan.seed().orElse(0L));
                LedgerWriter writer = new LedgerWriter(file, lock, connection, comparison);
                writer.thread.start();
                try (writer) {
                    writer.adopt(fits);
                }
            } catch (SQLException | RuntimeException e) {
                connection.close();
                throw e;
            }
        } catch (SQLException e) {
            throw LedgerFile.unusable(file, e);
        } finally {
            lock.close();
        }
    }

    /** Returns what takes the fits of a whole run on one resample of the rows. */
    public FitSink refits(int resample) {
        return (unit, fits) -> {
            throwFailure();
            put(new Batch(resample, fits, false));
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
        failure.ifPresent(e -> {
            throw LedgerFile.unusable(file, e);
        });
    }

    private void write() {
        try (PreparedStatement fit = connection.prepareStatement(
                        "INSERT INTO fit (purpose, resample, dataset, candidate, repeat, fold, status, message,"
                                + " train_seconds, train_cpu_seconds, predict_seconds, predict_cpu_seconds, size, crc, chosen,"
                                + " shared, threshold, columns)"
                                + " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"
                                // A unit done again, after --retry, takes the place of its members that did not fail.
                                + " ON CONFLICT DO UPDATE SET status = excluded.status, message = excluded.message,"
                                + " train_seconds = excluded.train_seconds,"
                                + " train_cpu_seconds = excluded.train_cpu_seconds,"
                                + " predict_seconds = excluded.predict_seconds,"
                                + " predict_cpu_seconds = excluded.predict_cpu_seconds, size = excluded.size,"
                                + " crc = excluded.crc, chosen = excluded.chosen, shared = excluded.shared,"
                                + " threshold = excluded.threshold, columns = excluded.columns RETURNING id");
                PreparedStatement score =
                        connection.prepareStatement("INSERT OR REPLACE INTO score VALUES (?, ?, ?, ?)");
                PreparedStatement prediction =
                        connection.prepareStatement("INSERT OR REPLACE INTO prediction VALUES (?, ?, ?)")) {
            boolean last = false;
            while (!last) {
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
                for (Batch batch : batches) {
                    for (Fit one : batch.fits()) {
                        write(batch.resample(), one, fit, score, prediction);
                    }
                    last |= batch.last();
                }
                connection.commit();
            }
        } catch (SQLException e) {
            failure = Optional.of(e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    private void write(
            int resample, Fit one, PreparedStatement fit, PreparedStatement score, PreparedStatement prediction)
            throws SQLException {
        double[] scores = one.result().map(Fit.Result::scores).orElse(new double[0]);
        double[] trainScores = one.result().map(Fit.Result::trainScores).orElse(new double[0]);
        double[] probabilities = one.result().map(r -> stored(r.outcomes())).orElse(new double[0]);
        Optional<int[]> labels = one.result().flatMap(r -> ownLabels(r.outcomes(), one.making()));
        set(
                fit,
                resample < 0 ? "cv" : "refit",
                Math.max(0, resample),
                one.task(),
                one.candidate(),
                one.repeat(),
                one.fold(),
                one.failed() ? "failed" : "ok",
                one.message(),
                one.times().trainWall(),
                one.times().trainCpu(),
                one.times().predictWall(),
                one.times().predictCpu());
        setNumber(fit, 13, one.size());
        fit.setLong(14, Blobs.crc(scores, Blobs.followed(probabilities, labels), trainScores));
        fit.setString(15, one.making().chosen());
        fit.setBoolean(16, one.making().shared());
        setNumber(fit, 17, one.making().threshold().orElse(Double.NaN));
        setNumber(
                fit, 18, one.making().columns() < 0 ? Double.NaN : one.making().columns());
        int id;
        try (ResultSet row = fit.executeQuery()) {
            row.next();
            id = row.getInt(1);
        }
        if (one.failed()) {
            return;
        }
        List<Metric> metrics = comparison.tasks().get(one.task()).metrics();
        write(score, id, "test", metrics, scores);
        write(score, id, "train", metrics, trainScores);
        prediction.setInt(1, id);
        prediction.setBytes(2, Blobs.ofDoubles(probabilities));
        if (labels.isPresent()) {
            prediction.setBytes(3, Blobs.ofInts(labels.get()));
        } else {
            prediction.setNull(3, java.sql.Types.BLOB);
        }
        prediction.executeUpdate();
    }

    /** Writes the scores of one side, if there are any. */
    private static void write(PreparedStatement score, int fit, String side, List<Metric> metrics, double[] values)
            throws SQLException {
        for (int m = 0; m < values.length; m++) {
            score.setInt(1, fit);
            score.setString(2, side);
            score.setString(3, metrics.get(m).name());
            setNumber(score, 4, values[m]);
            score.executeUpdate();
        }
    }

    private static void setNumber(PreparedStatement row, int at, double value) throws SQLException {
        if (Double.isNaN(value)) {
            row.setNull(at, java.sql.Types.REAL);
        } else {
            row.setDouble(at, value);
        }
    }

    /** The labels, where they do not follow from probabilities and threshold. */
    private static Optional<int[]> ownLabels(Outcomes outcomes, Fit.Making making) {
        if (making.threshold().isPresent()) {
            return Optional.empty();
        }
        for (int i = 0; i < outcomes.size(); i++) {
            for (int c = 0; c < outcomes.classes(); c++) {
                double more = outcomes.probability(i, c) - outcomes.probability(i, outcomes.predicted(i));
                if (more > 0 || (more == 0 && c < outcomes.predicted(i))) {
                    return Optional.of(outcomes.labels());
                }
            }
        }
        return Optional.empty();
    }

    /** All but the last class's probability of each row; the last is what they leave. */
    private static double[] stored(Outcomes outcomes) {
        int kept = outcomes.classes() - 1;
        double[] values = new double[outcomes.size() * kept];
        for (int i = 0; i < outcomes.size(); i++) {
            for (int c = 0; c < kept; c++) {
                values[i * kept + c] = outcomes.probability(i, c);
            }
        }
        return values;
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
            if (failure.isEmpty()) {
                connection.setAutoCommit(true);
                LedgerFile.run(connection, "PRAGMA journal_mode=DELETE");
            }
            connection.close();
            throwFailure();
        } catch (SQLException e) {
            throw LedgerFile.unusable(file, e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } finally {
            lock.close();
        }
    }
}

package keenfold.study.run;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.concurrent.ConcurrentSkipListMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Supplier;
import keenfold.core.data.Notice;
import keenfold.core.run.Comparison;
import keenfold.core.run.FitSink;
import keenfold.core.run.Halves;
import keenfold.core.run.Halving;
import keenfold.core.run.Parallel;
import keenfold.core.run.Remainder;
import keenfold.core.run.Runner;
import keenfold.core.run.Shard;
import keenfold.core.run.Shares;
import keenfold.core.run.TimeLeft;
import keenfold.core.run.Unit;
import keenfold.core.run.candidate.Family;
import keenfold.core.run.result.Fit;
import keenfold.io.ledger.LedgerReader;
import keenfold.io.ledger.LedgerWriter;
import keenfold.io.plan.AdoptedKind;
import keenfold.study.plan.LoadedPlan;
import keenfold.study.progress.Watcher;
import keenfold.view.text.Wrap;

/**
 * Fills a ledger with what it lacks of a plan. Each fit reaches the disk as it is made, so that a run that is stopped goes on
 * where it was.
 */
public final class PlanRun implements AutoCloseable {
    /** Stands for the run itself where the number of a half could stand. */
    private static final int OF_RUN = -1;

    /** Of what a fit takes, a fit on half of the rows is taken to need a half. */
    private static final double OF_HALF = 0.5;

    private final LoadedPlan job;
    private final Path ledger;
    private final Optional<Shard> shard;
    private final Watcher watcher;
    private final int threads;
    private final Runner runner;
    private final Optional<Halves> halves;
    private final Halving halving;
    private final Optional<Shares> shares;
    private final LedgerWriter writer;
    private final List<Family> families;
    private final AtomicInteger failed = new AtomicInteger();
    private final SortedMap<String, Integer> reasons = new ConcurrentSkipListMap<>();

    /** Is told how far a run is, in units of which some were done before it began. */
    public interface Status {
        /** A run that tells nobody. */
        Status UNSEEN = new Status() {};

        /** It begins. */
        default void begin(int units, int done, int failedFits) {}

        /**
         * One more unit is done.
         *
         * @param secondsLeft how long the rest will take; NaN if nothing is known of that
         */
        default void step(int failedFits, double secondsLeft) {}

        /** Everything is in the ledger. */
        default void end(int failedFits) {}
    }

    private PlanRun(LoadedPlan job, Path ledger, Optional<Shard> shard, Watcher watcher, int threads) {
        this.job = job;
        this.ledger = ledger;
        this.shard = shard;
        this.watcher = watcher;
        this.threads = threads;
        this.runner = Runner.on(Parallel.of(threads));
        // Refused before a ledger is made, if the rows cannot be divided again.
        this.halves = job.halves();
        this.halving = job.plan().evidence().halving();
        this.shares =
                shard.map(s -> new Shares(job.comparison(), halving, job.plan().effort(), s.of()));
        watcher.doing("opening " + ledger);
        if (Files.exists(ledger)) {
            watcher.notices(LedgerReader.damage(ledger).stream()
                    .map(d -> Notice.plain("ledger-damaged", d))
                    .toList());
        }
        // What a unit takes is not part of what is found, and so of no ledger.
        this.writer = LedgerWriter.open(ledger, job.plan().withEffort(Map.of()), job.data(), job.comparison(), shard);
        this.families = job.comparison().families();
        tell(writer);
    }

    private void tell(LedgerWriter opened) {
        opened.change().lines().forEach(l -> {
            String lead = l.startsWith(" ") ? "  " : "";
            watcher.say(lead + Wrap.lines(l.strip(), 6).stripTrailing());
        });
    }

    /**
     * Opens the ledger, or makes it.
     *
     * @param shard the share to do; everything if it is empty
     * @throws keenfold.io.InputException if the ledger is of another plan, or in use
     */
    public static PlanRun open(LoadedPlan job, Path ledger, Optional<Shard> shard, Watcher watcher, int threads) {
        return new PlanRun(job, ledger, shard, watcher, threads);
    }

    /** Forgets the fits that failed, so that they are done again; returns how many there were. */
    public int forgetFailed() {
        return writer.forgetFailed();
    }

    /** Stops at once, from any thread; what is finished is in the ledger. */
    public void stop() {
        runner.stop();
        writer.close();
    }

    /** A run on one half of the rows, made when it is its turn: a thousand of them would not fit into memory. */
    private record HalfRun(int number, Supplier<Comparison> comparison, List<Unit> units) {}

    /** What was adopted cannot be run. */
    private boolean made(Unit unit) {
        return !AdoptedKind.is(families.get(unit.family()).members().get(0));
    }

    private boolean mine(Unit unit) {
        return made(unit) && (shares.isEmpty() || shares.get().has(shard.orElseThrow(), unit));
    }

    private boolean mine(int half, Unit unit) {
        return made(unit) && (shares.isEmpty() || shares.get().has(shard.orElseThrow(), half, unit));
    }

    /** Does what is missing; returns how many fits failed. */
    public int run(Status status) {
        int all = units();
        List<Unit> missing = writer.missing(this::mine);
        List<HalfRun> runs = halfRuns();
        int units =
                missing.size() + runs.stream().mapToInt(r -> r.units().size()).sum();
        int whole = all + unitsOfHalves();
        status.begin(whole, whole - units, writer.failed());
        if (units == 0) {
            watcher.say("nothing to do: " + ledger + " has all " + whole + " units of "
                    + shard.map(s -> "shard " + s).orElse("the plan"));
            return 0;
        }
        if (missing.size() < all && !missing.isEmpty()) {
            watcher.say("going on: " + (all - missing.size()) + " of " + all + " units are in " + ledger);
        }
        watcher.done();
        TimeLeft left = new TimeLeft(job.comparison(), job.plan().effort(), threads);
        missing.forEach(u -> left.add(u, 1));
        runs.forEach(r -> r.units().forEach(u -> left.add(u, OF_HALF)));
        List<Unit> ordered = timedFirst(missing);
        try (RunProgress progress = new RunProgress(watcher, status, job.comparison(), ordered, left, threads, units)) {
            run(job::comparison, OF_RUN, ordered, writer, progress);
            for (HalfRun run : runs) {
                run(run.comparison(), run.number(), run.units(), writer.half(run.number()), progress);
            }
        }
        return failed.get();
    }

    /** The units by which the others are timed, and then those. */
    private List<Unit> timedFirst(List<Unit> units) {
        List<Unit> ordered = new ArrayList<>(units.size());
        ordered.addAll(RunProgress.timed(units, job.comparison(), 0));
        ordered.addAll(RunProgress.timed(units, job.comparison(), 1));
        Set<Unit> first = new HashSet<>(ordered);
        units.stream().filter(u -> !first.contains(u)).forEach(ordered::add);
        return ordered;
    }

    /** Runs units, without the members of families that have all their fits. */
    private void run(Supplier<Comparison> comparison, int half, List<Unit> units, FitSink sink, RunProgress progress) {
        if (units.isEmpty()) {
            return;
        }
        Remainder left = new Remainder(comparison.get(), writer.complete(half, units));
        FitSink kept = left.sink((unit, fits) -> {
            sink.accept(unit, fits);
            fits.stream().filter(Fit::failed).forEach(this::failed);
            progress.step(unit, half == OF_RUN, failed.get());
        });
        double share = half == OF_RUN ? 1 : OF_HALF;
        runner.run(
                left.comparison(),
                left.units(units),
                kept,
                (unit, seconds) -> progress.took(left.ofWhole(unit), share, seconds));
    }

    private void failed(Fit fit) {
        failed.incrementAndGet();
        String name = job.comparison().candidates().get(fit.candidate()).name();
        reasons.merge(name + ": " + fit.reason(), 1, Integer::sum);
    }

    private int units() {
        AtomicInteger units = new AtomicInteger();
        job.comparison().forEachUnit(u -> units.addAndGet(mine(u) ? 1 : 0));
        return units.get();
    }

    /** How many units the runs on halves have. */
    private int unitsOfHalves() {
        AtomicInteger units = new AtomicInteger();
        job.comparison().forEachUnitOfHalf(halving.repeats(), u -> {
            for (int n = 0; n < halving.halves(); n++) {
                units.addAndGet(mine(n, u) ? 1 : 0);
            }
        });
        return units.get();
    }

    private List<HalfRun> halfRuns() {
        List<HalfRun> runs = new ArrayList<>();
        halves.ifPresent(of -> {
            for (int n = 0; n < halving.halves(); n++) {
                int number = n;
                List<Unit> missing = writer.missing(n, halving.repeats(), u -> mine(number, u));
                if (!missing.isEmpty()) {
                    runs.add(new HalfRun(n, () -> of.half(number), missing));
                }
            }
        });
        return runs;
    }

    /** Returns why fits failed, and how often: candidate, colon, reason. */
    public SortedMap<String, Integer> reasons() {
        return reasons;
    }

    /** Writes the last fits. */
    @Override
    public void close() {
        watcher.doing("writing the last fits to " + ledger);
        writer.close();
        watcher.done();
    }
}

package keenfold.cli.run;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentSkipListMap;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.BiPredicate;
import java.util.function.Predicate;
import java.util.function.Supplier;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Progress;
import keenfold.cli.plan.LoadedPlan;
import keenfold.core.run.Comparison;
import keenfold.core.run.FitSink;
import keenfold.core.run.Parallel;
import keenfold.core.run.Resamples;
import keenfold.core.run.Runner;
import keenfold.core.run.Shard;
import keenfold.core.run.Shares;
import keenfold.core.run.Unit;
import keenfold.core.run.result.Fit;
import keenfold.io.ledger.LedgerReader;
import keenfold.io.ledger.LedgerWriter;
import keenfold.view.text.Wrap;

/** Runs what a ledger lacks, with progress, and stops cleanly when the process is told to. */
final class Execution {
    private static final int MOST_REASONS = 5;

    private final Console console;
    private final Common common;
    private final int threads;
    private Optional<ShardStatus> status = Optional.empty();

    Execution(Console console, Common common, int threads) {
        this.console = console;
        this.common = common;
        this.threads = threads;
    }

    /**
     * Fills the ledger.
     *
     * @param goOn how to go on after an interruption, in words
     * @return how many fits of this run failed
     */
    int run(LoadedPlan job, Path ledger, boolean retry, String goOn) {
        return run(job, ledger, retry, goOn, Optional.empty());
    }

    /** Says how far it is in a file. */
    Execution telling(ShardStatus to) {
        status = Optional.of(to);
        return this;
    }

    /** Fills the ledger of a shard, or of the whole without one. */
    int run(LoadedPlan job, Path ledger, boolean retry, String goOn, Optional<Shard> shard) {
        AtomicInteger failed = new AtomicInteger();
        ConcurrentSkipListMap<String, Integer> reasons = new ConcurrentSkipListMap<>();
        AtomicBoolean ended = new AtomicBoolean();
        Runner runner = Runner.on(Parallel.of(threads));
        // Refused before a ledger is made, if the rows cannot be divided again.
        Optional<Resamples> resamples = job.resamples();
        int refitted = job.plan().evidence().refits();
        Optional<Shares> shares =
                shard.map(s -> new Shares(job.comparison(), refitted, job.plan().effort(), s.of()));
        // What a unit takes is no part of what is found, and so of no ledger.
        console.doing("opening " + ledger, common);
        if (Files.exists(ledger)) {
            console.notices(LedgerReader.damage(ledger), common);
        }
        LedgerWriter writer =
                LedgerWriter.open(ledger, job.plan().withEffort(Map.of()), job.data(), job.comparison(), shard);
        Thread onSignal = new Thread(() -> {
            if (!ended.get()) {
                runner.stop();
                writer.close();
                console.err()
                        .println("\nkeenfold: interrupted; finished fits are kept in " + ledger + "; go on with: "
                                + goOn);
                console.err().flush();
            }
        });
        Runtime.getRuntime().addShutdownHook(onSignal);
        try {
            int forgotten = retry ? writer.forgetFailed() : 0;
            if (forgotten > 0) {
                console.say("repeating " + forgotten + " failed fits", common);
            }
            Predicate<Unit> mine = u -> shares.isEmpty() || shares.get().has(shard.orElseThrow(), u);
            AtomicInteger all = new AtomicInteger();
            job.comparison().forEachUnit(u -> all.addAndGet(mine.test(u) ? 1 : 0));
            List<Unit> missing = writer.missing(mine);
            List<Refit> refits = refits(
                    resamples,
                    refitted,
                    writer,
                    (n, u) -> shares.isEmpty() || shares.get().has(shard.orElseThrow(), n, u));
            int units = missing.size()
                    + refits.stream().mapToInt(r -> r.units().size()).sum();
            status.ifPresent(s -> {
                BiPredicate<Integer, Unit> own =
                        (n, u) -> shares.isEmpty() || shares.get().has(shard.orElseThrow(), n, u);
                int whole = all.get() + refitUnits(job.comparison(), refitted, own);
                s.begin(whole, whole - units, writer.failed());
            });
            if (units == 0) {
                console.say(
                        "nothing to do: " + ledger + " has all " + all.get() + " units of "
                                + shard.map(s -> "shard " + s).orElse("the plan"),
                        common);
            } else {
                if (missing.size() < all.get() && !missing.isEmpty()) {
                    console.say(
                            "going on: " + (all.get() - missing.size()) + " of " + all.get() + " units are in "
                                    + ledger,
                            common);
                }
                console.done();
                try (Progress progress = Progress.of(console, common, units)) {
                    runner.run(job.comparison(), missing, (unit, fits) -> {
                        writer.accept(unit, fits);
                        fits.stream().filter(Fit::failed).forEach(f -> {
                            failed.incrementAndGet();
                            String name = job.comparison()
                                    .candidates()
                                    .get(f.candidate())
                                    .name();
                            reasons.merge(name + ": " + f.reason(), 1, Integer::sum);
                        });
                        progress.step();
                        status.ifPresent(s -> s.step(failed.get()));
                    });
                    for (Refit refit : refits) {
                        FitSink sink = writer.refits(refit.number());
                        runner.run(refit.comparison().get(), refit.units(), (unit, fits) -> {
                            sink.accept(unit, fits);
                            progress.step();
                            status.ifPresent(s -> s.step(failed.get()));
                        });
                    }
                }
            }
        } finally {
            ended.set(true);
            console.doing("writing the last fits to " + ledger, common);
            writer.close();
            console.done();
            removeHook(onSignal);
        }
        // Only now is everything in the ledger.
        status.ifPresent(s -> s.end(failed.get()));
        reasons.entrySet().stream()
                .limit(MOST_REASONS)
                .forEach(e -> console.say(
                        Wrap.lines(
                                        Wrap.visible("failed " + (e.getValue() == 1 ? "once" : e.getValue() + " times")
                                                + ": " + e.getKey()),
                                        4)
                                .stripTrailing(),
                        common));
        if (reasons.keySet().stream().anyMatch(r -> r.contains(": out of memory"))) {
            console.say(
                    "what ran out of memory may do with more (KEENFOLD_JAVA_OPTIONS=-Xmx8g) or with fewer --threads;"
                            + " add --retry to do it again",
                    common);
        }
        return failed.get();
    }

    /**
     * A whole run on one resample of the rows.
     *
     * @param comparison made when it is its turn, since a thousand of them would not fit into memory
     * @param units those that are missing
     */
    private record Refit(int number, Supplier<Comparison> comparison, List<Unit> units) {}

    private static List<Refit> refits(
            Optional<Resamples> resamples, int count, LedgerWriter writer, BiPredicate<Integer, Unit> mine) {
        List<Refit> refits = new ArrayList<>();
        resamples.ifPresent(of -> {
            for (int n = 0; n < count; n++) {
                int number = n;
                List<Unit> missing = writer.missing(n, u -> mine.test(number, u));
                if (!missing.isEmpty()) {
                    refits.add(new Refit(n, () -> of.resample(number), missing));
                }
            }
        });
        return refits;
    }

    /** How many units whole runs on resamples have, each of one repeat. */
    private static int refitUnits(Comparison comparison, int resamples, BiPredicate<Integer, Unit> mine) {
        AtomicInteger units = new AtomicInteger();
        comparison.forEachUnit(u -> {
            for (int n = 0; n < resamples; n++) {
                units.addAndGet(u.repeat() == 0 && mine.test(n, u) ? 1 : 0);
            }
        });
        return units.get();
    }

    private static void removeHook(Thread hook) {
        try {
            Runtime.getRuntime().removeShutdownHook(hook);
        } catch (IllegalStateException e) {
            // The process is ending already: the hook has run, or is running.
            hook.setName("keenfold-ending");
        }
    }
}

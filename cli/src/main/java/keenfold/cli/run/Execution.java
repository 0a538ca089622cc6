package keenfold.cli.run;

import java.nio.file.Path;
import java.util.Optional;
import java.util.SortedMap;
import java.util.concurrent.atomic.AtomicBoolean;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.ConsoleWatcher;
import keenfold.core.run.Shard;
import keenfold.study.plan.LoadedPlan;
import keenfold.study.run.PlanRun;
import keenfold.view.text.Wrap;

/** Runs what a ledger lacks, with progress, and stops cleanly when the process is told to. */
final class Execution {
    private static final int MOST_REASONS = 5;

    private final Console console;
    private final Common common;
    private final int threads;
    private PlanRun.Status status = PlanRun.Status.UNSEEN;

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
    Execution telling(PlanRun.Status to) {
        status = to;
        return this;
    }

    /** Fills the ledger of a shard, or of the whole without one. */
    int run(LoadedPlan job, Path ledger, boolean retry, String goOn, Optional<Shard> shard) {
        ConsoleWatcher watcher = new ConsoleWatcher(console, common);
        PlanRun run = PlanRun.open(job, ledger, shard, watcher, threads);
        AtomicBoolean ended = new AtomicBoolean();
        Thread onSignal = new Thread(() -> {
            if (!ended.get()) {
                run.stop();
                console.err()
                        .println("\nkeenfold: interrupted; finished fits are kept in " + ledger + "; go on with: "
                                + goOn);
                console.err().flush();
            }
        });
        Runtime.getRuntime().addShutdownHook(onSignal);
        int failed;
        try {
            int forgotten = retry ? run.forgetFailed() : 0;
            if (forgotten > 0) {
                console.say("repeating " + forgotten + " failed fits", common);
            }
            failed = run.run(status);
        } finally {
            ended.set(true);
            run.close();
            removeHook(onSignal);
        }
        // Only now is everything in the ledger.
        status.end(failed);
        reasons(run.reasons());
        return failed;
    }

    private void reasons(SortedMap<String, Integer> reasons) {
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

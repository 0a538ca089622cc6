package keenfold.io.command;

import java.io.IOException;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import keenfold.core.prepare.FitFailure;
import keenfold.io.InputException;
import keenfold.io.TemporaryFiles;

/** A program at work, with all processes that it starts. */
final class ProgramRun {
    private static final long FIRST_LOOK_MILLIS = 20;
    private static final long MOST_MILLIS = 500;
    private static final Set<ProgramRun> RUNNING = ConcurrentHashMap.newKeySet();
    private static final int INTERRUPTED = 128 + 2;
    private static final int TERMINATED = 128 + 15;
    private static final CountDownLatch ENDED = new CountDownLatch(1);

    static {
        TemporaryFiles.beforeRemoval(ProgramRun::endAll);
    }

    private final Process process;
    private final String text;
    private final Exchange exchange;
    private final Set<ProcessHandle> family = new HashSet<>();

    private ProgramRun(Process process, String text, Exchange exchange) {
        this.process = process;
        this.text = text;
        this.exchange = exchange;
    }

    /**
     * Starts a program in the folder of an exchange. This is the only place where one is started, so it is here that the
     * permission is asked for.
     *
     * @throws InputException if the user did not allow it
     * @throws FitFailure if it cannot be started
     */
    static ProgramRun of(CommandClassifier classifier, Exchange exchange) {
        String text = classifier.text();
        if (!classifier.programs().allowed()) {
            throw new InputException(
                    text, "is a program that the plan names; if you trust it, run the plan with --allow-commands");
        }
        try {
            Process process = new ProcessBuilder(classifier.words())
                    .directory(exchange.folder().toFile())
                    .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                    .redirectError(exchange.errors().toFile())
                    .start();
            process.getOutputStream().close();
            ProgramRun run = new ProgramRun(process, text, exchange);
            RUNNING.add(run);
            return run;
        } catch (IOException e) {
            throw new FitFailure(text + " cannot be started: " + e.getMessage());
        }
    }

    /**
     * Waits for its end.
     *
     * @throws FitFailure if it does not end well, or the thread is interrupted, which it stays
     */
    void await() {
        try {
            long pause = FIRST_LOOK_MILLIS;
            // Children are noted while their parents live: later nobody could tell whose they were.
            while (!process.waitFor(pause, TimeUnit.MILLISECONDS)) {
                note();
                pause = Math.min(MOST_MILLIS, 2 * pause);
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new FitFailure(text + " was interrupted" + exchange.errorText());
        } finally {
            kill();
            RUNNING.remove(this);
        }
        int code = process.exitValue();
        waitIfEnding(code);
        if (code != 0) {
            throw new FitFailure(text + " ended with code " + code + exchange.errorText());
        }
    }

    private synchronized void note() {
        process.descendants().forEach(family::add);
    }

    /** Ends the program and all that it started; again, as long as there are new ones. */
    private synchronized void kill() {
        int before;
        do {
            before = family.size();
            note();
            process.destroyForcibly();
            List.copyOf(family).forEach(child -> {
                child.descendants().forEach(family::add);
                child.destroyForcibly();
            });
        } while (family.size() > before);
    }

    private static void endAll() {
        ENDED.countDown();
        RUNNING.forEach(ProgramRun::kill);
    }

    /** A program that is ended together with this one is no fit that failed: this thread waits for the end. */
    private static void waitIfEnding(int code) {
        try {
            if (code == INTERRUPTED || code == TERMINATED) {
                // A signal that went to both may have reached the program first.
                ENDED.await(MOST_MILLIS, TimeUnit.MILLISECONDS);
            }
            if (ENDED.getCount() == 0) {
                new CountDownLatch(1).await();
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}

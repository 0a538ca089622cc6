package keenfold.io.command;

import java.io.FileInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.HashSet;
import java.util.HexFormat;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import keenfold.core.learned.FitFailure;
import keenfold.io.InputException;
import keenfold.io.TemporaryFiles;

/** A program at work, with all processes that it starts. */
final class ProgramRun {
    private static final long FIRST_LOOK_MILLIS = 20;
    private static final long MOST_MILLIS = 500;
    private static final String MARK = "KEENFOLD_FIT";
    private static final Path PROCESSES = Path.of("/proc");
    private static final SecureRandom CHANCE = new SecureRandom();
    private static final Set<ProgramRun> RUNNING = ConcurrentHashMap.newKeySet();
    private static final int INTERRUPTED = 128 + 2;
    private static final int TERMINATED = 128 + 15;
    private static final CountDownLatch ENDED = new CountDownLatch(1);

    static {
        TemporaryFiles.beforeRemoval(ProgramRun::endAll);
    }

    private final Process process;
    private final String text;
    private final LastWords words;
    private final String mark;
    private final Set<ProcessHandle> family = new HashSet<>();

    private ProgramRun(Process process, String text, LastWords words, String mark) {
        this.process = process;
        this.text = text;
        this.words = words;
        this.mark = mark;
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
            String mark = HexFormat.of().toHexDigits(CHANCE.nextLong());
            ProcessBuilder builder = new ProcessBuilder(classifier.words())
                    .directory(exchange.folder().toFile())
                    .redirectOutput(ProcessBuilder.Redirect.DISCARD);
            builder.environment().put(MARK, mark);
            Process process = builder.start();
            process.getOutputStream().close();
            LastWords words = LastWords.of(process.getErrorStream());
            exchange.hears(words);
            ProgramRun run = new ProgramRun(process, text, words, mark);
            RUNNING.add(run);
            return run;
        } catch (IOException e) {
            // Why, without the folder of this one fit: the same for every fit, it is said once.
            String why = String.valueOf(e.getMessage()).replaceFirst("^.*error=[0-9]+, ", "");
            throw new FitFailure(text + " cannot be started: " + why);
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
            throw new FitFailure(text + " was interrupted" + words.text());
        } finally {
            kill();
            RUNNING.remove(this);
        }
        int code = process.exitValue();
        waitIfEnding(code);
        if (code != 0) {
            throw new FitFailure(text + " ended with code " + code + words.text());
        }
    }

    private synchronized void note() {
        process.descendants().forEach(family::add);
    }

    /**
     * Ends the program and all that it started; again, as long as there are new ones. A process that made itself
     * independent of its parents (setsid, and a parent that ended) is no longer known as a descendant; where the system
     * shows the environment of processes (Linux), it is found by a mark that all of them inherit.
     */
    private synchronized void kill() {
        int before;
        do {
            before = family.size();
            note();
            marked().forEach(family::add);
            // Through its handle: the process itself would close its standard error before all of it is read.
            process.toHandle().destroyForcibly();
            List.copyOf(family).forEach(child -> {
                child.descendants().forEach(family::add);
                child.destroyForcibly();
            });
        } while (family.size() > before);
    }

    private List<ProcessHandle> marked() {
        if (!Files.isDirectory(PROCESSES)) {
            return List.of();
        }
        byte[] wanted = (MARK + "=" + mark).getBytes(StandardCharsets.US_ASCII);
        return ProcessHandle.allProcesses()
                .filter(p -> !p.equals(process.toHandle()) && has(p.pid(), wanted))
                .toList();
    }

    private static boolean has(long pid, byte[] wanted) {
        // Not through a channel, which an interrupted thread could not read.
        try (FileInputStream in = new FileInputStream(
                PROCESSES.resolve(Long.toString(pid)).resolve("environ").toFile())) {
            String environment = new String(in.readAllBytes(), StandardCharsets.ISO_8859_1);
            return environment.contains(new String(wanted, StandardCharsets.ISO_8859_1));
        } catch (IOException e) {
            // Somebody else's, or ended meanwhile.
            return false;
        }
    }

    private static void endAll() {
        ENDED.countDown();
        RUNNING.forEach(ProgramRun::kill);
    }

    /** A program that is ended together with this one is not a fit that failed: this thread waits for the end. */
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

package keenfold.cli.console;

import java.util.Locale;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import java.util.function.LongSupplier;

/**
 * What a command is doing at the moment, said when it takes more than a second and every few seconds from then on: silence
 * looks like a program that hangs. Work that shows its own progress is left alone.
 */
final class Activity {
    private static final long FIRST = TimeUnit.SECONDS.toNanos(1);
    private static final long BETWEEN = TimeUnit.SECONDS.toNanos(5);
    private static final long LOOK_MILLIS = 100;

    private final Consumer<String> say;
    private final LongSupplier clock;
    private String what = "";
    private long since;
    private long due;
    private int done;
    private int count;
    private boolean watched;

    /**
     * @param say prints a line
     * @param clock nanoseconds that never go back
     */
    Activity(Consumer<String> say, LongSupplier clock) {
        this.say = say;
        this.clock = clock;
    }

    /** Something begins; what was done before has ended. */
    synchronized void begin(String now) {
        what = now;
        since = clock.getAsLong();
        due = since + FIRST;
        done = 0;
        count = 0;
        if (!watched && !now.isEmpty()) {
            watched = true;
            Thread thread = new Thread(this::watch, "keenfold-activity");
            thread.setDaemon(true);
            thread.start();
        }
    }

    /** Nothing is done any more that takes long, or it shows its own progress. */
    synchronized void end() {
        what = "";
    }

    /** So many of so many parts of it are done. */
    synchronized void step(int parts, int of) {
        done = parts;
        // What comes after the last part is another step, of which nothing is known yet.
        count = parts < of ? of : 0;
    }

    /** Says what is being done, if it is time to. */
    synchronized void look() {
        long now = clock.getAsLong();
        if (what.isEmpty() || now < due) {
            return;
        }
        due = now + BETWEEN;
        String parts = count > 1 ? String.format(Locale.ROOT, ", %d %% of this step", 100L * done / count) : "";
        say.accept(String.format(Locale.ROOT, "%s: %.0f s%s", what, (now - since) * 1e-9, parts));
    }

    /** Whether something is being done; if not, its watcher ends, and another one watches what begins next. */
    private synchronized boolean isGoingOn() {
        watched = !what.isEmpty();
        return watched;
    }

    private void watch() {
        try {
            do {
                Thread.sleep(LOOK_MILLIS);
                look();
            } while (isGoingOn());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}

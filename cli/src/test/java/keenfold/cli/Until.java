package keenfold.cli;

import java.io.IOException;
import java.util.concurrent.TimeUnit;

/**
 * Waits for something to happen, however long a busy machine takes to it. What never happens ends the test after ten minutes:
 * that is a hang, and no measure.
 */
final class Until {
    static final int HANG_SECONDS = 600;
    private static final int LOOK_MILLIS = 5;

    private Until() {}

    /** What is waited for. */
    interface Condition {
        boolean holds() throws IOException, InterruptedException;
    }

    static void holds(String what, Condition condition) throws IOException, InterruptedException {
        for (int i = 0; !condition.holds(); i++) {
            if (i > HANG_SECONDS * 1000 / LOOK_MILLIS) {
                throw new AssertionError("waited in vain for: " + what);
            }
            Thread.sleep(LOOK_MILLIS);
        }
    }

    /** Whether a process ended; it is waited for. */
    static boolean ended(Process process) throws InterruptedException {
        return process.waitFor(HANG_SECONDS, TimeUnit.SECONDS);
    }
}

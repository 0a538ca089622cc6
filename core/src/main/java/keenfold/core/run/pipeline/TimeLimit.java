package keenfold.core.run.pipeline;

import java.util.OptionalDouble;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.ScheduledThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
import keenfold.core.data.Decimals;
import keenfold.core.learned.FitFailure;

/**
 * Work on one thread that is given up when it takes too long: the thread is interrupted, and what it does looks at that
 * from time to time ({@link FitFailure#ifInterrupted}).
 */
public final class TimeLimit {
    private static final ScheduledThreadPoolExecutor CLOCK = clock();

    private final double seconds;
    private final Thread worker = Thread.currentThread();
    private boolean ended;
    private boolean over;

    private TimeLimit(double seconds) {
        this.seconds = seconds;
    }

    private static ScheduledThreadPoolExecutor clock() {
        ScheduledThreadPoolExecutor clock = new ScheduledThreadPoolExecutor(1, work -> {
            Thread thread = new Thread(work, "keenfold-clock");
            thread.setDaemon(true);
            return thread;
        });
        clock.setRemoveOnCancelPolicy(true);
        return clock;
    }

    /**
     * Does the work, within a limit if there is one. Limits may be nested.
     *
     * @param seconds by the clock
     * @throws FitFailure if it took longer, whatever became of it
     */
    public static <T> T within(OptionalDouble seconds, Supplier<T> work) {
        return seconds.isPresent() ? new TimeLimit(seconds.getAsDouble()).limited(work) : work.get();
    }

    private <T> T limited(Supplier<T> work) {
        ScheduledFuture<?> alarm = CLOCK.schedule(this::give, (long) (seconds * 1e9), TimeUnit.NANOSECONDS);
        try {
            T result = work.get();
            if (end()) {
                throw tooLong();
            }
            return result;
        } catch (RuntimeException | OutOfMemoryError | StackOverflowError e) {
            if (end()) {
                throw tooLong();
            }
            throw e;
        } finally {
            alarm.cancel(false);
        }
    }

    private FitFailure tooLong() {
        return new FitFailure("took longer than its time-limit of " + Decimals.exact(seconds) + "s");
    }

    private synchronized void give() {
        if (!ended) {
            over = true;
            worker.interrupt();
        }
    }

    /** From here on the thread is not interrupted any more; returns whether the time was over, and forgets it. */
    private synchronized boolean end() {
        if (over && !ended) {
            Thread.interrupted();
        }
        ended = true;
        return over;
    }
}

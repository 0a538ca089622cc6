package keenfold.core.run;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.IntFunction;
import keenfold.core.data.Checks;

/**
 * The one place where threads are started: loops over independent pieces of work whose results come back by index.
 *
 * <p>The first failure cancels the rest and is thrown.
 */
public final class Parallel {
    private final int threads;
    private final Watch watch;

    /** Is told how far a loop is; perhaps by several threads at once. */
    @FunctionalInterface
    public interface Watch {
        /** So many of the pieces are done. */
        void done(int pieces, int count);
    }

    private Parallel(int threads, Watch watch) {
        this.threads = threads;
        this.watch = watch;
    }

    /** Returns a loop over the given number of threads, at least 1. */
    public static Parallel of(int threads) {
        return new Parallel(Checks.atLeast("threads", threads, 1), (pieces, count) -> {});
    }

    /** Returns the same loop, of which somebody is told how far it is. */
    public Parallel watchedBy(Watch by) {
        return new Parallel(threads, by);
    }

    /** Returns the results of pieces 0 … count − 1, in order. */
    public <T> List<T> map(int count, IntFunction<T> piece) {
        if (threads == 1 || count <= 1) {
            List<T> results = new ArrayList<>(count);
            for (int i = 0; i < count; i++) {
                results.add(piece.apply(i));
                watch.done(i + 1, count);
            }
            return results;
        }
        ExecutorService pool = Executors.newFixedThreadPool(Math.min(threads, count), work -> {
            Thread thread = new Thread(work, "keenfold-worker");
            thread.setDaemon(true);
            return thread;
        });
        AtomicInteger done = new AtomicInteger();
        try {
            List<Callable<T>> calls = new ArrayList<>(count);
            for (int i = 0; i < count; i++) {
                int index = i;
                calls.add(() -> {
                    T result = piece.apply(index);
                    watch.done(done.incrementAndGet(), count);
                    return result;
                });
            }
            List<Future<T>> futures = calls.stream().map(pool::submit).toList();
            List<T> results = new ArrayList<>(count);
            for (Future<T> future : futures) {
                results.add(get(future));
            }
            return results;
        } finally {
            pool.shutdownNow();
        }
    }

    private static <T> T get(Future<T> future) {
        try {
            return future.get();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException("interrupted", e);
        } catch (ExecutionException e) {
            if (e.getCause() instanceof RuntimeException cause) {
                throw cause;
            }
            if (e.getCause() instanceof Error cause) {
                throw cause;
            }
            throw new IllegalStateException(e.getCause());
        }
    }
}

package keenfold.core.run;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Consumer;
import java.util.function.IntFunction;
import java.util.function.Supplier;
import keenfold.core.data.Checks;

/**
 * The one place where threads are started: loops over independent pieces of work whose results come back in order.
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

    /** Returns over how many threads it loops, at most. */
    public int threads() {
        return threads;
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
        ExecutorService pool = pool(Math.min(threads, count));
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

    /**
     * Starts work on pieces that come one after another, while the next ones are being fetched.
     *
     * @param taker takes the results in the order of the pieces, in the thread that adds them
     */
    public <T> Ahead<T> ahead(Consumer<T> taker) {
        return new Ahead<>(threads, taker);
    }

    /** Pieces that are worked on while others are being fetched; used by one thread. */
    public static final class Ahead<T> implements AutoCloseable {
        private final Optional<ExecutorService> pool;
        private final int most;
        private final Consumer<T> taker;
        private final Deque<Future<T>> underway = new ArrayDeque<>();

        private Ahead(int threads, Consumer<T> taker) {
            this.pool = threads == 1 ? Optional.empty() : Optional.of(pool(threads));
            this.most = 2 * threads;
            this.taker = taker;
        }

        /** Adds a piece; waits for the first one while there are twice as many as threads. */
        public void add(Supplier<T> piece) {
            if (pool.isEmpty()) {
                taker.accept(piece.get());
                return;
            }
            if (underway.size() == most) {
                taker.accept(Parallel.get(underway.remove()));
            }
            underway.add(pool.get().submit(piece::get));
        }

        /** Waits for all pieces. */
        public void finish() {
            while (!underway.isEmpty()) {
                taker.accept(Parallel.get(underway.remove()));
            }
        }

        /** Stops what is underway. */
        @Override
        public void close() {
            pool.ifPresent(ExecutorService::shutdownNow);
        }
    }

    private static ExecutorService pool(int threads) {
        return Executors.newFixedThreadPool(threads, work -> {
            Thread thread = new Thread(work, "keenfold-worker");
            thread.setDaemon(true);
            return thread;
        });
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

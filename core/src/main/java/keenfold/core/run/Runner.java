package keenfold.core.run;

import java.util.List;
import java.util.concurrent.atomic.AtomicBoolean;
import keenfold.core.run.result.Fit;

/** Works through units in parallel. */
public final class Runner {
    private final Parallel parallel;
    private final AtomicBoolean stopped = new AtomicBoolean();

    private Runner(Parallel parallel) {
        this.parallel = parallel;
    }

    /** Returns a runner on the given number of threads. */
    public static Runner on(Parallel parallel) {
        return new Runner(parallel);
    }

    /** Is told what units took, before their fits are handed on; by one thread at a time. */
    @FunctionalInterface
    public interface Clock {
        /** A unit took so many seconds on its thread. */
        void took(Unit unit, double seconds);
    }

    /** Does the units, with nobody told what they take. */
    public void run(Comparison comparison, List<Unit> units, FitSink sink) {
        run(comparison, units, sink, (unit, seconds) -> {});
    }

    /**
     * Does the units, handing each one's fits to the sink as it finishes.
     *
     * <p>A failure of the sink ends the run and is thrown. After {@link #stop} units that have not begun are left out.
     */
    public void run(Comparison comparison, List<Unit> units, FitSink sink, Clock clock) {
        Fitter fitter = new Fitter(comparison);
        Object turn = new Object();
        parallel.map(units.size(), i -> {
            if (!stopped.get()) {
                long from = System.nanoTime();
                List<Fit> fits = fitter.fit(units.get(i));
                double seconds = (System.nanoTime() - from) * 1e-9;
                synchronized (turn) {
                    if (!stopped.get()) {
                        clock.took(units.get(i), seconds);
                        deliver(sink, units.get(i), fits);
                    }
                }
            }
            return i;
        });
    }

    private void deliver(FitSink sink, Unit unit, List<Fit> fits) {
        try {
            sink.accept(unit, fits);
        } catch (RuntimeException e) {
            stopped.set(true);
            throw e;
        }
    }

    /** Asks a running {@link #run} to end soon; callable from any thread. */
    public void stop() {
        stopped.set(true);
    }
}

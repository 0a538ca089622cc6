package keenfold.cli.console;

import java.time.Duration;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import keenfold.results.table.NumberFormats;
import me.tongfei.progressbar.ConsoleProgressBarConsumer;
import me.tongfei.progressbar.ProgressBar;
import me.tongfei.progressbar.ProgressBarBuilder;
import me.tongfei.progressbar.ProgressBarStyle;
import me.tongfei.progressbar.ProgressState;

/** How far a run is: a bar on a terminal, a line every few seconds elsewhere. */
public abstract class Progress implements AutoCloseable {
    public static Progress of(Console console, Common common, int total) {
        return of(console, common, total, "fitted", "units");
    }

    /**
     * Shows the progress of some work; steps may come from any thread.
     *
     * @param did what was done, such as fitted
     * @param units what of
     */
    public static Progress of(Console console, Common common, int total, String did, String units) {
        if (common.quiet()) {
            return new Silent();
        }
        return Console.interactive() ? new Bar(console, total, did, units) : new Lines(console, total, did, units);
    }

    /** One more step is done, and what is left takes as long as the others did. */
    public final void step() {
        step(Double.NaN);
    }

    /**
     * One more step is done.
     *
     * @param secondsLeft how long the rest will take; NaN for as long as the others did
     */
    public abstract void step(double secondsLeft);

    @Override
    public abstract void close();

    private static final class Silent extends Progress {
        @Override
        public void step(double secondsLeft) {}

        @Override
        public void close() {}
    }

    private static final class Bar extends Progress {
        private static final int UPDATE_MILLIS = 200;
        private static final int WIDTH = 98;

        private final ProgressBar bar;
        private volatile double left = Double.NaN;

        Bar(Console console, int total, String did, String units) {
            this.bar = new ProgressBarBuilder()
                    .setInitialMax(total)
                    .setTaskName(did)
                    .setUnit(" " + units, 1)
                    .showSpeed()
                    .setUpdateIntervalMillis(UPDATE_MILLIS)
                    .setStyle(ProgressBarStyle.ASCII)
                    .setEtaFunction(this::left)
                    .setConsumer(new ConsoleProgressBarConsumer(console.terminal(), WIDTH))
                    .build();
        }

        private Optional<Duration> left(ProgressState state) {
            if (!Double.isNaN(left)) {
                return Optional.of(Duration.ofMillis(Math.round(1000 * left)));
            }
            long done = state.getCurrent() - state.getStart();
            return done == 0
                    ? Optional.empty()
                    : Optional.of(state.getElapsedAfterStart()
                            .dividedBy(done)
                            .multipliedBy(state.getMax() - state.getCurrent()));
        }

        @Override
        public void step(double secondsLeft) {
            left = secondsLeft;
            bar.step();
        }

        @Override
        public void close() {
            bar.close();
        }
    }

    private static final class Lines extends Progress {
        private static final long EVERY_NANOS = TimeUnit.SECONDS.toNanos(5);

        private final Console console;
        private final int total;
        private final String did;
        private final String units;
        private final long begun = System.nanoTime();
        private long last = begun;
        private int done;

        Lines(Console console, int total, String did, String units) {
            this.console = console;
            this.total = total;
            this.did = did;
            this.units = units;
        }

        @Override
        public synchronized void step(double secondsLeft) {
            done++;
            long now = System.nanoTime();
            if (now - last >= EVERY_NANOS) {
                last = now;
                double seconds = (now - begun) * 1e-9;
                console.err()
                        .println(String.format(
                                Locale.ROOT,
                                "%s %d of %d %s, %.1f a second, about %s left",
                                did,
                                done,
                                total,
                                units,
                                done / seconds,
                                NumberFormats.duration(
                                        Double.isNaN(secondsLeft) ? seconds / done * (total - done) : secondsLeft)));
                console.err().flush();
            }
        }

        @Override
        public void close() {
            double seconds = (System.nanoTime() - begun) * 1e-9;
            console.err()
                    .println(String.format(Locale.ROOT, "%s %d of %d %s in %.1f s", did, done, total, units, seconds));
            console.err().flush();
        }
    }
}

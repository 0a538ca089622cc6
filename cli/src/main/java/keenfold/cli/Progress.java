package keenfold.cli;

import java.util.Locale;
import java.util.concurrent.TimeUnit;
import me.tongfei.progressbar.ConsoleProgressBarConsumer;
import me.tongfei.progressbar.ProgressBar;
import me.tongfei.progressbar.ProgressBarBuilder;
import me.tongfei.progressbar.ProgressBarStyle;

/** How far a run is: a bar on a terminal, a line every few seconds elsewhere. */
abstract class Progress implements AutoCloseable {
    static Progress of(Console console, Common common, int total) {
        if (common.quiet()) {
            return new Silent();
        }
        return Console.interactive() ? new Bar(console, total) : new Lines(console, total);
    }

    abstract void step();

    @Override
    public abstract void close();

    private static final class Silent extends Progress {
        @Override
        void step() {}

        @Override
        public void close() {}
    }

    private static final class Bar extends Progress {
        private static final int UPDATE_MILLIS = 200;
        private static final int WIDTH = 98;

        private final ProgressBar bar;

        Bar(Console console, int total) {
            this.bar = new ProgressBarBuilder()
                    .setInitialMax(total)
                    .setTaskName("fitting")
                    .setUnit(" units", 1)
                    .showSpeed()
                    .setUpdateIntervalMillis(UPDATE_MILLIS)
                    .setStyle(ProgressBarStyle.ASCII)
                    .setConsumer(new ConsoleProgressBarConsumer(console.err(), WIDTH))
                    .build();
        }

        @Override
        void step() {
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
        private final long begun = System.nanoTime();
        private long last = begun;
        private int done;

        Lines(Console console, int total) {
            this.console = console;
            this.total = total;
        }

        @Override
        void step() {
            done++;
            long now = System.nanoTime();
            if (now - last >= EVERY_NANOS) {
                last = now;
                double seconds = (now - begun) * 1e-9;
                console.err()
                        .println(String.format(
                                Locale.ROOT,
                                "fitting: %d of %d units, %.1f a second, about %.0f s left",
                                done,
                                total,
                                done / seconds,
                                seconds / done * (total - done)));
                console.err().flush();
            }
        }

        @Override
        public void close() {
            double seconds = (System.nanoTime() - begun) * 1e-9;
            console.err().println(String.format(Locale.ROOT, "fitted %d of %d units in %.1f s", done, total, seconds));
            console.err().flush();
        }
    }
}

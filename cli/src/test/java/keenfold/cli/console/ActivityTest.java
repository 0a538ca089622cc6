package keenfold.cli.console;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.Test;

class ActivityTest {
    private final List<String> said = new ArrayList<>();
    private final AtomicLong now = new AtomicLong();
    private final Activity activity = new Activity(said::add, now::get);

    private void after(double seconds) {
        now.addAndGet((long) (seconds * TimeUnit.SECONDS.toNanos(1)));
        activity.look();
    }

    @Test
    void itIsSaidAfterASecondAndThenEveryFewSeconds() {
        activity.begin("reading hives.csv");
        after(0.9);
        assertThat(said).isEmpty();
        after(0.2);
        assertThat(said).containsExactly("reading hives.csv: 1 s");
        after(3);
        assertThat(said).hasSize(1);
        activity.step(3, 12);
        after(3);
        assertThat(said).hasSize(2).last().isEqualTo("reading hives.csv: 7 s, 25 % of this step");
        activity.begin("scoring");
        after(1.5);
        assertThat(said).hasSize(3).last().isEqualTo("scoring: 2 s");
        activity.end();
        after(60);
        assertThat(said).hasSize(3);
    }

    /** A command that is over leaves no thread behind. */
    @Test
    void itsThreadEndsWithIt() throws InterruptedException {
        for (int i = 0; i < 20; i++) {
            Activity one = new Activity(said::add, now::get);
            one.begin("work");
            one.end();
        }
        long left = Long.MAX_VALUE;
        for (int i = 0; i < 30_000 && left > 0; i++) {
            Thread.sleep(20);
            left = Thread.getAllStackTraces().keySet().stream()
                    .filter(t -> t.getName().equals("keenfold-activity"))
                    .count();
        }
        assertThat(left).isZero();
    }
}

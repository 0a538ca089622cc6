package keenfold.cli;

import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.concurrent.atomic.AtomicInteger;
import keenfold.cli.console.Console;

/** The built program with a clock that goes back by an hour each time it is looked at. */
final class SetBack {
    private SetBack() {}

    public static void main(String[] args) {
        AtomicInteger looks = new AtomicInteger();
        Instant start = Instant.now();
        PrintStream out = new PrintStream(System.out, true, StandardCharsets.UTF_8);
        PrintStream err = new PrintStream(System.err, true, StandardCharsets.UTF_8);
        System.exit(Keenfold.execute(
                new Console(out, err, () -> start.minus(Duration.ofHours(looks.getAndIncrement()))), args));
    }
}

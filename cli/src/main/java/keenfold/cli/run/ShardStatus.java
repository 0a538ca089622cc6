package keenfold.cli.run;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
import keenfold.io.InputException;
import keenfold.io.WholeFile;
import keenfold.study.run.PlanRun;

/**
 * How far a shard is, in a small file that is replaced as a whole: a reader finds the old state or the new one, and the
 * ledger, which other machines must not open meanwhile, stays closed. A file that cannot be written stops nothing.
 */
final class ShardStatus implements PlanRun.Status {
    private static final long BETWEEN = TimeUnit.SECONDS.toNanos(2);

    private final Path file;
    private final String shard;
    private final Supplier<Instant> clock;
    private final Instant started;
    private final long begun = System.nanoTime();
    private long written = begun - BETWEEN;
    private int units;
    private int done;
    private int before;
    private int failedBefore;
    private double left = Double.NaN;

    /** @param clock the time of day, for those who read it; the clock may be set back, and nothing here waits for it */
    ShardStatus(Path file, Supplier<Instant> clock, String shard) {
        this.file = file;
        this.clock = clock;
        this.started = clock.get();
        this.shard = shard;
    }

    /**
     * What a file says.
     *
     * @param units all of the shard
     * @param done those that are in its ledger
     * @param failed fits in its ledger that failed
     * @param before units that were done when it was last started
     * @param seconds how long the shard had been at work since then, whatever the clock said
     * @param left seconds that the rest was to take; NaN if nothing was known of that
     */
    record Told(
            String shard,
            String state,
            int units,
            int done,
            int failed,
            int before,
            String host,
            double seconds,
            double left,
            Instant started,
            Instant updated) {}

    /**
     * A shard starts, or goes on.
     *
     * @param all its units
     * @param there those that are done already
     * @param failedThere fits among them that failed
     */
    @Override
    public synchronized void begin(int all, int there, int failedThere) {
        units = all;
        done = there;
        before = there;
        failedBefore = failedThere;
        write("running", 0);
    }

    @Override
    public synchronized void step(int failed, double secondsLeft) {
        done++;
        left = secondsLeft;
        if (System.nanoTime() - written >= BETWEEN) {
            write("running", failed);
        }
    }

    @Override
    public synchronized void end(int failed) {
        write(done < units ? "stopped" : "done", failed);
    }

    private void write(String state, int failed) {
        written = System.nanoTime();
        try {
            StringWriter text = new StringWriter();
            try (JsonGenerator json = new JsonFactory().createGenerator(text)) {
                json.writeStartObject();
                json.writeStringField("shard", shard);
                json.writeStringField("state", state);
                json.writeNumberField("units", units);
                json.writeNumberField("done", done);
                json.writeNumberField("failed", failedBefore + failed);
                json.writeNumberField("before", before);
                json.writeStringField("host", host());
                json.writeNumberField("seconds", TimeUnit.NANOSECONDS.toMillis(written - begun) * 1e-3);
                if (Double.isFinite(left)) {
                    json.writeNumberField("left", Math.round(left * 10) / 10.0);
                }
                json.writeStringField("started", started.toString());
                json.writeStringField("updated", clock.get().toString());
                json.writeEndObject();
            }
            WholeFile.text(file, text + "\n");
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (InputException e) {
            // A run does not end because nobody can be told how far it is; it is tried again at the next look.
            written = System.nanoTime();
        }
    }

    private static String host() {
        try {
            return InetAddress.getLocalHost().getHostName();
        } catch (UnknownHostException e) {
            return "unknown";
        }
    }

    /** Reads a file; nothing if it is not there, or says nothing. */
    static Optional<Told> read(Path file) {
        Map<String, String> all = new HashMap<>();
        try (JsonParser json = new JsonFactory().createParser(file.toFile())) {
            while (json.nextToken() != null) {
                if (json.currentToken() == JsonToken.FIELD_NAME) {
                    String name = json.currentName();
                    json.nextToken();
                    all.put(name, json.getText());
                }
            }
            return Optional.of(new Told(
                    text(all, "shard"),
                    text(all, "state"),
                    Integer.parseInt(text(all, "units")),
                    Integer.parseInt(text(all, "done")),
                    Integer.parseInt(text(all, "failed")),
                    Integer.parseInt(all.getOrDefault("before", "0")),
                    text(all, "host"),
                    Double.parseDouble(text(all, "seconds")),
                    Double.parseDouble(all.getOrDefault("left", "NaN")),
                    Instant.parse(text(all, "started")),
                    Instant.parse(text(all, "updated"))));
        } catch (IOException | RuntimeException e) {
            return Optional.empty();
        }
    }

    private static String text(Map<String, String> all, String key) {
        return Optional.ofNullable(all.get(key)).orElseThrow();
    }
}

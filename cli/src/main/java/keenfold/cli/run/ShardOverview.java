package keenfold.cli.run;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.io.InputException;
import keenfold.io.Reason;
import keenfold.io.ShellWords;
import keenfold.io.export.Flat;
import keenfold.view.text.NumberFormats;
import keenfold.view.text.TextTable;

/** How far the shards of a folder are that {@code scatter} wrote. */
final class ShardOverview {
    private static final int MOST_LISTED = 60;

    /** Seconds by which the clocks of two machines may differ before it is worth a word. */
    private static final double APART = 60;

    private static final Duration SILENT = Duration.ofMinutes(2);

    private final Console console;
    private final Common common;
    private final Path folder;
    private final int count;

    /** @throws InputException if it is no such folder */
    ShardOverview(Console console, Common common, Path folder) {
        this.console = console;
        this.common = common;
        this.folder = folder;
        this.count = count(folder);
    }

    private static int count(Path folder) {
        try {
            return Integer.parseInt(
                    Files.readString(folder.resolve(ShardFolder.SIZE)).strip());
        } catch (IOException | NumberFormatException e) {
            throw new InputException(
                    folder.toString(),
                    "is no folder that scatter wrote: it lacks a readable file \"" + ShardFolder.SIZE + "\"",
                    e);
        }
    }

    /** Says it, as text or as one JSON document. */
    void tell(boolean json) {
        Instant now = console.now();
        Map<String, ShardStatus.Told> byShard = told();
        Flat.Table rows =
                Flat.of("shard", "state", "units", "done", "failed", "host", "started", "updated", "silent_seconds");
        TextTable table = TextTable.empty()
                .column("shard", TextTable.Align.RIGHT)
                .column("state", TextTable.Align.LEFT)
                .column("done", TextTable.Align.RIGHT)
                .column("of", TextTable.Align.RIGHT)
                .column("failed", TextTable.Align.RIGHT)
                .column("host", TextTable.Align.NAME)
                .column("last heard of", TextTable.Align.RIGHT)
                .column("left, about", TextTable.Align.RIGHT);
        Map<String, Integer> states = new LinkedHashMap<>();
        int left = 0;
        Map<String, Double> ahead = new TreeMap<>();
        for (int i = 1; i <= count; i++) {
            String shard = i + "/" + count;
            Optional<ShardStatus.Told> told = Optional.ofNullable(byShard.get(shard));
            String state = told.map(t -> state(t, now)).orElse("waiting");
            states.merge(state, 1, Integer::sum);
            if (told.isEmpty()) {
                if (count <= MOST_LISTED) {
                    table.row(List.of(shard, state, "", "", "", "", "", ""));
                }
                rows.row(shard, state, 0, 0, 0, "", "", "", Double.NaN);
                continue;
            }
            ShardStatus.Told t = told.get();
            double silent = Duration.between(t.updated(), now).toMillis() / 1000.0;
            if (silent < -APART) {
                ahead.merge(t.host(), -silent, Math::max);
            }
            boolean quiet = state.equals("done") && t.failed() == 0;
            if (count > MOST_LISTED && (quiet || table.size() >= MOST_LISTED)) {
                left += quiet ? 0 : 1;
            } else {
                table.row(List.of(
                        shard,
                        state,
                        Integer.toString(t.done()),
                        Integer.toString(t.units()),
                        Integer.toString(t.failed()),
                        t.host(),
                        silent < 0 ? "just now" : NumberFormats.seconds(silent) + " ago",
                        state.equals("running") ? left(t) : ""));
            }
            rows.row(
                    shard,
                    state,
                    t.units(),
                    t.done(),
                    t.failed(),
                    t.host(),
                    t.started().toString(),
                    t.updated().toString(),
                    silent);
        }
        if (json) {
            rows.json(console.writer(), "folder", folder.toString());
            return;
        }
        print(table, states, left, ahead);
    }

    private void print(TextTable table, Map<String, Integer> states, int left, Map<String, Double> ahead) {
        console.out()
                .println(console.ink(common)
                        .strong(folder + ": " + count + (count == 1 ? " shard, " : " shards, ")
                                + states.entrySet().stream()
                                        .map(e -> e.getValue() + " " + e.getKey())
                                        .collect(Collectors.joining(", "))));
        if (table.size() > 0) {
            console.out().print(table.render(console.ink(common)));
        }
        if (count > MOST_LISTED) {
            console.out()
                    .println((left > 0 ? "and " + left + " more like these; " : "")
                            + "those that wait, or are done and had no failure, are not listed: --json has all");
        }
        if (Files.exists(folder.resolve("all.kfl"))) {
            console.out()
                    .println("\njoined: keenfold scores "
                            + ShellWords.quoted(folder.resolve("all.kfl").toString()));
        } else if (states.getOrDefault("done", 0) == count) {
            console.out()
                    .println("\nall are done; join them with: "
                            + ShellWords.quoted(folder.resolve("finish.sh").toString()));
        }
        if (!ahead.isEmpty()) {
            console.notices(
                    List.of("by the clock here the last word of "
                            + ahead.entrySet().stream()
                                    .map(h ->
                                            h.getKey() + " is still " + NumberFormats.seconds(h.getValue()) + " ahead")
                                    .collect(Collectors.joining(", of "))
                            + ": one of the clocks is wrong, or was set back, and whether a shard is silent cannot be"
                            + " told by it"),
                    common);
        }
    }

    private Map<String, ShardStatus.Told> told() {
        try (Stream<Path> files = Files.list(folder.resolve("ledgers"))) {
            return files.filter(f -> f.toString().endsWith(".status"))
                    .map(ShardStatus::read)
                    .flatMap(Optional::stream)
                    .collect(Collectors.toMap(ShardStatus.Told::shard, t -> t, (a, b) -> b));
        } catch (IOException e) {
            throw new InputException(folder.toString(), "cannot be read: " + Reason.ofReading(e), e);
        }
    }

    private static String state(ShardStatus.Told told, Instant now) {
        boolean silent = Duration.between(told.updated(), now).compareTo(SILENT) > 0;
        return told.state().equals("running") && silent ? "silent" : told.state();
    }

    private static String left(ShardStatus.Told t) {
        int now = t.done() - t.before();
        return now == 0 ? "" : NumberFormats.seconds(t.seconds() * (t.units() - t.done()) / now);
    }
}

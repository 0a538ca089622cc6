package keenfold.cli.run;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.io.InputException;
import keenfold.io.Reason;
import keenfold.io.ShellWords;
import keenfold.io.export.JsonExport;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;
import keenfold.results.table.ValueKind;
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

    /** One shard; nothing was told of one that has not started. */
    private record OfShard(String shard, String state, Optional<ShardStatus.Told> told, double silent) {
        <T> T of(Function<ShardStatus.Told, T> part, T otherwise) {
            return told.map(part).orElse(otherwise);
        }

        boolean quiet() {
            return told.isEmpty() || (state.equals("done") && told.get().failed() == 0);
        }
    }

    /** Says it, as text or as one JSON document. */
    void tell(boolean json) {
        Instant now = console.now();
        Map<String, ShardStatus.Told> byShard = told();
        List<OfShard> all = new ArrayList<>();
        for (int i = 1; i <= count; i++) {
            String shard = i + "/" + count;
            Optional<ShardStatus.Told> told = Optional.ofNullable(byShard.get(shard));
            double silent = told.map(t -> Duration.between(t.updated(), now).toMillis() / 1000.0)
                    .orElse(Double.NaN);
            all.add(new OfShard(shard, told.map(t -> state(t, now)).orElse("waiting"), told, silent));
        }
        if (json) {
            Map<String, Object> document = new LinkedHashMap<>();
            document.put("folder", folder.toString());
            document.put("rows", table().of(all));
            JsonExport.write(document, List.of(), console.writer());
            return;
        }
        Map<String, Integer> states = new LinkedHashMap<>();
        Map<String, Double> ahead = new TreeMap<>();
        for (OfShard one : all) {
            states.merge(one.state(), 1, Integer::sum);
            one.told()
                    .filter(t -> one.silent() < -APART)
                    .ifPresent(t -> ahead.merge(t.host(), -one.silent(), Math::max));
        }
        List<OfShard> told = count <= MOST_LISTED
                ? all
                : all.stream().filter(s -> !s.quiet()).toList();
        int left = Math.max(0, told.size() - MOST_LISTED);
        print(
                TextTable.of(table().of(told.subList(0, Math.min(told.size(), MOST_LISTED)))),
                states,
                count <= MOST_LISTED ? 0 : left,
                ahead);
    }

    private static ResultTable.Definition<OfShard> table() {
        return ResultTable.<OfShard>define()
                .column("shard", ValueKind.WHOLE, OfShard::shard)
                .text("state", OfShard::state)
                .column("units", ValueKind.WHOLE, s -> s.of(ShardStatus.Told::units, 0))
                .programs()
                .column("done", ValueKind.WHOLE, s -> s.of(ShardStatus.Told::done, 0))
                .programs()
                .column("", ValueKind.WHOLE, s -> s.of(t -> Integer.toString(t.done()), ""))
                .headed("done")
                .people()
                .column("", ValueKind.WHOLE, s -> s.of(t -> Integer.toString(t.units()), ""))
                .headed("of")
                .people()
                .column("failed", ValueKind.WHOLE, s -> s.of(ShardStatus.Told::failed, 0))
                .programs()
                .column("", ValueKind.WHOLE, s -> s.of(t -> Integer.toString(t.failed()), ""))
                .headed("failed")
                .people()
                .name("host", s -> s.of(ShardStatus.Told::host, ""))
                .text("started", s -> s.of(t -> t.started().toString(), ""))
                .programs()
                .text("updated", s -> s.of(t -> t.updated().toString(), ""))
                .programs()
                .number("silent_seconds", ValueKind.SECONDS, OfShard::silent)
                .programs()
                .column("", ValueKind.WHOLE, ShardOverview::heard)
                .headed("last heard of")
                .people()
                .column("", ValueKind.WHOLE, s -> s.state().equals("running") ? s.of(ShardOverview::left, "") : "")
                .headed("left, about")
                .people();
    }

    private static String heard(OfShard s) {
        return Double.isNaN(s.silent()) ? "" : s.silent() < 0 ? "just now" : NumberFormats.seconds(s.silent()) + " ago";
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
            console.notice(
                    "clocks-differ",
                    "by the clock here the last word of "
                            + ahead.entrySet().stream()
                                    .map(h ->
                                            h.getKey() + " is still " + NumberFormats.seconds(h.getValue()) + " ahead")
                                    .collect(Collectors.joining(", of "))
                            + ": one of the clocks is wrong, or was set back, and whether a shard is silent cannot be"
                            + " told by it",
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
        double left = Double.isNaN(t.left()) ? t.seconds() * (t.units() - t.done()) / now : t.left();
        return now == 0 ? "" : NumberFormats.duration(left);
    }
}

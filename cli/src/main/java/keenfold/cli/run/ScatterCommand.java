package keenfold.cli.run;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.OptionValues;
import keenfold.cli.plan.LoadedPlan;
import keenfold.cli.plan.PlanFiles;
import keenfold.core.data.Checks;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Runner;
import keenfold.core.run.Shares;
import keenfold.core.run.Unit;
import keenfold.core.run.candidate.Family;
import keenfold.io.InputException;
import keenfold.io.Reason;
import keenfold.io.ShellWords;
import keenfold.io.WholeFile;
import keenfold.io.command.CommandKind;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.plan.PlanWriter;
import keenfold.io.table.TableLocation;
import keenfold.view.text.NumberFormats;
import keenfold.view.text.TextTable;
import keenfold.view.text.Wrap;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Writes what a scheduler needs to run a plan in shards. */
@Command(
        name = "scatter",
        description =
                "Writes a folder with all that a plan needs to run in shards on many machines: a job array for Slurm,"
                        + " an indexed job for Kubernetes, a plain loop; and, with --status, says how far the shards are.")
public final class ScatterCommand implements Callable<Integer> {
    private static final String SIZE = "shards";
    private static final double SAFETY = 3;
    private static final double START_SECONDS = 60;
    private static final double LEAST_MINUTES = 5;
    private static final long LEAST_MEGABYTES = 1024;
    private static final int MOST_EFFORTS = 12;

    private static final int MOST_LISTED = 60;

    /** One less than Slurm's own limit, as it comes. */
    private static final int MOST_IN_ARRAY = 1000;

    /** Seconds by which the clocks of two machines may differ before it is worth a word. */
    private static final double APART = 60;

    private static final Duration SILENT = Duration.ofMinutes(2);
    private static final Pattern MARK = Pattern.compile("@([A-Z]+)@");

    private final Console console;

    @Parameters(
            arity = "0..1",
            paramLabel = "PLAN",
            description = "a plan; a seed is drawn and written into the folder's if it has none")
    private Optional<Path> plan = Optional.empty();

    @Option(names = "--shards", paramLabel = "N", description = "how many shares")
    private Optional<Integer> shards = Optional.empty();

    @Option(
            names = {"-o", "--output"},
            paramLabel = "DIR",
            description = "the folder to write, on the disk that all machines share")
    private Optional<Path> output = Optional.empty();

    @Option(names = "--status", paramLabel = "DIR", description = "says how far the shards of such a folder are")
    private Optional<Path> status = Optional.empty();

    @Option(names = "--threads", paramLabel = "T", description = "threads of each shard (1)")
    private int threads = 1;

    @Option(
            names = "--image",
            paramLabel = "NAME",
            description = "Kubernetes: the image that has keenfold (keenfold:latest)")
    private String image = "keenfold:latest";

    @Option(
            names = "--claim",
            paramLabel = "NAME",
            description = "Kubernetes: the volume claim of the shared disk (shared)")
    private String claim = "shared";

    @Option(names = "--no-timing", description = "do not time a few fits first: all are taken to take equally long")
    private boolean untimed;

    @Option(
            names = "--allow-commands",
            description = "let candidates of the kind command run their programs, here and in the shards")
    private boolean allowCommands;

    @Option(names = "--data", paramLabel = "DIR", description = "look for the data here too, after the plan's folder")
    private Optional<Path> data = Optional.empty();

    @Option(names = "--json", description = "with --status: one JSON document instead of text")
    private boolean json;

    @Spec
    private CommandSpec command;

    @Mixin
    private Common common = new Common();

    public ScatterCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        if (status.isPresent()) {
            tell(status.get());
            return Exit.DONE;
        }
        Path from = plan.orElseThrow(() -> wrong("name a plan, --shards N and -o DIR; or --status DIR"));
        int count = shards.orElseThrow(() -> wrong("--shards N is missing: how many shares there are to be"));
        Path to = output.orElseThrow(() -> wrong("-o DIR is missing: the folder to write"));
        OptionValues.checked(command, () -> Checks.atLeast("--shards", count, 1));
        OptionValues.checked(command, () -> Checks.atLeast("--threads", threads, 1));
        write(from, count, to);
        return Exit.DONE;
    }

    private ParameterException wrong(String cause) {
        return new ParameterException(command.commandLine(), cause);
    }

    // Writing the folder.

    private void write(Path from, int count, Path to) {
        if (Files.exists(to.resolve("plan.yaml"))) {
            throw new InputException(to.toString(), "holds a scattered plan already; name another folder");
        }
        String[] there = Optional.ofNullable(to.toFile().list()).orElse(new String[0]);
        if (there.length > 0) {
            throw new InputException(
                    to.toString(), "holds files already, such as " + there[0] + "; name a new or an empty folder");
        }
        Plan read = PlanReader.read(from, allowCommands);
        boolean commands = read.candidates().stream()
                .anyMatch(c -> !CommandKind.startedBy(c).isEmpty());
        if (commands && !allowCommands) {
            throw new InputException(
                    from.toString(),
                    "has candidates that run programs; if you trust them, say so with --allow-commands");
        }
        if (read.data().stream().anyMatch(d -> d.file().equals(TableLocation.STANDARD_INPUT))) {
            throw new InputException(
                    from.toString(), "reads standard input, which shards do not have; name a file on the shared disk");
        }
        boolean drawn = read.seed().isEmpty();
        Plan seeded = drawn ? read.withSeed(LoadedPlan.drawnSeed()) : read;
        List<Path> folders = new ArrayList<>();
        folders.add(Optional.ofNullable(from.getParent()).orElse(Path.of("")));
        data.ifPresent(folders::add);
        console.doing("reading the data", common);
        LoadedPlan job = LoadedPlan.of(seeded, from.toString(), folders);
        console.notices(job.notices(), common);
        job.requireRoom(Runtime.getRuntime().maxMemory());
        boolean measures = !untimed && seeded.effort().isEmpty();
        console.doing(measures ? "timing one fit of each family" : "dividing the units", common);
        Map<String, Double> effort = measures ? measured(job.comparison()) : seeded.effort();
        int refits = seeded.evidence().refits();
        long dividing = System.nanoTime();
        double[] loads = new Shares(job.comparison(), refits, effort, count).loads();
        // Each shard divides the units for itself, and goes through them twice more.
        double starting = 1 + 2e-9 * (System.nanoTime() - dividing);
        boolean timed = !effort.isEmpty();
        double longest = Arrays.stream(loads).max().orElse(0) / threads;
        int minutes =
                timed ? (int) Math.ceil(Math.max(LEAST_MINUTES, (START_SECONDS + SAFETY * longest) / 60)) : 24 * 60;
        long megabytes = megabytes();
        Plan scattered = PlanFiles.relativeTo(found(seeded, folders), to).withEffort(effort);
        Map<String, String> values = new LinkedHashMap<>();
        values.put("SHARDS", Integer.toString(count));
        values.put("LAST", Integer.toString(count - 1));
        values.put("THREADS", Integer.toString(threads));
        values.put("MINUTES", Integer.toString(minutes));
        values.put("MEGABYTES", Long.toString(megabytes));
        values.put("HEAP", Long.toString(megabytes * 3 / 4));
        values.put("IMAGE", image);
        values.put("CLAIM", claim);
        values.put("DIR", ShellWords.always(to.toAbsolutePath().normalize().toString()));
        values.put("NAME", name(to));
        values.put("FOLDER", yaml(to.toAbsolutePath().normalize().toString()));
        values.put("MOUNT", yaml(mount(to, found(seeded, folders)).toString()));
        values.put(
                "PROGRAM",
                ShellWords.always(
                        Optional.ofNullable(System.getenv("KEENFOLD_LAUNCHER")).orElse("keenfold")));
        values.put("OPTIONS", allowCommands ? " --allow-commands" : "");
        try {
            Files.createDirectories(to.resolve("ledgers"));
            Files.createDirectories(to.resolve("logs"));
            WholeFile.text(to.resolve("plan.yaml"), PlanWriter.write(scattered));
            for (String file :
                    List.of("shard.sh", "finish.sh", "loop.sh", "slurm.sh", "slurm-array.sh", "slurm-finish.sh")) {
                WholeFile.text(to.resolve(file), filled(file, values));
                Checks.that(to.resolve(file).toFile().setExecutable(true, false), "%s cannot be made executable", file);
            }
            WholeFile.text(to.resolve("kubernetes.yaml"), filled("kubernetes.yaml", values));
            WholeFile.text(to.resolve(SIZE), count + "\n");
        } catch (IOException e) {
            throw new InputException(to.toString(), "cannot be written: " + Reason.of(e), e);
        }
        say(job, count, to, effort, loads, minutes, megabytes);
        List<String> notices = new ArrayList<>();
        if (timed && count > 1 && longest < 2 * starting) {
            notices.add(
                    "a shard takes about " + NumberFormats.seconds(starting) + " to start and to know its share, and "
                            + NumberFormats.seconds(longest) + " to do it: fewer and larger shards waste less");
        }
        if (count > MOST_IN_ARRAY) {
            notices.add("Slurm refuses arrays beyond its MaxArraySize, which is 1001 unless its administrator raised it"
                    + " (scontrol show config); with at most 1000 shards it is not met");
        }
        console.notices(notices, common);
        if (drawn) {
            console.notices(
                    List.of("the plan has no seed; " + seeded.seed().orElseThrow() + " was drawn and stands in "
                            + to.resolve("plan.yaml")),
                    common);
        }
    }

    /** The plan with all of its files where they were found. */
    private static Plan found(Plan plan, List<Path> folders) {
        return PlanFiles.moved(plan, file -> {
            TableLocation where = TableLocation.of(file, folders);
            return where.file() + where.part().map(p -> "#" + p).orElse("");
        });
    }

    /** The deepest folder that has the scattered plan and all of its data in it. */
    private static Path mount(Path to, Plan found) {
        Path common = to.toAbsolutePath().normalize();
        for (var data : found.data()) {
            Path file = TableLocation.of(data.file(), List.of(Path.of("")))
                    .file()
                    .toAbsolutePath()
                    .normalize();
            while (!file.startsWith(common)) {
                common = Optional.ofNullable(common.getParent()).orElse(file.getRoot());
            }
        }
        return common;
    }

    /** Kubernetes takes small letters, digits and hyphens. */
    private static String name(Path to) {
        String plain = to.toAbsolutePath()
                .normalize()
                .getFileName()
                .toString()
                .toLowerCase(Locale.ROOT)
                .replaceAll("[^a-z0-9]+", "-")
                .replaceAll("^-+|-+$", "");
        return plain.isEmpty() ? "keenfold" : plain.substring(0, Math.min(40, plain.length()));
    }

    private static String yaml(String text) {
        return "'" + text.replace("'", "''") + "'";
    }

    private static String filled(String name, Map<String, String> values) throws IOException {
        String text;
        try (InputStream in = ScatterCommand.class.getResourceAsStream("scatter/" + name)) {
            if (in == null) {
                throw new IllegalStateException(name + " is not in the jar");
            }
            text = new String(in.readAllBytes(), StandardCharsets.UTF_8);
        }
        return MARK.matcher(text)
                .replaceAll(m -> Matcher.quoteReplacement(
                        Optional.ofNullable(values.get(m.group(1))).orElseThrow()));
    }

    /** Seconds of one unit of each family, on the data set of the most rows: the second of two, since the first warms up. */
    private Map<String, Double> measured(Comparison comparison) {
        int largest = 0;
        for (int t = 1; t < comparison.tasks().size(); t++) {
            if (comparison.tasks().get(t).data().rows()
                    > comparison.tasks().get(largest).data().rows()) {
                largest = t;
            }
        }
        int task = largest;
        Map<String, Double> seconds = new LinkedHashMap<>();
        List<Family> families = comparison.families();
        List<List<Unit>> some =
                families.stream().map(f -> (List<Unit>) new ArrayList<Unit>()).toList();
        comparison.forEachUnit(u -> {
            if (u.task() == task && some.get(u.family()).size() < 2) {
                some.get(u.family()).add(u);
            }
        });
        for (int f = 0; f < families.size(); f++) {
            double last = 0;
            for (Unit unit : some.get(f)) {
                long from = System.nanoTime();
                Runner.on(Parallel.of(1)).run(comparison, List.of(unit), (u, fits) -> {});
                last = (System.nanoTime() - from) / 1e9;
            }
            // Three digits say enough, and keep the plan readable.
            seconds.put(
                    families.get(f).name(),
                    Double.parseDouble(String.format(Locale.ROOT, "%.3g", Math.max(1e-4, last))));
        }
        return seconds;
    }

    /** What this process takes after it has read the data and made some fits, and as much again. */
    private static long megabytes() {
        Runtime runtime = Runtime.getRuntime();
        long used = runtime.totalMemory() >> 20;
        return Math.max(LEAST_MEGABYTES, (2 * used + 511) / 512 * 512);
    }

    private void say(
            LoadedPlan job,
            int count,
            Path to,
            Map<String, Double> effort,
            double[] loads,
            int minutes,
            long megabytes) {
        int units = job.comparison().unitCount();
        console.out()
                .println(
                        console.ink(common).strong(units + " units in " + count + (count == 1 ? " shard" : " shards")));
        if (!effort.isEmpty()) {
            double longest = Arrays.stream(loads).max().orElse(0) / threads;
            double shortest = Arrays.stream(loads).min().orElse(0) / threads;
            console.out()
                    .print(Wrap.lines(
                            "about "
                                    + (NumberFormats.seconds(shortest).equals(NumberFormats.seconds(longest))
                                            ? ""
                                            : NumberFormats.seconds(shortest) + " to ")
                                    + NumberFormats.seconds(longest) + " a shard on "
                                    + threads + (threads == 1 ? " thread" : " threads")
                                    + " of this machine's kind, from "
                                    + efforts(effort) + " a unit",
                            0));
        }
        console.out()
                .print(Wrap.lines(
                        "asked for: " + minutes + " min"
                                + (effort.isEmpty()
                                        ? " (nothing was timed)"
                                        : " (three times the longest and a minute to start, at least 5)")
                                + "; " + megabytes + " MB",
                        0));
        console.out().println();
        TextTable table =
                TextTable.empty().column("start it with", TextTable.Align.LEFT).column("", TextTable.Align.LEFT);
        table.row(List.of(
                ShellWords.quoted(to.resolve("slurm.sh").toString()),
                "Slurm: an array, then a job that merges and reports"));
        table.row(List.of(
                ShellWords.quoted(to.resolve("loop.sh").toString()), "no scheduler: one shard after the other, here"));
        table.row(List.of(
                "kubectl apply -f "
                        + ShellWords.quoted(to.resolve("kubernetes.yaml").toString()),
                "Kubernetes: an indexed job"));
        table.row(List.of("keenfold scatter --status " + ShellWords.quoted(to.toString()), "how far the shards are"));
        console.out().print(table.render(console.ink(common)));
    }

    /** What a unit of each takes; of many the longest, since those decide. */
    private static String efforts(Map<String, Double> effort) {
        boolean many = effort.size() > MOST_EFFORTS;
        Stream<Map.Entry<String, Double>> shown = many
                ? effort.entrySet().stream()
                        .sorted(Map.Entry.<String, Double>comparingByValue().reversed())
                        .limit(MOST_EFFORTS)
                : effort.entrySet().stream();
        return shown.map(e -> e.getKey() + " " + NumberFormats.seconds(e.getValue()))
                        .collect(Collectors.joining(", "))
                + (many ? " and " + (effort.size() - MOST_EFFORTS) + " others less" : "");
    }

    // How far the shards are.

    private static int count(Path folder) {
        try {
            return Integer.parseInt(Files.readString(folder.resolve(SIZE)).strip());
        } catch (IOException | NumberFormatException e) {
            throw new InputException(
                    folder.toString(), "is no folder that scatter wrote: it lacks a readable file \"" + SIZE + "\"", e);
        }
    }

    private void tell(Path folder) {
        int count = count(folder);
        List<ShardStatus.Told> all = new ArrayList<>();
        Instant now = console.now();
        try (Stream<Path> files = Files.list(folder.resolve("ledgers"))) {
            files.filter(f -> f.toString().endsWith(".status"))
                    .map(ShardStatus::read)
                    .flatMap(Optional::stream)
                    .forEach(all::add);
        } catch (IOException e) {
            throw new InputException(folder.toString(), "cannot be read: " + Reason.ofReading(e), e);
        }
        Map<String, ShardStatus.Told> byShard =
                all.stream().collect(Collectors.toMap(ShardStatus.Told::shard, t -> t, (a, b) -> b));
        keenfold.io.export.Flat.Table rows = keenfold.io.export.Flat.of(
                "shard", "state", "units", "done", "failed", "host", "started", "updated", "silent_seconds");
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

    private static String state(ShardStatus.Told told, Instant now) {
        boolean silent = Duration.between(told.updated(), now).compareTo(SILENT) > 0;
        return told.state().equals("running") && silent ? "silent" : told.state();
    }

    private static String left(ShardStatus.Told t) {
        int now = t.done() - t.before();
        return now == 0 ? "" : NumberFormats.seconds(t.seconds() * (t.units() - t.done()) / now);
    }
}

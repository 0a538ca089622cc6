package keenfold.cli.run;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
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
import keenfold.io.ShellWords;
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
    private static final double SAFETY = 3;
    private static final double START_SECONDS = 60;
    private static final double LEAST_MINUTES = 5;
    private static final long LEAST_MEGABYTES = 1024;
    private static final int MOST_EFFORTS = 12;

    /** One less than Slurm's own limit, as it comes. */
    private static final int MOST_IN_ARRAY = 1000;

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
            new ShardOverview(console, common, status.get()).tell(json);
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

    private void write(Path from, int count, Path to) {
        ShardFolder.requireNew(to);
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
        values.put("NAME", ShardFolder.name(to));
        values.put("FOLDER", ShardFolder.yaml(to.toAbsolutePath().normalize().toString()));
        values.put("MOUNT", ShardFolder.yaml(mount(to, found(seeded, folders)).toString()));
        values.put(
                "PROGRAM",
                ShellWords.always(
                        Optional.ofNullable(System.getenv("KEENFOLD_LAUNCHER")).orElse("keenfold")));
        values.put("OPTIONS", allowCommands ? " --allow-commands" : "");
        ShardFolder.write(to, count, PlanWriter.write(scattered), values);
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
}

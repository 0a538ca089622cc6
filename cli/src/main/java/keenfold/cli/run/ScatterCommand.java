package keenfold.cli.run;

import java.io.File;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.ConsoleWatcher;
import keenfold.cli.console.Exit;
import keenfold.cli.console.OptionValues;
import keenfold.core.data.Checks;
import keenfold.io.InputException;
import keenfold.io.ShellWords;
import keenfold.io.command.CommandKind;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.plan.PlanWriter;
import keenfold.io.table.TableLocation;
import keenfold.study.plan.LoadedPlan;
import keenfold.study.plan.PlanFiles;
import keenfold.study.run.Scattering;
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
    private final Console console;

    @Parameters(
            arity = "0..1",
            paramLabel = "PLAN",
            description = "a plan; if it has no seed, one is drawn and written into the folder's copy")
    private Optional<Path> plan = Optional.empty();

    @Option(names = "--shards", paramLabel = "N", description = "how many shares")
    private Optional<Integer> shards = Optional.empty();

    @Option(
            names = {"-o", "--output"},
            paramLabel = "DIR",
            description = "the folder to write, on the disk that all machines share")
    private Optional<Path> output = Optional.empty();

    @Option(names = "--status", paramLabel = "DIR", description = "shows the progress of the shards of such a folder")
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
        Scattering scattering = Scattering.of(job, count, threads, !untimed, new ConsoleWatcher(console, common));
        Plan scattered =
                PlanFiles.relativeTo(Scattering.found(seeded, folders), to).withEffort(scattering.effort());
        ShardFolder.write(
                to, count, PlanWriter.write(scattered), values(scattering, to, Scattering.found(seeded, folders)));
        console.out().print(ScatterText.render(scattering, to, console.ink(common)));
        console.notices(scattering.notices(), common);
        if (drawn) {
            console.notice(
                    "seed-drawn",
                    "the plan has no seed; " + seeded.seed().orElseThrow() + " was drawn and stands in "
                            + to.resolve("plan.yaml"),
                    common);
        }
    }

    /** What stands in the place of each mark of the files. */
    private Map<String, String> values(Scattering scattering, Path to, Plan found) {
        Path folder = to.toAbsolutePath().normalize();
        Map<String, String> values = new LinkedHashMap<>();
        values.put("SHARDS", Integer.toString(scattering.count()));
        values.put("LAST", Integer.toString(scattering.count() - 1));
        values.put("THREADS", Integer.toString(threads));
        values.put("MINUTES", Integer.toString(scattering.minutes()));
        values.put("MEGABYTES", Long.toString(scattering.megabytes()));
        values.put("HEAP", Long.toString(scattering.megabytes() * 3 / 4));
        values.put("IMAGE", image);
        values.put("CLAIM", claim);
        values.put("NAME", ShardFolder.name(to));
        Path mount = Scattering.mount(to, found);
        String below = mount.relativize(folder).toString().replace(File.separatorChar, '/');
        values.put("FOLDER", ShardFolder.yaml("/shared/" + below));
        values.put("MOUNT", mount.toString().replaceAll("\\p{C}", "?"));
        values.put(
                "PROGRAM",
                ShellWords.always(
                        Optional.ofNullable(System.getenv("KEENFOLD_LAUNCHER")).orElse("keenfold")));
        values.put("OPTIONS", allowCommands ? " --allow-commands" : "");
        return values;
    }
}

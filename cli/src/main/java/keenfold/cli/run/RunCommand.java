package keenfold.cli.run;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.OptionValues;
import keenfold.cli.console.Threads;
import keenfold.core.data.Plural;
import keenfold.core.run.Shard;
import keenfold.io.InputException;
import keenfold.io.OutputFile;
import keenfold.io.ShellWords;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.study.plan.LoadedPlan;
import keenfold.study.plan.PlanFiles;
import keenfold.study.plan.ProgramsAllowed;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Runs a plan into a ledger. */
@Command(
        name = "run",
        description = "Trains and tests every candidate of a plan on every split, in parallel, into a ledger. An"
                + " interrupted run goes on where it stopped when it is started again.")
public final class RunCommand implements Callable<Integer> {
    private final Console console;

    @Parameters(paramLabel = "PLAN", description = "the plan (YAML)")
    private Path plan = Path.of("");

    @Option(
            names = {"-o", "--ledger"},
            paramLabel = "LEDGER",
            required = true,
            description = "the ledger to fill; created if it does not exist")
    private Path ledger = Path.of("");

    @Option(names = "--data", paramLabel = "DIR", description = "look for the data here too, after the plan's folder")
    private Optional<Path> data = Optional.empty();

    @Option(names = "--retry", description = "repeat fits that failed before")
    private boolean retry;

    @Option(
            names = "--allow-commands",
            description =
                    "let candidates of the kind command run their programs; review a plan from someone else first")
    private boolean allowCommands;

    @Option(
            names = "--train-scores",
            description = "score each fit on its own training rows too, to be read by scores --train-scores")
    private boolean trainScores;

    @Option(
            names = "--shard",
            paramLabel = "I/N",
            description = "does the I-th of N shares into a ledger of its own, which merge joins with the others;"
                    + " from-env takes both from the scheduler whose job this is")
    private Optional<String> shard = Optional.empty();

    @Option(
            names = "--status",
            paramLabel = "FILE",
            description = "with --shard: says in this file how far it is, for scatter --status")
    private Optional<Path> status = Optional.empty();

    @Spec
    private CommandSpec command;

    @Mixin
    private Threads threads = new Threads();

    @Mixin
    private Common common = new Common();

    public RunCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        int workers = threads.count();
        Optional<Shard> share = share();
        Plan read = PlanReader.read(plan, allowCommands);
        if (share.isPresent() && read.seed().isEmpty()) {
            throw new InputException(
                    plan.toString(),
                    "has no seed, and shards with different ones would be of different comparisons: write one into it,"
                            + " such as seed: 7");
        }
        Plan seeded = LoadedPlan.seeded(read, ledger);
        List<Path> folders = new ArrayList<>();
        folders.add(Optional.ofNullable(plan.getParent()).orElse(Path.of("")));
        data.ifPresent(folders::add);
        ProgramsAllowed.require(seeded, plan, allowCommands);
        List<Path> inputs = PlanFiles.inputs(plan, seeded, folders);
        OutputFile.requireOther(ledger, inputs);
        status.ifPresent(s -> {
            OutputFile.requireOther(s, inputs);
            OutputFile.requireOther(s, List.of(ledger));
            if (Files.isRegularFile(s)
                    && s.toFile().length() > 0
                    && ShardStatus.read(s).isEmpty()) {
                throw new InputException(
                        s.toString(),
                        "is there already, and is not the status of a run; name another file with --status");
            }
        });
        console.doing("reading the data", common);
        LoadedPlan made = LoadedPlan.of(seeded, plan.toString(), folders);
        LoadedPlan job =
                new LoadedPlan(made.plan(), made.data(), made.comparison().withTrainScores(trainScores));
        console.notices(job.notices(), common);
        job.requireRoom(Runtime.getRuntime().maxMemory());
        Execution execution = new Execution(console, common, workers);
        status.ifPresent(f -> execution.telling(
                new ShardStatus(f, console::now, share.map(Shard::toString).orElse("1/1"))));
        int failed = execution.run(
                job,
                ledger,
                retry,
                "keenfold run " + ShellWords.quoted(plan.toString()) + " -o " + ShellWords.quoted(ledger.toString())
                        + share.map(s -> " --shard " + s).orElse("")
                        + (trainScores ? " --train-scores" : "")
                        + (allowCommands ? " --allow-commands" : ""),
                share);
        console.say(
                share.map(s -> "shard " + s + " is done; join all with: keenfold merge SHARD... -o LEDGER")
                        .orElse("seed " + seeded.seed().orElseThrow() + "; read with: keenfold scores "
                                + ShellWords.quoted(ledger.toString()) + (trainScores ? " --train-scores" : "")),
                common);
        if (failed > 0) {
            console.say(
                    Plural.of(failed, "fit") + " failed; keenfold export " + ShellWords.quoted(ledger.toString())
                            + " --what fits lists them",
                    common);
        }
        return failed > 0 ? Exit.SOME_FAILED : Exit.DONE;
    }

    private Optional<Shard> share() {
        return OptionValues.checked(
                command,
                () -> shard.map(s -> s.equals("from-env") ? Scheduled.shard(System.getenv()) : Shard.parse(s)),
                why -> "--shard: " + why);
    }
}

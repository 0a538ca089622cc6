package keenfold.cli.run;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.cli.console.ColumnRoles;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.ConsoleWatcher;
import keenfold.cli.console.Exit;
import keenfold.cli.console.OptionValues;
import keenfold.cli.console.Replacing;
import keenfold.cli.console.TableOptions;
import keenfold.cli.console.Threads;
import keenfold.io.OutputFile;
import keenfold.io.ShellWords;
import keenfold.io.WholeFile;
import keenfold.io.export.JsonExport;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanWriter;
import keenfold.io.table.DataSpec;
import keenfold.io.table.parse.TableFormat;
import keenfold.results.Picking;
import keenfold.study.Study;
import keenfold.study.StudySettings;
import keenfold.study.plan.LoadedPlan;
import keenfold.study.plan.PlanFiles;
import keenfold.study.plan.QuickPlan;
import keenfold.view.text.ComparisonView;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** The whole job in one call. */
@Command(
        name = "compare",
        description = "Compares classifiers on a table in one call: trains and tests each on the same folds, then shows"
                + " the pick with its price, scores and contrasts on one screen.")
public final class CompareCommand implements Callable<Integer> {
    private final Console console;

    @Spec
    private CommandSpec command;

    @Mixin
    private TableOptions table = new TableOptions();

    @Mixin
    private ColumnRoles roles = new ColumnRoles();

    @Option(
            names = "--order",
            paramLabel = "COL",
            description = "numbers or dates that say which rows came first; each split trains on what came before")
    private Optional<String> order = Optional.empty();

    @Option(names = "--folds", paramLabel = "K", description = "folds of a repeat (10)")
    private Optional<Integer> folds = Optional.empty();

    @Option(
            names = "--repeats",
            paramLabel = "R",
            description = "fresh divisions (10; fewer, down to 2, of a large table)")
    private Optional<Integer> repeats = Optional.empty();

    @Option(names = "--metric", paramLabel = "NAME", description = "the metric to compare and pick by (auc)")
    private Optional<String> metric = Optional.empty();

    @Option(names = "--seed", paramLabel = "N", description = "seed of all random numbers (drawn and shown)")
    private Optional<Long> seed = Optional.empty();

    @Option(
            names = "--try",
            paramLabel = "CANDIDATE",
            description = "what to compare instead: '[NAME=]CLASSIFIER [setting=value[,value...]]...', such as 'nearest"
                    + " neighbours=3,9'; may be repeated")
    private List<String> candidates = new ArrayList<>();

    @Option(names = "--full", description = "everything, 10 x 10, however large the table is and however long it takes")
    private boolean full;

    @Option(names = "--save-plan", paramLabel = "PLAN", description = "write the plan of this call to a file")
    private Optional<Path> savePlan = Optional.empty();

    @Option(
            names = {"-o", "--ledger"},
            paramLabel = "LEDGER",
            description = "the ledger to fill (DATA.kfl here; continues it if plan and data agree, or takes the next"
                    + " free number)")
    private Optional<Path> ledger = Optional.empty();

    @Option(names = "--json", description = "the scores as one JSON document instead of text")
    private boolean json;

    @Mixin
    private Threads threads = new Threads();

    @Mixin
    private Replacing replacing = new Replacing();

    @Mixin
    private Common common = new Common();

    public CompareCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        int workers = threads.count();
        ConsoleWatcher watcher = new ConsoleWatcher(console, common);
        DataSpec spec = roles.of(table, order);
        QuickPlan quick =
                new QuickPlan(new QuickPlan.Asked(spec, candidates, metric, folds, repeats, full, seed), watcher);
        Plan stated = OptionValues.checked(command, quick::stated);
        List<Path> inputs = PlanFiles.inputs(Path.of(""), stated, List.of(Path.of("")));
        ledger.ifPresent(l -> OutputFile.requireOther(l, inputs));
        savePlan.ifPresent(p -> {
            replacing.require(p, OutputFile.Kind.PLAN, inputs);
            ledger.ifPresent(l -> OutputFile.requireOther(p, List.of(l)));
        });
        console.doing("reading " + table.data(), common);
        TableFormat format = table.readable(spec.format(), quick::read, console, common);
        if (!format.equals(spec.format())) {
            quick.read(format);
        }
        Plan plan = quick.suited(stated, format);
        Path file = ledger.orElseGet(() -> quick.freeLedger(plan));
        Plan seeded = LoadedPlan.seeded(QuickPlan.besideLedger(plan, file), file);
        savePlan.ifPresent(p -> save(plan.withSeed(seeded.seed().orElseThrow()), p));
        LoadedPlan job = LoadedPlan.of(seeded, table.data(), List.of(QuickPlan.folder(file)));
        console.notices(job.notices(), common);
        job.requireRoom(Runtime.getRuntime().maxMemory());
        int failed = new Execution(console, common, workers).run(job, file, false, "the same command");
        Study study = Study.open(file, watcher).with(StudySettings.OF_PLAN.withThreads(workers));
        if (json) {
            JsonExport.write(study.scores(), console.writer());
        } else {
            show(study, file);
        }
        return failed > 0 ? Exit.SOME_FAILED : Exit.DONE;
    }

    private static void save(Plan plan, Path file) {
        WholeFile.text(file, PlanWriter.write(PlanFiles.relativeTo(plan, QuickPlan.folder(file))));
    }

    private void show(Study study, Path file) {
        Picking picking = study.picking();
        console.out().print(ComparisonView.render(study.scores(), picking, console.ink(common)));
        console.notices(picking.notices(), common);
        console.say(
                "kept in " + file + "; read on with keenfold scores, contrast, pick or export "
                        + ShellWords.quoted(file.toString()),
                common);
    }
}

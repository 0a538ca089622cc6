package keenfold.cli.plan;

import java.io.BufferedWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.Replacing;
import keenfold.core.data.Suggestion;
import keenfold.core.run.result.Task;
import keenfold.core.split.Split;
import keenfold.io.InputException;
import keenfold.io.OutputFile;
import keenfold.io.WholeFile;
import keenfold.io.export.CsvExport;
import keenfold.io.export.JsonExport;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.study.plan.LoadedPlan;
import keenfold.study.plan.PlanFiles;
import keenfold.view.text.FoldsView;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Shows, checks and exports the splits of a plan. */
@Command(
        name = "folds",
        description =
                "Shows the splits of a plan before anything is fitted: sizes, class shares, groups and order, a picture"
                        + " of rows by folds, and what was checked. --fold shows the rows of one; --csv and -o write all, for the"
                        + " scheme given to read.")
public final class FoldsCommand implements Callable<Integer> {
    private final Console console;

    @Spec
    private CommandSpec command;

    @Parameters(paramLabel = "PLAN", description = "the plan (YAML)")
    private Path plan = Path.of("");

    @Option(names = "--dataset", paramLabel = "NAME", description = "only this data set of the plan (all)")
    private Optional<String> dataSet = Optional.empty();

    @Option(names = "--repeat", paramLabel = "R", description = "the repeat to show, from 1 (1)")
    private int repeat = 1;

    @Option(names = "--fold", paramLabel = "F", description = "show the rows that this fold of the repeat tests")
    private Optional<Integer> fold = Optional.empty();

    @Option(names = "--seed", paramLabel = "N", description = "the seed, where the plan names none")
    private Optional<Long> seed = Optional.empty();

    @Option(names = "--data", paramLabel = "DIR", description = "look for the data here too, after the plan's folder")
    private Optional<Path> data = Optional.empty();

    @Option(names = "--json", description = "one JSON document instead of text")
    private boolean json;

    @Option(names = "--csv", description = "all splits as CSV (with --fold: the rows of that fold) instead of text")
    private boolean csv;

    @Option(
            names = {"-o", "--output"},
            paramLabel = "FILE",
            description = "write all splits as CSV to a file")
    private Optional<Path> output = Optional.empty();

    @Mixin
    private Replacing replacing = new Replacing();

    @Mixin
    private Common common = new Common();

    public FoldsCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        Plan read = PlanReader.read(plan);
        Plan seeded = read.seed().isPresent() ? read : read.withSeed(seed.orElseGet(LoadedPlan::drawnSeed));
        if (read.seed().isEmpty() && seed.isEmpty()) {
            console.notice(
                    "seed-drawn",
                    "the plan names no seed, and this one, " + seeded.seed().orElseThrow()
                            + ", was drawn; write seed: into the plan to have the same splits again",
                    common);
        }
        List<Path> folders = new ArrayList<>();
        folders.add(Optional.ofNullable(plan.getParent()).orElse(Path.of("")));
        data.ifPresent(folders::add);
        output.ifPresent(o -> replacing.require(o, OutputFile.Kind.TABLE, PlanFiles.inputs(plan, seeded, folders)));
        console.doing("reading the data", common);
        LoadedPlan job = LoadedPlan.of(seeded, plan.toString(), folders);
        List<Integer> shown = shown(job);
        for (int t : shown) {
            checkPlace(job.comparison().tasks().get(t));
        }
        if (output.isPresent()) {
            write(job, shown, output.get());
        } else if (json) {
            JsonExport.write(job.folds(shown), console.writer());
        } else if (csv && fold.isEmpty()) {
            CsvExport.foldsOf(tasks(job, shown), new BufferedWriter(console.writer()));
        } else {
            shown.forEach(t -> show(job, t));
        }
        console.notices(job.notices(), common);
        return Exit.DONE;
    }

    private List<Integer> shown(LoadedPlan job) {
        List<String> names =
                job.comparison().tasks().stream().map(t -> t.data().name()).toList();
        List<Integer> shown = new ArrayList<>();
        for (int t = 0; t < names.size(); t++) {
            if (dataSet.isEmpty() || dataSet.get().equals(names.get(t))) {
                shown.add(t);
            }
        }
        if (shown.isEmpty()) {
            String asked = dataSet.orElse("");
            throw new InputException(
                    plan.toString(), "there is no data set \"" + asked + "\"" + Suggestion.hint(asked, names));
        }
        return shown;
    }

    private void checkPlace(Task task) {
        if (repeat < 1 || repeat > task.splits().repeats()) {
            throw new ParameterException(
                    command.commandLine(),
                    "--repeat " + repeat + ": data set \"" + task.data().name() + "\" has repeats 1 to "
                            + task.splits().repeats());
        }
        int folds = task.splits().folds(repeat - 1);
        if (fold.isPresent() && (fold.get() < 1 || fold.get() > folds)) {
            throw new ParameterException(
                    command.commandLine(),
                    "--fold " + fold.get() + ": repeat " + repeat + " of data set \""
                            + task.data().name() + "\" has folds 1 to " + folds);
        }
    }

    private static List<Task> tasks(LoadedPlan job, List<Integer> shown) {
        return shown.stream().map(t -> job.comparison().tasks().get(t)).toList();
    }

    private void show(LoadedPlan job, int t) {
        Task task = job.comparison().tasks().get(t);
        if (fold.isPresent() && csv) {
            rows(task, job.data().get(t).dates(), fold.get());
        } else if (fold.isPresent()) {
            console.out()
                    .println(FoldsView.rows(
                            task, job.data().get(t).dates(), repeat - 1, fold.get() - 1, console.ink(common)));
        } else {
            console.out()
                    .println(FoldsView.render(
                            job.foldsOf(t),
                            job.plan().division().scheme(),
                            repeat - 1,
                            job.plan().seed().orElseThrow(),
                            console.ink(common)));
        }
    }

    private void rows(Task task, Set<String> dates, int asked) {
        Split split = task.splits().at(repeat - 1, asked - 1);
        List<List<String>> rows = new ArrayList<>();
        for (int i = 0; i < split.test().size(); i++) {
            rows.add(FoldsView.values(task.data(), dates, split.test().row(i)));
        }
        CsvExport.table(FoldsView.titles(task.data()), rows, console.writer());
    }

    private void write(LoadedPlan job, List<Integer> shown, Path file) {
        WholeFile.text(file, out -> CsvExport.foldsOf(tasks(job, shown), out));
        console.say("wrote folds to " + file, common);
    }
}

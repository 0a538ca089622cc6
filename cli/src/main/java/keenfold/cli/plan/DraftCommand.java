package keenfold.cli.plan;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.cli.console.ColumnRoles;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.TableOptions;
import keenfold.core.run.result.Task;
import keenfold.io.InputException;
import keenfold.io.ShellWords;
import keenfold.io.WholeFile;
import keenfold.io.plan.Drafter;
import keenfold.io.plan.PlanReader;
import keenfold.io.table.DataSpec;
import keenfold.io.table.TableReader;
import keenfold.io.table.parse.ReadTable;
import keenfold.io.table.parse.TableFormat;
import keenfold.results.FoldMap;
import keenfold.study.plan.LoadedPlan;
import keenfold.study.plan.PlanFiles;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Writes a plan to begin with. */
@Command(
        name = "draft",
        description =
                "Writes a commented plan whose splits, metrics and candidates suit the data, and which runs as it is.")
public final class DraftCommand implements Callable<Integer> {
    private final Console console;

    @Mixin
    private TableOptions table = new TableOptions();

    @Mixin
    private ColumnRoles roles = new ColumnRoles();

    @Option(names = "--order", paramLabel = "COL", description = "numbers or dates that say which rows came first")
    private Optional<String> order = Optional.empty();

    @Option(names = "--seed", paramLabel = "N", description = "the seed to write (one made of the size of the table)")
    private Optional<Long> seed = Optional.empty();

    @Option(
            names = {"-o", "--output"},
            paramLabel = "PLAN",
            description = "the file to write, which must not exist yet (standard output)")
    private Optional<Path> output = Optional.empty();

    @Mixin
    private Common common = new Common();

    public DraftCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        output.filter(Files::exists).ifPresent(file -> {
            throw new InputException(file.toString(), "is there already; name another file, or move it away");
        });
        DataSpec said = roles.of(table, order);
        console.doing("reading " + table.data(), common);
        DataSpec asked = said.withFormat(table.readable(
                said.format(), f -> TableReader.read(table.location(), labels(said.withFormat(f))), console, common));
        ReadTable read = TableReader.readAsItIs(table.location(), labels(asked));
        long chosen = seed.orElseGet(
                () -> 1L + (long) read.rows() * 31 + read.columns().size());
        LoadedPlan job = carriedOut(Drafter.draft(read, asked, chosen, Drafter.Scored.ROWS, ""));
        Task task = job.comparison().tasks().get(0);
        Drafter.Scored scored = scored(task);
        String seen = job.power(0)
                .map(p -> FoldMap.couldBeSeen(task.data().rows(), p))
                .orElse("");
        if (output.isEmpty()) {
            print(Drafter.draft(read, asked, chosen, scored, seen));
        } else {
            write(read, asked, chosen, scored, seen, output.get());
        }
        return Exit.DONE;
    }

    /** To standard output, exact to the character: it may become a file. */
    private void print(String text) {
        Writer out = console.writer();
        try {
            out.write(text);
            out.flush();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static TableFormat labels(DataSpec asked) {
        List<String> labels = new ArrayList<>(List.of(asked.target()));
        asked.groups().ifPresent(labels::add);
        TableFormat plain = asked.sparingNumbers();
        return plain.withText(java.util.Set.copyOf(labels));
    }

    /** Carries the plan out up to its splits; what data or splits do not allow is thrown here, and not when it is run. */
    private LoadedPlan carriedOut(String text) {
        return LoadedPlan.of(PlanReader.parse("the draft", text), table.data(), List.of(Path.of("")));
    }

    private static Drafter.Scored scored(Task task) {
        boolean each = task.splits().joined()
                || task.splits()
                        .testEveryClass(
                                task.data().targets(), task.data().classes().count());
        boolean ranks = task.splits().shareInMixedCompany(task.data().targets()) >= Task.LEAST_MIXED;
        return !each ? Drafter.Scored.ROWS : ranks ? Drafter.Scored.ALL : Drafter.Scored.NO_RANKS;
    }

    private void write(ReadTable read, DataSpec asked, long chosen, Drafter.Scored scored, String seen, Path file) {
        Path folder = Optional.ofNullable(file.toAbsolutePath().getParent()).orElse(Path.of("/"));
        DataSpec moved = asked.withFile(PlanFiles.moved(asked.file(), folder));
        WholeFile.text(file, Drafter.draft(read, moved, chosen, scored, seen));
        console.say(
                "wrote " + file + "; look at its splits with keenfold folds " + ShellWords.quoted(file.toString())
                        + ", then keenfold run " + ShellWords.quoted(file.toString())
                        + " -o LEDGER",
                common);
    }
}

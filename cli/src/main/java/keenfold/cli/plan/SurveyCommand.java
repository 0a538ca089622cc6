package keenfold.cli.plan;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.Replacing;
import keenfold.cli.console.ResultOutput;
import keenfold.cli.console.Streams;
import keenfold.cli.console.TableOptions;
import keenfold.cli.console.Threads;
import keenfold.io.OutputFile;
import keenfold.io.WholeFile;
import keenfold.results.Survey;
import keenfold.study.Program;
import keenfold.study.plan.TableSurvey;
import keenfold.view.page.SurveyPage;
import keenfold.view.text.SurveyView;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Spec;

/** A first look at a table. */
@Command(
        name = "survey",
        description = "Shows what a table holds: every column with its kind, missing values and spread; with --target"
                + " the class balance, with --by the classes broken down by a column; and what is suspicious.")
public final class SurveyCommand implements Callable<Integer> {
    private final Console console;

    @Spec
    private CommandSpec command;

    @Mixin
    private TableOptions source = new TableOptions();

    @Option(names = "--target", paramLabel = "COL", description = "the column of the classes")
    private Optional<String> target = Optional.empty();

    @Option(names = "--by", paramLabel = "COL", description = "break the classes down by this column; needs --target")
    private Optional<String> by = Optional.empty();

    @Option(names = "--all", description = "show every column, also where there are more than twenty of a kind")
    private boolean all;

    @Option(
            names = "--page",
            paramLabel = "FILE",
            description = "write a page (HTML) too, with a picture of every column by class")
    private Optional<Path> page = Optional.empty();

    @Mixin
    private Replacing replacing = new Replacing();

    @Mixin
    private Streams streams = new Streams();

    @Mixin
    private Threads threads = new Threads();

    @Mixin
    private Common common = new Common();

    public SurveyCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        if (by.isPresent() && target.isEmpty()) {
            throw new ParameterException(command.commandLine(), "--by breaks classes down; name them with --target");
        }
        // Not its name, for which standard input would be read first.
        page.ifPresent(p -> replacing.require(p, OutputFile.Kind.REPORT, List.of(Path.of(source.data()))));
        console.doing("reading " + source.data(), common);
        TableSurvey.Seen seen = TableSurvey.of(
                new TableSurvey.Source(source.data(), source::location, source.format(), source.text()),
                target,
                by,
                page.isPresent(),
                threads.parallel());
        Survey survey = seen.survey();
        if (page.isPresent()) {
            String html = SurveyPage.html(survey, seen.parts(), Program.version());
            WholeFile.bytes(page.get(), html.getBytes(StandardCharsets.UTF_8));
            console.say("wrote the page to " + page.get(), common);
        }
        new ResultOutput(console, common, streams).show(survey, ink -> SurveyView.render(survey, all, ink));
        return Exit.DONE;
    }
}

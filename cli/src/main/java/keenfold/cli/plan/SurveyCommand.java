package keenfold.cli.plan;

import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.TableOptions;
import keenfold.cli.console.Threads;
import keenfold.io.export.CsvExport;
import keenfold.io.export.JsonExport;
import keenfold.results.Survey;
import keenfold.study.plan.TableSurvey;
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

    @Option(names = "--json", description = "one JSON document instead of text")
    private boolean json;

    @Option(names = "--csv", description = "the columns (with --by: the breakdown) as a CSV table instead of text")
    private boolean csv;

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
        console.doing("reading " + source.data(), common);
        Survey survey = TableSurvey.of(
                new TableSurvey.Source(source.data(), source::location, source.format(), source.text()),
                target,
                by,
                threads.parallel());
        if (json) {
            JsonExport.write(survey, console.writer());
        } else if (csv) {
            CsvExport.table(survey.table(), console.writer());
        } else {
            console.out().print(SurveyView.render(survey, console.ink(common)));
        }
        console.notices(survey.notices(), common);
        return Exit.DONE;
    }
}

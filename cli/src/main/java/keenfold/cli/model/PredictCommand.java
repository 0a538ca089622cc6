package keenfold.cli.model;

import java.io.BufferedWriter;
import java.io.IOException;
import java.io.Writer;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.OptionValues;
import keenfold.cli.console.Replacing;
import keenfold.cli.console.TableUse;
import keenfold.cli.console.Threads;
import keenfold.core.data.Notice;
import keenfold.core.infer.FinalScore;
import keenfold.core.learned.FitFailure;
import keenfold.io.InputException;
import keenfold.io.OutputFile;
import keenfold.io.WholeFile;
import keenfold.io.command.Programs;
import keenfold.io.model.ModelFile;
import keenfold.io.model.NewRows;
import keenfold.io.plan.PlanReader;
import keenfold.io.table.TableLocation;
import keenfold.io.table.parse.TableFormat;
import keenfold.results.table.NumberFormats;
import keenfold.study.model.Labelling;
import keenfold.view.text.Wrap;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Labels new rows. */
@Command(
        name = "predict",
        description =
                "Gives new rows a label and the probability of each class, after checking that their columns agree"
                        + " with the model's; scores them too if their class is there.")
public final class PredictCommand implements Callable<Integer> {
    private final Console console;

    @Parameters(index = "0", paramLabel = "MODEL", description = "a file that train wrote")
    private Path model = Path.of("");

    @Spec
    private CommandSpec command;

    @Parameters(
            index = "1",
            paramLabel = "DATA",
            description = "delimited text with a line of column names, or JSON Lines, perhaps gzipped; FILE.db#TABLE of"
                    + " SQLite; - for standard input")
    private String data = "";

    @Option(names = "--separator", paramLabel = "C", description = "between fields: , ; | or tab (detected)")
    private Optional<String> separator = Optional.empty();

    @Option(names = "--encoding", paramLabel = "NAME", description = "of the text, such as windows-1252 (UTF-8)")
    private Optional<String> encoding = Optional.empty();

    @Option(
            names = {"-o", "--output"},
            paramLabel = "FILE",
            description = "write to a file instead of standard output")
    private Optional<Path> output = Optional.empty();

    @Option(names = "--jsonl", description = "JSON Lines, one object a row, instead of CSV")
    private boolean lines;

    @Option(names = "--with-columns", description = "the columns of each row beside its prediction")
    private boolean beside;

    @Option(
            names = "--strict",
            description =
                    "refuse additional columns, columns in another order, and levels that the model was not trained on")
    private boolean strict;

    @Option(
            names = "--allow-commands",
            description = "let a model that a program of yours makes (classifier: command) start it; look at it first")
    private boolean allowCommands;

    @Option(
            names = "--programs",
            paramLabel = "DIR",
            description = "where that program's files are, if not beside the model")
    private Optional<Path> programs = Optional.empty();

    @Mixin
    private Threads threads = new Threads();

    @Mixin
    private TableUse use = new TableUse();

    @Mixin
    private Replacing replacing = new Replacing();

    @Mixin
    private Common common = new Common();

    public PredictCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() throws IOException {
        if (lines && !use.isExact()) {
            throw new ParameterException(command.commandLine(), "--for spreadsheet: --jsonl is no table");
        }
        ModelFile trained = ModelFile.read(
                model,
                new Programs(
                        programs.or(
                                () -> Optional.ofNullable(model.toAbsolutePath().getParent())),
                        allowCommands));
        if (trained.predictor().asksAnotherProgram() && !allowCommands) {
            throw new InputException(
                    model.toString(),
                    "a program of yours makes its predictions (keenfold show names it); if you trust it, let it with"
                            + " --allow-commands");
        }
        TableLocation where = TableLocation.of(data, List.of(Path.of("")));
        output.ifPresent(o -> replacing.require(o, OutputFile.Kind.TABLE, List.of(model, where.file())));
        console.doing("reading " + data, common);
        Labelling labelling = new Labelling(trained, NewRows.of(trained, where, format()));
        List<Notice> notices = new ArrayList<>(labelling.differences());
        if (strict && !notices.isEmpty()) {
            throw new InputException(
                    where.shown(),
                    notices.stream().map(Notice::text).collect(Collectors.joining("; ")) + " (--strict)");
        }
        console.doing("predicting " + data, common);
        try {
            write(labelling);
        } catch (FitFailure e) {
            throw new InputException(where.shown(), "cannot be predicted: " + e.getMessage(), e);
        }
        List<FinalScore> scores = labelling.scores(threads.parallel());
        if (!scores.isEmpty()) {
            String text = labelling.scorable()
                    + " rows have their class; scored on them (too well, if it was trained on them): "
                    + scores.stream().map(s -> text(s, labelling.level())).collect(Collectors.joining("; "));
            console.say(Wrap.lines(text, 8).stripTrailing(), common);
        }
        notices.addAll(labelling.notices());
        console.notices(notices, common);
        return Exit.DONE;
    }

    private void write(Labelling labelling) throws IOException {
        if (output.isEmpty()) {
            Writer out = use.writer(new BufferedWriter(console.writer()));
            labelling.write(lines, beside, out);
            out.flush();
            return;
        }
        WholeFile.text(output.get(), out -> labelling.write(lines, beside, use.writer(out)));
        console.say(
                "wrote " + labelling.rows() + " predictions to " + output.get() + ": " + labelling.counts(), common);
    }

    private TableFormat format() {
        return OptionValues.checked(
                command,
                () -> new TableFormat(
                        separator.map(PlanReader::separator),
                        Set.of(),
                        Set.of(),
                        Set.of(),
                        '.',
                        encoding.map(PlanReader::encoding)));
    }

    private static String text(FinalScore score, double level) {
        double about = (score.high() - score.low()) / 4;
        return score.metric() + " "
                + (Double.isNaN(about)
                        ? NumberFormats.fixed(score.value(), 3)
                        : NumberFormats.mean(score.value(), about) + " (" + NumberFormats.level(level) + " interval "
                                + NumberFormats.interval(score.low(), score.high(), about) + ")");
    }
}

package keenfold.cli.read;

import java.io.BufferedWriter;
import java.io.IOException;
import java.io.Writer;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.ConsoleWatcher;
import keenfold.cli.console.Exit;
import keenfold.cli.console.Replacing;
import keenfold.cli.console.TableUse;
import keenfold.core.infer.Inference;
import keenfold.core.run.result.Results;
import keenfold.io.InputException;
import keenfold.io.OutputFile;
import keenfold.io.WholeFile;
import keenfold.io.export.CsvExport;
import keenfold.io.ledger.LedgerContent;
import keenfold.io.ledger.LedgerReader;
import keenfold.io.model.ModelFile;
import keenfold.io.plan.PlanWriter;
import keenfold.io.pmml.PmmlExport;
import keenfold.results.Contrasts;
import keenfold.results.Evaluation;
import keenfold.results.table.ResultTable;
import keenfold.study.Study;
import keenfold.study.plan.LedgerState;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Writes what a ledger holds for other programs. */
@Command(
        name = "export",
        description =
                "Writes what a ledger holds as CSV (the plan as YAML, below the notes), or a model as PMML 4.4. Numbers read back"
                        + " equal; what is undefined is empty.")
public final class ExportCommand implements Callable<Integer> {
    private final Console console;

    @Parameters(
            paramLabel = "FILE",
            description = "a ledger that \"run\" or \"compare\" filled; for pmml, a model that \"train\" wrote")
    private Path ledger = Path.of("");

    @Option(names = "--what", required = true, paramLabel = "WHAT", description = "one of: ${COMPLETION-CANDIDATES}")
    private What what = What.predictions;

    @Option(
            names = {"-o", "--output"},
            paramLabel = "FILE",
            description = "write to a file instead of standard output")
    private Optional<Path> output = Optional.empty();

    @Option(
            names = "--with-former",
            description = "with what is in the ledger and not in its plan any more, as NAME@VERSION of the plan")
    private boolean former;

    @Mixin
    private TableUse use = new TableUse();

    @Spec
    private CommandSpec command;

    @Mixin
    private Replacing replacing = new Replacing();

    @Mixin
    private Common common = new Common();

    /** What can be exported, spelt as on the command line: {@code pmml} of a model, all else of a ledger. */
    enum What {
        predictions,
        folds,
        scores,
        fits,
        contrasts,
        history,
        plan,
        pmml
    }

    public ExportCommand(Console console) {
        this.console = console;
    }

    /** What is written. */
    private interface Body {
        void write(Writer out) throws IOException;
    }

    private Body ofLedger() {
        LedgerContent content = LedgerReader.read(ledger, former);
        console.notices(LedgerState.notices(ledger, content), common);
        return out -> write(content, out);
    }

    private Body model() {
        ModelFile model = ModelFile.read(ledger);
        return out -> {
            InputException.at(ledger.toString(), () -> {
                PmmlExport.write(model, out);
                return out;
            });
            out.write('\n');
            out.flush();
        };
    }

    @Override
    public Integer call() throws IOException {
        if ((what == What.plan || what == What.pmml) && !use.isExact()) {
            throw new ParameterException(command.commandLine(), "--for spreadsheet: " + what + " is no table");
        }
        output.ifPresent(o -> replacing.require(o, kind(), List.of(ledger)));
        console.doing("reading " + ledger, common);
        Body body = what == What.pmml ? model() : ofLedger();
        if (output.isEmpty()) {
            body.write(new BufferedWriter(console.writer()));
            return Exit.DONE;
        }
        WholeFile.text(output.get(), body::write);
        console.say("wrote " + what.name().toLowerCase(Locale.ROOT) + " to " + output.get(), common);
        return Exit.DONE;
    }

    private OutputFile.Kind kind() {
        return switch (what) {
            case pmml -> OutputFile.Kind.PMML;
            case plan -> OutputFile.Kind.PLAN;
            case predictions, folds, scores, fits, contrasts, history -> OutputFile.Kind.TABLE;
        };
    }

    /** Every pair of every data set, under each metric of the plan, by the plan's evidence. */
    private ResultTable contrasts(LedgerContent content) {
        Study study = Study.of(ledger, content, new ConsoleWatcher(console, common));
        Evaluation all = study.evaluation();
        List<ResultTable> tables = new ArrayList<>();
        for (Inference inference : all.inferences()) {
            inference.together(all.metrics());
            all.metrics()
                    .forEach(m -> tables.add(Contrasts.table(
                            inference, inference.metric(m), inference.metric(m).contrasts())));
        }
        return ResultTable.joined(tables);
    }

    private void write(LedgerContent content, Writer to) throws IOException {
        Writer out = use.writer(to);
        if ((what == What.predictions || what == What.folds)
                && content.results().kept() == Results.Kept.SCORES) {
            throw new InputException(
                    ledger.toString(),
                    "has no " + what + ": only scores were adopted into it; export scores or contrasts");
        }
        switch (what) {
            case predictions -> CsvExport.predictions(content.results(), out);
            case folds -> CsvExport.folds(content.results(), out);
            case scores -> CsvExport.scores(content.results(), out);
            case fits -> CsvExport.fits(content.results(), out);
            case contrasts -> CsvExport.table(InputException.at(ledger.toString(), () -> contrasts(content)), out);
            case history -> CsvExport.table(LedgerState.history(ledger).table(), out);
            case plan -> out.write(PlanWriter.write(content.plan(), content.datedNotes()));
            case pmml -> throw new InputException(ledger.toString(), "pmml is of models");
        }
        out.flush();
    }
}

package keenfold.cli.read;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.Replacing;
import keenfold.io.OutputFile;
import keenfold.study.Study;
import keenfold.study.plan.LedgerState;
import keenfold.study.report.LedgerFigures;
import keenfold.study.report.MethodsSection;
import keenfold.study.report.ReportFolder;
import keenfold.study.report.ReportMaker;
import keenfold.view.chart.FigureKind;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Writes the report. */
@Command(
        name = "report",
        description =
                "Writes one self-contained page, report.html, that shows the whole comparison in the order of the job;"
                        + " figures (SVG and PNG) and tables (CSV) lie beside it.")
public final class ReportCommand implements Callable<Integer> {
    private final Console console;

    @Mixin
    private LedgerOptions reading = new LedgerOptions();

    @Option(
            names = {"-o", "--output"},
            required = true,
            paramLabel = "DIR",
            description = "the folder to write into")
    private Path output = Path.of("");

    @Option(
            names = "--metric",
            paramLabel = "NAME",
            description = "show this metric too, scored in the run or not; may be repeated")
    private List<String> metrics = new ArrayList<>();

    @Option(
            names = "--columns",
            description =
                    "show what columns are worth too: trains the pick and the best anew on the splits of one repeat")
    private boolean columns;

    @Option(names = "--data", paramLabel = "DIR", description = "--columns: where the data files are, if not here")
    private Optional<Path> data = Optional.empty();

    @Option(names = "--page-only", description = "the page alone, no figures and tables beside it")
    private boolean pageOnly;

    @Option(
            names = "--methods",
            description = "write a methods section too, made of what was done: methods.md, methods.tex, and methods.bib"
                    + " with its references")
    private boolean methods;

    @Mixin
    private Replacing replacing = new Replacing();

    @Mixin
    private Common common = new Common();

    public ReportCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        ReportFolder.require(output, reading.ledger(), pageOnly, replacing.force());
        for (String file : methods ? MethodsSection.FILES : List.<String>of()) {
            replacing.require(output.resolve(file), OutputFile.Kind.METHODS, List.of(reading.ledger()));
        }
        List<String> left = new ArrayList<>();
        Study opened = reading.open(console, common, metrics, settings -> settings);
        List<String> more = new ArrayList<>(metrics);
        LedgerFigures.needs(FigureKind.THRESHOLDS, opened.plan(), reading.hasCosts())
                .ifPresent(m -> opened.without(m)
                        .ifPresentOrElse(why -> left.add("what needs " + m + ": " + why), () -> more.add(m)));
        Study study = opened.with(opened.settings().withMetrics(more));
        ReportMaker.Written written =
                study.report(output, new ReportMaker.Asked(metrics, columns, data, pageOnly, reading.hasCosts(), left));
        if (methods) {
            study.methods().write(output);
        }
        console.say(
                "wrote the report to " + written.page() + (methods ? ", the methods section beside it" : ""), common);
        console.notices(LedgerState.notices(study.ledger(), study.content()), common);
        if (!written.notices().isEmpty()) {
            console.notice(
                    "report-notices",
                    "the report has " + written.notices().size() + " warnings; read them first",
                    common);
        }
        return Exit.DONE;
    }
}

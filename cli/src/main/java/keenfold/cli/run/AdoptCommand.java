package keenfold.cli.run;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.OptionValues;
import keenfold.core.data.Notice;
import keenfold.core.data.Plural;
import keenfold.core.metric.catalog.MetricName;
import keenfold.io.OutputFile;
import keenfold.io.ShellWords;
import keenfold.io.ledger.Adoption;
import keenfold.io.plan.MetricWord;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Takes predictions or scores made elsewhere. */
@Command(
        name = "adopt",
        description = {
            "Takes predictions, or a table of scores, made elsewhere into a ledger, so that scores, contrast and pick work"
                    + " on them.",
            "",
            "Predictions: row, candidate, actual, and predicted or p:CLASS for each class; perhaps dataset, repeat, fold,"
                    + " group. Scores: candidate, metric, value; perhaps dataset, repeat, fold. Or dataset and a column of"
                    + " scores for each candidate, with --metric.",
            "",
            "Tables without dataset are of one data set, unless a candidate is in two of them."
        })
public final class AdoptCommand implements Callable<Integer> {
    private final Console console;

    @Spec
    private CommandSpec command;

    @Parameters(
            arity = "1..*",
            paramLabel = "FILE",
            description = "CSV files, as export --what predictions or scores writes them")
    private List<Path> files = List.of();

    @Option(
            names = {"-o", "--ledger"},
            required = true,
            paramLabel = "LEDGER",
            description =
                    "the ledger to make, or to add to: of a data set that is there, the same rows in the same folds")
    private Path ledger = Path.of("");

    @Option(
            names = "--positive",
            paramLabel = "LABEL",
            description = "the class that one-sided metrics speak of (the rarer of two)")
    private Optional<String> positive = Optional.empty();

    @Option(
            names = "--metric",
            paramLabel = "NAME",
            description = "of predictions: what is scored, the primary one first; may be repeated (auc, accuracy,"
                    + " balanced-accuracy, log-loss); of a column for each candidate: what its numbers are")
    private List<String> metrics = new ArrayList<>();

    @Mixin
    private Common common = new Common();

    public AdoptCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        List<MetricName> names = new ArrayList<>();
        for (String metric : metrics) {
            names.add(OptionValues.checked(command, () -> MetricWord.parse(metric)));
        }
        OutputFile.requireOther(ledger, files);
        console.doing("reading " + (files.size() == 1 ? files.get(0) : files.size() + " files"), common);
        Adoption.Report report = Adoption.adopt(files, ledger, positive, names);
        console.notices(
                report.notices().stream().map(n -> Notice.plain("adopted", n)).toList(), common);
        console.say(
                String.format(
                        java.util.Locale.ROOT,
                        "%s of %s (%s) in %s; read with: keenfold scores %s",
                        Plural.of(report.fits(), "fit"),
                        Plural.of(report.candidates().size(), "candidate"),
                        String.join(", ", report.candidates()),
                        ledger,
                        ShellWords.quoted(ledger.toString())),
                common);
        return Exit.DONE;
    }
}

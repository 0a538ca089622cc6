package keenfold.cli.read;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.function.UnaryOperator;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.ResultOutput;
import keenfold.cli.console.Streams;
import keenfold.core.data.Checks;
import keenfold.core.data.Suggestion;
import keenfold.core.infer.contrast.Adjust;
import keenfold.core.infer.contrast.Method;
import keenfold.core.metric.catalog.MetricName;
import keenfold.io.InputException;
import keenfold.results.AcrossDataSets;
import keenfold.results.Contrasts;
import keenfold.results.Looks;
import keenfold.study.Study;
import keenfold.study.StudySettings;
import keenfold.view.text.AcrossView;
import keenfold.view.text.ContrastView;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Shows differences. */
@Command(
        name = "contrast",
        description = "Shows differences of candidates with interval, p-value (adjusted for all pairs at once) and"
                + " call: better, worse, equivalent or undecided.")
public final class ContrastCommand implements Callable<Integer> {
    private final Console console;

    @Mixin
    private LedgerOptions reading = new LedgerOptions();

    @Mixin
    private Streams streams = new Streams();

    @Option(
            names = "--metric",
            paramLabel = "NAME",
            description = "by this metric, scored in the run or not; may be repeated (the plan's primary one)")
    private List<String> metrics = new ArrayList<>();

    @Option(
            names = "--by",
            paramLabel = "class",
            description = "class: one table for each class, of a metric that speaks of one class, such as recall")
    private Optional<String> by = Optional.empty();

    @Option(
            names = "--against",
            paramLabel = "best|all|NAME",
            description = "show each candidate against the best mean, every pair, or each against one (the plan's, or"
                    + " best); p-values stay adjusted for all pairs")
    private Optional<String> against = Optional.empty();

    @Option(
            names = "--margin",
            paramLabel = "M",
            description = "call differences surely smaller than this equivalent (the plan's, or none)")
    private Optional<Double> margin = Optional.empty();

    @Option(
            names = "--method",
            paramLabel = "NAME",
            description =
                    "pivot, cases, cases-bca, corrected-t, halves or mcnemar (the plan's, or pivot); docs/methods.md"
                            + " says what each is worth")
    private Optional<String> method = Optional.empty();

    @Option(
            names = "--adjust",
            paramLabel = "NAME",
            description =
                    "how p-values are adjusted for multiple comparisons: max-t, holm or none (max-t; holm with other methods"
                            + " than pivot)")
    private Optional<String> adjust = Optional.empty();

    @Option(
            names = "--across",
            description = "compare across the data sets of the ledger: mean ranks, Friedman, Iman-Davenport, Wilcoxon")
    private boolean across;

    @Mixin
    private Common common = new Common();

    public ContrastCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        Optional<Method> testedBy =
                reading.checked(() -> method.map(m -> named("--method", m, Method.labels(), Method.of(m))));
        Optional<Adjust> adjusted =
                reading.checked(() -> adjust.map(a -> named("--adjust", a, Adjust.labels(), Adjust.of(a))));
        reading.checked(() -> {
            by.ifPresent(b -> Checks.that(b.equals("class"), "--by %s: expected class", b));
            Checks.that(by.isEmpty() || !across, "--by class and --across are apart; leave out one of them");
            return true;
        });
        UnaryOperator<StudySettings> more = settings -> {
            StudySettings all = margin.map(settings::withMargin).orElse(settings);
            all = testedBy.map(all::withMethod).orElse(all);
            return adjusted.map(all::withAdjust).orElse(all);
        };
        Study opened = reading.open(console, common, metrics, more);
        List<String> wanted =
                metrics.isEmpty() ? List.of(opened.plan().primary().text()) : metrics;
        List<String> names = by.isPresent() ? byClass(opened, wanted) : wanted;
        Study study = by.isPresent() ? opened.with(opened.settings().withMetrics(names)) : opened;
        ResultOutput output = new ResultOutput(console, common, streams);
        if (across) {
            AcrossDataSets found = study.across(names);
            output.show(found, ink -> AcrossView.render(found, ink));
        } else {
            Contrasts found = study.contrasts(names, against.orElseGet(study::against));
            output.show(found, ink -> ContrastView.render(found, ink));
        }
        return Exit.DONE;
    }

    private static <T> T named(String option, String text, List<String> known, Optional<T> found) {
        return found.orElseThrow(
                () -> Checks.wrong(option + " \"" + text + "\" is not known" + Suggestion.hint(text, known)));
    }

    /** Every metric asked for, of each class in turn; those that speak of no class are refused. */
    private List<String> byClass(Study study, List<String> names) {
        List<String> measures = reading.checked(() -> names.stream()
                .map(name -> {
                    Checks.that(
                            MetricName.parse(name).measure().oneSided(),
                            "--by class: %s does not speak of one class; name one that does with --metric, such as recall",
                            name);
                    return name.contains(":") ? name.substring(0, name.indexOf(':')) : name;
                })
                .toList());
        List<String> labels = InputException.at(reading.ledger().toString(), () -> Looks.labels(study.evaluation()));
        return Looks.ofClasses(measures, labels);
    }
}

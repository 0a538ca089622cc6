package keenfold.cli.read;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.ConsoleWatcher;
import keenfold.cli.console.OptionValues;
import keenfold.cli.console.Threads;
import keenfold.study.Study;
import keenfold.study.StudySettings;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** What the commands that read a ledger have in common. */
public final class LedgerOptions {
    @Spec(Spec.Target.MIXEE)
    private CommandSpec command;

    @Parameters(paramLabel = "LEDGER", description = "a ledger that \"run\" or \"compare\" filled")
    private Path ledger = Path.of("");

    @Option(names = "--draws", paramLabel = "B", description = "bootstrap resamples (the plan's)")
    private Optional<Integer> draws = Optional.empty();

    @Option(names = "--level", paramLabel = "SHARE", description = "level of intervals, such as 0.95 (the plan's)")
    private Optional<Double> level = Optional.empty();

    @Mixin
    private CostOptions costs = new CostOptions();

    @Option(names = "--dataset", paramLabel = "NAME", description = "only this data set of several")
    private Optional<String> dataset = Optional.empty();

    @Option(
            names = "--with-former",
            description =
                    "compare also what is in the ledger and not in its plan any more, as NAME@VERSION of the plan")
    private boolean former;

    @Mixin
    private Threads threads = new Threads();

    public Path ledger() {
        return ledger;
    }

    public Optional<String> dataset() {
        return dataset;
    }

    public Threads threads() {
        return threads;
    }

    /** Whether costs are given on the command line. */
    boolean hasCosts() {
        return costs.given();
    }

    /** Opens the ledger with what these options say. */
    public Study open(Console console, Common common) {
        return open(console, common, List.of(), settings -> settings);
    }

    /**
     * Opens the ledger.
     *
     * @param metrics besides those of the plan
     * @param more what else the command says
     */
    Study open(Console console, Common common, List<String> metrics, UnaryOperator<StudySettings> more) {
        Study study = Study.open(ledger, new ConsoleWatcher(console, common), former);
        return checked(() -> study.with(more.apply(settings(study, metrics))));
    }

    private StudySettings settings(Study study, List<String> metrics) {
        StudySettings settings = StudySettings.OF_PLAN.withMetrics(metrics).withThreads(threads.count());
        settings = dataset.map(settings::withDataset).orElse(settings);
        settings = draws.map(settings::withDraws).orElse(settings);
        settings = level.map(settings::withLevel).orElse(settings);
        return costs.given()
                ? settings.withCosts(costs.read(
                        study.labels(),
                        study.content().results().tasks().stream()
                                .map(t -> t.data().classes())
                                .toList()))
                : settings;
    }

    /** Runs something whose complaints are about the command line. */
    public <T> T checked(Supplier<T> made) {
        return OptionValues.checked(command, () -> made.get());
    }
}

package keenfold.cli.read;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.ConsoleWatcher;
import keenfold.cli.console.Exit;
import keenfold.cli.console.ResultOutput;
import keenfold.cli.console.Streams;
import keenfold.results.Versus;
import keenfold.study.Study;
import keenfold.study.plan.LedgerState;
import keenfold.view.text.VersusView;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Sets two ledgers against each other. */
@Command(
        name = "versus",
        description =
                "Sets the candidates of one ledger against those of another that are called the same: last year's run"
                        + " and this year's, two versions of the data, two settings. Where both have the same rows in the same"
                        + " folds, differences are tested; elsewhere they are shown, and not tested.")
public final class VersusCommand implements Callable<Integer> {
    private final Console console;

    @Mixin
    private LedgerOptions reading = new LedgerOptions();

    @Parameters(index = "1", paramLabel = "OTHER", description = "the ledger to compare it with")
    private Path other = Path.of("");

    @Option(
            names = "--metric",
            paramLabel = "NAME",
            description = "by this metric, scored in the runs or not; may be repeated (the first plan's primary one)")
    private List<String> metrics = new ArrayList<>();

    @Option(
            names = "--margin",
            paramLabel = "M",
            description = "call differences surely smaller than this equivalent (the first plan's, or none)")
    private Optional<Double> margin = Optional.empty();

    @Mixin
    private Streams streams = new Streams();

    @Mixin
    private Common common = new Common();

    public VersusCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        Study one = reading.open(
                console, common, List.of(), s -> margin.map(s::withMargin).orElse(s));
        Study two = Study.open(other, new ConsoleWatcher(console, common));
        console.notices(LedgerState.notices(one.ledger(), one.content()), common);
        console.notices(LedgerState.notices(two.ledger(), two.content()), common);
        List<String> names = metrics.isEmpty() ? List.of(one.plan().primary().text()) : metrics;
        Versus versus = reading.checked(() -> one.versus(two, names));
        new ResultOutput(console, common, streams).show(versus, ink -> VersusView.render(versus, ink));
        return Exit.DONE;
    }
}

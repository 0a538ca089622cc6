package keenfold.cli.ledger;

import java.nio.file.Path;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.ResultOutput;
import keenfold.cli.console.Streams;
import keenfold.results.LedgerHistory;
import keenfold.study.plan.LedgerState;
import keenfold.view.text.HistoryView;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

/** Shows what happened to a ledger. */
@Command(
        name = "history",
        description = "Shows what happened to a ledger: when it was made and by which version, each change of its plan,"
                + " candidates and data sets that came and went, changes of evidence and pick, looks at the holdout, and"
                + " notes.")
public final class HistoryCommand implements Callable<Integer> {
    private final Console console;

    @Parameters(paramLabel = "LEDGER", description = "a ledger that \"run\" or \"compare\" filled")
    private Path ledger = Path.of("");

    @Mixin
    private Streams streams = new Streams();

    @Mixin
    private Common common = new Common();

    public HistoryCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        LedgerHistory history = LedgerState.history(ledger);
        new ResultOutput(console, common, streams).show(history, ink -> HistoryView.render(history, ink));
        return Exit.DONE;
    }
}

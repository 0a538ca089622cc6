package keenfold.cli.ledger;

import java.nio.file.Path;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.io.ShellWords;
import keenfold.io.ledger.LedgerEdit;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Gives a candidate or a data set of a ledger another name. */
@Command(
        name = "rename",
        description =
                "Gives a candidate of a ledger another name: an entry of its plan, with all its members, or one that"
                        + " is not in the plan any more (NAME@N). Its fits stay, and its random numbers derive from the old name"
                        + " (seeded-as in the plan), so that further fits go with them.")
public final class RenameCommand implements Callable<Integer> {
    private final Console console;

    @Parameters(index = "0", paramLabel = "LEDGER", description = "the ledger")
    private Path ledger = Path.of("");

    @Parameters(index = "1", paramLabel = "OLD", description = "the current name")
    private String from = "";

    @Parameters(index = "2", paramLabel = "NEW", description = "the new name")
    private String to = "";

    @Option(names = "--dataset", description = "rename a data set instead of a candidate")
    private boolean dataset;

    @Mixin
    private Common common = new Common();

    public RenameCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        LedgerEdit edit = new LedgerEdit(ledger, console.now());
        if (dataset) {
            edit.renameDataSet(from, to);
        } else {
            edit.rename(from, to);
        }
        console.say(
                from + " is called " + to + " in " + ledger + "; keenfold export "
                        + ShellWords.quoted(ledger.toString()) + " --what plan writes its plan as it is now",
                common);
        return Exit.DONE;
    }
}

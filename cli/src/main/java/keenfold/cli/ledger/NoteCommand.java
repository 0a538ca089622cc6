package keenfold.cli.ledger;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.io.ledger.LedgerEdit;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

/** Adds a dated note to a ledger. */
@Command(
        name = "note",
        description = "Adds a dated note to a ledger. Notes stand in its history, in its report and above its exported"
                + " plan.")
public final class NoteCommand implements Callable<Integer> {
    private final Console console;

    @Parameters(index = "0", paramLabel = "LEDGER", description = "the ledger")
    private Path ledger = Path.of("");

    @Parameters(index = "1..*", arity = "1..*", paramLabel = "TEXT", description = "the text of the note")
    private List<String> text = new ArrayList<>();

    @Mixin
    private Common common = new Common();

    public NoteCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        new LedgerEdit(ledger, console.now()).note(String.join(" ", text));
        console.say("noted in " + ledger, common);
        return Exit.DONE;
    }
}

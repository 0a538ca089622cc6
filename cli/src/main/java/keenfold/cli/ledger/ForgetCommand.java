package keenfold.cli.ledger;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.core.data.Plural;
import keenfold.io.ledger.LedgerEdit;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Takes candidates or data sets out of a ledger, with their fits. */
@Command(
        name = "forget",
        description =
                "Takes candidates out of a ledger for good, with their fits, and gives the space back; the history"
                        + " says so. To leave a candidate out of a comparison, and keep its fits, take it out of the plan instead"
                        + " and run that.")
public final class ForgetCommand implements Callable<Integer> {
    private static final double MEGABYTE = 1e6;

    private final Console console;

    @Spec
    private CommandSpec command;

    @Parameters(index = "0", paramLabel = "LEDGER", description = "the ledger")
    private Path ledger = Path.of("");

    @Parameters(
            index = "1..*",
            arity = "0..*",
            paramLabel = "NAME",
            description =
                    "a candidate, an entry of the plan with all its members, or NAME@N of one that is not in the plan"
                            + " any more")
    private List<String> names = new ArrayList<>();

    @Option(names = "--dataset", description = "forget data sets instead of candidates")
    private boolean dataset;

    @Option(names = "--former", description = "forget everything that is not in the plan any more")
    private boolean former;

    @Mixin
    private Common common = new Common();

    public ForgetCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        if (former == !names.isEmpty() || (former && dataset)) {
            throw new ParameterException(command.commandLine(), "say what to forget: names, or --former alone");
        }
        LedgerEdit edit = new LedgerEdit(ledger, console.now());
        LedgerEdit.Forgotten gone =
                former ? edit.forgetFormer() : dataset ? edit.forgetDataSets(names) : edit.forget(names);
        console.say(
                "forgot " + String.join(", ", gone.names()) + ": " + Plural.of(gone.fits(), "fit")
                        + String.format(Locale.ROOT, "; %s is %.1f MB smaller", ledger, gone.bytes() / MEGABYTE),
                common);
        return Exit.DONE;
    }
}

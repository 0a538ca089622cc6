package keenfold.cli.plan;

import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.OptionValues;
import keenfold.io.export.JsonExport;
import keenfold.results.Catalog;
import keenfold.study.plan.CatalogSections;
import keenfold.view.text.CatalogView;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Lists what can be asked for. */
@Command(
        name = "catalog",
        description =
                "Lists classifiers, wrappers, steps, metrics, splits and rules with their settings, presets, ranges, definitions and"
                        + " sources; of all, or of one of these six, or a single thing by its name.")
public final class CatalogCommand implements Callable<Integer> {
    private final Console console;

    @Spec
    private CommandSpec command;

    @Parameters(
            arity = "0..1",
            paramLabel = "WHAT",
            description = "classifiers, wrappers, steps, metrics, splits or rules, or a name such as tree (all)")
    private Optional<String> what = Optional.empty();

    @Option(names = "--json", description = "one JSON document instead of text")
    private boolean json;

    @Mixin
    private Common common = new Common();

    public CatalogCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        Catalog catalog = OptionValues.checked(command, () -> CatalogSections.catalog(what));
        if (json) {
            JsonExport.write(catalog, console.writer());
        } else {
            console.out().print(CatalogView.render(catalog, console.ink(common)));
        }
        return Exit.DONE;
    }
}

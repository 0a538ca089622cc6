package keenfold.cli.model;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.OptionValues;
import keenfold.cli.console.Replacing;
import keenfold.cli.read.DrawCommand;
import keenfold.io.InputException;
import keenfold.io.OutputFile;
import keenfold.io.WholeFile;
import keenfold.io.export.JsonExport;
import keenfold.io.model.ModelFile;
import keenfold.study.model.ModelDescription;
import keenfold.view.chart.Drawing;
import keenfold.view.chart.Figure;
import keenfold.view.chart.Look;
import keenfold.view.chart.TreeFigure;
import keenfold.view.model.TreeRule;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Shows what a model learned. */
@Command(
        name = "show",
        description =
                "Shows what a model learned, in the columns and units of its data: the rules of a tree, coefficients,"
                        + " naive Bayes tables, importances, neighbours' settings; and where the model comes from.")
public final class ShowCommand implements Callable<Integer> {
    private final Console console;

    @Parameters(paramLabel = "MODEL", description = "a file that train wrote")
    private Path model = Path.of("");

    @Option(
            names = "--figure",
            paramLabel = "FILE",
            description = "of a tree: draw it, into a file that ends in .svg, .pdf or .png")
    private Optional<Path> figure = Optional.empty();

    @Option(names = "--width", paramLabel = "POINTS", description = "of the figure (by the depth of the tree)")
    private Optional<Double> width = Optional.empty();

    @Option(names = "--json", description = "one JSON document instead of text")
    private boolean json;

    @Option(names = "--markdown", description = "its tables in Markdown instead of text")
    private boolean markdown;

    @Option(names = "--latex", description = "its tables in LaTeX (booktabs) instead of text")
    private boolean latex;

    @Spec
    private CommandSpec command;

    @Mixin
    private Replacing replacing = new Replacing();

    @Mixin
    private Common common = new Common();

    public ShowCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        if (figure.isPresent() && (json || markdown || latex)) {
            throw new ParameterException(
                    command.commandLine(),
                    "--figure draws into a file and prints nothing; leave it out, or "
                            + (json ? "--json" : markdown ? "--markdown" : "--latex"));
        }
        figure.ifPresent(f -> replacing.require(f, OutputFile.Kind.FIGURE, List.of(model)));
        ModelFile file = ModelFile.read(model);
        ModelDescription description = new ModelDescription(file);
        if (figure.isPresent()) {
            draw(file, description.rules(), figure.get());
        } else if (json) {
            JsonExport.write(description, console.writer());
        } else if (markdown) {
            console.out().print(description.markdown());
        } else if (latex) {
            console.out().print(description.latex());
        } else {
            console.out().print(description.render(console.ink(common)));
        }
        return Exit.DONE;
    }

    private void draw(ModelFile file, List<TreeRule> rules, Path to) {
        if (rules.isEmpty()) {
            throw new InputException(
                    model.toString(),
                    "holds a classifier " + file.predictor().classifier()
                            + ", and only a tree can be drawn; show without --figure says" + " what it learned");
        }
        String format = DrawCommand.format(to);
        if (!Drawing.FORMATS.contains(format)) {
            throw new ParameterException(
                    command.commandLine(), "--figure " + to + ": expected a name that ends in .svg, .pdf or .png");
        }
        double wide = width.orElse(TreeFigure.width(rules));
        Look look = OptionValues.checked(
                command, () -> new Look(wide, Optional.empty(), Look.DEFAULT.fontSize(), Optional.empty(), true));
        Figure tree = TreeFigure.of(
                rules,
                file.classes(),
                file.origin().data() + ", " + file.origin().candidate(),
                file.predictor().positive());
        WholeFile.bytes(to, Drawing.of(format, tree, look, 2));
        console.say("wrote " + to, common);
    }
}

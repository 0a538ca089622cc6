package keenfold.cli.model;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.OptionValues;
import keenfold.cli.console.Replacing;
import keenfold.cli.read.DrawCommand;
import keenfold.core.run.pipeline.FittedPipeline;
import keenfold.io.InputException;
import keenfold.io.OutputFile;
import keenfold.io.WholeFile;
import keenfold.io.export.Flat;
import keenfold.io.model.ModelFile;
import keenfold.io.model.Origin;
import keenfold.io.model.Schema;
import keenfold.view.chart.Drawing;
import keenfold.view.chart.Figure;
import keenfold.view.chart.Look;
import keenfold.view.chart.TreeFigure;
import keenfold.view.model.ModelPart;
import keenfold.view.model.ModelView;
import keenfold.view.model.TreeRule;
import keenfold.view.text.NumberFormats;
import keenfold.view.text.TextTable;
import keenfold.view.text.Wrap;
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
            description = "of a tree: draw it, into a file that ends in .svg or .png")
    private Optional<Path> figure = Optional.empty();

    @Option(names = "--width", paramLabel = "POINTS", description = "of the figure (by the depth of the tree)")
    private Optional<Double> width = Optional.empty();

    @Option(names = "--json", description = "one JSON document instead of text")
    private boolean json;

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
        figure.ifPresent(f -> replacing.require(f, OutputFile.Kind.FIGURE, List.of(model)));
        ModelFile file = ModelFile.read(model);
        Set<String> dates = file.columns().columns().stream()
                .filter(c -> c.kind() == Schema.Kind.DATE)
                .map(Schema.OfColumn::name)
                .collect(Collectors.toSet());
        if (figure.isPresent()) {
            draw(file, dates, figure.get());
            return Exit.DONE;
        }
        List<ModelPart> parts = ModelView.parts(file.predictor(), file.columns().empty(), file.classes(), dates);
        if (json) {
            json(file, parts);
        } else {
            text(file, parts);
        }
        return Exit.DONE;
    }

    private void draw(ModelFile file, Set<String> dates, Path to) {
        List<TreeRule> rules = TreeRule.of(file.predictor(), file.columns().empty(), dates);
        if (rules.isEmpty()) {
            throw new InputException(
                    model.toString(),
                    "holds a classifier " + file.predictor().classifier()
                            + ", and only a tree can be drawn; show without --figure says" + " what it learned");
        }
        String format = DrawCommand.format(to);
        if (!format.equals("svg") && !format.equals("png")) {
            throw new ParameterException(
                    command.commandLine(), "--figure " + to + ": expected a name that ends in .svg or .png");
        }
        double wide = width.orElse(TreeFigure.width(rules));
        Look look = OptionValues.checked(
                command, () -> new Look(wide, Optional.empty(), Look.DEFAULT.fontSize(), Optional.empty(), true));
        Figure tree = TreeFigure.of(
                rules,
                file.classes(),
                file.origin().data() + ", " + file.origin().candidate(),
                file.predictor().positive());
        WholeFile.bytes(
                to,
                format.equals("svg")
                        ? Drawing.svg(tree, look).getBytes(StandardCharsets.UTF_8)
                        : Drawing.png(tree, look, 2));
        console.say("wrote " + to, common);
    }

    private static String classes(ModelFile file) {
        List<String> all = new ArrayList<>();
        for (int c = 0; c < file.classes().size(); c++) {
            boolean marked = file.classes().size() == 2 && c == file.predictor().positive();
            all.add(file.classes().get(c) + (marked ? " (positive)" : ""));
        }
        return String.join(", ", all);
    }

    private static String columns(ModelFile file) {
        return file.columns().columns().stream()
                .map(c -> c.name() + " ("
                        + (c.kind() == Schema.Kind.CATEGORY
                                ? c.levels().size() + " levels"
                                : c.kind().name().toLowerCase(Locale.ROOT))
                        + ")")
                .collect(Collectors.joining(", "));
    }

    private static String settings(ModelFile file) {
        String settings = file.origin().settings();
        return file.predictor().classifier() + (settings.isEmpty() ? "" : " (" + settings + ")");
    }

    private void text(ModelFile file, List<ModelPart> parts) {
        Origin origin = file.origin();
        FittedPipeline predictor = file.predictor();
        console.out().println(console.ink(common).strong(Wrap.visible(origin.data() + ": " + origin.candidate())));
        console.out()
                .print(Wrap.lines(
                        settings(file) + ", size " + NumberFormats.significant(predictor.size(), 3) + ", trained on "
                                + origin.rows() + " rows by " + origin.program() + ", seed " + origin.seed(),
                        0));
        console.out().print(Wrap.lines("tells " + file.target() + ": " + classes(file), 2));
        console.out().print(Wrap.lines("from " + columns(file), 2));
        console.out()
                .print(Wrap.lines(
                        "data "
                                + origin.fingerprint()
                                        .substring(
                                                0,
                                                Math.min(
                                                        16, origin.fingerprint().length()))
                                + " (SHA-256 of the parsed values)",
                        2));
        if (!origin.scores().isEmpty()) {
            TextTable table = TextTable.empty()
                    .column("metric", TextTable.Align.NAME)
                    .column("", TextTable.Align.LEFT)
                    .column("value", TextTable.Align.POINT)
                    .column("interval", TextTable.Align.RIGHT);
            TrainCommand.lines(origin.scores()).forEach(table::row);
            console.out().println();
            console.out().print(table.render(console.ink(common)));
        }
        for (ModelPart part : parts) {
            console.out().println();
            console.out().print(part.render(console.ink(common)));
        }
    }

    private void json(ModelFile file, List<ModelPart> parts) {
        List<Flat.Titled> all = new ArrayList<>();
        Flat.Table columns = Flat.of("column", "kind", "levels");
        file.columns()
                .columns()
                .forEach(c -> columns.row(
                        c.name(),
                        c.kind().name().toLowerCase(Locale.ROOT),
                        c.levels().size()));
        all.add(new Flat.Titled("columns of the data", List.of(), columns));
        all.add(new Flat.Titled(
                "scores", List.of(), TrainCommand.table(file.origin().scores())));
        parts.forEach(p -> all.add(new Flat.Titled(p.title(), p.lines(), table(p))));
        Origin origin = file.origin();
        Flat.json(
                console.writer(),
                all,
                "dataset",
                origin.data(),
                "candidate",
                origin.candidate(),
                "classifier",
                file.predictor().classifier(),
                "settings",
                origin.settings(),
                "target",
                file.target(),
                "positive",
                file.classes().get(file.predictor().positive()),
                "program",
                origin.program(),
                "fingerprint",
                origin.fingerprint());
    }

    /** What text says by indenting is a number here. */
    private static Flat.Table table(ModelPart part) {
        boolean rules = !part.columns().isEmpty() && part.columns().get(0).equals("rule");
        List<String> columns = new ArrayList<>(part.columns());
        if (rules) {
            columns.add(0, "depth");
        }
        Flat.Table table = Flat.of(columns.toArray(new String[0]));
        for (List<Object> row : part.rows()) {
            List<Object> cells = new ArrayList<>();
            row.forEach(c -> cells.add(c instanceof ModelPart.Share share ? (Object) share.value() : c));
            if (rules) {
                String rule = row.get(0).toString();
                cells.set(0, rule.strip());
                cells.add(0, (rule.length() - rule.stripLeading().length()) / 2);
            }
            table.row(cells.toArray());
        }
        return table;
    }
}

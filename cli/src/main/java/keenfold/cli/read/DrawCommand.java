package keenfold.cli.read;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.Replacing;
import keenfold.cli.console.Streams;
import keenfold.core.data.Checks;
import keenfold.core.infer.Inference;
import keenfold.core.run.candidate.Candidate;
import keenfold.io.InputException;
import keenfold.io.OutputFile;
import keenfold.io.Suggestion;
import keenfold.io.WholeFile;
import keenfold.io.command.CommandKind;
import keenfold.io.export.Flat;
import keenfold.io.ledger.LedgerReader;
import keenfold.view.chart.Drawing;
import keenfold.view.chart.Figure;
import keenfold.view.chart.FigureContext;
import keenfold.view.chart.FigureData;
import keenfold.view.chart.FigureKind;
import keenfold.view.chart.Look;
import keenfold.view.chart.Sketch;
import keenfold.view.text.Notices;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Draws one figure. */
@Command(
        name = "draw",
        description =
                "Draws one figure: as SVG or PNG with -o, in the terminal without; --csv and --json give the numbers"
                        + " behind it.",
        footerHeading = "%nFigures:%n")
public final class DrawCommand implements Callable<Integer> {
    /** The figures, for the foot of the help. */
    public static String[] figures() {
        return FigureKind.ofLedger().stream()
                .map(k -> String.format(
                        Locale.ROOT, "  %-17s %s", k.label(), k.meaning().replace("%", "%%")))
                .toArray(String[]::new);
    }

    private final Console console;

    @Mixin
    private LedgerOptions reading = new LedgerOptions();

    @Mixin
    private Streams streams = new Streams();

    @Option(
            names = "--figure",
            required = true,
            paramLabel = "NAME",
            description = "which figure: a name listed under Figures")
    private String figure = "";

    @Option(
            names = {"-o", "--output"},
            paramLabel = "FILE",
            description = "a file that ends in .svg or .png")
    private Optional<Path> output = Optional.empty();

    @Option(names = "--metric", paramLabel = "NAME", description = "by this metric (the plan's primary one)")
    private Optional<String> metric = Optional.empty();

    @Option(
            names = "--candidate",
            paramLabel = "NAME",
            description = "only this one; may be repeated (all; one by one: the pick, the best and the next best)")
    private List<String> candidates = new ArrayList<>();

    @Option(names = "--against", paramLabel = "NAME", description = "differences: from this one (the best)")
    private Optional<String> against = Optional.empty();

    @Option(names = "--title", paramLabel = "TEXT", description = "above it, in place of its own")
    private Optional<String> title = Optional.empty();

    @Option(names = "--width", paramLabel = "POINTS", description = "1/72 inch in print (720)")
    private double width = Look.DEFAULT.width();

    @Option(names = "--height", paramLabel = "POINTS", description = "(by what is in it)")
    private Optional<Double> height = Optional.empty();

    @Option(names = "--font-size", paramLabel = "POINTS", description = "(11)")
    private double fontSize = Look.DEFAULT.fontSize();

    @Option(names = "--scale", paramLabel = "N", description = "PNG: pixels a point (2)")
    private double scale = 2;

    @Option(names = "--plain", description = "the figure alone, without title and caption")
    private boolean plain;

    @Option(names = "--ascii", description = "in the terminal: no other signs than ASCII")
    private boolean ascii;

    @Option(names = "--data", paramLabel = "DIR", description = "columns: where the data files are, if not here")
    private Optional<Path> data = Optional.empty();

    @Option(names = "--repeats", paramLabel = "N", description = "columns: on the splits of so many repeats (1)")
    private int repeats = 1;

    @Mixin
    private Replacing replacing = new Replacing();

    @Mixin
    private Common common = new Common();

    public DrawCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        FigureKind kind = reading.checked(() -> FigureKind.of(figure)
                .orElseThrow(() -> new IllegalArgumentException(
                        figure.equals(FigureKind.TREE.label())
                                ? "--figure tree is drawn of a model: keenfold show MODEL --figure FILE.svg"
                                : "--figure \"" + figure + "\" is not known"
                                        + Suggestion.hint(figure, FigureKind.labels()))));
        Look look = reading.checked(() -> {
            Checks.atLeast("--repeats", repeats, 1);
            output.ifPresent(o -> Checks.that(
                    format(o).equals("svg") || format(o).equals("png"),
                    "-o %s: expected a name that ends in .svg or .png",
                    o));
            Look asked = new Look(width, height, fontSize, title, true);
            return plain ? asked.bare() : asked;
        });
        output.ifPresent(o -> replacing.require(o, OutputFile.Kind.FIGURE, List.of(reading.ledger())));
        Optional<String> more = LedgerFigures.needs(kind, LedgerReader.plan(reading.ledger()), reading.hasCosts());
        List<String> asked = new ArrayList<>();
        metric.ifPresent(asked::add);
        more.ifPresent(asked::add);
        LedgerOptions.Read read = reading.read(console, common, LedgerOptions.Asked.of(asked));
        String name = metric.orElse(read.primary());
        String place = reading.ledger().toString();
        LedgerFigures figuring =
                new LedgerFigures(place, read, reading.threads().parallel());
        FigureContext subject = InputException.at(
                place, () -> figuring.subject(read.inferences().get(0), name));
        List<Integer> named =
                InputException.at(place, () -> named(read.inferences().get(0)));
        Figure made = InputException.at(
                place,
                () -> kind == FigureKind.COLUMNS
                        ? figuring.columns(subject, named, data, repeats)
                        : figuring.figure(kind, subject, named, more, against.orElse(ContrastSelection.BEST)));
        deliver(made, look);
        if (kind == FigureKind.COLUMNS) {
            List<String> programs = read.inferences().get(0).panel().candidates().stream()
                    .filter(c -> !CommandKind.startedBy(c).isEmpty())
                    .map(Candidate::name)
                    .filter(c -> candidates.isEmpty() || candidates.contains(c))
                    .toList();
            console.notices(ColumnWorth.leftOut(programs), common);
        }
        reading.notices(console, common, read);
        console.notices(Notices.ofScores(subject.inference().panel(), subject.metric()), common);
        if (read.inferences().size() > 1 && kind != FigureKind.RANKS) {
            console.notices(
                    List.of("drawn of "
                            + read.inferences().get(0).panel().task().data().name()
                            + ", the first of " + read.inferences().size() + " data sets; --dataset names another: "
                            + read.inferences().stream()
                                    .skip(1)
                                    .limit(5)
                                    .map(i -> i.panel().task().data().name())
                                    .collect(Collectors.joining(", "))),
                    common);
        }
        return Exit.DONE;
    }

    private List<Integer> named(Inference inference) {
        List<String> names =
                inference.panel().candidates().stream().map(Candidate::name).toList();
        return candidates.stream()
                .map(c -> {
                    Checks.that(names.contains(c), "no candidate is called \"%s\"%s", c, Suggestion.hint(c, names));
                    return names.indexOf(c);
                })
                .toList();
    }

    public static String format(Path file) {
        String name = file.toString();
        return name.substring(name.lastIndexOf('.') + 1).toLowerCase(Locale.ROOT);
    }

    private void deliver(Figure made, Look look) {
        output.ifPresent(o -> {
            WholeFile.bytes(o, format(o).equals("svg") ? svg(made, look) : png(made, look));
            console.say("drew " + figure + " into " + o, common);
        });
        if (streams.json()) {
            table(made.data()).json(console.writer(), "figure", figure);
        } else if (streams.csv()) {
            table(made.data()).csv(console.writer());
        } else if (output.isEmpty()) {
            console.out().print(Sketch.render(made, console.ink(common), !ascii && Console.unicode()));
        }
    }

    private static byte[] svg(Figure made, Look look) {
        return Drawing.svg(made, look).getBytes(StandardCharsets.UTF_8);
    }

    private byte[] png(Figure made, Look look) {
        return reading.checked(() -> Drawing.png(made, look, scale));
    }

    /** The numbers behind a figure, as CSV and JSON write tables. */
    static Flat.Table table(FigureData data) {
        Flat.Table table = Flat.of(data.columns().toArray(String[]::new));
        data.rows().forEach(r -> table.row(r.toArray()));
        return table;
    }
}

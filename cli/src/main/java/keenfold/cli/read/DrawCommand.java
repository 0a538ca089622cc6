package keenfold.cli.read;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.Replacing;
import keenfold.cli.console.ResultOutput;
import keenfold.cli.console.Streams;
import keenfold.core.data.Checks;
import keenfold.core.data.Suggestion;
import keenfold.io.OutputFile;
import keenfold.io.WholeFile;
import keenfold.io.ledger.LedgerReader;
import keenfold.results.Contrasts;
import keenfold.study.Study;
import keenfold.study.report.FigureResult;
import keenfold.study.report.LedgerFigures;
import keenfold.view.chart.Drawing;
import keenfold.view.chart.FigureKind;
import keenfold.view.chart.Look;
import keenfold.view.chart.Sketch;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Draws one figure. */
@Command(
        name = "draw",
        description =
                "Draws one figure: as SVG, PDF or PNG with -o, in the terminal without; --csv and --json give the numbers"
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

    private static final Map<String, Double> PAPER =
            new TreeMap<>(Map.of("one-column", Look.ONE_COLUMN, "two-columns", Look.TWO_COLUMNS));

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
            description = "a file that ends in .svg, .pdf or .png")
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

    @Option(names = "--title", paramLabel = "TEXT", description = "a title in place of its own")
    private Optional<String> title = Optional.empty();

    @Option(names = "--width", paramLabel = "POINTS", description = "1/72 inch in print (720)")
    private Optional<Double> width = Optional.empty();

    @Option(
            names = "--paper",
            paramLabel = "one-column|two-columns",
            description = "for a paper: 252 or 516 points wide, letters of 8 points, without title and caption")
    private Optional<String> paper = Optional.empty();

    @Option(names = "--height", paramLabel = "POINTS", description = "(by what is in it)")
    private Optional<Double> height = Optional.empty();

    @Option(names = "--font-size", paramLabel = "POINTS", description = "(11)")
    private Optional<Double> fontSize = Optional.empty();

    @Option(names = "--scale", paramLabel = "N", description = "PNG: pixels a point (2)")
    private double scale = 2;

    @Option(names = "--plain", description = "the figure alone, without title and caption")
    private boolean plain;

    @Option(names = "--ascii", description = "in the terminal: ASCII characters only")
    private boolean ascii;

    @Option(names = "--data", paramLabel = "DIR", description = "columns: where the data files are, if not here")
    private Optional<Path> data = Optional.empty();

    @Option(names = "--repeats", paramLabel = "N", description = "columns: number of repeats whose splits are used (1)")
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
                .orElseThrow(() -> Checks.wrong(
                        figure.equals(FigureKind.TREE.label())
                                ? "--figure tree is drawn of a model: keenfold show MODEL --figure FILE.svg"
                                : "--figure \"" + figure + "\" is not known"
                                        + Suggestion.hint(figure, FigureKind.labels()))));
        Look look = reading.checked(() -> {
            Checks.atLeast("--repeats", repeats, 1);
            output.ifPresent(o -> Checks.that(
                    Drawing.FORMATS.contains(format(o)), "-o %s: expected a name that ends in .svg, .pdf or .png", o));
            paper.ifPresent(p -> Checks.that(
                    PAPER.containsKey(p), "--paper %s: expected %s", p, String.join(" or ", PAPER.keySet())));
            double normal = paper.map(PAPER::get).orElse(Look.DEFAULT.width());
            double letters = paper.isPresent() ? Look.PAPER_FONT : Look.DEFAULT.fontSize();
            Look asked = new Look(width.orElse(normal), height, fontSize.orElse(letters), title, true);
            return plain || (paper.isPresent() && title.isEmpty()) ? asked.bare() : asked;
        });
        output.ifPresent(o -> replacing.require(o, OutputFile.Kind.FIGURE, List.of(reading.ledger())));
        List<String> asked = new ArrayList<>();
        metric.ifPresent(asked::add);
        Optional<String> more = LedgerFigures.needs(kind, LedgerReader.plan(reading.ledger()), reading.hasCosts());
        more.ifPresent(asked::add);
        Study study = reading.open(console, common, asked, settings -> settings);
        FigureResult made =
                study.figure(kind, name(study), more, candidates, against.orElse(Contrasts.BEST), data, repeats);
        output.ifPresent(o -> {
            WholeFile.bytes(o, reading.checked(() -> Drawing.of(format(o), made.figure(), look, scale)));
            console.say("drew " + figure + " into " + o, common);
        });
        boolean shown = output.isEmpty() || streams.machine();
        if (shown) {
            new ResultOutput(console, common, streams)
                    .show(made, ink -> Sketch.render(made.figure(), ink, !ascii && Console.unicode()));
        } else {
            console.notices(made.notices(), common);
        }
        return Exit.DONE;
    }

    private String name(Study study) {
        return metric.orElseGet(() -> study.evaluation().primary());
    }

    public static String format(Path file) {
        String name = file.toString();
        return name.substring(name.lastIndexOf('.') + 1).toLowerCase(Locale.ROOT);
    }
}

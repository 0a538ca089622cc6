package keenfold.cli.read;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Stream;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.Streams;
import keenfold.core.data.Checks;
import keenfold.core.infer.Inference;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.metric.catalog.MetricName;
import keenfold.io.InputException;
import keenfold.io.export.CsvExport;
import keenfold.io.export.JsonExport;
import keenfold.io.plan.AdoptedKind;
import keenfold.view.text.DetailViews;
import keenfold.view.text.Heading;
import keenfold.view.text.Notices;
import keenfold.view.text.ScoresView;
import keenfold.view.text.Wrap;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Shows means and spreads. */
@Command(
        name = "scores",
        description = "Shows, per candidate and metric, the mean over repeats, the spread of the fold scores (sd), the"
                + " uncertainty of the mean (se) and its interval; or one of the closer looks below.")
public final class ScoresCommand implements Callable<Integer> {
    private static final List<String> BY = List.of("repeat", "fold", "class", "dataset", "column");

    private final Console console;

    @Mixin
    private LedgerOptions reading = new LedgerOptions();

    @Mixin
    private Streams streams = new Streams();

    @Option(
            names = "--metric",
            paramLabel = "NAME",
            description = "only this metric, scored in the run or not; may be repeated (all of the plan)")
    private List<String> metrics = new ArrayList<>();

    @Option(names = "--candidate", paramLabel = "NAME", description = "closer looks: only this one; may be repeated")
    private List<String> candidates = new ArrayList<>();

    @Option(
            names = "--by",
            paramLabel = "WHAT",
            description =
                    "repeat: how means settle as repeats are added; fold: every split; class: recall, precision, f1"
                            + " and auc of each class; dataset: data sets side by side; column: what columns are worth, by"
                            + " shuffling them among test rows (trains anew)")
    private Optional<String> by = Optional.empty();

    @Option(
            names = "--confusion",
            arity = "0..1",
            fallbackValue = "counts",
            paramLabel = "counts|rows|columns",
            description = "actual against predicted classes: rows, or shares by actual or predicted class; with --by"
                    + " repeat, --csv and --json of each repeat too")
    private Optional<String> confusion = Optional.empty();

    @Option(
            names = "--thresholds",
            description =
                    "rates when the positive class is predicted from other probabilities on, and the best threshold"
                            + " for a metric of labels (balanced-accuracy, or cost where costs are given)")
    private boolean thresholds;

    @Option(names = "--spread", description = "the spread in several forms, each named")
    private boolean spread;

    @Option(
            names = "--train-scores",
            description =
                    "the mean score on the training rows beside it; the ledger has them after run" + " --train-scores")
    private boolean trainScores;

    @Option(names = "--data", paramLabel = "DIR", description = "--by column: where the data files are, if not here")
    private Optional<Path> data = Optional.empty();

    @Option(names = "--repeats", paramLabel = "N", description = "--by column: on the splits of so many repeats (1)")
    private int repeats = 1;

    @Mixin
    private Common common = new Common();

    public ScoresCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        return console.together(this::shown, common);
    }

    private int shown() {
        reading.checked(() -> {
            by.ifPresent(b -> Checks.that(BY.contains(b), "--by %s: expected one of %s", b, String.join(", ", BY)));
            long looks = Stream.of(by.isPresent(), confusion.isPresent(), thresholds, spread)
                    .filter(b -> b)
                    .count();
            boolean perRepeat = confusion.isPresent() && by.equals(Optional.of("repeat")) && looks == 2;
            Checks.that(
                    looks <= 1 || perRepeat,
                    "--by, --confusion, --thresholds and --spread are looks of their own; ask for one at a time");
            Checks.that(
                    looks == 0 || !trainScores,
                    "--train-scores says nothing beside a closer look; leave out one of them");
            Checks.atLeast("--repeats", repeats, 1);
            return confusion.map(ScoresCommand::cells);
        });
        LedgerOptions.Read read = reading.read(console, common, LedgerOptions.Asked.of(asked()));
        if (trainScores && read.inferences().stream().noneMatch(i -> i.panel().hasTrainScores())) {
            throw new InputException(
                    reading.ledger().toString(),
                    "the fits were not scored on their training rows; run the plan into a new ledger with"
                            + " --train-scores");
        }
        requireWhatLooksNeed(read);
        boolean closer = confusion.isPresent() || thresholds || spread || by.isPresent();
        LookOutput.requireKnown(reading.ledger(), read, candidates);
        reading.checked(() -> {
            Checks.that(
                    candidates.isEmpty() || (closer && !by.equals(Optional.of("dataset"))),
                    "--candidate is for a closer look at some of the candidates: --by, --confusion, --thresholds or"
                            + " --spread; the table of means shows all");
            return true;
        });
        LookOutput out = new LookOutput(console, common, reading, streams, candidates);
        if (confusion.isPresent()) {
            ConfusionLook.show(out, read, cells(confusion.get()), by.isPresent());
        } else if (thresholds) {
            ThresholdLook.show(out, read, metrics.isEmpty() ? thresholdMetric(read) : metrics.get(0));
        } else if (spread) {
            SpreadLook.show(out, read, shown(read));
        } else if (by.isPresent()) {
            by(read, out);
        } else {
            scores(read);
        }
        return Exit.DONE;
    }

    /** Some looks need predictions, or candidates that can be trained: adopted ones may have neither. */
    private void requireWhatLooksNeed(LedgerOptions.Read read) {
        boolean predictions = confusion.isPresent() || thresholds || by.equals(Optional.of("repeat"));
        if (predictions && read.inferences().stream().anyMatch(i -> i.panel().scoresOnly())) {
            throw new InputException(
                    reading.ledger().toString(),
                    "this look needs predictions, and only scores were adopted here; adopt predictions, or ask for --by"
                            + " fold, --by dataset or --spread");
        }
        if (by.equals(Optional.of("column"))
                && read.content().plan().candidates().stream().anyMatch(AdoptedKind::is)) {
            throw new InputException(
                    reading.ledger().toString(),
                    "--by column trains anew, and adopted candidates cannot be trained; ask it of a ledger that run made");
        }
    }

    /** Metrics that have to be there besides those of the plan. */
    private List<String> asked() {
        List<String> asked = new ArrayList<>(metrics);
        if (thresholds && metrics.isEmpty()) {
            asked.add("balanced-accuracy");
            if (reading.hasCosts()) {
                asked.add("cost");
            }
        }
        if (reading.hasCosts() && metrics.isEmpty() && !asked.contains("cost")) {
            asked.add("cost");
        }
        return asked;
    }

    private String thresholdMetric(LedgerOptions.Read read) {
        boolean costs = reading.hasCosts() || !read.content().plan().costs().none();
        return costs && read.has("cost") ? "cost" : "balanced-accuracy";
    }

    private static DetailViews.Cells cells(String text) {
        return Arrays.stream(DetailViews.Cells.values())
                .filter(c -> c.name().toLowerCase(Locale.ROOT).equals(text))
                .findFirst()
                .orElseThrow(() ->
                        new IllegalArgumentException("--confusion " + text + ": expected counts, rows or columns"));
    }

    private void by(LedgerOptions.Read read, LookOutput out) {
        List<String> primary = metrics.isEmpty() ? List.of(read.primary()) : metrics;
        switch (by.orElse("")) {
            case "repeat" -> RepeatLook.show(out, read, primary);
            case "fold" -> FoldLook.show(out, read, primary);
            case "class" -> ClassLook.show(out, read, metrics.isEmpty() ? ClassLook.OF_CLASS : ofClass());
            case "dataset" -> DataSetLook.show(out, read, primary);
            default -> ColumnLook.show(out, read, primary.get(0), data, repeats);
        }
    }

    private List<String> ofClass() {
        return reading.checked(() -> {
            for (String name : metrics) {
                Checks.that(
                        MetricName.parse(name).measure().oneSided() && !name.contains(":"),
                        "--by class: %s is not a metric of one class; name one such as recall or auc",
                        name);
            }
            return metrics;
        });
    }

    private List<String> shown(LedgerOptions.Read read) {
        if (!metrics.isEmpty()) {
            return metrics;
        }
        List<String> shown = new ArrayList<>(read.metricNames());
        if (reading.hasCosts() && !shown.contains("cost")) {
            shown.add("cost");
        }
        return shown;
    }

    private void scores(LedgerOptions.Read read) {
        List<String> shown = shown(read);
        read.inferences().forEach(i -> i.together(shown));
        if (streams.json()) {
            JsonExport.scores(read.primary(), read.inferences(), shown, console.writer());
        } else if (streams.csv()) {
            CsvExport.table(header(trainScores), rows(read.inferences(), shown, trainScores), console.writer());
        } else {
            text(read, shown);
        }
        reading.notices(console, common, read);
        for (Inference inference : read.inferences()) {
            for (String metric : shown) {
                console.notices(Notices.ofScores(inference.panel(), inference.metric(metric)), common);
            }
        }
    }

    private void text(LedgerOptions.Read read, List<String> shown) {
        read.content().plan().note().ifPresent(n -> console.out().println(Wrap.visible(n)));
        for (Inference inference : read.inferences()) {
            console.out()
                    .println(Heading.of(
                            inference.panel(), read.content().plan().division().scheme(), console.ink(common)));
            console.out().println(ScoresView.render(inference, shown, trainScores, console.ink(common)));
        }
    }

    /** The columns of a table of means. */
    static List<String> header(boolean trainScores) {
        List<String> header = new ArrayList<>(
                List.of("dataset", "candidate", "metric", "mean", "sd", "se", "low", "high", "min", "max"));
        if (trainScores) {
            header.add("train");
        }
        return header;
    }

    /** Means as lines of a table with the columns of {@link #header}. */
    static List<List<String>> rows(List<Inference> inferences, List<String> shown, boolean trainScores) {
        List<List<String>> rows = new ArrayList<>();
        for (Inference inference : inferences) {
            for (String metric : shown) {
                for (MeanScore m : inference.metric(metric).means()) {
                    List<String> row = new ArrayList<>(List.of(
                            inference.panel().task().data().name(),
                            inference.panel().candidates().get(m.candidate()).name(),
                            metric,
                            CsvExport.cell(m.mean()),
                            CsvExport.cell(m.sd()),
                            CsvExport.cell(m.standardError()),
                            CsvExport.cell(m.low()),
                            CsvExport.cell(m.high()),
                            CsvExport.cell(m.min()),
                            CsvExport.cell(m.max())));
                    if (trainScores) {
                        row.add(CsvExport.cell(m.train()));
                    }
                    rows.add(row);
                }
            }
        }
        return rows;
    }
}

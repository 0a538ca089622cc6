package keenfold.cli.read;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.function.BiFunction;
import java.util.stream.Stream;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.ResultOutput;
import keenfold.cli.console.Streams;
import keenfold.core.data.Checks;
import keenfold.core.metric.catalog.MetricLimit;
import keenfold.core.metric.catalog.MetricName;
import keenfold.io.InputException;
import keenfold.results.Look;
import keenfold.results.Result;
import keenfold.results.Scores;
import keenfold.study.Study;
import keenfold.view.text.Ink;
import keenfold.view.text.LookView;
import keenfold.view.text.RunningView;
import keenfold.view.text.ScoresView;
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

    /** What is shown of each class unless other metrics are named. */
    private static final List<String> OF_CLASS = List.of("recall", "precision", "f1", "auc");

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
                            + " shuffling them among test rows (retrains)")
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
            description = "recall, precision and other rates at thresholds from 0.05 to 0.95, and the best threshold"
                    + " for a metric of labels (balanced-accuracy, or cost where costs are given)")
    private boolean thresholds;

    @Option(
            names = "--where",
            paramLabel = "BOUND",
            description =
                    "--thresholds: of the thresholds that keep a bound, such as specificity>=0.9, those that are best"
                            + " for --metric (recall), with what they give on rows that they were not found on")
    private Optional<String> where = Optional.empty();

    @Option(
            names = "--rows",
            arity = "0..1",
            fallbackValue = "20",
            paramLabel = "N",
            description = "the rows that most candidates get wrong most often, with their values (20)")
    private Optional<Integer> rows = Optional.empty();

    @Option(names = "--neighbours", paramLabel = "N", description = "--rows: the nearest other rows of each, too")
    private Optional<Integer> neighbours = Optional.empty();

    @Option(names = "--spread", description = "the spread in several forms, each named")
    private boolean spread;

    @Option(
            names = "--train-scores",
            description =
                    "the mean score on the training rows beside it; the ledger has them after run" + " --train-scores")
    private boolean trainScores;

    @Option(
            names = "--ranks",
            description = "which candidates may be the best, and the ranks that each may have, beside the means")
    private boolean ranks;

    @Option(
            names = "--data",
            paramLabel = "DIR",
            description = "--by column, --rows: where the data files are, if not here")
    private Optional<Path> data = Optional.empty();

    @Option(
            names = "--repeats",
            paramLabel = "N",
            description = "--by column: number of repeats whose splits are used (1)")
    private int repeats = 1;

    @Mixin
    private Common common = new Common();

    public ScoresCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        reading.checked(() -> {
            by.ifPresent(b -> Checks.that(BY.contains(b), "--by %s: expected one of %s", b, String.join(", ", BY)));
            long looks = Stream.of(by.isPresent(), confusion.isPresent(), thresholds, spread, rows.isPresent())
                    .filter(b -> b)
                    .count();
            Checks.that(
                    looks <= 1 || (perRepeat() && looks == 2),
                    "--by, --confusion, --thresholds, --rows and --spread are looks of their own; ask for one at a time");
            Checks.that(
                    looks == 0 || !(trainScores || ranks),
                    "%s has no effect beside a closer look; leave out one of them",
                    trainScores ? "--train-scores" : "--ranks");
            rows.ifPresent(r -> Checks.atLeast("--rows", r, 1));
            Checks.that(neighbours.isEmpty() || rows.isPresent(), "--neighbours is for --rows; ask for both");
            neighbours.ifPresent(k -> Checks.atLeast("--neighbours", k, 1));
            Checks.that(where.isEmpty() || thresholds, "--where is for --thresholds; ask for both");
            where.ifPresent(MetricLimit::parse);
            Checks.atLeast("--repeats", repeats, 1);
            return confusion.map(ScoresCommand::cells);
        });
        Study study = reading.open(console, common, asked(), settings -> settings);
        requireLook(study);
        ResultOutput output = new ResultOutput(console, common, streams);
        if (confusion.isPresent()) {
            Look look = study.looks().confusion(perRepeat(), candidates);
            output.show(look, ink -> LookView.confusion(look, cells(confusion.get()), ink));
            if (perRepeat() && !streams.machine()) {
                console.say("each repeat by itself: with --csv or --json", common);
            }
        } else if (rows.isPresent()) {
            show(output, study.looks().hardestRows(candidates, data, rows.get(), neighbours.orElse(0)), LookView::rows);
        } else if (where.isPresent()) {
            MetricName metric = reading.checked(() -> MetricName.parse(metrics.isEmpty() ? "recall" : metrics.get(0)));
            show(
                    output,
                    study.looks()
                            .operatingPoints(metric, reading.checked(() -> where.map(MetricLimit::parse)), candidates),
                    LookView::operatingPoints);
        } else if (thresholds) {
            String metric = metrics.isEmpty() ? thresholdMetric(study) : metrics.get(0);
            show(output, study.looks().thresholds(metric, candidates), LookView::thresholds);
        } else if (spread) {
            show(output, study.looks().spread(shown(study), candidates), LookView::spread);
        } else if (by.isPresent()) {
            by(study, output);
        } else {
            show(output, study.scores(shown(study), new Scores.Extras(trainScores, ranks)), ScoresView::render);
        }
        return Exit.DONE;
    }

    /** Candidates can be named for a closer look alone. */
    private void requireLook(Study study) {
        InputException.at(reading.ledger().toString(), () -> {
            study.evaluation().requireCandidates(candidates);
            return true;
        });
        boolean closer = confusion.isPresent() || thresholds || spread || by.isPresent() || rows.isPresent();
        reading.checked(() -> {
            Checks.that(
                    candidates.isEmpty() || (closer && !by.equals(Optional.of("dataset"))),
                    "--candidate is for a closer look at some of the candidates: --by, --confusion, --thresholds, --rows"
                            + " or --spread; the table of means shows all");
            return true;
        });
    }

    private boolean perRepeat() {
        return confusion.isPresent() && by.equals(Optional.of("repeat"));
    }

    private void by(Study study, ResultOutput output) {
        List<String> names = metrics.isEmpty() ? List.of(study.evaluation().primary()) : metrics;
        switch (by.orElse("")) {
            case "repeat" -> show(output, study.looks().repeats(names, candidates), RunningView::render);
            case "fold" -> show(output, study.looks().folds(names, candidates), LookView::folds);
            case "class" -> {
                List<String> measures = metrics.isEmpty() ? ofEachClass(study) : ofClass();
                show(output, study.looks().classes(measures, candidates), LookView::classes);
            }
            case "dataset" -> show(output, study.looks().dataSets(names), LookView::dataSets);
            default -> show(output, study.looks().columns(names.get(0), candidates, data, repeats), LookView::columns);
        }
    }

    private static <R extends Result> void show(ResultOutput output, R result, BiFunction<R, Ink, String> text) {
        output.show(result, ink -> text.apply(result, ink));
    }

    private static List<String> ofEachClass(Study study) {
        return OF_CLASS.stream()
                .filter(m -> study.hasProbabilities()
                        || MetricName.parse(m).measure().byLabels())
                .toList();
    }

    /** Metrics that have to be there besides those of the plan. */
    private List<String> asked() {
        List<String> asked = new ArrayList<>(metrics);
        if (thresholds && metrics.isEmpty()) {
            asked.add("balanced-accuracy");
        }
        if (reading.hasCosts() && metrics.isEmpty()) {
            asked.add("cost");
        }
        return asked;
    }

    private static String thresholdMetric(Study study) {
        return study.hasCosts() && study.evaluation().has("cost") ? "cost" : "balanced-accuracy";
    }

    private static LookView.Cells cells(String text) {
        return Arrays.stream(LookView.Cells.values())
                .filter(c -> c.name().toLowerCase(Locale.ROOT).equals(text))
                .findFirst()
                .orElseThrow(() -> Checks.wrong("--confusion " + text + ": expected counts, rows or columns"));
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

    private List<String> shown(Study study) {
        if (!metrics.isEmpty()) {
            return metrics;
        }
        List<String> shown = new ArrayList<>(study.evaluation().metrics());
        if (reading.hasCosts() && !shown.contains("cost")) {
            shown.add("cost");
        }
        return shown;
    }
}

package keenfold.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.core.data.Checks;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MeanScore;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.RunningMean;
import keenfold.io.InputException;
import keenfold.io.export.CsvExport;
import keenfold.io.export.JsonExport;
import keenfold.view.text.Cautions;
import keenfold.view.text.Heading;
import keenfold.view.text.RunningView;
import keenfold.view.text.ScoresView;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Shows means and spreads. */
@Command(
        name = "scores",
        description = "Shows, per candidate and metric, the mean over repeats, the spread of the fold scores (sd), the"
                + " uncertainty of the mean (se) and its interval.")
final class ScoresCommand implements Callable<Integer> {
    private final Console console;

    @Mixin
    private Reading reading = new Reading();

    @Option(names = "--metric", paramLabel = "NAME", description = "only this metric; may be repeated (all)")
    private List<String> metrics = new ArrayList<>();

    @Option(
            names = "--by",
            paramLabel = "WHAT",
            description = "repeat: how means and their se settle as repeats are added (of the primary metric, unless"
                    + " --metric names others)")
    private Optional<String> by = Optional.empty();

    @Option(
            names = "--train-scores",
            description =
                    "the mean score on the training rows beside it; the ledger has them after run" + " --train-scores")
    private boolean trainScores;

    @Mixin
    private Common common = new Common();

    ScoresCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        by.ifPresent(b -> reading.checked(() -> {
            Checks.that(b.equals("repeat"), "--by %s: expected repeat", b);
            Checks.that(!trainScores, "--train-scores says nothing beside --by; leave out one of them");
            return b;
        }));
        Reading.Read read = reading.read(Optional.empty());
        if (trainScores && read.inferences().stream().noneMatch(i -> i.panel().hasTrainScores())) {
            throw new InputException(
                    reading.ledger().toString(),
                    "the fits were not scored on their training rows; run the plan into a new ledger with"
                            + " --train-scores");
        }
        if (by.isPresent()) {
            return byRepeat(read);
        }
        List<String> shown = metrics.isEmpty()
                ? read.metricNames()
                : metrics.stream()
                        .map(m -> reading.metric(Optional.of(m), read))
                        .toList();
        if (reading.json()) {
            JsonExport.scores(read.primary(), read.inferences(), shown, console.writer());
        } else if (reading.csv()) {
            CsvExport.table(header(), rows(read, shown), console.writer());
        } else {
            text(read, shown);
        }
        reading.notices(console, common, read);
        for (Inference inference : read.inferences()) {
            for (String metric : shown) {
                console.notices(Cautions.ofScores(inference.panel(), inference.metric(metric)), common);
            }
        }
        return Exit.DONE;
    }

    private int byRepeat(Reading.Read read) {
        List<String> shown = metrics.isEmpty()
                ? List.of(read.primary())
                : metrics.stream()
                        .map(m -> reading.metric(Optional.of(m), read))
                        .toList();
        if (reading.json()) {
            JsonExport.running(read.inferences(), shown, console.writer());
        } else if (reading.csv()) {
            CsvExport.table(
                    List.of(
                            "dataset",
                            "candidate",
                            "metric",
                            "repeats",
                            "score",
                            "running_mean",
                            "running_se",
                            "between_repeats"),
                    runningRows(read, shown),
                    console.writer());
        } else {
            for (Inference inference : read.inferences()) {
                console.out()
                        .println(Heading.of(
                                inference.panel(),
                                read.content().plan().division().scheme(),
                                console.ink(common)));
                for (String metric : shown) {
                    console.out().println(RunningView.render(inference, inference.metric(metric), console.ink(common)));
                }
            }
        }
        reading.notices(console, common, read);
        return Exit.DONE;
    }

    private static List<List<String>> runningRows(Reading.Read read, List<String> shown) {
        List<List<String>> rows = new ArrayList<>();
        for (Inference inference : read.inferences()) {
            for (String name : shown) {
                MetricInference metric = inference.metric(name);
                for (int c : metric.compared()) {
                    for (RunningMean one : metric.running(c)) {
                        rows.add(List.of(
                                inference.panel().task().data().name(),
                                inference.panel().candidates().get(c).name(),
                                name,
                                Integer.toString(one.count()),
                                CsvExport.cell(one.score()),
                                CsvExport.cell(one.mean()),
                                CsvExport.cell(one.standardError()),
                                CsvExport.cell(one.between())));
                    }
                }
            }
        }
        return rows;
    }

    private void text(Reading.Read read, List<String> shown) {
        read.content().plan().note().ifPresent(n -> console.out().println(n));
        for (Inference inference : read.inferences()) {
            console.out()
                    .println(Heading.of(
                            inference.panel(), read.content().plan().division().scheme(), console.ink(common)));
            console.out().println(ScoresView.render(inference, shown, trainScores, console.ink(common)));
        }
    }

    private List<String> header() {
        List<String> header = new ArrayList<>(
                List.of("dataset", "candidate", "metric", "mean", "sd", "se", "low", "high", "min", "max"));
        if (trainScores) {
            header.add("train");
        }
        return header;
    }

    private List<List<String>> rows(Reading.Read read, List<String> shown) {
        List<List<String>> rows = new ArrayList<>();
        for (Inference inference : read.inferences()) {
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

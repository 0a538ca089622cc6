package keenfold.cli.read;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Streams;
import keenfold.core.infer.Confusions;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.Spread;
import keenfold.core.infer.Thresholds;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.infer.resample.RunningMean;
import keenfold.core.metric.Confusion;
import keenfold.core.metric.Metric;
import keenfold.core.run.Importance;
import keenfold.core.run.result.Fit;
import keenfold.io.InputException;
import keenfold.io.Suggestion;
import keenfold.io.export.CsvExport;
import keenfold.io.export.Flat;
import keenfold.io.export.JsonExport;
import keenfold.view.text.DetailViews;
import keenfold.view.text.Heading;
import keenfold.view.text.Notices;
import keenfold.view.text.RunningView;

/** The closer looks of {@code scores}: each as text, as CSV and as JSON. */
final class CloserLooks {
    /** What is shown of each class unless other metrics are named. */
    static final List<String> OF_CLASS = List.of("recall", "precision", "f1", "auc");

    private final Console console;
    private final Common common;
    private final LedgerOptions reading;
    private final Streams streams;
    private final List<String> wanted;

    /** @param wanted names of candidates; all if empty */
    CloserLooks(Console console, Common common, LedgerOptions reading, Streams streams, List<String> wanted) {
        this.console = console;
        this.common = common;
        this.reading = reading;
        this.streams = streams;
        this.wanted = wanted;
    }

    /** Refuses names of candidates that a ledger does not have. */
    static void requireKnown(Path ledger, LedgerOptions.Read read, List<String> wanted) {
        List<String> names = read.inferences().get(0).panel().candidates().stream()
                .map(c -> c.name())
                .toList();
        for (String name : wanted) {
            if (!names.contains(name)) {
                throw new InputException(
                        ledger.toString(), "no candidate is called \"" + name + "\"" + Suggestion.hint(name, names));
            }
        }
    }

    /** The admitted candidates that are asked for. */
    private List<Integer> shown(AlignedPredictions panel) {
        List<String> names = panel.candidates().stream().map(c -> c.name()).toList();
        return panel.admitted().stream()
                .filter(c -> wanted.isEmpty() || wanted.contains(names.get(c)))
                .toList();
    }

    private void heading(LedgerOptions.Read read, Inference inference) {
        console.out()
                .println(Heading.of(
                        inference.panel(), read.content().plan().division().scheme(), console.ink(common)));
    }

    private boolean machine() {
        return streams.machine();
    }

    private void write(Flat.Table table, String... about) {
        if (streams.json()) {
            table.json(console.writer(), about);
        } else {
            table.csv(console.writer());
        }
    }

    private static String name(Inference inference) {
        return inference.panel().task().data().name();
    }

    private static String name(Inference inference, int candidate) {
        return inference.panel().candidates().get(candidate).name();
    }

    void byRepeat(LedgerOptions.Read read, List<String> metrics) {
        if (streams.json()) {
            JsonExport.running(read.inferences(), metrics, console.writer());
        } else if (streams.csv()) {
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
                    runningRows(read, metrics),
                    console.writer());
        } else {
            for (Inference inference : read.inferences()) {
                heading(read, inference);
                for (String metric : metrics) {
                    console.out().println(RunningView.render(inference, inference.metric(metric), console.ink(common)));
                }
            }
        }
        reading.notices(console, common, read);
    }

    private static List<List<String>> runningRows(LedgerOptions.Read read, List<String> metrics) {
        List<List<String>> rows = new ArrayList<>();
        for (Inference inference : read.inferences()) {
            for (String name : metrics) {
                MetricInference metric = inference.metric(name);
                for (int c : metric.compared()) {
                    for (RunningMean one : metric.running(c)) {
                        rows.add(List.of(
                                name(inference),
                                name(inference, c),
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

    void byFold(LedgerOptions.Read read, List<String> metrics) {
        Flat.Table table = Flat.of("dataset", "candidate", "repeat", "fold", "metric", "value");
        for (Inference inference : read.inferences()) {
            AlignedPredictions panel = inference.panel();
            List<Integer> shown = shown(panel);
            if (!machine()) {
                heading(read, inference);
            }
            for (String name : metrics) {
                int index = panel.task().metrics().stream()
                        .map(Metric::name)
                        .toList()
                        .indexOf(name);
                if (!machine()) {
                    console.out()
                            .print(DetailViews.byFold(
                                    panel, inference.metric(name), index, shown, console.ink(common)));
                    continue;
                }
                for (int c : shown) {
                    for (Fit fit : panel.fitsOf(c)) {
                        fit.result()
                                .ifPresent(r -> table.row(
                                        name(inference),
                                        name(inference, c),
                                        fit.repeat() + 1,
                                        fit.fold() + 1,
                                        name,
                                        r.score(index)));
                    }
                }
            }
        }
        if (machine()) {
            write(table, "by", "fold");
        }
        reading.notices(console, common, read);
    }

    /** Needs metrics that the ledger was not read with: it is read again with those of each class. */
    void byClass(LedgerOptions.Read before, List<String> measures) {
        List<String> labels =
                before.inferences().get(0).panel().task().data().classes().labels();
        if (before.inferences().stream()
                .anyMatch(i -> !i.panel().task().data().classes().labels().equals(labels))) {
            throw new InputException(
                    reading.ledger().toString(),
                    "--by class: the data sets have different classes; name one with --dataset");
        }
        List<String> names = measures.stream()
                .flatMap(m -> labels.stream().map(l -> m + ":class=" + l))
                .toList();
        LedgerOptions.Read read = reading.read(console, common, LedgerOptions.Asked.of(names));
        Flat.Table table = Flat.of("dataset", "candidate", "class", "rows", "metric", "mean", "se", "low", "high");
        for (Inference inference : read.inferences()) {
            inference.together(names);
            if (!machine()) {
                heading(read, inference);
            }
            int[] counts = inference.panel().task().data().classCounts();
            for (int c : shown(inference.panel())) {
                if (!machine()) {
                    console.out().println(DetailViews.byClass(inference, c, measures, console.ink(common)));
                }
                for (int l = 0; l < labels.size(); l++) {
                    for (String measure : measures) {
                        MeanScore mean = inference
                                .metric(measure + ":class=" + labels.get(l))
                                .means()
                                .get(c);
                        table.row(
                                name(inference),
                                name(inference, c),
                                labels.get(l),
                                counts[l],
                                measure,
                                mean.mean(),
                                mean.standardError(),
                                mean.low(),
                                mean.high());
                    }
                }
            }
        }
        if (machine()) {
            write(table, "by", "class");
        }
        reading.notices(console, common, read);
        for (Inference inference : read.inferences()) {
            names.forEach(n -> console.notices(Notices.ofScores(inference.panel(), inference.metric(n)), common));
        }
    }

    void byDataSet(LedgerOptions.Read read, List<String> metrics) {
        Flat.Table table = Flat.of("dataset", "candidate", "metric", "mean", "se", "low", "high");
        for (String name : metrics) {
            List<MetricInference> each =
                    read.inferences().stream().map(i -> i.metric(name)).toList();
            if (!machine()) {
                console.out().print(DetailViews.byDataSet(each, console.ink(common)));
            }
            for (Inference inference : read.inferences()) {
                for (MeanScore m : inference.metric(name).means()) {
                    table.row(
                            name(inference),
                            name(inference, m.candidate()),
                            name,
                            m.mean(),
                            m.standardError(),
                            m.low(),
                            m.high());
                }
            }
        }
        if (machine()) {
            write(table, "by", "dataset");
        }
        reading.notices(console, common, read);
    }

    void confusion(LedgerOptions.Read read, DetailViews.Cells cells, boolean perRepeat) {
        Flat.Table table =
                Flat.of("dataset", "candidate", "repeat", "actual", "predicted", "count", "of_actual", "of_predicted");
        for (Inference inference : read.inferences()) {
            AlignedPredictions panel = inference.panel();
            List<String> labels = panel.task().data().classes().labels();
            if (!machine()) {
                heading(read, inference);
            }
            for (int c : shown(panel)) {
                Confusions all = Confusions.of(panel, c);
                if (!machine()) {
                    console.out().println(DetailViews.confusion(panel, c, all, cells, console.ink(common)));
                }
                for (int a = 0; a < labels.size(); a++) {
                    for (int p = 0; p < labels.size(); p++) {
                        table.row(
                                name(inference),
                                name(inference, c),
                                Double.NaN,
                                labels.get(a),
                                labels.get(p),
                                all.count(a, p),
                                all.ofActual(a, p),
                                all.ofPredicted(a, p));
                    }
                }
                if (perRepeat) {
                    for (int r = 0; r < all.parts().size(); r++) {
                        rows(table, inference, c, r, all.parts().get(r));
                    }
                }
            }
        }
        if (machine()) {
            write(table, "look", "confusion");
        } else if (perRepeat) {
            console.say("each repeat by itself: with --csv or --json", common);
        }
        reading.notices(console, common, read);
    }

    private static void rows(Flat.Table table, Inference inference, int c, int repeat, Confusion m) {
        List<String> labels = inference.panel().task().data().classes().labels();
        for (int a = 0; a < m.classes(); a++) {
            for (int p = 0; p < m.classes(); p++) {
                table.row(
                        name(inference),
                        name(inference, c),
                        repeat + 1.0,
                        labels.get(a),
                        labels.get(p),
                        m.at(a, p),
                        m.at(a, p) / m.actual(a),
                        m.at(a, p) / m.predicted(p));
            }
        }
    }

    void thresholds(LedgerOptions.Read read, String name) {
        Flat.Table table = Flat.of(
                "dataset",
                "candidate",
                "metric",
                "kind",
                "threshold",
                "called",
                "recall",
                "specificity",
                "precision",
                "npv",
                "score");
        for (Inference inference : read.inferences()) {
            AlignedPredictions panel = inference.panel();
            Metric metric = inference.metric(name).metric();
            if (!machine()) {
                heading(read, inference);
            }
            for (int c : shown(panel)) {
                String place = reading.ledger().toString();
                Thresholds all = InputException.at(place, () -> Thresholds.of(panel, c));
                Optional<Thresholds.Best> best = InputException.at(place, () -> all.best(metric));
                List<Thresholds.Point> points = all.points(metric);
                if (!machine()) {
                    console.out().println(DetailViews.thresholds(panel, c, name, points, best, console.ink(common)));
                }
                for (Thresholds.Point p : points) {
                    table.row(
                            name(inference),
                            name(inference, c),
                            name,
                            "grid",
                            p.threshold(),
                            p.called(),
                            p.recall(),
                            p.specificity(),
                            p.precision(),
                            p.npv(),
                            p.score());
                }
                best.ifPresent(b -> {
                    one(table, inference, c, name, "as predicted", Double.NaN, b.asPredicted());
                    one(table, inference, c, name, "best of the other folds", b.median(), b.honest());
                    one(table, inference, c, name, "best of the same rows", Double.NaN, b.apparent());
                });
            }
        }
        if (machine()) {
            write(table, "look", "thresholds");
        }
        reading.notices(console, common, read);
        console.notices(
                List.of("a candidate with threshold: in the plan finds its threshold inside each training side, and is"
                        + " compared as such"),
                common);
    }

    private static void one(
            Flat.Table table, Inference inference, int c, String metric, String kind, double threshold, double score) {
        double no = Double.NaN;
        table.row(name(inference), name(inference, c), metric, kind, threshold, no, no, no, no, no, score);
    }

    void spread(LedgerOptions.Read read, List<String> metrics) {
        Flat.Table table = Flat.of(
                "dataset",
                "candidate",
                "metric",
                "sd_folds",
                "sd_repeats",
                "min",
                "quarter",
                "median",
                "three_quarters",
                "max",
                "fold_se",
                "se");
        for (Inference inference : read.inferences()) {
            inference.together(metrics);
            if (!machine()) {
                heading(read, inference);
            }
            for (String name : metrics) {
                MetricInference metric = inference.metric(name);
                Map<Integer, Spread> spreads = new LinkedHashMap<>();
                for (int c : shown(inference.panel())) {
                    Spread s = Spread.of(metric, c);
                    spreads.put(c, s);
                    table.row(
                            name(inference),
                            name(inference, c),
                            name,
                            s.foldSd(),
                            s.repeatSd(),
                            s.least(),
                            s.quarter(),
                            s.median(),
                            s.threeQuarters(),
                            s.most(),
                            s.foldStandardError(),
                            s.standardError());
                }
                if (!machine()) {
                    console.out().println(DetailViews.spread(inference.panel(), metric, spreads, console.ink(common)));
                }
            }
        }
        if (machine()) {
            write(table, "look", "spread");
        }
        reading.notices(console, common, read);
    }

    void byColumn(LedgerOptions.Read read, String name, Optional<Path> data, int repeats) {
        Flat.Table table = Flat.of("dataset", "candidate", "metric", "column", "drop", "sd", "splits", "own_weight");
        for (Inference inference : read.inferences()) {
            AlignedPredictions panel = inference.panel();
            MetricInference metric = inference.metric(name);
            ColumnWorth worth = ColumnWorth.of(
                    read.content().plan(),
                    reading.ledger(),
                    data,
                    metric,
                    shown(panel),
                    repeats,
                    reading.threads().parallel());
            List<Importance.Drops> all = worth.drops();
            List<String> columns = worth.columns();
            console.notices(worth.notices(), common);
            if (!machine()) {
                heading(read, inference);
                console.out().print(DetailViews.byColumn(panel, metric, columns, all, console.ink(common)));
            }
            for (Importance.Drops d : all) {
                for (int j = 0; j < columns.size(); j++) {
                    double[] drops = d.drops().get(j).stream()
                            .mapToDouble(Double::doubleValue)
                            .toArray();
                    table.row(
                            name(inference),
                            name(inference, d.candidate()),
                            name,
                            columns.get(j),
                            Spread.mean(drops),
                            Spread.sd(drops),
                            drops.length,
                            d.own().isEmpty() ? Double.NaN : d.own().getOrDefault(columns.get(j), 0.0));
                }
            }
        }
        if (machine()) {
            write(table, "by", "column");
        }
        reading.notices(console, common, read);
        console.notices(
                List.of("a drop says what the fitted models lean on; of columns that say the same, each looks"
                        + " dispensable"),
                common);
    }
}

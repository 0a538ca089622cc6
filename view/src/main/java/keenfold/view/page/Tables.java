package keenfold.view.page;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import keenfold.core.data.DataSet;
import keenfold.core.infer.Spread;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.metric.Metric;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.split.Scheme;
import keenfold.results.Contrasts;
import keenfold.results.Evaluation;
import keenfold.results.Looks;
import keenfold.results.Picking;
import keenfold.results.Scores;
import keenfold.results.StandingsTable;
import keenfold.results.table.NumberFormats;
import keenfold.view.chart.FigureContext;
import keenfold.view.page.ReportContent.OfAcross;
import keenfold.view.page.ReportContent.OfMetric;
import keenfold.view.text.PickView;
import keenfold.view.text.SchemeWords;
import keenfold.view.text.ScoresView;
import keenfold.view.text.Wrap;

/** The tables of the report. */
final class Tables {
    private static final int MOST_CLASSES = 8;

    private Tables() {}

    private static String name(AlignedPredictions panel, int candidate) {
        return panel.candidates().get(candidate).name();
    }

    static Page.Table sets(List<AlignedPredictions> panels, Optional<Scheme> scheme) {
        TableBuilder table =
                TableBuilder.of("Data sets").texts("data set").numbers("rows").texts("classes", "positive", "splits");
        for (AlignedPredictions panel : panels) {
            DataSet data = panel.task().data();
            int[] counts = data.classCounts();
            List<String> classes = new ArrayList<>();
            for (int c = 0; c < Math.min(counts.length, MOST_CLASSES); c++) {
                classes.add(Wrap.visible(data.classes().labels().get(c)) + " " + counts[c]);
            }
            if (counts.length > MOST_CLASSES) {
                classes.add("and " + (counts.length - MOST_CLASSES) + " more");
            }
            table.text(Wrap.visible(data.name()));
            if (panel.scoresOnly()) {
                table.number("-", Double.NaN).text("adopted scores").text("");
            } else {
                table.number(Integer.toString(data.rows()), data.rows())
                        .text(String.join(", ", classes))
                        .text(
                                data.classes().binary()
                                        ? Wrap.visible(data.classes().positiveLabel())
                                        : "");
            }
            table.text(SchemeWords.of(panel, scheme)).row("", "");
        }
        return table.build();
    }

    static Page.Table candidates(AlignedPredictions panel) {
        TableBuilder table = TableBuilder.of("Candidates")
                .texts("candidate", "classifier", "settings", "steps before it; what it is wrapped in");
        for (Candidate c : panel.candidates()) {
            List<String> settings = c.recipe().inForce(c.settings()).values().entrySet().stream()
                    .map(e -> e.getKey() + " " + e.getValue())
                    .toList();
            table.text(c.name())
                    .text(c.kind().name())
                    .text(String.join(", ", settings))
                    .text(Scores.steps(c))
                    .row(c.name(), "");
        }
        return table.build();
    }

    /** What the pick and the best mean are marked as. */
    private static Map<String, String> marks(FigureContext s) {
        Map<String, String> marks = new HashMap<>();
        s.picks().ifPresent(p -> {
            marks.put(name(s.inference().panel(), p.best()), "best");
            marks.put(name(s.inference().panel(), p.pick()), "pick");
        });
        return marks;
    }

    static Page.Table scores(FigureContext s) {
        return TableBuilder.of(
                s.metric().metric().name() + ", " + ScoresView.kind(s.metric()),
                Scores.ranked(s.inference(), s.metric(), s.picks()),
                "candidate",
                marks(s));
    }

    static Page.Table spread(FigureContext s) {
        List<Integer> admitted = Evaluation.ranked(s.metric()).stream()
                .map(MeanScore::candidate)
                .filter(s.inference().panel().admitted()::contains)
                .toList();
        return TableBuilder.of(
                "Spread of " + s.metric().metric().name() + " in several forms",
                Looks.spread(s.inference(), s.metric(), admitted),
                "candidate",
                marks(s));
    }

    static Page.Table contrasts(FigureContext s, Contrasts.Part part) {
        return TableBuilder.of(
                s.metric().metric().name() + ": each less "
                        + name(s.inference().panel(), part.shown().get(0).against()),
                part.table(),
                "candidate",
                marks(s));
    }

    /** Which candidates may be the best, where that can be said. */
    static Optional<Page.Table> standings(FigureContext s) {
        return s.metric().standings().isEmpty()
                ? Optional.empty()
                : Optional.of(TableBuilder.of(
                        s.metric().metric().name() + ": which may be the best",
                        StandingsTable.of(s.inference(), s.metric()),
                        "candidate",
                        marks(s)));
    }

    static Page.Table across(OfAcross a) {
        return TableBuilder.of(
                a.part().name() + ": Wilcoxon's signed-rank test over data sets, and calls within them",
                a.part().favoured(),
                "candidate",
                Map.of());
    }

    /** What is said about a pick, paragraph by paragraph. */
    static List<String> said(OfMetric m, Optional<Scheme> scheme) {
        PickView.Said said = PickView.said(m.subject().picking(), scheme);
        return Stream.of("The pick is " + said.reason(), said.worth(), said.mayBeBest(), "To quote: " + said.quote())
                .map(String::strip)
                .filter(t -> !t.isEmpty())
                .toList();
    }

    static Page.Table rules(FigureContext s) {
        return TableBuilder.of(
                "Rules side by side, with their price", Picking.rules(s.inference(), s.picks()), "", Map.of());
    }

    static Page.Table picked(OfMetric m) {
        return TableBuilder.of(
                "Candidates, the simplest first", m.subject().picking().candidates(), "candidate", marks(m.subject()));
    }

    static Page.Table costs(FigureContext s) {
        return TableBuilder.of(
                "What one fit costs (means; size is the median)",
                Scores.costs(s.inference().panel()),
                "name",
                marks(s));
    }

    /** How well each class is found, by the pick and by the best mean. */
    static List<Page.Table> classes(FigureContext s) {
        AlignedPredictions panel = s.inference().panel();
        DataSet data = panel.task().data();
        Set<Integer> shown = new LinkedHashSet<>();
        s.picks().ifPresent(p -> shown.addAll(List.of(p.pick(), p.best())));
        List<Page.Table> tables = new ArrayList<>();
        for (int c : shown) {
            TableBuilder table = TableBuilder.of(name(panel, c) + ", class by class")
                    .texts("class")
                    .numbers("rows", "recall", "precision", "f1");
            for (int k = 0; k < data.classes().count(); k++) {
                table.text(Wrap.visible(data.classes().labels().get(k)))
                        .number(Integer.toString(data.classCounts()[k]), data.classCounts()[k]);
                for (String measure : List.of("recall", "precision", "f1")) {
                    Metric metric = MetricName.parse(measure + ":class="
                                    + data.classes().labels().get(k))
                            .bind(data.classes(), data.classCounts());
                    double mean = Spread.mean(
                            panel.parts(c).stream().mapToDouble(metric::score).toArray());
                    table.number(NumberFormats.fixed(mean, 3), mean);
                }
                table.row("", "");
            }
            tables.add(table.build());
        }
        return tables;
    }
}

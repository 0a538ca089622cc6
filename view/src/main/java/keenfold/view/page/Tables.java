package keenfold.view.page;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import keenfold.core.data.DataSet;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.Spread;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.metric.Metric;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Simplicity;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.split.Scheme;
import keenfold.view.chart.FigureContext;
import keenfold.view.page.ReportContent.OfAcross;
import keenfold.view.page.ReportContent.OfMetric;
import keenfold.view.text.AcrossView;
import keenfold.view.text.NumberFormats;
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

    private static String mark(FigureContext s, int candidate) {
        return s.picks()
                .map(p -> p.pick() == candidate ? "pick" : p.best() == candidate ? "best" : "")
                .orElse("");
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
            List<String> settings = c.settings().values().entrySet().stream()
                    .map(e -> e.getKey() + " " + e.getValue())
                    .toList();
            table.text(c.name())
                    .text(c.kind().name())
                    .text(String.join(", ", settings))
                    .text(ScoresView.steps(c))
                    .row(c.name(), "");
        }
        return table.build();
    }

    static Page.Table scores(FigureContext s) {
        MetricInference metric = s.metric();
        String direction = ScoresView.kind(metric);
        TableBuilder table = TableBuilder.of(metric.metric().name() + ", " + direction)
                .texts("candidate")
                .numbers(
                        "mean",
                        "se",
                        NumberFormats.level(s.inference().evidence().level()) + " interval",
                        "sd",
                        "min",
                        "max")
                .texts("");
        AlignedPredictions panel = s.inference().panel();
        for (MeanScore m : ScoresView.ranked(metric)) {
            double se = m.standardError();
            table.text(name(panel, m.candidate()))
                    .number(NumberFormats.mean(m.mean(), se), m.mean())
                    .number(NumberFormats.two(se), se)
                    .interval(m.low(), m.high(), se)
                    .number(NumberFormats.two(m.sd()), m.sd())
                    .number(NumberFormats.fixed(m.min(), 3), m.min())
                    .number(NumberFormats.fixed(m.max(), 3), m.max())
                    .text(marks(s, m.candidate()))
                    .row(name(panel, m.candidate()), mark(s, m.candidate()));
        }
        return table.build();
    }

    private static String marks(FigureContext s, int candidate) {
        List<String> marks = new ArrayList<>();
        s.picks().ifPresent(p -> {
            if (p.pick() == candidate) {
                marks.add("the pick");
            }
            if (p.best() == candidate) {
                marks.add("best mean");
            }
        });
        int failed = s.inference().panel().failedCount(candidate);
        if (failed > 0) {
            marks.add(failed + " failed");
        }
        if (!s.metric().compared().contains(candidate)) {
            marks.add("not compared");
        }
        return String.join(", ", marks);
    }

    static Page.Table spread(FigureContext s) {
        MetricInference metric = s.metric();
        TableBuilder table = TableBuilder.of("Spread of " + metric.metric().name() + " in several forms")
                .texts("candidate")
                .numbers("sd folds", "sd repeats", "min", "25 %", "median", "75 %", "max", "fold-se", "se");
        AlignedPredictions panel = s.inference().panel();
        for (MeanScore m : ScoresView.ranked(metric)) {
            int c = m.candidate();
            if (!panel.admitted().contains(c)) {
                continue;
            }
            Spread one = Spread.of(metric, c);
            table.text(name(panel, c));
            two(table, one.foldSd());
            two(table, one.repeatSd());
            for (double v : new double[] {one.least(), one.quarter(), one.median(), one.threeQuarters(), one.most()}) {
                table.number(NumberFormats.fixed(v, 3), v);
            }
            two(table, one.foldStandardError());
            two(table, one.standardError());
            table.row(name(panel, c), mark(s, c));
        }
        return table.build();
    }

    private static void two(TableBuilder table, double value) {
        table.number(NumberFormats.two(value), value);
    }

    static Page.Table contrasts(FigureContext s, List<Contrast> contrasts) {
        AlignedPredictions panel = s.inference().panel();
        TableBuilder table = TableBuilder.of(s.metric().metric().name() + ": each less "
                        + name(panel, contrasts.get(0).against()))
                .texts("candidate")
                .numbers(
                        "difference",
                        "se",
                        NumberFormats.level(s.inference().evidence().level()) + " interval",
                        "p",
                        "p adjusted")
                .texts("call", "");
        for (Contrast c : contrasts) {
            double se = c.standardError();
            table.text(name(panel, c.candidate()))
                    .number(NumberFormats.signed(c.difference(), se), c.difference())
                    .number(NumberFormats.two(se), se)
                    .interval(c.low(), c.high(), se)
                    .number(NumberFormats.p(c.p(), s.metric().draws()), c.p())
                    .number(NumberFormats.p(c.pAdjusted(), s.metric().draws()), c.pAdjusted())
                    .text(c.call().label())
                    .text(c.note())
                    .row(name(panel, c.candidate()), mark(s, c.candidate()));
        }
        return table.build();
    }

    static Page.Table across(OfAcross a) {
        AlignedPredictions panel = a.each().get(0).panel();
        TableBuilder table = TableBuilder.of(a.each().get(0).metric().name()
                        + ": Wilcoxon's signed-rank test over data sets, and calls within them")
                .texts("candidate", "against")
                .numbers("ranks in favour", "p", "p adjusted", "better", "neither", "worse");
        for (AcrossView.Favoured pair : AcrossView.favoured(a.sets())) {
            String first = name(panel, a.sets().candidates().get(pair.first()));
            table.text(first)
                    .text(name(panel, a.sets().candidates().get(pair.second())))
                    .number(NumberFormats.shortest(pair.statistic()), pair.statistic())
                    .number(NumberFormats.fixed(pair.test().p(), 4), pair.test().p())
                    .number(
                            NumberFormats.fixed(pair.test().pAdjusted(), 4),
                            pair.test().pAdjusted())
                    .number(Integer.toString(pair.tally().wins()), pair.tally().wins())
                    .number(Integer.toString(pair.tally().draws()), pair.tally().draws())
                    .number(
                            Integer.toString(pair.tally().losses()),
                            pair.tally().losses())
                    .row(first, "");
        }
        return table.build();
    }

    /** What is said of a pick, paragraph by paragraph. */
    static List<String> said(OfMetric m, Optional<Scheme> scheme) {
        FigureContext s = m.subject();
        PickView.Said said =
                PickView.said(s.inference(), s.metric(), s.picks().orElseThrow(), m.worth(), s.simplicity(), scheme);
        return Stream.of("The pick is " + said.reason(), said.worth(), said.leading(), "To quote: " + said.quote())
                .map(String::strip)
                .filter(t -> !t.isEmpty())
                .toList();
    }

    static Page.Table rules(FigureContext s) {
        Picks picks = s.picks().orElseThrow();
        AlignedPredictions panel = s.inference().panel();
        TableBuilder table = TableBuilder.of("Rules side by side, with their price")
                .texts("rule", "picks")
                .numbers(
                        "from the best",
                        NumberFormats.level(s.inference().evidence().level()) + " interval")
                .texts("");
        for (Picks.Choice choice : picks.choices()) {
            boolean can = choice.without().isEmpty();
            double se = choice.price().map(Contrast::standardError).orElse(Double.NaN);
            double difference = choice.pick() == picks.best()
                    ? 0
                    : choice.price().map(Contrast::difference).orElse(Double.NaN);
            table.text(choice.rule().label())
                    .text(can ? name(panel, choice.pick()) : "-")
                    .number(
                            can ? difference == 0 ? "0" : NumberFormats.signed(difference, se) : "-",
                            can ? difference : Double.NaN)
                    .interval(
                            choice.price().map(Contrast::low).orElse(Double.NaN),
                            choice.price().map(Contrast::high).orElse(Double.NaN),
                            se)
                    .text(can ? choice.rule().equals(picks.rule()) ? "in force" : "" : choice.without())
                    .row("", choice.rule().equals(picks.rule()) ? "pick" : "");
        }
        return table.build();
    }

    static Page.Table picked(FigureContext s) {
        Picks picks = s.picks().orElseThrow();
        AlignedPredictions panel = s.inference().panel();
        TableBuilder table = TableBuilder.of("Candidates, the simplest first")
                .texts("candidate")
                .numbers("size", "mean", "se", "picked in draws")
                .texts("");
        s.metric().means().stream()
                .filter(m -> s.metric().compared().contains(m.candidate()))
                .sorted(java.util.Comparator.comparingDouble(m -> s.simplicity().value(m.candidate())))
                .forEach(m -> {
                    int c = m.candidate();
                    double share =
                            picks.frequency().getOrDefault(c, picks.frequency().isEmpty() ? Double.NaN : 0);
                    String eligible = picks.eligible().contains(c) ? "eligible" : "";
                    String marks = marks(s, c);
                    table.text(name(panel, c))
                            .number(
                                    NumberFormats.significant(s.simplicity().size(c), 3),
                                    s.simplicity().size(c))
                            .number(NumberFormats.mean(m.mean(), m.standardError()), m.mean())
                            .number(NumberFormats.two(m.standardError()), m.standardError())
                            .number(NumberFormats.percent(share), share)
                            .text(marks.isEmpty() ? eligible : marks)
                            .row(name(panel, c), mark(s, c));
                });
        return table.build();
    }

    static Page.Table costs(FigureContext s) {
        AlignedPredictions panel = s.inference().panel();
        Simplicity sizes = Simplicity.of(panel);
        TableBuilder table = TableBuilder.of("What one fit costs (means; size is the median)")
                .texts("candidate")
                .numbers("size", "train", "predict");
        for (int c = 0; c < panel.candidates().size(); c++) {
            double train = ScoresView.seconds(panel.fitsOf(c), true);
            double predict = ScoresView.seconds(panel.fitsOf(c), false);
            table.text(name(panel, c))
                    .number(NumberFormats.significant(sizes.size(c), 3), sizes.size(c))
                    .number(NumberFormats.seconds(train), train)
                    .number(NumberFormats.seconds(predict), predict)
                    .row(name(panel, c), mark(s, c));
        }
        return table.build();
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

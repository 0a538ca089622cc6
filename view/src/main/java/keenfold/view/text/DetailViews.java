package keenfold.view.text;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.infer.Confusions;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.Spread;
import keenfold.core.infer.Thresholds;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.run.Importance;
import keenfold.core.run.result.Fit;

/** Closer looks at scores: by fold, class, data set and column, confusion matrices, thresholds, spread. */
public final class DetailViews {
    private static final int A_TABLE = 6;
    private static final int MOST_LINES = 40;
    private static final int MOST_CLASSES = 8;
    private static final int MOST_MISTAKES = 20;
    private static final int MOST_COLUMNS = 40;

    private DetailViews() {}

    /** Returns the score of each split, some candidates a table. */
    public static String byFold(
            AlignedPredictions panel, MetricInference metric, int metricIndex, List<Integer> shown, Ink ink) {
        StringBuilder text =
                new StringBuilder(ink.strong(metric.metric().name()) + " of each split, " + direction(metric) + "\n");
        for (int from = 0; from < shown.size(); from += A_TABLE) {
            List<Integer> some = shown.subList(from, Math.min(shown.size(), from + A_TABLE));
            TextTable table =
                    TextTable.empty().column("repeat", TextTable.Align.RIGHT).column("fold", TextTable.Align.RIGHT);
            some.forEach(c -> table.column(panel.candidates().get(c).name(), TextTable.Align.POINT));
            List<int[]> splits = splits(panel);
            for (int[] split : splits.subList(0, Math.min(splits.size(), MOST_LINES))) {
                List<String> cells =
                        new ArrayList<>(List.of(Integer.toString(split[0] + 1), Integer.toString(split[1] + 1)));
                for (int c : some) {
                    cells.add(NumberFormats.fixed(score(panel.fitsOf(c), split, metricIndex), 4));
                }
                table.row(cells);
            }
            text.append(table.render(ink));
            if (splits.size() > MOST_LINES) {
                text.append("and ").append(splits.size() - MOST_LINES).append(" more splits: --csv has all\n");
            }
            text.append('\n');
        }
        return text.toString();
    }

    private static List<int[]> splits(AlignedPredictions panel) {
        List<int[]> splits = new ArrayList<>();
        for (int r = 0; r < panel.task().splits().repeats(); r++) {
            for (int f = 0; f < panel.task().splits().folds(r); f++) {
                splits.add(new int[] {r, f});
            }
        }
        return splits;
    }

    private static double score(List<Fit> fits, int[] split, int metricIndex) {
        return fits.stream()
                .filter(f -> f.repeat() == split[0] && f.fold() == split[1])
                .flatMap(f -> f.result().stream())
                .mapToDouble(r -> r.score(metricIndex))
                .findFirst()
                .orElse(Double.NaN);
    }

    private static String direction(MetricInference metric) {
        return metric.metric().higherIsBetter() ? "higher is better" : "lower is better";
    }

    /**
     * Returns one candidate's scores class by class.
     *
     * @param measures names of metrics without their class
     */
    public static String byClass(Inference inference, int candidate, List<String> measures, Ink ink) {
        AlignedPredictions panel = inference.panel();
        TextTable table =
                TextTable.empty().column("class", TextTable.Align.NAME).column("rows", TextTable.Align.RIGHT);
        measures.forEach(m -> table.column(m, TextTable.Align.POINT).column("se", TextTable.Align.POINT));
        int[] counts = panel.task().data().classCounts();
        List<String> labels = panel.task().data().classes().labels();
        for (int c = 0; c < labels.size(); c++) {
            List<String> cells = new ArrayList<>(List.of(labels.get(c), Integer.toString(counts[c])));
            for (String measure : measures) {
                MeanScore mean = inference
                        .metric(measure + ":class=" + labels.get(c))
                        .means()
                        .get(candidate);
                cells.add(NumberFormats.mean(mean.mean(), mean.standardError()));
                cells.add(NumberFormats.two(mean.standardError()));
            }
            table.row(cells);
        }
        return ink.strong(panel.candidates().get(candidate).name()) + ", class by class\n" + table.render(ink);
    }

    /** Returns candidates against data sets. */
    public static String byDataSet(List<MetricInference> metrics, Ink ink) {
        StringBuilder text = new StringBuilder(
                ink.strong(metrics.get(0).metric().name()) + " by data set, " + direction(metrics.get(0)) + "\n");
        int a = 4;
        for (int from = 0; from < metrics.size(); from += a) {
            List<MetricInference> some = metrics.subList(from, Math.min(metrics.size(), from + a));
            TextTable table = TextTable.empty().column("candidate", TextTable.Align.NAME);
            some.forEach(m -> table.column(m.panel().task().data().name(), TextTable.Align.POINT)
                    .column("se", TextTable.Align.POINT));
            for (int c = 0; c < metrics.get(0).panel().candidates().size(); c++) {
                List<String> cells = new ArrayList<>(
                        List.of(metrics.get(0).panel().candidates().get(c).name()));
                for (MetricInference m : some) {
                    MeanScore mean = m.means().get(c);
                    cells.add(NumberFormats.mean(mean.mean(), mean.standardError()));
                    cells.add(NumberFormats.two(mean.standardError()));
                }
                table.row(cells);
            }
            text.append(table.render(ink)).append('\n');
        }
        return text.toString();
    }

    /** What a confusion matrix shows. */
    public enum Cells {
        /** Rows, averaged over repeats. */
        COUNTS("rows, averaged over the repeats"),
        /** Shares of the rows of each actual class. */
        ROWS("shares of the rows of each actual class: recall on the diagonal"),
        /** Shares of the rows of each predicted class. */
        COLUMNS("shares of the rows predicted as each class: precision on the diagonal");

        private final String words;

        Cells(String words) {
            this.words = words;
        }
    }

    /** Returns one candidate's confusion matrix, or, of many classes, its most frequent mistakes. */
    public static String confusion(
            AlignedPredictions panel, int candidate, Confusions confusions, Cells cells, Ink ink) {
        List<String> labels = panel.task().data().classes().labels();
        String head = ink.strong(panel.candidates().get(candidate).name());
        if (labels.size() > MOST_CLASSES) {
            return head + ": the most frequent mistakes, " + Cells.COUNTS.words + "\n"
                    + mistakes(labels, confusions, ink);
        }
        TextTable table = TextTable.empty().column("actual \\ predicted", TextTable.Align.NAME);
        labels.forEach(l -> table.column(l, TextTable.Align.RIGHT));
        table.column("rows", TextTable.Align.RIGHT);
        for (int a = 0; a < labels.size(); a++) {
            List<String> row = new ArrayList<>(List.of(labels.get(a)));
            for (int p = 0; p < labels.size(); p++) {
                row.add(
                        switch (cells) {
                            case COUNTS -> NumberFormats.fixed(confusions.count(a, p), 1);
                            case ROWS -> NumberFormats.fixed(confusions.ofActual(a, p), 3);
                            case COLUMNS -> NumberFormats.fixed(confusions.ofPredicted(a, p), 3);
                        });
            }
            row.add(NumberFormats.fixed(confusions.actual(a), 1));
            table.row(row);
        }
        return head + ": " + cells.words + "\n" + table.render(ink);
    }

    private static String mistakes(List<String> labels, Confusions confusions, Ink ink) {
        TextTable table = TextTable.empty()
                .column("actual", TextTable.Align.NAME)
                .column("predicted", TextTable.Align.NAME)
                .column("rows", TextTable.Align.RIGHT)
                .column("of the actual", TextTable.Align.RIGHT);
        int k = labels.size();
        IntStream.range(0, k * k)
                .filter(i -> i / k != i % k && confusions.count(i / k, i % k) > 0)
                .boxed()
                .sorted(Comparator.comparingDouble(i -> -confusions.count(i / k, i % k)))
                .limit(MOST_MISTAKES)
                .forEach(i -> table.row(List.of(
                        labels.get(i / k),
                        labels.get(i % k),
                        NumberFormats.fixed(confusions.count(i / k, i % k), 1),
                        NumberFormats.percent(confusions.ofActual(i / k, i % k)))));
        return table.render(ink);
    }

    /** Returns one candidate's rates against the threshold, and the threshold that would serve best. */
    public static String thresholds(
            AlignedPredictions panel,
            int candidate,
            String metric,
            List<Thresholds.Point> points,
            Optional<Thresholds.Best> best,
            Ink ink) {
        String positive = panel.task().data().classes().positiveLabel();
        TextTable table = TextTable.empty()
                .column("threshold", TextTable.Align.POINT)
                .column("called so", TextTable.Align.RIGHT)
                .column("recall", TextTable.Align.POINT)
                .column("specificity", TextTable.Align.POINT)
                .column("precision", TextTable.Align.POINT)
                .column("npv", TextTable.Align.POINT)
                .column(metric, TextTable.Align.POINT);
        for (Thresholds.Point p : points) {
            table.row(List.of(
                    NumberFormats.fixed(p.threshold(), 2),
                    NumberFormats.percent(p.called()),
                    NumberFormats.fixed(p.recall(), 3),
                    NumberFormats.fixed(p.specificity(), 3),
                    NumberFormats.fixed(p.precision(), 3),
                    NumberFormats.fixed(p.npv(), 3),
                    NumberFormats.fixed(p.score(), 3)));
        }
        String found = best.map(b -> String.format(
                        Locale.ROOT,
                        "Best for %s: from %s on (median of the folds, %s to %s). Found on the other folds' rows it is worth"
                                + " %s; the labels as predicted %s; the best on the same rows would say %s, which is too"
                                + " good.",
                        metric,
                        NumberFormats.fixed(b.median(), 3),
                        NumberFormats.fixed(b.least(), 3),
                        NumberFormats.fixed(b.most(), 3),
                        NumberFormats.fixed(b.honest(), 4),
                        NumberFormats.fixed(b.asPredicted(), 4),
                        NumberFormats.fixed(b.apparent(), 4)))
                .orElse("There are no other folds to find a best threshold on.");
        return ink.strong(panel.candidates().get(candidate).name()) + ": \"" + Wrap.visible(positive)
                + "\" is predicted from this probability on\n" + table.render(ink) + Wrap.lines(Wrap.visible(found), 0);
    }

    /** Returns the spread of scores in several forms, each named. */
    public static String spread(
            AlignedPredictions panel, MetricInference metric, Map<Integer, Spread> spreads, Ink ink) {
        TextTable table = TextTable.empty()
                .column("candidate", TextTable.Align.NAME)
                .column("sd folds", TextTable.Align.POINT)
                .column("sd repeats", TextTable.Align.POINT)
                .column("min", TextTable.Align.POINT)
                .column("25 %", TextTable.Align.POINT)
                .column("median", TextTable.Align.POINT)
                .column("75 %", TextTable.Align.POINT)
                .column("max", TextTable.Align.POINT)
                .column("fold-se", TextTable.Align.POINT)
                .column("se", TextTable.Align.POINT);
        spreads.forEach((c, s) -> table.row(List.of(
                panel.candidates().get(c).name(),
                NumberFormats.two(s.foldSd()),
                NumberFormats.two(s.repeatSd()),
                NumberFormats.fixed(s.least(), 3),
                NumberFormats.fixed(s.quarter(), 3),
                NumberFormats.fixed(s.median(), 3),
                NumberFormats.fixed(s.threeQuarters(), 3),
                NumberFormats.fixed(s.most(), 3),
                NumberFormats.two(s.foldStandardError()),
                NumberFormats.two(s.standardError()))));
        String legend =
                "sd folds: of the fold scores, as are min, quartiles and max. sd repeats: of the repeats' scores;"
                        + " small, since repeats share their rows. fold-se: the textbook's sd/sqrt(folds), averaged over repeats,"
                        + " which takes folds for independent. se: uncertainty of the mean for new rows, the one to go by.";
        return ink.strong(metric.metric().name()) + ", its spread\n" + table.render(ink)
                + ink.quiet(Wrap.lines(legend, 0).stripTrailing()) + "\n";
    }

    /** Returns what columns are worth to candidates, some candidates a table. */
    public static String byColumn(
            AlignedPredictions panel,
            MetricInference metric,
            List<String> columns,
            List<Importance.Drops> all,
            Ink ink) {
        int a = 3;
        StringBuilder text = new StringBuilder(Wrap.lines(
                metric.metric().name() + " lost on test rows when a column is shuffled among them; mean and sd over "
                        + all.get(0).score().size() + " splits; own: the model's own weights",
                0));
        List<Integer> order = IntStream.range(0, columns.size())
                .boxed()
                .sorted(Comparator.comparingDouble(j -> -most(all, j)))
                .toList();
        for (int from = 0; from < all.size(); from += a) {
            List<Importance.Drops> some = all.subList(from, Math.min(all.size(), from + a));
            TextTable table = TextTable.empty().column("column", TextTable.Align.NAME);
            for (Importance.Drops d : some) {
                table.column(panel.candidates().get(d.candidate()).name(), TextTable.Align.POINT)
                        .column("sd", TextTable.Align.POINT);
                if (!d.own().isEmpty()) {
                    table.column("own", TextTable.Align.RIGHT);
                }
            }
            for (int j : order.subList(0, Math.min(order.size(), MOST_COLUMNS))) {
                List<String> cells = new ArrayList<>(List.of(columns.get(j)));
                for (Importance.Drops d : some) {
                    double[] drops = d.drops().get(j).stream()
                            .mapToDouble(Double::doubleValue)
                            .toArray();
                    cells.add(NumberFormats.fixed(Spread.mean(drops), 4));
                    cells.add(NumberFormats.two(Spread.sd(drops)));
                    if (!d.own().isEmpty()) {
                        cells.add(NumberFormats.percent(d.own().getOrDefault(columns.get(j), 0.0)));
                    }
                }
                table.row(cells);
            }
            text.append(table.render(ink)).append('\n');
        }
        if (order.size() > MOST_COLUMNS) {
            text.append("and ").append(order.size() - MOST_COLUMNS).append(" more columns: --csv has all\n");
        }
        return text.toString();
    }

    private static double most(List<Importance.Drops> all, int column) {
        return all.stream()
                .mapToDouble(d -> Spread.mean(d.drops().get(column).stream()
                        .mapToDouble(Double::doubleValue)
                        .toArray()))
                .max()
                .orElse(0);
    }
}

package keenfold.view.text;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.function.BiFunction;
import java.util.stream.Collectors;
import keenfold.core.data.Classes;
import keenfold.core.infer.Inference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.results.Evaluation;
import keenfold.results.Look;
import keenfold.results.Looks;
import keenfold.results.table.Alignment;
import keenfold.results.table.Column;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;

/** Closer looks at scores: by fold, class, data set and column, confusion matrices, thresholds, spread. */
public final class LookView {
    private static final int CANDIDATES = 6;
    private static final int DATA_SETS = 4;
    private static final int OF_COLUMNS = 3;
    private static final int LEAST_OF_ROWS = 7;
    private static final int MOST_LINES = 40;
    private static final int MOST_CLASSES = 8;
    private static final int MOST_MISTAKES = 20;
    private static final int MOST_COLUMNS = 40;

    private LookView() {}

    /** Returns a look at splits. */
    public static String folds(Look look, Ink ink) {
        return sets(
                look,
                ink,
                (inference, own) -> byMetric(own, (metric, rows) -> {
                    SideBySide wide = new SideBySide(rows, List.of("repeat", "fold"), "candidate", List.of("value"));
                    List<List<Object>> lines = wide.lines();
                    List<List<Object>> first = lines.subList(0, Math.min(lines.size(), MOST_LINES));
                    String more = lines.size() > MOST_LINES
                            ? "and " + (lines.size() - MOST_LINES) + " more splits: --csv has all\n\n"
                            : "";
                    return ink.strong(metric) + " of each split, " + direction(inference, metric) + "\n"
                            + wide.render(first, CANDIDATES, List.of(), ink) + more;
                }));
    }

    private static String direction(Inference inference, String metric) {
        return inference.metric(metric).metric().higherIsBetter() ? "higher is better" : "lower is better";
    }

    /** Returns a look at classes. */
    public static String classes(Look look, Ink ink) {
        return sets(
                look,
                ink,
                (inference, own) -> byCandidate(own, (name, rows) -> {
                    SideBySide wide = new SideBySide(rows, List.of("class", "rows"), "metric", List.of("mean", "se"));
                    return ink.strong(name) + ", class by class\n"
                            + wide.render(wide.lines(), wide.names().size(), List.of(), ink);
                }));
    }

    /** Returns a look at data sets side by side. */
    public static String dataSets(Look look, Ink ink) {
        return byMetric(look.table(), (metric, rows) -> {
            SideBySide wide = new SideBySide(rows, List.of("candidate"), "dataset", List.of("mean", "se"));
            return ink.strong(metric) + " by data set, "
                    + direction(look.evaluation().inferences().get(0), metric) + "\n"
                    + wide.render(wide.lines(), DATA_SETS, List.of(), ink);
        });
    }

    /** What a confusion matrix shows. */
    public enum Cells {
        /** Rows, averaged over repeats. */
        COUNTS("count", "rows, averaged over the repeats"),
        /** Shares of the rows of each actual class. */
        ROWS("of_actual", "shares of the rows of each actual class: recall on the diagonal"),
        /** Shares of the rows of each predicted class. */
        COLUMNS("of_predicted", "shares of the rows predicted as each class: precision on the diagonal");

        private final String key;
        private final String words;

        Cells(String key, String words) {
            this.key = key;
            this.words = words;
        }
    }

    /** Returns confusion matrices, or, of many classes, the most frequent mistakes. */
    public static String confusion(Look look, Cells cells, Ink ink) {
        return sets(
                look,
                ink,
                (inference, own) -> byCandidate(own, (name, rows) -> {
                    ResultTable averages = rows.where("repeat", Double.NaN);
                    boolean many = inference.panel().task().data().classes().count() > MOST_CLASSES;
                    return ink.strong(name) + ": "
                            + (many ? mistakes(averages, ink) : cells.words + "\n" + matrix(averages, cells, ink))
                            + "\n";
                }));
    }

    private static String matrix(ResultTable averages, Cells cells, Ink ink) {
        List<String> labels =
                averages.rows().stream().map(r -> r.text("actual")).distinct().toList();
        TextTable table = TextTable.empty().column("actual \\ predicted", Alignment.NAME);
        labels.forEach(l -> table.column(l, Alignment.RIGHT));
        table.column("rows", Alignment.RIGHT);
        for (String label : labels) {
            ResultTable own = averages.where("actual", label);
            double all = own.rows().stream().mapToDouble(r -> r.number("count")).sum();
            List<String> line = new java.util.ArrayList<>(List.of(label));
            own.rows().forEach(r -> line.add(NumberFormats.fixed(r.number(cells.key), cells == Cells.COUNTS ? 1 : 3)));
            line.add(NumberFormats.fixed(all, 1));
            table.row(line);
        }
        return table.render(ink);
    }

    private static String mistakes(ResultTable averages, Ink ink) {
        TextTable table = TextTable.empty()
                .column("actual", Alignment.NAME)
                .column("predicted", Alignment.NAME)
                .column("rows", Alignment.RIGHT)
                .column("of the actual", Alignment.RIGHT);
        averages.rows().stream()
                .filter(r -> !r.text("actual").equals(r.text("predicted")) && r.number("count") > 0)
                .sorted(Comparator.comparingDouble(r -> -r.number("count")))
                .limit(MOST_MISTAKES)
                .forEach(r -> table.row(List.of(
                        r.text("actual"),
                        r.text("predicted"),
                        NumberFormats.fixed(r.number("count"), 1),
                        NumberFormats.percent(r.number("of_actual")))));
        return "the most frequent mistakes, " + Cells.COUNTS.words + "\n" + table.render(ink);
    }

    /** Returns rates against the threshold, and the threshold that would serve best. */
    public static String thresholds(Look look, Ink ink) {
        return sets(
                look,
                ink,
                (inference, own) -> byCandidate(own, (name, rows) -> {
                    Classes classes = inference.panel().task().data().classes();
                    return ink.strong(name) + ": \"" + Wrap.visible(classes.positiveLabel())
                            + "\" is predicted at and above this probability\n"
                            + TextTable.of(rows.where("kind", "grid").without("candidate"))
                                    .render(ink)
                            + Wrap.lines(Wrap.visible(found(rows)), 0) + "\n";
                }));
    }

    private static String found(ResultTable rows) {
        ResultTable best = rows.where("kind", Looks.BEST_OF_OTHERS);
        if (best.size() == 0) {
            return "There are no other folds to find a best threshold on.";
        }
        ResultTable.Row one = best.rows().get(0);
        return String.format(
                Locale.ROOT,
                "Best for %s: from %s on (median of the folds, %s to %s). Found on the other folds' rows it is worth"
                        + " %s; the labels as predicted %s; the best on the same rows would say %s, which is optimistic.",
                one.text("metric"),
                NumberFormats.fixed(one.number("threshold"), 3),
                NumberFormats.fixed(one.number("threshold_low"), 3),
                NumberFormats.fixed(one.number("threshold_high"), 3),
                NumberFormats.fixed(one.number("score"), 4),
                score(rows, Looks.AS_PREDICTED),
                score(rows, Looks.BEST_OF_SAME));
    }

    private static String score(ResultTable rows, String kind) {
        return NumberFormats.fixed(rows.where("kind", kind).rows().get(0).number("score"), 4);
    }

    /** Returns the rows that are wrong most often, with as many of their columns as fit. */
    public static String rows(Look look, Ink ink) {
        return sets(look, ink, (inference, own) -> {
            if (own.size() == 0) {
                return "No row was predicted wrong.\n\n";
            }
            List<String> keys = own.columns().stream().map(Column::key).toList();
            String text = "";
            int left = 0;
            for (int columns = keys.size(); columns >= LEAST_OF_ROWS; columns--) {
                left = keys.size() - columns;
                text = TextTable.of(
                                own.without(keys.subList(columns, keys.size()).toArray(String[]::new)))
                        .render(ink);
                if (Wrap.width(text) <= Wrap.WIDTH) {
                    break;
                }
            }
            return text
                    + (left == 0
                            ? ""
                            : (left == 1 ? "one more column does" : left + " more columns do")
                                    + " not fit; --csv has all\n")
                    + ink.quiet(Wrap.lines(
                                    "row: its number in the file, without the head. wrong: share of wrong predictions, averaged over"
                                            + " the candidates; by: how many of them are wrong in more than half of the repeats. A row that most get"
                                            + " wrong may be mislabelled, or like no other; it is no reason to drop it.",
                                    0)
                            .stripTrailing())
                    + "\n\n";
        });
    }

    /** Returns what candidates are worth at operating points. */
    public static String operatingPoints(Look look, Ink ink) {
        return sets(look, ink, (inference, own) -> {
            Classes classes = inference.panel().task().data().classes();
            List<String> metrics =
                    own.rows().stream().map(r -> r.text("metric")).distinct().toList();
            String table = operatingPoints(own, metrics, true).render(ink);
            if (Wrap.width(table) > Wrap.WIDTH) {
                table = operatingPoints(own, metrics, false).render(ink);
            }
            return Wrap.lines(
                            "\"" + Wrap.visible(classes.positiveLabel())
                                    + "\" is predicted at and above the threshold with the best "
                                    + Wrap.visible(look.kind()),
                            0)
                    + table
                    + ink.quiet(Wrap.lines(
                                    "threshold: median of the folds' thresholds, each found on the rows of the other folds, and applied to"
                                            + " rows that it was not found on: a bound may be missed there. Beside each mean its "
                                            + NumberFormats.level(
                                                    look.evaluation().level()) + " interval.",
                                    0)
                            .stripTrailing())
                    + "\n\n";
        });
    }

    /** Candidates by metrics at their operating points; {@code range} is whether the thresholds of all folds are told. */
    private static TextTable operatingPoints(ResultTable own, List<String> metrics, boolean range) {
        TextTable table = TextTable.empty().column("candidate", Alignment.NAME).column("threshold", Alignment.POINT);
        if (range) {
            table.column("in folds", Alignment.RIGHT);
        }
        metrics.forEach(m -> table.column(m, Alignment.LEFT).column("", Alignment.LEFT));
        for (int i = 0; i < own.size(); i += metrics.size()) {
            ResultTable.Row first = own.rows().get(i);
            List<String> cells = new ArrayList<>(
                    List.of(first.text("candidate"), NumberFormats.fixed(first.number("threshold"), 3)));
            if (range) {
                cells.add(ends(first.number("threshold_low"), first.number("threshold_high")));
            }
            for (ResultTable.Row row : own.rows().subList(i, i + metrics.size())) {
                cells.add(NumberFormats.mean(row.number("mean"), row.number("se")));
                cells.add(ends(row.number("low"), row.number("high")));
            }
            table.row(cells);
        }
        return table;
    }

    /** Two decimals: several intervals stand side by side. */
    private static String ends(double low, double high) {
        return Double.isNaN(low)
                ? NumberFormats.UNDEFINED
                : NumberFormats.fixed(low, 2) + " to " + NumberFormats.fixed(high, 2);
    }

    /** Returns the spread of scores in several forms, each named. */
    public static String spread(Look look, Ink ink) {
        String legend =
                "sd folds: of the fold scores, as are min, quartiles and max. sd repeats: of the repeats' scores;"
                        + " small, since repeats share their rows. fold-se: the textbook's sd/sqrt(folds), averaged over repeats,"
                        + " which takes folds for independent. se: uncertainty of the mean for new rows; use this one.";
        return sets(
                look,
                ink,
                (inference, own) -> byMetric(
                        own,
                        (metric, rows) -> ink.strong(metric) + ", its spread\n"
                                + TextTable.of(rows).render(ink)
                                + ink.quiet(Wrap.lines(legend, 0).stripTrailing()) + "\n\n"));
    }

    /** Returns what columns are worth. */
    public static String columns(Look look, Ink ink) {
        return sets(
                look,
                ink,
                (inference, own) -> byMetric(own, (metric, rows) -> {
                    SideBySide wide =
                            new SideBySide(rows, List.of("column"), "candidate", List.of("drop", "sd", "own_weight"));
                    List<List<Object>> order = wide.lines().stream()
                            .sorted(Comparator.comparingDouble(l -> -wide.names().stream()
                                    .mapToDouble(n -> wide.number(l, n, "drop"))
                                    .max()
                                    .orElse(0)))
                            .toList();
                    String more = order.size() > MOST_COLUMNS
                            ? "and " + (order.size() - MOST_COLUMNS) + " more columns: --csv has all\n"
                            : "";
                    String splits = rows.rows().get(0).text("splits");
                    return Wrap.lines(
                                    metric
                                            + " lost on test rows when a column is shuffled among them; mean and sd over "
                                            + splits + " splits; own: the model's own weights",
                                    0)
                            + wide.render(
                                    order.subList(0, Math.min(order.size(), MOST_COLUMNS)),
                                    OF_COLUMNS,
                                    List.of("own_weight"),
                                    ink)
                            + more;
                }));
    }

    private static String sets(Look look, Ink ink, BiFunction<Inference, ResultTable, String> body) {
        StringBuilder text = new StringBuilder();
        for (Inference inference : look.evaluation().inferences()) {
            AlignedPredictions panel = inference.panel();
            text.append(Heading.of(panel, look.evaluation().scheme(), ink))
                    .append('\n')
                    .append(body.apply(inference, look.table().where("dataset", Evaluation.name(inference))));
        }
        return text.toString();
    }

    private static String byMetric(ResultTable table, BiFunction<String, ResultTable, String> body) {
        return by("metric", table, body);
    }

    private static String byCandidate(ResultTable table, BiFunction<String, ResultTable, String> body) {
        return by("candidate", table, body);
    }

    private static String by(String key, ResultTable table, BiFunction<String, ResultTable, String> body) {
        return table.rows().stream()
                .map(r -> r.text(key))
                .distinct()
                .map(v -> body.apply(v, table.where(key, v)))
                .collect(Collectors.joining());
    }
}

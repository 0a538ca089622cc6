package keenfold.view.text;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import keenfold.core.data.Breakdown;
import keenfold.core.data.ColumnProfile;
import keenfold.core.data.Suspicion;

/** What is in a table, for a first look. */
public final class SurveyView {
    private static final int BAR = 24;

    private SurveyView() {}

    /**
     * Returns the columns of numbers, of dates and of categories, each in a table of its own.
     *
     * @param refused names of columns of numbers that are not plainly written, which only a survey reads
     */
    public static String columns(List<ColumnProfile> profiles, List<String> dates, List<String> refused, Ink ink) {
        List<ColumnProfile> numbers = profiles.stream()
                .filter(p -> p.numbers().isPresent() && !dates.contains(p.name()))
                .toList();
        List<ColumnProfile> days =
                profiles.stream().filter(p -> dates.contains(p.name())).toList();
        List<ColumnProfile> others = profiles.stream()
                .filter(p -> p.numbers().isEmpty() && !refused.contains(p.name()))
                .toList();
        List<ColumnProfile> unread =
                profiles.stream().filter(p -> refused.contains(p.name())).toList();
        StringBuilder text = new StringBuilder();
        if (!numbers.isEmpty()) {
            text.append(ink.strong("numbers"))
                    .append('\n')
                    .append(numbers(numbers, ink))
                    .append('\n');
        }
        if (!days.isEmpty()) {
            text.append(ink.strong("dates"))
                    .append('\n')
                    .append(dates(days, ink))
                    .append('\n');
        }
        if (!numbers.isEmpty() || !days.isEmpty()) {
            String legend =
                    "q1, q3: quartiles. shape: ten equal bins from min to max; 9 the fullest, a point an empty one.";
            text.append(ink.quiet(legend)).append("\n\n");
        }
        if (!others.isEmpty()) {
            text.append(ink.strong("categories"))
                    .append('\n')
                    .append(categories(others, ink))
                    .append('\n');
        }
        if (!unread.isEmpty()) {
            text.append(ink.strong("numbers, not plainly written (refused by draft, compare and run)"))
                    .append('\n')
                    .append(categories(unread, ink))
                    .append('\n');
        }
        return text.toString();
    }

    private static String numbers(List<ColumnProfile> profiles, Ink ink) {
        TextTable table = TextTable.empty()
                .column("column", TextTable.Align.NAME)
                .column("missing", TextTable.Align.RIGHT)
                .column("distinct", TextTable.Align.RIGHT)
                .column("mean", TextTable.Align.RIGHT)
                .column("sd", TextTable.Align.RIGHT)
                .column("min", TextTable.Align.RIGHT)
                .column("q1", TextTable.Align.RIGHT)
                .column("median", TextTable.Align.RIGHT)
                .column("q3", TextTable.Align.RIGHT)
                .column("max", TextTable.Align.RIGHT)
                .column("shape", TextTable.Align.LEFT);
        for (ColumnProfile p : profiles) {
            ColumnProfile.Spread s = p.numbers().orElseThrow();
            boolean whole = java.util.stream.DoubleStream.of(
                            s.min(), s.lowerQuartile(), s.median(), s.upperQuartile(), s.max())
                    .allMatch(v -> v == StrictMath.rint(v));
            table.row(List.of(
                    p.name(),
                    missing(p),
                    Integer.toString(p.distinct()),
                    value(s.mean(), false),
                    value(s.sd(), false),
                    value(s.min(), whole),
                    value(s.lowerQuartile(), whole),
                    value(s.median(), whole),
                    value(s.upperQuartile(), whole),
                    value(s.max(), whole),
                    shape(s.histogram())));
        }
        return table.render(ink);
    }

    private static String dates(List<ColumnProfile> profiles, Ink ink) {
        TextTable table = TextTable.empty()
                .column("column", TextTable.Align.NAME)
                .column("missing", TextTable.Align.RIGHT)
                .column("distinct", TextTable.Align.RIGHT)
                .column("first", TextTable.Align.RIGHT)
                .column("median", TextTable.Align.RIGHT)
                .column("last", TextTable.Align.RIGHT)
                .column("shape", TextTable.Align.LEFT);
        for (ColumnProfile p : profiles) {
            ColumnProfile.Spread s = p.numbers().orElseThrow();
            table.row(List.of(
                    p.name(),
                    missing(p),
                    Integer.toString(p.distinct()),
                    day(s.min()),
                    day(s.median()),
                    day(s.max()),
                    shape(s.histogram())));
        }
        return table.render(ink);
    }

    private static String day(double value) {
        return LocalDate.ofEpochDay(Math.round(value)).toString();
    }

    private static String missing(ColumnProfile p) {
        return p.missing() == 0 ? "0" : NumberFormats.two(100.0 * p.missing() / p.rows()) + " %";
    }

    /** Three digits, or all of a whole number up to a million. */
    private static String value(double value, boolean whole) {
        double size = Math.abs(value);
        if (size >= 1e6 || (size > 0 && size < 1e-3)) {
            return String.format(Locale.ROOT, "%.1e", value);
        }
        int decimals = whole || size >= 100 ? 0 : size >= 10 ? 1 : size >= 1 || size == 0 ? 2 : 3;
        return NumberFormats.fixed(value, decimals);
    }

    /** A histogram in digits: 9 is the fullest bin, 1 any bin with rows, a point an empty one. */
    static String shape(List<Integer> histogram) {
        int most = histogram.stream().mapToInt(Integer::intValue).max().orElse(1);
        StringBuilder text = new StringBuilder();
        for (int count : histogram) {
            text.append(count == 0 ? "." : Integer.toString((int) Math.max(1, Math.round(9.0 * count / most))));
        }
        return text.toString();
    }

    private static String categories(List<ColumnProfile> profiles, Ink ink) {
        TextTable table = TextTable.empty()
                .column("column", TextTable.Align.NAME)
                .column("missing", TextTable.Align.RIGHT)
                .column("distinct", TextTable.Align.RIGHT)
                .column("most frequent", TextTable.Align.LEFT);
        for (ColumnProfile p : profiles) {
            table.row(List.of(p.name(), missing(p), Integer.toString(p.distinct()), levels(p)));
        }
        return table.render(ink);
    }

    private static String levels(ColumnProfile p) {
        int most = 48;
        StringBuilder text = new StringBuilder();
        for (int i = 0; i < p.levels().size(); i++) {
            ColumnProfile.Level level = p.levels().get(i);
            String label = level.label().length() > 20 ? level.label().substring(0, 18) + ".." : level.label();
            String next = (i == 0 ? "" : ", ") + label + " " + level.count();
            if (text.length() + next.length() > most) {
                return text.append(i == 0 ? label : ", ...").toString();
            }
            text.append(next);
        }
        return text.toString();
    }

    /** Returns the class balance and what guessing would score. */
    public static String classes(ColumnProfile target, Ink ink) {
        int labelled = target.rows() - target.missing();
        StringBuilder text = new StringBuilder(ink.strong("classes (" + target.name() + ")")).append('\n');
        TextTable table = TextTable.empty()
                .column("class", TextTable.Align.NAME)
                .column("rows", TextTable.Align.RIGHT)
                .column("share", TextTable.Align.RIGHT)
                .column("", TextTable.Align.LEFT);
        for (ColumnProfile.Level level : target.levels()) {
            double share = (double) level.count() / labelled;
            table.row(
                    List.of(level.label(), Integer.toString(level.count()), NumberFormats.percent(share), bar(share)));
        }
        text.append(table.render(ink));
        if (!target.levels().isEmpty()) {
            text.append(Wrap.lines(
                    String.format(
                            Locale.ROOT,
                            "Always guessing \"%s\" has an accuracy of %.3f, a balanced accuracy of %.3f and an auc of 0.5:"
                                    + " what a candidate must beat.",
                            target.levels().get(0).label(),
                            (double) target.levels().get(0).count() / labelled,
                            1.0 / target.levels().size()),
                    0));
        }
        return text.append('\n').toString();
    }

    private static String bar(double share) {
        return "#".repeat((int) Math.round(BAR * share));
    }

    /** Returns classes against one column: counts, and of each class the share that lies in each level or bin. */
    public static String breakdown(Breakdown b, Ink ink) {
        TextTable table =
                TextTable.empty().column(b.column(), TextTable.Align.NAME).column("rows", TextTable.Align.RIGHT);
        int shown = Math.min(b.classes().size(), 4);
        for (int c = 0; c < shown; c++) {
            table.column(b.classes().get(c), TextTable.Align.RIGHT).column("", TextTable.Align.LEFT);
        }
        int[] totals = new int[b.classes().size()];
        b.parts().forEach(p -> {
            for (int c = 0; c < totals.length; c++) {
                totals[c] += p.counts().get(c);
            }
        });
        double most = b.parts().stream()
                .flatMapToDouble(p -> java.util.stream.IntStream.range(0, shown)
                        .mapToDouble(c -> p.counts().get(c) / (double) Math.max(1, totals[c])))
                .max()
                .orElse(1);
        int width = shown <= 2 ? 16 : 6;
        for (Breakdown.Part part : b.parts()) {
            List<String> cells = new ArrayList<>(List.of(part.label(), Integer.toString(part.total())));
            for (int c = 0; c < shown; c++) {
                double share = part.counts().get(c) / (double) Math.max(1, totals[c]);
                double own = part.counts().get(c) / (double) Math.max(1, part.total());
                cells.add(part.counts().get(c) + " (" + NumberFormats.percent(own) + ")");
                cells.add("#".repeat((int) Math.round(width * share / most)));
            }
            table.row(cells);
        }
        String more = b.classes().size() > shown
                ? " The " + (b.classes().size() - shown) + " other classes are in --json and --csv."
                : "";
        return ink.strong("classes by " + b.column()) + "\n" + table.render(ink)
                + ink.quiet(Wrap.lines(
                                "In brackets: the share of the class among the rows of that line. Bars: how the rows of"
                                        + " each class are spread over the lines." + more,
                                0)
                        .stripTrailing())
                + "\n\n";
    }

    /** Returns a suspicion in a sentence, with what to do. */
    public static String words(Suspicion s) {
        String column = "column \"" + s.column() + "\"";
        return switch (s.kind()) {
            case CONSTANT ->
                column + (s.count() == 0 ? " has no value at all" : " has one value only")
                        + "; it tells nothing and can be left out";
            case UNIQUE ->
                column + " has another value in every row, like a name or a running number; leave it out (leave-out:"
                        + " in a plan, --leave-out), since it can only be learned by heart";
            case TELLS_CLASS ->
                column + " alone gives the class of " + s.count()
                        + " % of rows by the best simple rule, where the largest class is " + s.beside()
                        + " %; was it known before the class was? if not, leave it out";
            case GROUP_LIKE ->
                column + " looks like a group (" + s.count()
                        + " recurring values); if new rows come from other ones, keep each on one side with groups:"
                        + " in a plan, or --groups";
            case TIME_LIKE ->
                column + " says which rows came first; if things drift, folds drawn without regard to time give"
                        + " scores that are too good";
            case DUPLICATES ->
                s.count() + (s.count() == 1 ? " row repeats" : " rows repeat")
                        + " an earlier row in every column; copies on both sides of a split make scores"
                        + " too good";
            case NUMBER_TARGET ->
                column + " is a number with " + s.count()
                        + " values, each of which would be a class of its own; Keen Fold compares classifiers, to which a"
                        + " neighbouring number is as wrong as any: cut it into a few classes first";
        };
    }
}

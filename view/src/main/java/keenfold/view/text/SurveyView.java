package keenfold.view.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import keenfold.core.data.Breakdown;
import keenfold.core.data.ColumnProfile;
import keenfold.results.Survey;
import keenfold.results.table.Alignment;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;

/** What is in a table, for a first look. */
public final class SurveyView {
    private SurveyView() {}

    /** Returns the columns or the breakdown, and the classes. */
    public static String render(Survey survey, Ink ink) {
        return ink.strong(String.format(
                        Locale.ROOT,
                        "%s: %d rows, %d columns",
                        Wrap.visible(survey.name()),
                        survey.rows(),
                        survey.columns().size()))
                + "\n\n"
                + (survey.breakdown().isEmpty() ? columns(survey, ink) : "")
                + survey.target().map(t -> classes(survey, t, ink)).orElse("")
                + survey.breakdown().map(b -> breakdown(b, ink)).orElse("");
    }

    /** Columns of numbers, of dates and of categories, each in a table of its own. */
    private static String columns(Survey survey, Ink ink) {
        String numbers =
                table(survey, Survey.Kind.NUMBERS, "numbers", ink) + table(survey, Survey.Kind.DATES, "dates", ink);
        String legend =
                "q1, q3: quartiles. shape: ten equal bins from min to max; 9 the fullest, a point an empty one.";
        return numbers
                + (numbers.isEmpty() ? "" : ink.quiet(legend) + "\n\n")
                + table(survey, Survey.Kind.CATEGORIES, "categories", ink)
                + table(
                        survey,
                        Survey.Kind.UNREAD,
                        "numbers, not plainly written (refused by draft, compare and run)",
                        ink);
    }

    private static String table(Survey survey, Survey.Kind kind, String title, Ink ink) {
        ResultTable table = survey.columns(kind);
        return table.size() == 0
                ? ""
                : ink.strong(title) + "\n" + TextTable.of(table).render(ink) + "\n";
    }

    /** The class balance and what guessing would score. */
    private static String classes(Survey survey, ColumnProfile target, Ink ink) {
        int labelled = target.rows() - target.missing();
        StringBuilder text = new StringBuilder(ink.strong("classes (" + target.name() + ")"))
                .append('\n')
                .append(TextTable.of(survey.classes()).render(ink));
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

    /** Returns classes against one column: counts, and of each class the share that lies in each level or bin. */
    private static String breakdown(Breakdown b, Ink ink) {
        TextTable table = TextTable.empty().column(b.column(), Alignment.NAME).column("rows", Alignment.RIGHT);
        int shown = Math.min(b.classes().size(), 4);
        for (int c = 0; c < shown; c++) {
            table.column(b.classes().get(c), Alignment.RIGHT).column("", Alignment.LEFT);
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
}

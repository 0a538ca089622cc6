package keenfold.view.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import keenfold.core.survey.Breakdown;
import keenfold.core.survey.ColumnProfile;
import keenfold.results.Survey;
import keenfold.results.table.Alignment;
import keenfold.results.table.NumberFormats;

/** What is in a table, for a first look. */
public final class SurveyView {
    private SurveyView() {}

    /** Columns of one kind that are shown, unless all are asked for. */
    private static final int MOST = 20;

    /** Columns that are ranked. */
    private static final int MOST_RANKED = 12;

    private static final int MOST_NAMED = 4;

    private static final int LONGEST_NAMES = 150;

    /**
     * Returns the columns or the breakdown, and the classes.
     *
     * @param all whether every column is shown, however many there are
     */
    public static String render(Survey survey, boolean all, Ink ink) {
        return ink.strong(Wrap.visible(survey.name()) + ": " + size(survey))
                + "\n\n"
                + (survey.breakdown().isEmpty() ? columns(survey, all, ink) : "")
                + survey.target().map(t -> classes(survey, t, ink)).orElse("")
                + (survey.breakdown().isEmpty() ? ranking(survey, all, ink) : "")
                + survey.breakdown().map(b -> breakdown(b, ink)).orElse("");
    }

    /** Returns how many rows and columns there are, and how many rows have gaps. */
    public static String size(Survey survey) {
        String size = String.format(
                Locale.ROOT,
                "%d rows, %d columns; ",
                survey.rows(),
                survey.columns().size());
        return survey.gaps() == 0
                ? size + "no value is missing"
                : size
                        + String.format(
                                Locale.ROOT,
                                "%d rows (%s) have a missing value, in %s",
                                survey.gaps(),
                                NumberFormats.percent(survey.gaps() / (double) survey.rows()),
                                where(survey));
    }

    private static String where(Survey survey) {
        List<String> names = survey.columns().stream()
                .filter(c -> c.profile().missing() > 0)
                .map(c -> Wrap.visible(c.profile().name()))
                .toList();
        return names.size() > MOST_NAMED
                ? names.size() + " columns"
                : String.join(", ", names.subList(0, names.size() - 1))
                        + (names.size() > 1 ? " and " : "")
                        + names.get(names.size() - 1);
    }

    /** Returns how the auc of columns is to be read. */
    public static String ofRanking(Survey survey) {
        return String.format(
                Locale.ROOT,
                "auc: of the class shares in the column's levels or intervals, learned on nine tenths of the rows and tested"
                        + " on the rest; guessing has 0.5, and one in twenty columns of random numbers reaches %.3f."
                        + " Columns may tell more together.",
                survey.chance());
    }

    /** Columns of numbers, of dates and of categories, each in a table of its own. */
    private static String columns(Survey survey, boolean all, Ink ink) {
        String numbers = table(survey, Survey.Kind.NUMBERS, "numbers", all, ink)
                + table(survey, Survey.Kind.DATES, "dates", all, ink);
        String legend =
                "q1, q3: quartiles. shape: ten equal bins from min to max; 9 the fullest, a point an empty one.";
        return numbers
                + (numbers.isEmpty() ? "" : ink.quiet(legend) + "\n\n")
                + table(survey, Survey.Kind.CATEGORIES, "categories", all, ink)
                + table(survey, Survey.Kind.TWO_VALUES, "columns with two values", all, ink)
                + table(
                        survey,
                        Survey.Kind.UNREAD,
                        "numbers, not plainly written (refused by draft, compare and run)",
                        all,
                        ink);
    }

    private static String table(Survey survey, Survey.Kind kind, String title, boolean all, Ink ink) {
        int most = all ? Integer.MAX_VALUE : MOST;
        List<Survey.OfColumn> columns = survey.ofKind(kind, most);
        if (columns.isEmpty()) {
            return "";
        }
        int shown = Math.min(most, columns.size());
        String order = shown < columns.size() && survey.target().isPresent()
                ? ink.quiet(", those that tell most of the class first")
                : "";
        return ink.strong(title) + order + "\n"
                + TextTable.of(Survey.columns(kind, columns.subList(0, shown))).render(ink)
                + more(columns.subList(shown, columns.size()), "; --all shows them too", ink)
                + "\n";
    }

    /** Names the columns that are not shown, as far as they fit into two lines. */
    private static String more(List<Survey.OfColumn> columns, String how, Ink ink) {
        if (columns.isEmpty()) {
            return "";
        }
        StringBuilder names = new StringBuilder();
        for (Survey.OfColumn column : columns) {
            String name = Wrap.visible(column.profile().name());
            if (names.length() + name.length() > LONGEST_NAMES) {
                names.append(", ...");
                break;
            }
            names.append(names.length() == 0 ? "" : ", ").append(name);
        }
        return ink.quiet(Wrap.lines("and " + columns.size() + " more: " + names + how, 0)
                        .stripTrailing()) + "\n";
    }

    /** The columns that tell the classes best, each by itself. */
    private static String ranking(Survey survey, boolean all, Ink ink) {
        List<Survey.OfColumn> ranked = survey.byAuc();
        if (ranked.isEmpty()) {
            return "";
        }
        int shown = all ? ranked.size() : Math.min(MOST_RANKED, ranked.size());
        String heading = "what each column tells of "
                + survey.target().map(t -> Wrap.visible(t.name())).orElse("") + " by itself";
        return ink.strong(heading) + "\n"
                + TextTable.of(survey.ranked().first(shown)).render(ink)
                + more(ranked.subList(shown, ranked.size()), "", ink)
                + ink.quiet(Wrap.lines(ofRanking(survey), 0).stripTrailing())
                + "\n\n";
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

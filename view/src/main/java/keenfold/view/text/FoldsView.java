package keenfold.view.text;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.DoubleFunction;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.Decimals;
import keenfold.core.data.Numbers;
import keenfold.core.run.result.Task;
import keenfold.core.split.Audit;
import keenfold.core.split.Scheme;
import keenfold.core.split.Split;
import keenfold.core.split.Splits;
import keenfold.results.FoldMap;
import keenfold.results.table.Alignment;
import keenfold.results.table.NumberFormats;

/** A map of the splits: their sizes, a picture of rows by folds, and the checks that were made. */
public final class FoldsView {
    private static final int MOST_SPLITS = 20;
    private static final int MOST_CLASSES = 4;
    private static final int PICTURE = 80;

    /** A column takes at least this many characters, the gap before it included. */
    private static final int NARROWEST = 3;

    private final FoldMap.OfSet set;
    private final DataSet data;
    private final Splits splits;
    private final Audit audit;
    private final Ink ink;

    private FoldsView(FoldMap.OfSet set, Ink ink) {
        this.set = set;
        this.data = set.task().data();
        this.splits = set.task().splits();
        this.audit = set.audit();
        this.ink = ink;
    }

    /**
     * Returns the map of one data set.
     *
     * @param scheme empty for splits that were made elsewhere
     * @param repeat the repeat to show, from 0
     */
    public static String render(FoldMap.OfSet set, Optional<Scheme> scheme, int repeat, long seed, Ink ink) {
        FoldsView view = new FoldsView(set, ink);
        StringBuilder text = new StringBuilder(Heading.of(set.task(), scheme, seed, "", ink));
        if (set.heldBack() > 0) {
            text.append(set.heldBack()).append(" more rows are held back and stand in no split\n");
        }
        text.append(set.couldBeSeen().isEmpty() ? "" : Wrap.lines(set.couldBeSeen(), 0));
        List<Audit.Facts> shown = view.shown(repeat);
        text.append('\n').append(view.table(shown, repeat));
        text.append('\n').append(view.picture(shown));
        text.append('\n').append(view.checks());
        return text.toString();
    }

    /** Folds of one repeat; where each repeat is one split, the splits. */
    private List<Audit.Facts> shown(int repeat) {
        boolean single = splits.mostFolds() == 1;
        return audit.splits().stream()
                .filter(s -> single || s.repeat() == repeat)
                .limit(MOST_SPLITS)
                .toList();
    }

    private static String date(double day) {
        return LocalDate.ofEpochDay((long) day).toString();
    }

    private String table(List<Audit.Facts> shown, int repeat) {
        int classes = Math.min(data.classes().count(), MOST_CLASSES);
        String table = tableOf(shown, classes);
        // Classes with long names are left out until the rest fits.
        while (classes > 0 && Wrap.width(table) > Wrap.WIDTH) {
            table = tableOf(shown, --classes);
        }
        boolean single = splits.mostFolds() == 1;
        int all = single ? splits.count() : splits.folds(repeat);
        String title = single
                ? "splits"
                : splits.repeats() == 1 ? "folds" : "folds of repeat " + (repeat + 1) + " of " + splits.repeats();
        int left = data.classes().count() - classes;
        String more = (left > 0 ? left + " more classes do not fit; --json has all of them\n" : "")
                + (all > shown.size() ? "and " + (all - shown.size()) + " more; --csv writes all of them\n" : "");
        return ink.strong(title) + "\n" + table + more;
    }

    private String tableOf(List<Audit.Facts> shown, int classes) {
        return TextTable.of(set.table(shown, classes)).render(ink);
    }

    /** Rows from left to right, splits from top to bottom. */
    private String picture(List<Audit.Facts> shown) {
        int[] sorted = sorted();
        int width = Math.min(PICTURE, sorted.length);
        StringBuilder text = new StringBuilder(ink.strong("which rows are tested") + " (" + sorting() + ")\n");
        int margin = Integer.toString(shown.size()).length() + 1;
        for (Audit.Facts s : shown) {
            int[] sides = splits.countsOf(s.repeat(), s.fold());
            String name = Integer.toString(splits.mostFolds() == 1 ? s.repeat() + 1 : s.fold() + 1);
            StringBuilder line = new StringBuilder(" ".repeat(Math.max(0, margin - name.length())))
                    .append(name)
                    .append("  ");
            for (int x = 0; x < width; x++) {
                int from = (int) ((long) x * sorted.length / width);
                int to = (int) ((long) (x + 1) * sorted.length / width);
                line.append(cell(sides, Arrays.copyOfRange(sorted, from, to)));
            }
            text.append(line.toString().stripTrailing()).append('\n');
        }
        return text.append(ink.quiet(
                        "# all rows of the spot are tested, 1 to 9 some (tenths), . trained on, blank neither"))
                .append('\n')
                .toString();
    }

    private static char cell(int[] sides, int[] rows) {
        int tested = 0;
        int trained = 0;
        for (int row : rows) {
            tested += sides[row] == 0 ? 1 : 0;
            trained += sides[row] > 0 ? 1 : 0;
        }
        if (tested == rows.length) {
            return '#';
        }
        if (tested > 0) {
            return (char) ('0' + Math.max(1, Math.min(9, Math.round(10.0f * tested / rows.length))));
        }
        return trained > 0 ? '.' : ' ';
    }

    private int[] sorted() {
        DoubleFunction<Double> key = key();
        return IntStream.range(0, data.rows())
                .boxed()
                .sorted((a, b) -> Double.compare(key.apply(a), key.apply(b)))
                .mapToInt(Integer::intValue)
                .toArray();
    }

    private DoubleFunction<Double> key() {
        if (byOrder()) {
            Numbers when = data.order().orElseThrow();
            return i -> when.get((int) i);
        }
        if (data.groups().isPresent()) {
            Categories groups = data.groups().get();
            return i -> (double) groups.code((int) i);
        }
        return i -> (double) data.target((int) i);
    }

    /** Time matters most where splits follow it; otherwise groups show better. */
    private boolean byOrder() {
        return data.order().isPresent() && (inOrder() || data.groups().isEmpty());
    }

    private boolean inOrder() {
        return splits.form() == Splits.Form.IN_ORDER;
    }

    private String sorting() {
        String by = byOrder()
                ? "by " + data.order().orElseThrow().name()
                : data.groups().map(g -> "by " + g.name()).orElse("by class");
        return data.rows() + " rows from left to right, " + by;
    }

    private String checks() {
        StringBuilder text = new StringBuilder(ink.strong("checks") + "\n");
        for (Audit.Check check : audit.checks()) {
            String outcome = check.outcome().name().toLowerCase(Locale.ROOT);
            text.append(Wrap.lines(
                    String.format(
                            Locale.ROOT,
                            "%-7s %s",
                            outcome,
                            words(check, data, audit.splits().size())),
                    8));
        }
        return text.toString();
    }

    /** Returns what a check asked and found. */
    public static String words(Audit.Check check, DataSet data, int splits) {
        boolean passed = check.outcome() == Audit.Outcome.PASSED;
        String in = check.splits() + " of " + splits + " splits";
        return switch (check.question()) {
            case SIDES_APART ->
                passed
                        ? "no row is trained on and tested in the same split"
                        : "rows are trained on and tested at once in " + in;
            case TESTED_ONCE ->
                passed
                        ? "every row is tested exactly once in each repeat"
                        : (long) check.value() + " times a row is not tested in a repeat; it is only trained on";
            case GROUPS_WHOLE ->
                passed
                        ? "no group (" + group(data) + ") has rows on both sides"
                        : "a group (" + group(data) + ") has rows on both sides in " + in;
            case COPIES_TOGETHER ->
                passed
                        ? "equal rows stand on one side"
                        : (long) check.value() + " rows are tested by models that saw an equal row (in " + in
                                + "); bind-equal: true keeps them together";
            case IN_ORDER ->
                passed
                        ? "every training row came before every tested one"
                        : "training rows did not come before tested ones in " + in;
            case BALANCED ->
                String.format(
                        Locale.ROOT,
                        passed
                                ? "fold sizes and class counts are within one row of the ideal (most: %s)"
                                : "fold sizes or class counts are off the ideal by more than a row (most: %s)",
                        NumberFormats.shortest(check.value()));
            case CLASSES_TESTED ->
                passed ? "every split tests rows of every class" : in + " lack a class among tested rows";
            case CLASSES_TRAINED ->
                passed
                        ? "every split trains on rows of every class"
                        : in + " lack a class among training rows; no model can learn it there";
        };
    }

    private static String group(DataSet data) {
        return data.groups().map(Categories::name).orElse("group");
    }

    /** Returns the rows tested in one split, with as many of their values as fit the page. */
    public static String rows(Task task, Set<String> dates, int repeat, int fold, Ink ink) {
        DataSet data = task.data();
        Split split = task.splits().at(repeat, fold);
        List<String> titles = titles(data);
        String table = "";
        // The last columns are left out until the rest fits.
        for (int columns = Math.min(titles.size(), Wrap.WIDTH / NARROWEST); columns > 0; columns--) {
            TextTable text = TextTable.empty();
            for (int c = 0; c < columns; c++) {
                text.column(titles.get(c), c == 0 ? Alignment.RIGHT : Alignment.LEFT);
            }
            for (int i = 0; i < split.test().size(); i++) {
                text.row(values(data, dates, split.test().row(i)).subList(0, columns));
            }
            table = text.render(ink);
            if (Wrap.width(table) <= Wrap.WIDTH) {
                String left = columns < titles.size()
                        ? (titles.size() - columns) + " more columns do not fit; --csv writes all\n"
                        : "";
                return head(data, split, ink) + table + left;
            }
        }
        return head(data, split, ink) + table;
    }

    private static String head(DataSet data, Split split, Ink ink) {
        return ink.strong(String.format(
                        Locale.ROOT,
                        "%s: the %d rows tested in repeat %d, fold %d",
                        data.name(),
                        split.test().size(),
                        split.repeat() + 1,
                        split.fold() + 1))
                + "\n";
    }

    /** Returns the titles of what {@link #values} returns. */
    public static List<String> titles(DataSet data) {
        List<String> titles = new ArrayList<>(List.of("row", "class"));
        data.groups().ifPresent(g -> titles.add(g.name()));
        data.order().ifPresent(o -> titles.add(o.name()));
        titles.addAll(data.features().names());
        return titles;
    }

    /** Returns a row: its number in its file, its class, group and order, and its values; dates as dates. */
    public static List<String> values(DataSet data, Set<String> dates, int row) {
        List<String> values = new ArrayList<>();
        values.add(Integer.toString(data.sourceRow(row)));
        values.add(data.classes().labels().get(data.target(row)));
        data.groups().ifPresent(g -> values.add(value(g, dates, row)));
        data.order().ifPresent(o -> values.add(value(o, dates, row)));
        data.features().columns().forEach(c -> values.add(value(c, dates, row)));
        return values;
    }

    private static String value(Column column, Set<String> dates, int row) {
        if (column.missing(row)) {
            return "";
        }
        boolean date = dates.contains(column.name());
        return column.match(n -> date ? date(n.get(row)) : Decimals.exact(n.get(row)), c -> c.levels()
                .get(c.code(row)));
    }
}

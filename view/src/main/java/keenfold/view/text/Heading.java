package keenfold.view.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import keenfold.core.data.DataSet;
import keenfold.core.infer.Panel;
import keenfold.core.split.KFold;

/** What stands above every result: the data set, its classes, its splits. */
public final class Heading {
    private static final int MOST_CLASSES = 6;

    private Heading() {}

    /** Returns two or three lines. */
    public static String of(Panel panel, KFold scheme, Ink ink) {
        DataSet data = panel.task().data();
        String groups = data.groups()
                .map(g -> String.format(
                        Locale.ROOT, "; %d groups (%s) kept whole", g.levels().size(), g.name()))
                .orElse("");
        String first = String.format(Locale.ROOT, "%s: %d rows; %s", data.name(), data.rows(), classes(data));
        String second = String.format(
                Locale.ROOT,
                "%d x %d folds%s%s; seed %d",
                scheme.repeats(),
                scheme.folds(),
                scheme.stratified() ? ", stratified" : "",
                groups,
                panel.seed());
        int all = scheme.folds() * scheme.repeats();
        String third = panel.common() < all
                ? String.format(
                        Locale.ROOT, "; compared on the %d of %d splits where no candidate failed", panel.common(), all)
                : "";
        return ink.strong(Wrap.lines(first, 2).stripTrailing()) + "\n" + Wrap.lines(second + third, 2);
    }

    private static String classes(DataSet data) {
        int[] counts = data.classCounts();
        List<String> parts = new ArrayList<>();
        for (int c = 0; c < Math.min(counts.length, MOST_CLASSES); c++) {
            boolean positive = data.classes().binary() && c == data.classes().positive();
            parts.add(String.format(
                    Locale.ROOT,
                    "%s %d (%.0f %%%s)",
                    data.classes().labels().get(c),
                    counts[c],
                    100.0 * counts[c] / data.rows(),
                    positive ? ", positive" : ""));
        }
        if (counts.length > MOST_CLASSES) {
            parts.add("and " + (counts.length - MOST_CLASSES) + " more classes");
        }
        return String.join(", ", parts);
    }
}

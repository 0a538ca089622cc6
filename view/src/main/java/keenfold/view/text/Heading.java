package keenfold.view.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import keenfold.core.data.DataSet;
import keenfold.core.data.Plural;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.run.result.Task;
import keenfold.core.split.Scheme;

/** What stands above every result: the data set, its classes, its splits. */
public final class Heading {
    private static final int MOST_CLASSES = 6;

    private Heading() {}

    /** Returns two or three lines above what was scored. */
    public static String of(AlignedPredictions panel, Optional<Scheme> scheme, Ink ink) {
        int all = panel.task().splits().count();
        if (panel.scoresOnly()) {
            String errors = panel.common() == 1
                    ? "no predictions and no folds, so no standard errors"
                    : "no predictions, so standard errors come from the spread of these scores";
            return ink.strong(panel.task().data().name() + ": " + SchemeWords.of(panel, scheme)) + "\n"
                    + Wrap.lines(errors, 0);
        }
        String common = panel.common() < all
                ? String.format(
                        Locale.ROOT, "; compared on the %d of %d splits where no candidate failed", panel.common(), all)
                : "";
        return of(panel.task(), scheme, panel.seed(), common, ink);
    }

    /** Returns two or three lines; {@code more} ends the last. */
    static String of(Task task, Optional<Scheme> scheme, long seed, String more, Ink ink) {
        DataSet data = task.data();
        String first = String.format(Locale.ROOT, "%s: %s; %s", data.name(), rows(data), Wrap.visible(classes(data)));
        String second = SchemeWords.of(data, task.splits(), scheme) + "; seed " + seed;
        return ink.strong(Wrap.lines(first, 2).stripTrailing()) + "\n" + Wrap.lines(second + more, 2);
    }

    private static String rows(DataSet data) {
        String cases = Plural.of(data.rows(), "row");
        return data.fileRows() == data.rows()
                ? cases
                : Plural.of(data.fileRows(), "row") + " that count for " + data.rows();
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

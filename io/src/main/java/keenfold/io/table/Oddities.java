package keenfold.io.table;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.EqualRows;
import keenfold.core.data.Suspicion;

/** What a practised eye notices in a table before comparing anything on it. */
final class Oddities {
    private Oddities() {}

    /** Whether a column is left out because it is a name for each row, with a notice. */
    static boolean leftOut(String dataSet, Column column, List<String> notices) {
        boolean id = column.match(n -> false, Suspicion::namesEachRow);
        if (id) {
            notices.add(String.format(
                    Locale.ROOT,
                    "%s: column \"%s\" has another value in every row; it is left out, since it can only be learned by"
                            + " heart",
                    dataSet,
                    column.name()));
        }
        return id;
    }

    /** Notices a column that says which rows belong together, or which came first, and that the splits ignore. */
    private static void noticeIgnored(
            String dataSet, boolean date, Column column, boolean grouped, boolean ordered, List<String> notices) {
        if (date && !ordered) {
            notices.add(String.format(
                    Locale.ROOT,
                    "%s: column \"%s\" holds dates; folds are drawn without regard to time, so that scores are too good"
                            + " if new rows will be later ones and things drift; to train on what came before alone,"
                            + " say order: %s and scheme: rolling-origin, or --order %s",
                    dataSet,
                    column.name(),
                    column.name(),
                    column.name()));
        }
        boolean groupLike = !grouped && column.match(n -> false, Suspicion::groupLike);
        if (groupLike) {
            notices.add(String.format(
                    Locale.ROOT,
                    "%s: column \"%s\" looks like a group (%d values); if new rows come from other ones, keep each on"
                            + " one side with groups: %s in the plan, or --groups %s",
                    dataSet,
                    column.name(),
                    column.match(n -> 0, c -> c.levels().size()),
                    column.name(),
                    column.name()));
        }
    }

    /** Notices columns that the splits ignore, and rows that are equal in every column, the target included. */
    static List<String> of(DataSet data, Set<String> dates, boolean grouped, boolean ordered) {
        int copies = EqualRows.copies(data.labelled());
        List<String> notices = new ArrayList<>();
        for (Column column : data.features().columns()) {
            noticeIgnored(data.name(), dates.contains(column.name()), column, grouped, ordered, notices);
        }
        if (copies > 0) {
            notices.add(String.format(
                    Locale.ROOT,
                    "%s: %d of %d rows %s an earlier row in every column; copies on both sides of a split make"
                            + " scores too good, so drop them, or keep them together with splits: {bind-equal: true}",
                    data.name(),
                    copies,
                    data.rows(),
                    copies == 1 ? "repeats" : "repeat"));
        }
        return notices;
    }
}

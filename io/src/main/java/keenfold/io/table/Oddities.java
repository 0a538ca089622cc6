package keenfold.io.table;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.EqualRows;

/** What a practised eye notices in a table before comparing anything on it. */
final class Oddities {
    private static final int LEAST_GROUPS = 15;

    private Oddities() {}

    /** Whether a column is left out because it is a name for each row, with a notice. */
    static boolean leftOut(String dataSet, Column column, List<String> notices) {
        boolean id = column.match(n -> false, c -> {
            int[] counts = c.counts();
            int present = c.rows() - c.countMissing();
            return present > LEAST_GROUPS && Arrays.stream(counts).max().orElse(0) == 1;
        });
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
            String dataSet,
            ReadColumn.Kind kind,
            Column column,
            boolean grouped,
            boolean ordered,
            List<String> notices) {
        if (kind == ReadColumn.Kind.DATE && !ordered) {
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
        boolean groupLike = !grouped && column.match(n -> false, Oddities::groupLike);
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

    private static boolean groupLike(Categories column) {
        long used = Arrays.stream(column.counts()).filter(n -> n > 0).count();
        return used >= LEAST_GROUPS && used <= column.rows() / 2;
    }

    /** Notices columns that the splits ignore, and rows that are equal in every column, the target included. */
    static List<String> of(DataSet data, Map<String, ReadColumn.Kind> kinds, boolean grouped, boolean ordered) {
        int copies = EqualRows.copies(data.labelled());
        List<String> notices = new ArrayList<>();
        for (Column column : data.features().columns()) {
            ReadColumn.Kind kind = kinds.getOrDefault(column.name(), ReadColumn.Kind.CATEGORY);
            noticeIgnored(data.name(), kind, column, grouped, ordered, notices);
        }
        if (copies > 0) {
            notices.add(String.format(
                    Locale.ROOT,
                    "%s: %d of %d rows repeat an earlier row in every column; copies on both sides of a split make"
                            + " scores too good, so drop them, or keep them together with splits: {bind-equal: true}",
                    data.name(),
                    copies,
                    data.rows()));
        }
        return notices;
    }
}

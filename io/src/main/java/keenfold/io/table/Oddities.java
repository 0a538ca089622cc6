package keenfold.io.table;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.EqualRows;
import keenfold.core.data.Notice;
import keenfold.core.survey.Suspicion;
import keenfold.io.ShellWords;

/** What a practised eye notices in a table before comparing anything on it. */
final class Oddities {
    private Oddities() {}

    /** Returns whether a column has another value in every row: a name of each, or a text. */
    static boolean namesEachRow(Column column) {
        return column.match(n -> false, Suspicion::namesEachRow);
    }

    /** Whether a column is left out because it is a name for each row, with a notice. */
    static boolean leftOut(String dataSet, Column column, List<Notice> notices) {
        boolean id = namesEachRow(column);
        if (id) {
            notices.add(Notice.of(
                            "names-each-row",
                            "column \"%s\" has another value in every row; it is left out, since a classifier can only memorise it; if it is a text, name it under text in the plan, and give a candidate the step words",
                            column.name())
                    .about(dataSet)
                    .with("column", column.name()));
        }
        return id;
    }

    /**
     * Notices columns that the splits ignore or that give the class away, a target of numbers, and rows that are equal in
     * every column, the target included.
     *
     * @param given what the plan says of the rows
     */
    static List<Notice> of(DataSet data, Set<String> dates, Given given) {
        List<Notice> notices = new ArrayList<>();
        String[] labels = new String[data.rows()];
        Arrays.setAll(labels, i -> data.classes().labels().get(data.target(i)));
        Categories target = Categories.of(given.target(), labels);
        Suspicion.ofTarget(target)
                .ifPresent(s -> notices.add(Notice.of(
                                "number-target",
                                "target \"%s\" is a number with %d values, each of which is a class of its own; to classifiers a"
                                        + " neighbouring number is as wrong as any: cut it into a few classes first",
                                s.column(),
                                data.classes().count())
                        .about(data.name())
                        .with("column", s.column())
                        .with("values", data.classes().count())));
        for (Suspicion s : Suspicion.ofColumns(data.features(), dates, target)) {
            words(data, s, dates, given).ifPresent(notices::add);
        }
        int copies = given.bound() ? 0 : EqualRows.copies(data.labelled());
        if (copies > 0) {
            notices.add(Notice.of(
                            "duplicates",
                            "%d of %d rows %s an earlier row in every column; copies on both sides of a split make scores optimistic, so drop them, or keep them together with splits: {bind-equal: true}",
                            copies,
                            data.rows(),
                            copies == 1 ? "repeats" : "repeat")
                    .about(data.name())
                    .with("rows", copies));
        }
        return notices;
    }

    private static Optional<Notice> words(DataSet data, Suspicion s, Set<String> dates, Given given) {
        String column = "column \"" + s.column() + "\"";
        String word = ShellWords.quoted(s.column());
        return switch (s.kind()) {
            case TELLS_CLASS ->
                Optional.of(Notice.of(
                                "tells-class",
                                "%s alone gives the class of %d %% of rows by the best simple rule, where the largest class is %d"
                                        + " %%; was it known before the class was? if not, leave it out: leave-out in the plan, or"
                                        + " --leave-out %s",
                                column,
                                s.count(),
                                s.beside(),
                                word)
                        .about(data.name())
                        .with("column", s.column()));
            case GROUP_LIKE ->
                given.grouped()
                        ? Optional.empty()
                        : Optional.of(Notice.of(
                                        "group-like",
                                        "%s looks like a group (%d values); if new rows come from other ones, keep each on"
                                                + " one side with groups in the plan, or --groups %s",
                                        column,
                                        s.count(),
                                        word)
                                .about(data.name())
                                .with("column", s.column()));
            case TIME_LIKE ->
                given.ordered()
                        ? Optional.empty()
                        : Optional.of(Notice.of(
                                        "time-like",
                                        "%s %s; folds are drawn without regard to time, so that scores are optimistic"
                                                + " if new rows will be later ones and things drift; to train on what came before"
                                                + " alone, say order and scheme: rolling-origin in the plan, or --order %s",
                                        column,
                                        dates.contains(s.column()) ? "holds dates" : "rises from row to row",
                                        word)
                                .about(data.name())
                                .with("column", s.column()));
            case MISSING_CODE ->
                Optional.of(Notice.of(
                                "missing-code",
                                "%s has the value \"%s\" in %d rows; if it stands for a missing value, say so with --missing"
                                        + " %s, or with missing in the plan, whose list then names NA, NaN and ? too",
                                column,
                                s.detail(),
                                s.count(),
                                ShellWords.quoted(s.detail()))
                        .about(data.name())
                        .with("column", s.column()));
            // What names each row is left out, and said, before; columns of one value or that repeat another do no
            // harm.
            case CONSTANT, UNIQUE, DUPLICATES, CONTRADICTIONS, REPEATS_COLUMN, NUMBER_TARGET -> Optional.empty();
        };
    }

    /**
     * What a plan says of the rows.
     *
     * @param target the column of the classes
     * @param grouped whether it names a column of groups
     * @param ordered whether it names a column of their order
     * @param bound whether equal rows stay on one side
     */
    record Given(String target, boolean grouped, boolean ordered, boolean bound) {}
}

package keenfold.results.notice;

import java.util.Locale;
import keenfold.core.data.Notice;
import keenfold.core.survey.Suspicion;

/** What is to be said of suspicious columns. */
public final class SuspicionWords {
    private SuspicionWords() {}

    /** Returns the kind of a suspicion as programs read it. */
    public static String code(Suspicion suspicion) {
        return suspicion.kind().name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** Returns a suspicion with what to do. */
    public static Notice of(Suspicion suspicion) {
        return Notice.plain(code(suspicion), words(suspicion))
                .with("column", suspicion.column())
                .with("count", suspicion.count())
                .with("detail", suspicion.detail());
    }

    private static String words(Suspicion s) {
        String column = "column \"" + s.column() + "\"";
        return switch (s.kind()) {
            case CONSTANT ->
                column + (s.count() == 0 ? " has no value at all" : " has one value only")
                        + "; it tells nothing and can be left out";
            case UNIQUE ->
                column + " has another value in every row, like a name or a running number; leave it out (leave-out:"
                        + " in a plan, --leave-out), since a classifier can only memorise it; if it is a"
                        + " text, name it under text in a plan, and give a candidate the step words";
            case TELLS_CLASS ->
                column + " alone gives the class of " + s.count()
                        + " % of rows by the best simple rule, where the largest class is " + s.beside()
                        + " %; was it known before the class was? if not, leave it out";
            case GROUP_LIKE ->
                column + " looks like a group (" + s.count()
                        + " recurring values); if new rows come from other ones, keep each on one side with groups:"
                        + " in a plan, or --groups";
            case TIME_LIKE ->
                column
                        + " says which rows came first; if things drift, folds drawn without regard to time give optimistic scores";
            case DUPLICATES ->
                s.count() + (s.count() == 1 ? " row repeats" : " rows repeat") + " an earlier row in every column"
                        + (s.detail().isEmpty() ? "" : " but " + s.detail())
                        + "; copies on both sides of a split make scores optimistic";
            case CONTRADICTIONS ->
                s.count() + " rows are equal in every feature" + (s.detail().isEmpty() ? "" : " but " + s.detail())
                        + " and differ in the class; on the other features no classifier can be right"
                        + " about " + s.beside() + " of them";
            case REPEATS_COLUMN ->
                column + " has the same information as \"" + s.detail() + "\"; one of the two can be left out";
            case MISSING_CODE ->
                column + " has the value \"" + s.detail() + "\" in " + s.count()
                        + (s.count() == 1 ? " row" : " rows")
                        + "; if it stands for a missing value, say so with --missing, or with missing in a plan, whose"
                        + " list then names NA, NaN and ? too";
            case NUMBER_TARGET ->
                column + " is a number with " + s.count()
                        + " values, each of which would be a class of its own; Keen Fold compares classifiers, to which a"
                        + " neighbouring number is as wrong as any: cut it into a few classes first";
        };
    }
}

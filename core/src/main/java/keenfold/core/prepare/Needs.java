package keenfold.core.prepare;

import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;

/**
 * What a classifier needs of its columns.
 *
 * @param noMissing no missing value
 * @param numbersOnly number columns only
 * @param oneScale columns on a common scale; without it the classifier works, but not as meant
 */
public record Needs(boolean noMissing, boolean numbersOnly, boolean oneScale) {
    /** Takes columns as they are. */
    public static final Needs NOTHING = new Needs(false, false, false);
    /** Numbers without gaps. */
    public static final Needs NUMBERS = new Needs(true, true, false);
    /** Numbers without gaps, on one scale. */
    public static final Needs SCALED_NUMBERS = new Needs(true, true, true);

    /** Returns whether a classifier can take prepared columns. */
    public boolean met(Table prepared) {
        return prepared.columns().stream()
                .noneMatch(c -> (numbersOnly && c instanceof Categories) || (noMissing && c.countMissing() > 0));
    }

    /**
     * Refuses prepared columns that a classifier cannot take.
     *
     * @throws FitFailure naming the column and the step that would help
     */
    public void require(Table prepared, String classifier) {
        for (Column column : prepared.columns()) {
            if (numbersOnly && column instanceof Categories) {
                throw new FitFailure(classifier + " needs number columns: \"" + column.name()
                        + "\" is a category; put one-hot or ordinal into prepare");
            }
            if (noMissing && column.countMissing() > 0) {
                throw new FitFailure(classifier + " needs columns without gaps: \"" + column.name()
                        + "\" has some; put fill into prepare");
            }
        }
    }
}

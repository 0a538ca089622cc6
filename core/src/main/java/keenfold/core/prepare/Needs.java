package keenfold.core.prepare;

/**
 * What a classifier needs of its columns.
 *
 * @param noMissing no missing value
 * @param numbersOnly number columns only
 * @param oneScale columns on a common scale
 */
public record Needs(boolean noMissing, boolean numbersOnly, boolean oneScale) {
    /** Takes columns as they are. */
    public static final Needs NOTHING = new Needs(false, false, false);
    /** Numbers without gaps. */
    public static final Needs NUMBERS = new Needs(true, true, false);
    /** Numbers without gaps, on one scale. */
    public static final Needs SCALED_NUMBERS = new Needs(true, true, true);
}

package keenfold.io.table;

import keenfold.io.InputException;

/** A column is refused in which a few words stand among numbers. */
public final class MixedColumnException extends InputException {
    private static final long serialVersionUID = 1;

    private final String column;
    private final String asText;

    /**
     * Makes one.
     *
     * @param place file, line and column
     * @param cause what is wrong and what would be right
     * @param column name of the column
     * @param asText what is to be said where it is read as categories instead
     */
    MixedColumnException(String place, String cause, String column, String asText) {
        super(place, cause);
        this.column = column;
        this.asText = place + ": " + asText;
    }

    /** Returns the name of the column. */
    public String column() {
        return column;
    }

    /** Returns what is to be said where it is read as categories instead of being refused. */
    public String asText() {
        return asText;
    }
}

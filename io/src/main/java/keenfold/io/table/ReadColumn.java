package keenfold.io.table;

import keenfold.core.data.Column;

/**
 * A column as it was read.
 *
 * @param column its values
 * @param kind what they are
 */
public record ReadColumn(Column column, Kind kind) {
    /** Kinds of columns. */
    public enum Kind {
        /** Numbers. */
        NUMBER,
        /** Categories. */
        CATEGORY,
        /** ISO dates, held as days since 1970-01-01. */
        DATE
    }
}

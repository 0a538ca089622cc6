package keenfold.io.table;

import java.util.Optional;
import keenfold.core.data.Column;

/**
 * A column as it was read.
 *
 * @param column its values
 * @param kind what they are
 * @param stray the first word, where a column of categories holds numbers too
 */
public record ReadColumn(Column column, Kind kind, Optional<Stray> stray) {
    /**
     * A word in a column of numbers, or the other way round.
     *
     * @param text the first word
     * @param line its line in the file
     * @param numbers how many values are numbers
     * @param words how many are not
     */
    public record Stray(String text, long line, int numbers, int words) {}

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

package keenfold.io.table.parse;

import java.time.LocalDate;
import java.time.format.DateTimeParseException;

/** What a value of a file stands for, as the columns that are read whole have it. */
public final class Values {
    private Values() {}

    /**
     * Returns the number that a text is; NaN if it is none or too large.
     *
     * @param decimal what stands before its decimals
     */
    public static double number(String text, char decimal) {
        double value = NumberParser.parse(decimal == ',' ? text.replace(',', '.') : text);
        return Double.isInfinite(value) ? Double.NaN : value;
    }

    /** Returns the days since 1970-01-01 of an ISO date; NaN if it is none. */
    public static double day(String text) {
        if (text.length() != 10 || text.charAt(4) != '-') {
            return Double.NaN;
        }
        try {
            return LocalDate.parse(text).toEpochDay();
        } catch (DateTimeParseException e) {
            return Double.NaN;
        }
    }
}

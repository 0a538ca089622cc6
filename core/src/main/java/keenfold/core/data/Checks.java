package keenfold.core.data;

import java.util.Locale;

/** Argument checks of the core: each failure names the argument, its value and what was expected. */
public final class Checks {
    private Checks() {}

    /**
     * Refuses an argument unless a condition holds.
     *
     * @throws ValueException with {@code message} formatted in the root locale
     */
    public static void that(boolean holds, String message, Object... values) {
        if (!holds) {
            throw wrong(String.format(Locale.ROOT, message, values));
        }
    }

    /** Returns what to throw where a value cannot be used. */
    public static ValueException wrong(String message) {
        return new ValueException(message);
    }

    /** Returns what to throw where a value cannot be used, for a reason that something else gave. */
    public static ValueException wrong(String message, Throwable cause) {
        return new ValueException(message, cause);
    }

    /** Returns {@code value} if it lies strictly between 0 and 1. */
    public static double share(String name, double value) {
        that(value > 0 && value < 1, "%s = %s: expected a share between 0 and 1, such as 0.95", name, plain(value));
        return value;
    }

    /** Returns {@code value} if it is finite and at least {@code least}. */
    public static double atLeast(String name, double value, double least) {
        that(
                value >= least && value < Double.POSITIVE_INFINITY,
                "%s = %s: expected a number of at least %s",
                name,
                plain(value),
                plain(least));
        return value;
    }

    /** Returns {@code value} if it is at least {@code least}. */
    public static int atLeast(String name, int value, int least) {
        // Asked for every number that is drawn: the message is not even thought of unless it is needed.
        if (value < least) {
            that(false, "%s = %d: expected a whole number of at least %d", name, value, least);
        }
        return value;
    }

    private static String plain(double value) {
        return value == StrictMath.rint(value) && Math.abs(value) < 1e15
                ? Long.toString((long) value)
                : Double.toString(value);
    }
}

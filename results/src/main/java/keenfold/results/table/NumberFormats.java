package keenfold.results.table;

import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
import java.util.Locale;

/** Numbers as a reader wants them: as many digits as the uncertainty warrants, always with a point. */
public final class NumberFormats {
    /** What stands for a number that is undefined. */
    public static final String UNDEFINED = "-";

    private static final int MOST_DECIMALS = 6;
    private static final int PLAIN_DECIMALS = 4;

    /** The least p-value that is shown as a number where it does not come from draws. */
    private static final double LEAST_P = 1e-4;

    private NumberFormats() {}

    /** Returns how many decimals show the second significant digit of a standard error; 4 if there is none. */
    public static int decimals(double se) {
        if (!(se > 0) || Double.isInfinite(se)) {
            return PLAIN_DECIMALS;
        }
        int scale = new BigDecimal(se)
                .round(new MathContext(2, RoundingMode.HALF_EVEN))
                .scale();
        return Math.max(0, Math.min(MOST_DECIMALS, scale));
    }

    /** Returns a number with the given number of decimals. */
    public static String fixed(double value, int decimals) {
        if (Double.isNaN(value)) {
            return UNDEFINED;
        }
        if (Double.isInfinite(value)) {
            return value > 0 ? "inf" : "-inf";
        }
        String text =
                new BigDecimal(value).setScale(decimals, RoundingMode.HALF_EVEN).toPlainString();
        // What rounds to zero has no sign.
        return text.matches("-0(\\.0*)?") ? text.substring(1) : text;
    }

    /** Returns a mean to the second significant digit of its standard error. */
    public static String mean(double mean, double se) {
        return fixed(mean, decimals(se));
    }

    /** Returns a difference with its sign. */
    public static String signed(double difference, double se) {
        String text = mean(difference, se);
        return difference > 0 && !text.matches("0(\\.0*)?") ? "+" + text : text;
    }

    /** Returns a number to two significant digits. */
    public static String two(double value) {
        return significant(value, 2);
    }

    /** Returns a number to some significant digits, without an exponent. */
    public static String significant(double value, int digits) {
        if (!Double.isFinite(value) || value == 0) {
            return Double.isNaN(value) ? UNDEFINED : "0";
        }
        BigDecimal rounded = new BigDecimal(value).round(new MathContext(digits, RoundingMode.HALF_EVEN));
        return rounded.scale() < 0 ? rounded.toBigInteger().toString() : rounded.toPlainString();
    }

    /** Returns a number as short as three significant digits allow: 0.05, 0.01, 5. */
    public static String shortest(double value) {
        return value == 0
                ? "0"
                : new BigDecimal(value)
                        .round(new MathContext(3, RoundingMode.HALF_EVEN))
                        .stripTrailingZeros()
                        .toPlainString();
    }

    /** Returns an interval of which both ends have the decimals of a standard error. */
    public static String interval(double low, double high, double se) {
        return Double.isNaN(low) || Double.isNaN(high) ? UNDEFINED : mean(low, se) + " to " + mean(high, se);
    }

    /** Returns a p-value; the least that B draws can give is shown as a bound. */
    public static String p(double p, int draws) {
        if (Double.isNaN(p)) {
            return UNDEFINED;
        }
        if (draws == 0) {
            return p < LEAST_P ? "< " + shortest(LEAST_P) : fixed(p, PLAIN_DECIMALS);
        }
        double least = 1.0 / (draws + 1);
        return p <= least * (1 + 1e-9) ? "< " + significant(least, 1) : fixed(p, PLAIN_DECIMALS);
    }

    /** Returns a share in per cent. */
    public static String percent(double share) {
        return Double.isNaN(share) ? UNDEFINED : String.format(Locale.ROOT, "%.0f %%", 100 * share);
    }

    /** Returns a level in per cent, with as many digits as it needs. */
    public static String level(double level) {
        return new BigDecimal(Double.toString(level))
                        .movePointRight(2)
                        .stripTrailingZeros()
                        .toPlainString() + " %";
    }

    /** Returns a duration with a unit that suits it. */
    public static String seconds(double seconds) {
        if (Double.isNaN(seconds)) {
            return UNDEFINED;
        }
        if (seconds < 1e-3) {
            return significant(seconds * 1e6, 2) + " us";
        }
        return seconds < 1 ? significant(seconds * 1e3, 2) + " ms" : significant(seconds, seconds < 100 ? 2 : 3) + " s";
    }

    /** Formats a time that somebody waits: whole seconds, from 100 s on minutes, from 100 min on hours. */
    public static String duration(double seconds) {
        if (Double.isNaN(seconds)) {
            return UNDEFINED;
        }
        if (seconds < 100) {
            return Math.round(seconds) + " s";
        }
        double minutes = seconds / 60;
        return minutes < 100
                ? significant(minutes, minutes < 10 ? 2 : 3).replaceFirst("\\.0$", "") + " min"
                : significant(minutes / 60, 2) + " h";
    }
}

package keenfold.io.table.parse;

/**
 * Decimal numbers as data files write them: sign, digits, at most one point, at most one exponent.
 *
 * <p>Forms that only Java reads (1d, 0x1p3, Infinity) are not numbers here. The result is the double nearest to the text.
 */
public final class NumberParser {
    /** What {@link #parse} gives for text that is not a number; a missing value never gets here. */
    static final double NO_NUMBER = Double.NaN;

    private static final int EXACT_DIGITS = 15;
    private static final int EXACT_POWER = 22;
    private static final double[] POWERS = new double[EXACT_POWER + 1];

    static {
        double power = 1;
        for (int i = 0; i <= EXACT_POWER; i++) {
            POWERS[i] = power;
            power *= 10;
        }
    }

    private NumberParser() {}

    /** Returns the number that the whole text is, {@link #NO_NUMBER} if it is none; infinite if it is too large. */
    public static double parse(String text) {
        return parse(text.toCharArray(), 0, text.length());
    }

    /** The same for a part of an array. */
    public static double parse(char[] text, int from, int length) {
        int end = from + length;
        int start = length > 0 && text[from] == '-' ? from + 1 : from;
        long plain = 0;
        int i = start;
        // Nearly all numbers are a few digits with perhaps a point; what is left is for the slower way.
        while (i < end && text[i] >= '0' && text[i] <= '9') {
            plain = plain * 10 + (text[i++] - '0');
        }
        int decimals = 0;
        if (i < end && text[i] == '.') {
            int point = i++;
            while (i < end && text[i] >= '0' && text[i] <= '9') {
                plain = plain * 10 + (text[i++] - '0');
            }
            decimals = i - point - 1;
        }
        if (i == end && i > start && end - start <= EXACT_DIGITS && text[end - 1] != '.') {
            double value = plain / POWERS[decimals];
            return start > from ? -value : value;
        }
        return parseSlowly(new String(text, from, length));
    }

    private static double parseSlowly(String text) {
        int n = text.length();
        int i = 0;
        boolean negative = false;
        if (n > 0 && (text.charAt(0) == '-' || text.charAt(0) == '+')) {
            negative = text.charAt(0) == '-';
            i++;
        }
        long mantissa = 0;
        int digits = 0;
        int significant = 0;
        int scale = 0;
        boolean point = false;
        for (; i < n; i++) {
            char c = text.charAt(i);
            if (c >= '0' && c <= '9') {
                digits++;
                if (significant > 0 || c != '0') {
                    significant++;
                }
                if (significant <= EXACT_DIGITS) {
                    mantissa = mantissa * 10 + (c - '0');
                }
                scale -= point ? 1 : 0;
            } else if (c == '.' && !point) {
                point = true;
            } else {
                break;
            }
        }
        if (digits == 0) {
            return NO_NUMBER;
        }
        if (i < n) {
            int exponent = exponent(text, i);
            if (exponent == Integer.MIN_VALUE) {
                return NO_NUMBER;
            }
            scale += exponent;
        }
        // Both the digits and the power are exact doubles: one rounding, so the nearest double (Clinger 1990).
        if (significant <= EXACT_DIGITS && Math.abs(scale) <= EXACT_POWER) {
            double value = scale < 0 ? mantissa / POWERS[-scale] : mantissa * POWERS[scale];
            return negative ? -value : value;
        }
        return Double.parseDouble(text);
    }

    private static int exponent(String text, int at) {
        int n = text.length();
        int i = at;
        if (text.charAt(i) != 'e' && text.charAt(i) != 'E') {
            return Integer.MIN_VALUE;
        }
        i++;
        boolean negative = i < n && text.charAt(i) == '-';
        if (i < n && (negative || text.charAt(i) == '+')) {
            i++;
        }
        if (i == n || n - i > 6) {
            return Integer.MIN_VALUE;
        }
        int value = 0;
        for (; i < n; i++) {
            char c = text.charAt(i);
            if (c < '0' || c > '9') {
                return Integer.MIN_VALUE;
            }
            value = value * 10 + (c - '0');
        }
        return negative ? -value : value;
    }
}

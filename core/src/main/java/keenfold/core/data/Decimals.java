package keenfold.core.data;

import com.fasterxml.jackson.core.io.NumberOutput;
import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;

/** Numbers as text that reads back equal, the same on every JDK (whose own forms changed with version 19). */
public final class Decimals {
    private Decimals() {}

    /**
     * Returns the decimal of 15 significant digits, or of 16 or 17 where fewer do not read back equal, without trailing
     * zeros.
     *
     * @throws IllegalArgumentException if the value is not finite
     */
    public static String exact(double value) {
        Checks.that(Double.isFinite(value), "%s has no decimal form", value);
        if (value == 0) {
            return "0";
        }
        if (value == (long) value && Math.abs(value) < 1e15) {
            return Long.toString((long) value);
        }
        String shortest = NumberOutput.toString(value, true);
        // Without an exponent it has the form wanted already.
        boolean plain = shortest.indexOf('E') < 0;
        if (Math.abs(value) >= Double.MIN_NORMAL && isRounding(value, shortest, plain)) {
            return plain ? shortest : text(new BigDecimal(shortest).stripTrailingZeros());
        }
        BigDecimal whole = new BigDecimal(value);
        for (int digits = 15; digits < 17; digits++) {
            String text = text(whole, digits);
            if (Double.parseDouble(text) == value) {
                return text;
            }
        }
        return text(whole, 17);
    }

    /** How many significant digits a number has that is written without an exponent, and without zeros at its end. */
    private static int digits(String plain) {
        int from = 0;
        while (plain.charAt(from) == '-' || plain.charAt(from) == '0' || plain.charAt(from) == '.') {
            from++;
        }
        return plain.length() - from - (plain.indexOf('.') > from ? 1 : 0);
    }

    /**
     * Whether the shortest decimal that reads back equal, of several the nearest, is the value rounded to as many digits. One
     * of 15 or fewer is, if the value has all its bits: no other of 15 reads back equal. One of 17 is, since the rounded value
     * reads back equal too. One of 16 may not be, where several read back equal.
     */
    private static boolean isRounding(double value, String shortest, boolean plain) {
        if (plain && digits(shortest) != 16) {
            return true;
        }
        BigDecimal decimal = new BigDecimal(shortest).stripTrailingZeros();
        return decimal.precision() != 16
                || new BigDecimal(value)
                                .subtract(decimal)
                                .abs()
                                .multiply(BigDecimal.valueOf(2))
                                .compareTo(decimal.ulp())
                        < 0;
    }

    /** Returns the value rounded to a number of significant digits, as short text. */
    public static String rounded(double value, int digits) {
        return value == 0 ? "0" : text(new BigDecimal(value), digits);
    }

    private static String text(BigDecimal whole, int digits) {
        return text(whole.round(new MathContext(digits, RoundingMode.HALF_EVEN)).stripTrailingZeros());
    }

    private static String text(BigDecimal rounded) {
        int magnitude = rounded.precision() - rounded.scale();
        return magnitude > -5 && magnitude < 17
                ? rounded.toPlainString()
                : rounded.toString().replace("E+", "E");
    }
}

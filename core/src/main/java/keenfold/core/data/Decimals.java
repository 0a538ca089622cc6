package keenfold.core.data;

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
        BigDecimal whole = new BigDecimal(value);
        for (int digits = 15; digits < 17; digits++) {
            String text = text(whole, digits);
            if (Double.parseDouble(text) == value) {
                return text;
            }
        }
        return text(whole, 17);
    }

    /** Returns the value rounded to a number of significant digits, as short text. */
    public static String rounded(double value, int digits) {
        return value == 0 ? "0" : text(new BigDecimal(value), digits);
    }

    private static String text(BigDecimal whole, int digits) {
        BigDecimal rounded =
                whole.round(new MathContext(digits, RoundingMode.HALF_EVEN)).stripTrailingZeros();
        int magnitude = rounded.precision() - rounded.scale();
        return magnitude > -5 && magnitude < 17
                ? rounded.toPlainString()
                : rounded.toString().replace("E+", "E");
    }
}

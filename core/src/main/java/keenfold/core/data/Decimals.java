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
        BigDecimal shortest = new BigDecimal(NumberOutput.toString(value, true)).stripTrailingZeros();
        if (isRounding(shortest, value)) {
            return text(shortest);
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

    /**
     * Whether the shortest decimal that reads back equal, of several the nearest, is known to be the value rounded to as
     * many digits. One of 15 or fewer is, if the value has all its bits: no other of 15 reads back equal. One of 17 is, since
     * the rounded value reads back equal too. One of 16 is, where all that reads back equal is nearer than half its last digit.
     */
    private static boolean isRounding(BigDecimal shortest, double value) {
        double lastDigit = value / shortest.unscaledValue().doubleValue();
        return Math.abs(value) >= Double.MIN_NORMAL
                && (shortest.precision() != 16 || lastDigit > 1.001 * Math.ulp(value));
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

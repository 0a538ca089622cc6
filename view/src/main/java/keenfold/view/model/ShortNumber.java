package keenfold.view.model;

import java.math.BigDecimal;
import java.math.MathContext;
import keenfold.results.table.NumberFormats;

/** Numbers of four digits, as they stand in a line of text. */
final class ShortNumber {
    private ShortNumber() {}

    static String of(double x) {
        return Double.isFinite(x)
                ? new BigDecimal(x)
                        .round(new MathContext(4))
                        .stripTrailingZeros()
                        .toPlainString()
                : NumberFormats.significant(x, 4);
    }

    /** 1/(1 + exp(−(slope·of + offset))). */
    static String logistic(double slope, String of, double offset) {
        return "1/(1 + exp(-(" + of(slope) + " * " + of + (offset < 0 ? " - " : " + ") + of(Math.abs(offset)) + ")))";
    }
}

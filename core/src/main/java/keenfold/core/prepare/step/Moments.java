package keenfold.core.prepare.step;

import keenfold.core.data.Numbers;
import keenfold.core.learned.FitFailure;
import keenfold.core.prepare.Training;

/**
 * What a number column looks like over training rows; missing values are left out.
 *
 * @param weight total case weight of the values
 * @param mean weighted
 * @param sd weighted, with divisor {@code weight}
 * @param low least value, ∞ if there is none
 * @param high greatest value, −∞ if there is none
 */
public record Moments(double weight, double mean, double sd, double low, double high) {
    /** Returns what a column looks like over training rows. */
    public static Moments of(Numbers column, Training training) {
        double total = 0;
        double sum = 0;
        double low = Double.POSITIVE_INFINITY;
        double high = Double.NEGATIVE_INFINITY;
        for (int i = 0; i < column.rows(); i++) {
            double x = column.get(i);
            if (!Double.isNaN(x)) {
                double w = training.weight(i);
                total += w;
                sum += w * x;
                low = Math.min(low, x);
                high = Math.max(high, x);
            }
        }
        double mean = sum / total;
        double squares = 0;
        for (int i = 0; i < column.rows(); i++) {
            double x = column.get(i);
            if (!Double.isNaN(x)) {
                squares += training.weight(i) * (x - mean) * (x - mean);
            }
        }
        return new Moments(total, mean, Math.sqrt(squares / total), low, high);
    }

    /**
     * Returns these moments, if they are numbers.
     *
     * @throws FitFailure if the values are so large that their squares, or their sum, are beyond double precision
     */
    Moments finite(String column) {
        if (weight > 0 && !(Double.isFinite(mean) && Double.isFinite(sd))) {
            throw new FitFailure("column \"" + column + "\" has values as far apart as " + low + " and " + high
                    + ", whose squares are too large for double precision; divide the column by a power of ten");
        }
        return this;
    }

    /** Returns whether it varies: judged by the values, not by a sum of squares, which rounding can lift above 0. */
    public boolean varies() {
        return high > low;
    }
}

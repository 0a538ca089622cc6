package keenfold.core.survey;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.RadixSort;

/**
 * What one column holds.
 *
 * @param name the column's name
 * @param rows number of rows
 * @param missing rows without a value
 * @param distinct number of different values
 * @param numbers moments, quartiles and histogram of a number column with a value; empty otherwise
 * @param levels levels of a category column with their counts, the most frequent first; empty otherwise
 */
public record ColumnProfile(
        String name, int rows, int missing, int distinct, Optional<Spread> numbers, List<Level> levels) {
    /** Number of bins of a histogram. */
    public static final int BINS = 10;

    /** Copies the list. */
    public ColumnProfile {
        levels = List.copyOf(levels);
    }

    /**
     * A level of a category column.
     *
     * @param label its text
     * @param count rows that have it
     */
    public record Level(String label, int count) {}

    /**
     * How numbers are spread.
     *
     * @param mean arithmetic mean
     * @param sd standard deviation, divisor n − 1; NaN for one value
     * @param min least value
     * @param lowerQuartile quantile ¼ (type 7 of Hyndman and Fan 1996, doi:10.2307/2684934)
     * @param median quantile ½
     * @param upperQuartile quantile ¾
     * @param max greatest value
     * @param histogram rows in each of {@link #BINS} bins of equal width from min to max
     */
    public record Spread(
            double mean,
            double sd,
            double min,
            double lowerQuartile,
            double median,
            double upperQuartile,
            double max,
            List<Integer> histogram) {
        /** Copies the list. */
        public Spread {
            histogram = List.copyOf(histogram);
        }
    }

    /** Returns the profile of a column. O(n log n) time for numbers. */
    public static ColumnProfile of(Column column) {
        return column.match(ColumnProfile::ofNumbers, ColumnProfile::ofCategories);
    }

    private static ColumnProfile ofNumbers(Numbers column) {
        double[] sorted = present(column);
        RadixSort.sort(sorted);
        int n = sorted.length;
        if (n == 0) {
            return new ColumnProfile(column.name(), column.rows(), column.rows(), 0, Optional.empty(), List.of());
        }
        int distinct = 1;
        // Off the median, so that equal values have exactly that mean; in halves and shares, so that none overflows.
        double middle = sorted[n / 2];
        double off = 0;
        for (int i = 0; i < n; i++) {
            distinct += i > 0 && sorted[i] != sorted[i - 1] ? 1 : 0;
            off += (sorted[i] / 2 - middle / 2) * (1.0 / n);
        }
        double mean = middle + 2 * off;
        double squares = 0;
        for (double v : sorted) {
            squares += (v - mean) * (v - mean);
        }
        double sd = n > 1 ? Math.sqrt(squares / (n - 1)) : Double.NaN;
        double min = sorted[0];
        double max = sorted[n - 1];
        int[] bins = new int[BINS];
        int from = 0;
        for (int b = 0; b < BINS; b++) {
            int to = firstBeyond(sorted, from, b, min, max);
            bins[b] = to - from;
            from = to;
        }
        Spread spread = new Spread(
                mean,
                sd,
                min,
                quantile(sorted, 0.25),
                quantile(sorted, 0.5),
                quantile(sorted, 0.75),
                max,
                Arrays.stream(bins).boxed().toList());
        return new ColumnProfile(
                column.name(), column.rows(), column.rows() - n, distinct, Optional.of(spread), List.of());
    }

    /** The values that are not missing; a zero has one sign. */
    private static double[] present(Numbers column) {
        double[] values = new double[column.rows()];
        int n = 0;
        for (int i = 0; i < values.length; i++) {
            double value = column.get(i);
            if (!Double.isNaN(value)) {
                values[n++] = value + 0.0;
            }
        }
        return n == values.length ? values : Arrays.copyOf(values, n);
    }

    /** Returns the bin of a value: of equal width from min to max, the last one closed. */
    public static int bin(double value, double min, double max) {
        // Halves first: the width of a range from −1e308 to 1e308 is not a double.
        double share = max > min ? (value / 2 - min / 2) / (max / 2 - min / 2) : 0;
        return Math.max(0, Math.min(BINS - 1, (int) (share * BINS)));
    }

    /** The first position, from a given one on, whose value lies in a bin after {@code bin}. */
    private static int firstBeyond(double[] sorted, int from, int bin, double min, double max) {
        int low = from;
        int high = sorted.length;
        while (low < high) {
            int middle = (low + high) >>> 1;
            if (bin(sorted[middle], min, max) <= bin) {
                low = middle + 1;
            } else {
                high = middle;
            }
        }
        return low;
    }

    private static double quantile(double[] sorted, double share) {
        double place = (sorted.length - 1) * share;
        int below = (int) place;
        double low = sorted[below];
        double high = sorted[Math.min(below + 1, sorted.length - 1)];
        return low + (place - below) * (high - low);
    }

    private static ColumnProfile ofCategories(Categories column) {
        int[] counts = column.counts();
        List<Level> levels = new ArrayList<>();
        for (int code = 0; code < counts.length; code++) {
            if (counts[code] > 0) {
                levels.add(new Level(column.levels().get(code), counts[code]));
            }
        }
        levels.sort(Comparator.comparingInt(level -> -level.count()));
        return new ColumnProfile(
                column.name(), column.rows(), column.countMissing(), levels.size(), Optional.empty(), levels);
    }
}

package keenfold.core.survey;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.LongFunction;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Decimals;
import keenfold.core.data.Numbers;

/**
 * Classes against one column: how many rows of each class have each level, or lie in each bin.
 *
 * @param column the column's name
 * @param classes the labels of the classes, in code point order
 * @param parts levels in code point order, or bins from the least value up; a part for missing values last, if there are
 */
public record Breakdown(String column, List<String> classes, List<Part> parts) {
    /** What the part of missing values is called. */
    public static final String MISSING = "(missing)";

    /** Copies the lists. */
    public Breakdown {
        classes = List.copyOf(classes);
        parts = List.copyOf(parts);
    }

    /**
     * One level or bin.
     *
     * @param label the level, or the ends of the bin
     * @param counts rows of each class
     */
    public record Part(String label, List<Integer> counts) {
        /** Copies the list. */
        public Part {
            counts = List.copyOf(counts);
        }

        /** Returns the rows of all classes. */
        public int total() {
            return counts.stream().mapToInt(Integer::intValue).sum();
        }
    }

    /**
     * Breaks classes down by a column; rows without a class are left out.
     *
     * @param day what a whole number is called where the column's numbers count days, so that parts are called by their first
     *     and last day
     */
    public static Breakdown of(Categories target, Column column, Optional<LongFunction<String>> day) {
        return column.match(n -> byBins(target, n, day), c -> byLevels(target, c));
    }

    private static Breakdown byLevels(Categories target, Categories column) {
        int levels = column.levels().size();
        int[][] counts = new int[levels + 1][target.levels().size()];
        for (int i = 0; i < target.rows(); i++) {
            if (!target.missing(i)) {
                counts[column.missing(i) ? levels : column.code(i)][target.code(i)]++;
            }
        }
        return breakdown(target, column.name(), column.levels(), counts);
    }

    private static Breakdown byBins(Categories target, Numbers column, Optional<LongFunction<String>> day) {
        double min = Double.POSITIVE_INFINITY;
        double max = Double.NEGATIVE_INFINITY;
        for (int i = 0; i < column.rows(); i++) {
            if (!column.missing(i)) {
                min = Math.min(min, column.get(i));
                max = Math.max(max, column.get(i));
            }
        }
        int bins = ColumnProfile.BINS;
        int[][] counts = new int[bins + 1][target.levels().size()];
        for (int i = 0; i < target.rows(); i++) {
            if (!target.missing(i)) {
                int bin = column.missing(i) ? bins : ColumnProfile.bin(column.get(i), min, max);
                counts[bin][target.code(i)]++;
            }
        }
        List<String> labels = new ArrayList<>();
        for (int b = 0; b < bins; b++) {
            double from = min + (max - min) * b / bins;
            double to = min + (max - min) * (b + 1) / bins;
            double least = min;
            double most = max;
            int bin = b;
            labels.add(day.map(d -> days(least, most, bin, d))
                    .orElseGet(() -> String.format(
                            Locale.ROOT, "%s to %s", Decimals.rounded(from, 4), Decimals.rounded(to, 4))));
        }
        return breakdown(target, column.name(), min > max ? List.of() : labels, counts);
    }

    /** The first and the last day of a bin; empty if no day lies in it. */
    private static String days(double min, double max, int bin, LongFunction<String> day) {
        long first = first(min, max, bin);
        long last = bin == ColumnProfile.BINS - 1 ? (long) Math.floor(max) : first(min, max, bin + 1) - 1;
        return last < first ? "" : last == first ? day.apply(first) : day.apply(first) + " to " + day.apply(last);
    }

    /** The first day that lies in a bin or a later one, by the rule that puts rows into them. */
    private static long first(double min, double max, int bin) {
        long day = (long) Math.ceil(min + (max - min) * bin / ColumnProfile.BINS);
        while (day > min && ColumnProfile.bin((double) (day - 1), min, max) >= bin) {
            day--;
        }
        while (day < max && ColumnProfile.bin((double) day, min, max) < bin) {
            day++;
        }
        return day;
    }

    private static Breakdown breakdown(Categories target, String name, List<String> labels, int[][] counts) {
        List<Part> parts = new ArrayList<>();
        for (int p = 0; p < labels.size(); p++) {
            if (!labels.get(p).isEmpty()) {
                parts.add(part(labels.get(p), counts[p]));
            }
        }
        Part missing = part(MISSING, counts[counts.length - 1]);
        if (missing.total() > 0) {
            parts.add(missing);
        }
        return new Breakdown(name, target.levels(), parts);
    }

    private static Part part(String label, int[] counts) {
        return new Part(label, java.util.Arrays.stream(counts).boxed().toList());
    }
}

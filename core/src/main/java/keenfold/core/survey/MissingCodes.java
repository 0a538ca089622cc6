package keenfold.core.survey;

import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.RadixSort;
import keenfold.core.survey.Suspicion.Kind;

/** Values that probably stand for "not known", though they are read as values. */
final class MissingCodes {
    private static final int LEAST_ROWS = 3;
    private static final int LEAST_VALUES = 5;

    private static final Set<String> WORDS = Set.of(
            "unknown",
            "unk",
            "missing",
            "not known",
            "not available",
            "not recorded",
            "not measured",
            "no data",
            "n/a",
            "n.a.",
            "na",
            "nan",
            "null",
            "nil",
            "undefined",
            "tbd",
            "?",
            "??",
            "???",
            ".",
            "..",
            "-",
            "--",
            "---",
            "#n/a");

    private MissingCodes() {}

    /** Returns the value of a column that looks so and how many rows have it. */
    static Optional<Suspicion> in(Column column) {
        return column.match(MissingCodes::ofNumbers, MissingCodes::ofCategories);
    }

    private static Optional<Suspicion> ofCategories(Categories column) {
        int[] counts = column.counts();
        Optional<Suspicion> found = Optional.empty();
        for (int level = 0; level < counts.length; level++) {
            String label = column.levels().get(level);
            boolean more = found.isEmpty() || counts[level] > found.get().count();
            if (counts[level] > 0 && more && WORDS.contains(label.strip().toLowerCase(Locale.ROOT))) {
                found = Optional.of(new Suspicion(Kind.MISSING_CODE, column.name(), counts[level], 0, label));
            }
        }
        return found;
    }

    private static Optional<Suspicion> ofNumbers(Numbers column) {
        double min = Double.POSITIVE_INFINITY;
        double max = Double.NEGATIVE_INFINITY;
        for (int i = 0; i < column.rows(); i++) {
            if (!column.missing(i)) {
                min = Math.min(min, column.get(i));
                max = Math.max(max, column.get(i));
            }
        }
        // Of most columns that is all there is to look at.
        if (!(nines(min) || min == -1 || min == 0 || nines(max))) {
            return Optional.empty();
        }
        double[] sorted = IntStream.range(0, column.rows())
                .filter(i -> !column.missing(i))
                .mapToDouble(column::get)
                .toArray();
        RadixSort.sort(sorted);
        return end(column.name(), sorted, true).or(() -> end(column.name(), sorted, false));
    }

    /** Whether the least or the greatest value recurs, lies far from all others and is written as such codes are. */
    private static Optional<Suspicion> end(String name, double[] sorted, boolean least) {
        int n = sorted.length;
        if (n < 2 * LEAST_ROWS) {
            return Optional.empty();
        }
        double value = least ? sorted[0] : sorted[n - 1];
        int count = 0;
        while (count < n && (least ? sorted[count] : sorted[n - 1 - count]) == value) {
            count++;
        }
        double[] others = least ? Arrays.copyOfRange(sorted, count, n) : Arrays.copyOf(sorted, n - count);
        if (count < LEAST_ROWS
                || Arrays.stream(others).distinct().limit(LEAST_VALUES).count() < LEAST_VALUES) {
            return Optional.empty();
        }
        double low = others[0];
        double high = others[others.length - 1];
        double gap = least ? low - value : value - high;
        double middle = others[3 * others.length / 4] - others[others.length / 4];
        boolean far = gap >= high - low;
        boolean negative = least && value < 0 && low >= 0;
        // A zero is a code only where all else keeps away from it: weights and pressures, never counts.
        boolean zero = least && value == 0 && gap >= middle && gap > 1;
        return (nines(value) && far) || (negative && (value == -1 || nines(value))) || zero
                ? Optional.of(new Suspicion(Kind.MISSING_CODE, name, count, 0, text(value)))
                : Optional.empty();
    }

    /** Whether a number is written with nines alone, two at least. */
    private static boolean nines(double value) {
        String digits = text(Math.abs(value));
        return digits.length() >= 2 && digits.chars().allMatch(c -> c == '9');
    }

    private static String text(double value) {
        return value == Math.rint(value) && Math.abs(value) < 1e9
                ? Long.toString((long) value)
                : Double.toString(value);
    }
}

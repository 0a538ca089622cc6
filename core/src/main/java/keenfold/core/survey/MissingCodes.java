package keenfold.core.survey;

import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
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
    static Optional<Suspicion> in(Column column, ColumnProfile profile) {
        return column.match(
                n -> profile.distinct() > LEAST_VALUES
                        ? profile.numbers().flatMap(s -> ofNumbers(n, s))
                        : Optional.empty(),
                MissingCodes::ofCategories);
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

    /**
     * Whether the least or the greatest number recurs, lies far from all others and is written as such codes are: nines alone,
     * or −1 where all others are at least 0; and 0 where all others keep away from it, as weights and pressures do, never counts.
     */
    private static Optional<Suspicion> ofNumbers(Numbers column, ColumnProfile.Spread spread) {
        double min = spread.min();
        double max = spread.max();
        boolean low = nines(min) || min == -1 || min == 0;
        // Of most columns that is all there is to look at.
        if (!low && !nines(max)) {
            return Optional.empty();
        }
        int least = 0;
        int most = 0;
        double above = max;
        double below = min;
        for (int i = 0; i < column.rows(); i++) {
            double value = column.get(i);
            least += value == min ? 1 : 0;
            most += value == max ? 1 : 0;
            above = value > min && value < above ? value : above;
            below = value < max && value > below ? value : below;
        }
        boolean far = above - min >= max - above;
        boolean negative = min < 0 && above >= 0 && (min == -1 || nines(min));
        boolean zero =
                min == 0 && above > 1 && above >= spread.upperQuartile() - Math.max(above, spread.lowerQuartile());
        if (low && least >= LEAST_ROWS && ((nines(min) && far) || negative || zero)) {
            return Optional.of(new Suspicion(Kind.MISSING_CODE, column.name(), least, 0, text(min)));
        }
        return nines(max) && most >= LEAST_ROWS && max - below >= below - min
                ? Optional.of(new Suspicion(Kind.MISSING_CODE, column.name(), most, 0, text(max)))
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

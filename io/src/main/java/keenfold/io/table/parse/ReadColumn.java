package keenfold.io.table.parse;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.io.InputException;

/**
 * A column as it was read.
 *
 * @param column its values
 * @param kind what they are
 * @param stray the first word, where a column of categories holds numbers too
 * @param disguised the first number that is written with thousands separators, a decimal comma or a unit, where nearly all
 *     values of a column of categories are
 */
public record ReadColumn(Column column, Kind kind, Optional<Stray> stray, Optional<Stray> disguised) {
    /**
     * Returns this column with another one's values below it.
     *
     * @param place of the other one, for a complaint
     * @throws InputException if one holds numbers and the other words
     */
    public ReadColumn above(ReadColumn below, String place) {
        int rows = column.rows() + below.column.rows();
        if (empty(column) || empty(below.column)) {
            ReadColumn full = empty(column) ? below : this;
            int before = empty(column) ? column.rows() : 0;
            return new ReadColumn(spread(full.column, before, rows), full.kind, full.stray, full.disguised);
        }
        if (kind != below.kind) {
            throw new InputException(
                    place + ", column \"" + column.name() + "\"",
                    "holds " + below.kind.words() + ", where the first file has " + kind.words()
                            + "; make them agree, or read the column as text");
        }
        Column first = spread(column, 0, rows);
        Column second = spread(below.column, column.rows(), rows);
        int split = column.rows();
        Column both = first.match(
                n -> {
                    double[] values = new double[rows];
                    Numbers other = second.match(m -> m, c -> n);
                    Arrays.setAll(values, i -> i < split ? n.get(i) : other.get(i));
                    return Numbers.owning(n.name(), values);
                },
                c -> {
                    Categories other = second.match(n -> c, d -> d);
                    String[] texts = new String[rows];
                    for (int i = 0; i < rows; i++) {
                        Categories from = i < split ? c : other;
                        if (!from.missing(i)) {
                            texts[i] = from.levels().get(from.code(i));
                        }
                    }
                    return Categories.of(c.name(), texts);
                });
        return new ReadColumn(both, kind, stray, disguised);
    }

    /** What there is to say about words among numbers, and about numbers that are not plainly written; perhaps nothing. */
    public List<String> oddities(String file) {
        List<String> said = new ArrayList<>();
        String name = column.name();
        String place = file + ", %s, column \"" + name.replace("%", "%%") + "\": %s";
        stray.filter(s -> disguised.isEmpty())
                .ifPresent(s -> said.add(place.formatted(s.place(), ColumnBuilder.strayed(s))));
        disguised.ifPresent(s -> said.add(place.formatted(s.place(), ColumnBuilder.disguised(s))));
        return said;
    }

    private static boolean empty(Column column) {
        for (int i = 0; i < column.rows(); i++) {
            if (!column.missing(i)) {
                return false;
            }
        }
        return true;
    }

    /** The column with missing values before and behind it. */
    private static Column spread(Column column, int before, int rows) {
        return column.match(
                n -> {
                    double[] values = new double[rows];
                    Arrays.setAll(values, i -> i < before || i - before >= n.rows() ? Double.NaN : n.get(i - before));
                    return Numbers.owning(n.name(), values);
                },
                c -> {
                    int[] codes = new int[rows];
                    Arrays.setAll(codes, i -> i < before || i - before >= c.rows() ? -1 : c.code(i - before));
                    return Categories.ofCodes(c.name(), c.levels(), codes);
                });
    }

    /**
     * A word in a column of numbers, or the other way round.
     *
     * @param text the first word
     * @param place its line or row in the file, such as {@code line 7}
     * @param numbers how many values are numbers
     * @param words how many are not
     */
    public record Stray(String text, String place, int numbers, int words) {}

    /** Kinds of columns. */
    public enum Kind {
        /** Numbers. */
        NUMBER,
        /** Categories. */
        CATEGORY,
        /** ISO dates, held as days since 1970-01-01. */
        DATE;

        private String words() {
            return switch (this) {
                case NUMBER -> "numbers";
                case CATEGORY -> "words";
                case DATE -> "dates";
            };
        }
    }
}

package keenfold.core.prepare.step;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import keenfold.core.data.Categories;
import keenfold.core.data.Table;
import keenfold.core.prepare.Step;

/**
 * How many columns one-hot encoding would make of a table, which is known before anything is fitted: one a level, however
 * many there are.
 *
 * @param columns of categories, the one with the most levels first
 * @param width all columns together, those of numbers included
 */
public record OneHotWidth(List<OfColumn> columns, long width) {
    /** Copies the list. */
    public OneHotWidth {
        columns = List.copyOf(columns);
    }

    /**
     * What becomes of one column.
     *
     * @param name of the column
     * @param levels that get a column each
     */
    public record OfColumn(String name, long levels) {}

    /** Returns what the first one-hot step of some steps makes of a table; of each column one if there is none. */
    public static OneHotWidth of(List<Step> steps, Table table) {
        List<OfColumn> wide = new ArrayList<>();
        for (Step step : steps) {
            if (step instanceof OneHot oneHot) {
                Some own = oneHot.some().in(table);
                table.columns().stream()
                        .filter(c -> own.has(c.name()))
                        .forEach(c -> c.match(n -> false, k -> wide.add(new OfColumn(k.name(), levels(k, oneHot)))));
                break;
            }
            if (step instanceof Ordinal) {
                break;
            }
        }
        wide.sort(Comparator.comparingLong(OfColumn::levels).reversed());
        long other = (long) table.columns().size() - wide.size();
        return new OneHotWidth(
                wide, other + wide.stream().mapToLong(OfColumn::levels).sum());
    }

    private static long levels(Categories column, OneHot oneHot) {
        int[] counts = column.counts();
        return java.util.Arrays.stream(counts)
                .filter(count -> count > 0 && count >= oneHot.rare())
                .count();
    }

    /** Returns the bytes that so many rows of them take, as numbers of eight bytes. */
    public long bytes(int rows) {
        return Math.multiplyExact(Math.multiplyExact(Double.BYTES, width), (long) rows);
    }
}

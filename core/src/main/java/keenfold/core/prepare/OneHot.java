package keenfold.core.prepare;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;

/**
 * Turns each category column into columns of zeros and ones, one per level seen in the training rows; a column of two
 * such levels becomes one, for the later level, and a column of one level or none is dropped.
 *
 * <p>A level that training rows did not show gives zeros; a missing value gives missing values. New columns are named
 * {@code column=level}.
 */
final class OneHot implements Step {
    @Override
    public String name() {
        return "one-hot";
    }

    @Override
    public Fitted fit(Table training, double[] weights) {
        List<int[]> kept = new ArrayList<>();
        for (Column column : training.columns()) {
            kept.add(column.match(n -> new int[0], OneHot::seenLevels));
        }
        return table -> {
            List<Column> columns = new ArrayList<>();
            for (int i = 0; i < kept.size(); i++) {
                int[] codes = kept.get(i);
                columns.addAll(table.columns().get(i).<List<Column>>match(List::of, c -> indicators(c, codes)));
            }
            return new Table(table.rows(), columns);
        };
    }

    private static int[] seenLevels(Categories column) {
        int[] counts = column.counts();
        int[] seen = java.util.stream.IntStream.range(0, counts.length)
                .filter(code -> counts[code] > 0)
                .toArray();
        return switch (seen.length) {
            case 1 -> new int[0];
            case 2 -> new int[] {seen[1]};
            default -> seen;
        };
    }

    private static List<Column> indicators(Categories column, int[] codes) {
        List<Column> made = new ArrayList<>();
        for (int code : codes) {
            double[] values = new double[column.rows()];
            for (int i = 0; i < values.length; i++) {
                values[i] = column.missing(i) ? Double.NaN : column.code(i) == code ? 1 : 0;
            }
            made.add(Numbers.owning(column.name() + "=" + column.levels().get(code), values));
        }
        return made;
    }
}

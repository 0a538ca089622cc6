package keenfold.core.prepare;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.function.Function;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;

/** What steps share that put something in the place of each column by itself. */
final class EachColumn {
    /** Leaves a column as it is. */
    static final Change KEEP = List::of;
    /** Takes a column away. */
    static final Change DROP = c -> List.of();

    /** What is put in the place of a column. */
    interface Change {
        List<Column> of(Column column);
    }

    /** What is done to each number of a column, NaN for a missing one. */
    interface Formula {
        double of(double value);
    }

    private EachColumn() {}

    /** Learns a change from each column that the step works on; others are kept. */
    static Step.Fitted fit(
            Training training, Some some, Function<Numbers, Change> numbers, Function<Categories, Change> categories) {
        List<Change> changes = new ArrayList<>();
        for (Column column : training.table().columns()) {
            changes.add(some.has(column.name()) ? column.match(numbers, categories) : KEEP);
        }
        return table -> {
            List<Column> columns = new ArrayList<>();
            for (int i = 0; i < changes.size(); i++) {
                columns.addAll(changes.get(i).of(table.columns().get(i)));
            }
            return table(table.rows(), columns);
        };
    }

    /** A table; a made column whose name is taken gets another. */
    static Table table(int rows, List<Column> columns) {
        Set<String> taken = new HashSet<>();
        List<Column> renamed = new ArrayList<>();
        for (Column column : columns) {
            String name = column.name();
            while (!taken.add(name)) {
                name += "'";
            }
            String free = name;
            renamed.add(
                    free.equals(column.name())
                            ? column
                            : column.match(
                                    n -> Numbers.owning(free, n.toArray()),
                                    c -> Categories.ofCodes(free, c.levels(), codes(c))));
        }
        return new Table(rows, renamed);
    }

    static int[] codes(Categories column) {
        int[] codes = new int[column.rows()];
        for (int i = 0; i < codes.length; i++) {
            codes[i] = column.code(i);
        }
        return codes;
    }

    /** Puts one column in the place of a number column. */
    static Change numbers(Function<Numbers, Column> made) {
        return c -> List.of(c.<Column>match(made, k -> k));
    }

    /** Puts one column in the place of a category column. */
    static Change categories(Function<Categories, Column> made) {
        return c -> List.of(c.<Column>match(n -> n, made));
    }

    /** Changes each number of a number column. */
    static Change formula(Formula formula) {
        return numbers(n -> mapped(n, formula));
    }

    private static Numbers mapped(Numbers column, Formula formula) {
        double[] values = new double[column.rows()];
        for (int i = 0; i < values.length; i++) {
            double x = column.get(i);
            double y = Double.isNaN(x) ? x : formula.of(x);
            // A test value far off the training rows may leave the numbers; it stays the largest there is.
            values[i] = Double.isInfinite(y) ? Math.copySign(Double.MAX_VALUE, y) : y;
        }
        return Numbers.owning(column.name(), values);
    }
}

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
    private EachColumn() {}

    /** Learns a change from each column that the step works on; others are kept. */
    static Step.Fitted fit(
            Training training, Some some, Function<Numbers, Change> numbers, Function<Categories, Change> categories) {
        List<Change> changes = new ArrayList<>();
        for (Column column : training.table().columns()) {
            changes.add(some.has(column.name()) ? column.match(numbers, categories) : Change.KEEP);
        }
        return new FittedSteps.Each(changes);
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
}

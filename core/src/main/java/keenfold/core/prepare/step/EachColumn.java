package keenfold.core.prepare.step;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;
import keenfold.core.learned.ColumnTransform;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.Training;

/** What steps share that put something in the place of each column by itself. */
final class EachColumn {
    private EachColumn() {}

    /** Returns whether there are numbers alone, which a step that works on categories leaves as they are. */
    static boolean numbersAlone(Table table) {
        return table.columns().stream().allMatch(c -> c.match(n -> true, k -> false));
    }

    /** Learns a change from each column that the step works on; others, and those of texts, are kept. */
    static LearnedStep fit(
            Training training,
            Some some,
            Function<Numbers, ColumnTransform> numbers,
            Function<Categories, ColumnTransform> categories) {
        List<ColumnTransform> changes = new ArrayList<>();
        Some own = some.in(training.table());
        for (Column column : training.table().columns()) {
            changes.add(
                    own.has(column.name())
                            ? column.match(numbers, k -> k.texts() ? ColumnTransform.KEEP : categories.apply(k))
                            : ColumnTransform.KEEP);
        }
        return new LearnedStep.ColumnByColumn(changes);
    }
}

package keenfold.core.prepare.step;

import java.util.List;
import keenfold.core.data.Column;
import keenfold.core.data.ColumnRange;
import keenfold.core.data.Table;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Settings;

/**
 * The columns that a step works on.
 *
 * @param names of columns, or of those they were made of by one-hot, or ranges of them; none stands for all columns
 */
record Some(List<String> names) {
    static final Setting COLUMNS = Setting.names(
            "columns", "the columns that it works on, A..B for all from A to B; all that it can, if left out");

    Some {
        names = List.copyOf(names);
    }

    /** Returns the columns that settings name. */
    static Some of(Settings settings) {
        return new Some(settings.names(COLUMNS));
    }

    /** Returns the same with ranges of names resolved by the columns of a table. */
    Some in(Table table) {
        return new Some(ColumnRange.expanded(
                names, table.columns().stream().map(Column::name).toList()));
    }

    boolean has(String column) {
        return names.isEmpty() || names(column);
    }

    /** Whether a name stands here; {@code colour} also stands for {@code colour=red}. */
    boolean names(String column) {
        return names.stream().anyMatch(n -> column.equals(n) || column.startsWith(n + "="));
    }
}

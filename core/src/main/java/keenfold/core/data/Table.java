package keenfold.core.data;

import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Columns of equal length.
 *
 * @param rows the number of rows, said apart because a table may have no column
 * @param columns the columns, names distinct
 */
public record Table(int rows, List<Column> columns) {
    /** Checks that lengths agree and names are distinct. */
    public Table {
        columns = List.copyOf(columns);
        Set<String> names = new HashSet<>();
        for (Column column : columns) {
            Checks.that(
                    column.rows() == rows,
                    "column \"%s\" has %d rows: expected %d, as the table has",
                    column.name(),
                    column.rows(),
                    rows);
            Checks.that(names.add(column.name()), "column \"%s\" is there twice: names must differ", column.name());
        }
    }

    /** Returns the table made of the given rows, in their order. */
    public Table select(int[] chosen) {
        return new Table(
                chosen.length, columns.stream().map(c -> c.select(chosen)).toList());
    }

    /** Returns the column of a name. */
    public Optional<Column> column(String name) {
        return columns.stream().filter(c -> c.name().equals(name)).findFirst();
    }

    /** Returns the columns' names in order. */
    public List<String> names() {
        return columns.stream().map(Column::name).toList();
    }
}

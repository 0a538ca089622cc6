package keenfold.io.table;

import java.util.List;
import keenfold.core.data.Table;

/**
 * A table as it was read.
 *
 * @param columns in the order of the file
 * @param notices what is odd about the text, one sentence each
 */
public record ReadTable(List<ReadColumn> columns, List<String> notices) {
    /** Copies the lists. */
    public ReadTable {
        columns = List.copyOf(columns);
        notices = List.copyOf(notices);
    }

    /** Returns the number of rows. */
    public int rows() {
        return columns.get(0).column().rows();
    }

    /** Returns the values alone. */
    public Table table() {
        return new Table(rows(), columns.stream().map(ReadColumn::column).toList());
    }

    /** Returns the columns' names. */
    public List<String> names() {
        return columns.stream().map(c -> c.column().name()).toList();
    }
}

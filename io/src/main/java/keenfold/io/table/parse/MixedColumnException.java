package keenfold.io.table.parse;

import java.util.List;
import keenfold.io.InputException;

/** Columns are refused in which a few words stand among numbers. */
public final class MixedColumnException extends InputException {
    private static final long serialVersionUID = 1;

    private final transient List<MixedColumn> columns;

    /**
     * One such column.
     *
     * @param name of the column
     * @param place file, line and column of the first word
     * @param refused what is wrong and what would be right
     * @param asText what is to be said where it is read as categories instead
     */
    public record MixedColumn(String name, String place, String refused, String asText) {}

    /** Makes one that complains of the first of some columns. */
    public MixedColumnException(List<MixedColumn> columns) {
        super(columns.get(0).place(), columns.get(0).refused());
        this.columns = List.copyOf(columns);
    }

    /** Returns all columns of the table that are refused so. */
    public List<MixedColumn> columns() {
        return columns;
    }
}

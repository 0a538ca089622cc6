package keenfold.view.chart;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Checks;

/** The numbers behind a figure, as a table: texts, numbers (NaN is undefined), whole numbers and truths. */
public final class FigureData {
    private final List<String> columns;
    private final List<List<Object>> rows = new ArrayList<>();

    private FigureData(List<String> columns) {
        this.columns = columns;
    }

    /** Returns an empty table. */
    static FigureData of(String... columns) {
        return new FigureData(List.of(columns));
    }

    /** Adds a row, one cell per column. */
    void row(Object... cells) {
        Checks.that(cells.length == columns.size(), "%d cells for %d columns", cells.length, columns.size());
        rows.add(List.of(cells));
    }

    /** Returns the names of the columns. */
    public List<String> columns() {
        return columns;
    }

    /** Returns the rows. */
    public List<List<Object>> rows() {
        return List.copyOf(rows);
    }
}

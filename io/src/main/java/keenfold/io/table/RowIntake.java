package keenfold.io.table;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import keenfold.io.table.parse.TableFormat;
import org.jspecify.annotations.Nullable;

/** Takes the values of a table and hands them on row by row: each column gets one value a row, in whatever order. */
final class RowIntake extends TableSink {
    private final TableReader.Rows rows;
    private final String unit;
    private @Nullable String[] values = new @Nullable String[0];
    private int count;
    private long number;
    private Optional<RuntimeException> failure = Optional.empty();

    RowIntake(String file, String unit, TableFormat format, TableReader.Rows rows) {
        super(file, unit, format, Set.of());
        this.rows = rows;
        this.unit = unit;
    }

    @Override
    public void header(List<String> names, String place) {
        super.header(names, place);
        values = new @Nullable String[names.size()];
        rows.names(names.stream().map(String::strip).toList());
    }

    @Override
    void add(int column, char[] text, int from, int length, long line) {
        values[column] = new String(text, from, length);
        number = line;
        took();
    }

    @Override
    public void missing(int column) {
        values[column] = null;
        took();
    }

    private void took() {
        if (++count == values.length) {
            count = 0;
            try {
                rows.row(values.clone(), unit + " " + number);
            } catch (RuntimeException e) {
                failure = Optional.of(e);
                throw e;
            }
            Arrays.fill(values, null);
        }
    }

    /** What came of handing on a row, if that failed: a parser may have wrapped it since. */
    Optional<RuntimeException> failure() {
        return failure;
    }
}

package keenfold.results.table;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.function.ToDoubleFunction;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;

/**
 * A table of results: columns, each with key, heading, kind of value and uncertainty, and rows. Text, page, CSV and JSON
 * are made of it.
 *
 * <p>Cells are texts, numbers (NaN is undefined), truths, lists or maps of these, or an empty {@link Optional} for none.
 */
public final class ResultTable {
    private final List<Column> columns;
    private final List<List<Object>> rows;
    private final List<Boolean> standingOut;

    private ResultTable(List<Column> columns, List<List<Object>> rows, List<Boolean> standingOut) {
        this.columns = List.copyOf(columns);
        this.rows = List.copyOf(rows);
        this.standingOut = List.copyOf(standingOut);
    }

    /** Begins the definition of a table whose rows are made of values of a type. */
    public static <R> Definition<R> define() {
        return new Definition<>();
    }

    /** Columns, each with the way to its value; what is said after a column is about that column. */
    public static final class Definition<R> {
        private final List<Column> columns = new ArrayList<>();
        private final List<Function<R, Object>> values = new ArrayList<>();

        private Definition() {}

        /** Adds a column; its heading is its key with spaces. */
        public Definition<R> column(String key, ValueKind kind, Function<R, Object> value) {
            columns.add(new Column(key, key.replace('_', ' '), kind, "", Column.Readers.ALL));
            values.add(value);
            return this;
        }

        /** Adds a column of names. */
        public Definition<R> name(String key, Function<R, Object> value) {
            return column(key, ValueKind.NAME, value);
        }

        /** Adds a column of texts. */
        public Definition<R> text(String key, Function<R, Object> value) {
            return column(key, ValueKind.TEXT, value);
        }

        /** Adds a column of numbers. */
        public Definition<R> number(String key, ValueKind kind, ToDoubleFunction<R> value) {
            return column(key, kind, value::applyAsDouble);
        }

        /** Adds an interval: one column for people, and its two ends for programs. */
        public Definition<R> interval(String heading, String error, ToDoubleFunction<R> low, ToDoubleFunction<R> high) {
            return range(heading, error, low, high)
                    .number("low", ValueKind.MEAN, low)
                    .programs()
                    .number("high", ValueKind.MEAN, high)
                    .programs();
        }

        /** Adds an interval for people only. */
        public Definition<R> range(String heading, String error, ToDoubleFunction<R> low, ToDoubleFunction<R> high) {
            return column("", ValueKind.INTERVAL, r -> new ValueKind.Ends(low.applyAsDouble(r), high.applyAsDouble(r)))
                    .headed(heading)
                    .error(error)
                    .people();
        }

        /** The last column has another heading. */
        public Definition<R> headed(String heading) {
            return last(c -> c.headed(heading));
        }

        /** The numbers of the last column have their standard errors in a column of this key. */
        public Definition<R> error(String key) {
            return last(c -> c.withError(key));
        }

        /** The last column is for people only. */
        public Definition<R> people() {
            return last(c -> c.withReaders(Column.Readers.PEOPLE));
        }

        /** The last column is for programs only. */
        public Definition<R> programs() {
            return last(c -> c.withReaders(Column.Readers.PROGRAMS));
        }

        /** The last column is for CSV only. */
        public Definition<R> csv() {
            return last(c -> c.withReaders(Column.Readers.CSV));
        }

        /** The last column is for nobody: it serves the other columns. */
        public Definition<R> hidden() {
            return last(c -> c.withReaders(Column.Readers.NOBODY));
        }

        /** The last column is for JSON only. */
        public Definition<R> json() {
            return last(c -> c.withReaders(Column.Readers.JSON));
        }

        private Definition<R> last(Function<Column, Column> change) {
            columns.set(columns.size() - 1, change.apply(columns.get(columns.size() - 1)));
            return this;
        }

        /** Returns the table of some rows. */
        public ResultTable of(Collection<R> rows) {
            return of(rows, r -> false);
        }

        /** Returns the table of some rows, of which some stand out. */
        public ResultTable of(Collection<R> rows, Predicate<R> standsOut) {
            return new ResultTable(
                    columns,
                    rows.stream()
                            .map(r -> values.stream().map(v -> v.apply(r)).toList())
                            .toList(),
                    rows.stream().map(standsOut::test).toList());
        }
    }

    /** Returns a table for programs: columns by their keys, rows of as many cells. */
    public static ResultTable of(List<String> keys, List<List<Object>> rows) {
        rows.forEach(r -> Checks.that(r.size() == keys.size(), "%d cells for %d columns", r.size(), keys.size()));
        return new ResultTable(
                keys.stream()
                        .map(k -> new Column(k, k, ValueKind.TEXT, "", Column.Readers.PROGRAMS))
                        .toList(),
                rows,
                rows.stream().map(r -> false).toList());
    }

    /** Returns tables of the same columns as one. */
    public static ResultTable joined(List<ResultTable> tables) {
        Checks.that(!tables.isEmpty(), "no table to join");
        return new ResultTable(
                tables.get(0).columns,
                tables.stream().flatMap(t -> t.rows.stream()).toList(),
                tables.stream().flatMap(t -> t.standingOut.stream()).toList());
    }

    /** Returns the columns. */
    public List<Column> columns() {
        return columns;
    }

    /** Returns how many rows there are. */
    public int size() {
        return rows.size();
    }

    /** Returns the rows. */
    public List<Row> rows() {
        return IntStream.range(0, rows.size()).mapToObj(Row::new).toList();
    }

    /** A row, its cells found by the keys of their columns. */
    public final class Row {
        private final int index;

        private Row(int index) {
            this.index = index;
        }

        /** Returns a cell; an empty optional if it holds nothing. */
        public Object cell(String key) {
            return rows.get(index).get(position(key));
        }

        /** Returns the cell of a column of the table. */
        public Object cell(Column column) {
            return rows.get(index).get(columns.indexOf(column));
        }

        /** Returns a cell as text; empty if it holds nothing. */
        public String text(String key) {
            Object cell = cell(key);
            return cell instanceof Optional<?> o ? o.map(Object::toString).orElse("") : cell.toString();
        }

        /**
         * Returns a number; NaN if it is undefined.
         *
         * @throws IllegalArgumentException if the column has no numbers
         */
        public double number(String key) {
            Object cell = cell(key);
            if (cell instanceof Optional<?> o && o.isEmpty()) {
                return Double.NaN;
            }
            if (cell instanceof Number n) {
                return n.doubleValue();
            }
            throw Checks.wrong("column " + key + " holds no numbers");
        }

        /** Returns a cell as people read it. */
        public String shown(Column column) {
            int c = columns.indexOf(column);
            double error = column.error().isEmpty() ? Double.NaN : number(column.error());
            return column.kind().shown(rows.get(index).get(c), error);
        }

        /** Returns what a cell is sorted by: a number in full, an interval's lower end, or a text; empty if undefined. */
        public String order(Column column) {
            Object cell = cell(column);
            Object ordered = cell instanceof ValueKind.Ends ends ? ends.low() : cell;
            return ordered instanceof Double d && d.isNaN()
                    ? ""
                    : ordered instanceof Number n
                            ? Double.toString(n.doubleValue())
                            : ordered instanceof Optional<?> o
                                    ? o.map(Object::toString).orElse("")
                                    : ordered.toString();
        }

        /** Whether it stands out among the others. */
        public boolean standsOut() {
            return standingOut.get(index);
        }

        /** Returns the cells for JSON by key. */
        public Map<String, Object> values() {
            Map<String, Object> values = new LinkedHashMap<>();
            for (int c = 0; c < columns.size(); c++) {
                if (columns.get(c).readers().json()) {
                    values.put(columns.get(c).key(), rows.get(index).get(c));
                }
            }
            return values;
        }
    }

    private int position(String key) {
        for (int c = 0; c < columns.size(); c++) {
            if (columns.get(c).key().equals(key)) {
                return c;
            }
        }
        throw Checks.wrong("no column " + key + "; there are "
                + String.join(", ", columns.stream().map(Column::key).toList()));
    }

    /** Returns the columns that people read. */
    public List<Column> forPeople() {
        return columns.stream().filter(c -> c.readers().people()).toList();
    }

    /** Returns the columns of CSV. */
    public List<Column> forCsv() {
        return columns.stream().filter(c -> c.readers().csv()).toList();
    }

    /** Returns the rows that have a value in a column. */
    public ResultTable where(String key, Object value) {
        int c = position(key);
        List<Integer> kept = IntStream.range(0, rows.size())
                .filter(r -> rows.get(r).get(c).equals(value))
                .boxed()
                .toList();
        return kept(kept);
    }

    /** Returns the first rows. */
    public ResultTable first(int count) {
        return kept(IntStream.range(0, Math.min(count, rows.size())).boxed().toList());
    }

    private ResultTable kept(List<Integer> kept) {
        return new ResultTable(
                columns,
                kept.stream().map(rows::get).toList(),
                kept.stream().map(standingOut::get).toList());
    }

    /** Returns the table without some columns, named by their keys or, of those for people only, by their headings. */
    public ResultTable without(String... names) {
        List<String> gone = List.of(names);
        int[] kept = IntStream.range(0, columns.size())
                .filter(c -> !gone.contains(
                        columns.get(c).key().isEmpty()
                                ? columns.get(c).heading()
                                : columns.get(c).key()))
                .toArray();
        return new ResultTable(
                IntStream.of(kept).mapToObj(columns::get).toList(),
                rows.stream()
                        .map(r -> IntStream.of(kept).mapToObj(r::get).toList())
                        .toList(),
                standingOut);
    }
}

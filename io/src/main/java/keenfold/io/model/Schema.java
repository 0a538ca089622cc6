package keenfold.io.model;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import keenfold.core.data.Categories;
import keenfold.core.data.Checks;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.State;
import keenfold.core.data.Table;
import keenfold.io.table.parse.TableFormat;

/**
 * The columns that a model was trained on, in their order, and how their file was written.
 *
 * @param columns name, kind, and the levels of categories
 * @param decimal what stood before the decimals of a number
 * @param missing texts that stood for a missing value, sorted
 */
public record Schema(List<OfColumn> columns, char decimal, List<String> missing) {
    /** What a column holds. */
    public enum Kind {
        /** Numbers. */
        NUMBER,
        /** ISO dates, taken as days since 1970-01-01. */
        DATE,
        /** Categories. */
        CATEGORY,
        /** Texts, another one in every row: the model keeps none of them. */
        TEXT
    }

    /**
     * One column.
     *
     * @param name its name
     * @param kind what it holds
     * @param levels of categories, by code point; empty for others
     */
    public record OfColumn(String name, Kind kind, List<String> levels) {
        /** Copies the levels. */
        public OfColumn {
            levels = List.copyOf(levels);
        }

        /** Returns whether it holds numbers, or dates, which are taken as such. */
        public boolean numeric() {
            return kind == Kind.NUMBER || kind == Kind.DATE;
        }
    }

    /** Copies the lists. */
    public Schema {
        columns = List.copyOf(columns);
        missing = List.copyOf(missing);
    }

    /**
     * Returns the columns of a table.
     *
     * @param dates names of the number columns that are dates
     */
    public static Schema of(Table table, Set<String> dates, TableFormat format) {
        return new Schema(
                table.columns().stream()
                        .map(c -> c.match(
                                n -> new OfColumn(
                                        n.name(), dates.contains(n.name()) ? Kind.DATE : Kind.NUMBER, List.of()),
                                k -> k.texts()
                                        ? new OfColumn(k.name(), Kind.TEXT, List.of())
                                        : new OfColumn(k.name(), Kind.CATEGORY, k.levels())))
                        .toList(),
                format.decimal(),
                format.missing().stream().sorted().toList());
    }

    /** Returns a table of these columns without rows. */
    public Table empty() {
        List<Column> made = new ArrayList<>();
        for (OfColumn c : columns) {
            made.add(
                    c.numeric()
                            ? Numbers.owning(c.name, new double[0])
                            : Categories.ofCodes(c.name, c.levels, new int[0]));
        }
        return new Table(0, made);
    }

    State state() {
        return State.of("columns")
                .with("decimal", Character.toString(decimal))
                .withTexts("missing", missing)
                .withParts(
                        "of",
                        columns.stream()
                                .map(c -> State.of(c.kind.name().toLowerCase(Locale.ROOT))
                                        .with("name", c.name)
                                        .withTexts("levels", c.levels))
                                .toList());
    }

    static Schema restored(State state) {
        List<OfColumn> columns = new ArrayList<>();
        for (State c : state.parts("of")) {
            Kind kind = Arrays.stream(Kind.values())
                    .filter(k -> k.name().toLowerCase(Locale.ROOT).equals(c.kind()))
                    .findFirst()
                    .orElseThrow(() -> Checks.wrong("a column of kind \"" + c.kind() + "\""));
            columns.add(new OfColumn(c.text("name"), kind, c.texts("levels")));
        }
        long names = columns.stream().map(OfColumn::name).distinct().count();
        Checks.that(names == columns.size(), "columns: two have the same name");
        String decimal = state.text("decimal");
        Checks.that(decimal.equals(".") || decimal.equals(","), "decimal \"%s\"", decimal);
        return new Schema(columns, decimal.charAt(0), state.texts("missing"));
    }
}

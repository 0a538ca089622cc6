package keenfold.io.model;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Categories;
import keenfold.core.data.Checks;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.State;
import keenfold.core.data.Table;

/**
 * The columns that a model was trained on, in their order.
 *
 * @param columns name, kind, and the levels of categories
 */
public record Schema(List<OfColumn> columns) {
    /** A level that no file has and that stands behind all others: what a model meets that it was not trained on. */
    static final String UNSEEN = "\uDBFF\uDFFF";

    /**
     * One column.
     *
     * @param name its name
     * @param number whether it holds numbers, and not categories
     * @param levels of categories, by code point; empty for numbers
     */
    public record OfColumn(String name, boolean number, List<String> levels) {
        /** Copies the levels. */
        public OfColumn {
            levels = List.copyOf(levels);
        }
    }

    /** Copies the columns. */
    public Schema {
        columns = List.copyOf(columns);
    }

    /** Returns the columns of a table. */
    public static Schema of(Table table) {
        return new Schema(table.columns().stream()
                .map(c -> c.match(
                        n -> new OfColumn(n.name(), true, List.of()), k -> new OfColumn(k.name(), false, k.levels())))
                .toList());
    }

    /** Returns a table of these columns without rows. */
    Table empty() {
        List<Column> made = new ArrayList<>();
        for (OfColumn c : columns) {
            made.add(
                    c.number
                            ? Numbers.owning(c.name, new double[0])
                            : Categories.ofCodes(c.name, c.levels, new int[0]));
        }
        return new Table(0, made);
    }

    State state() {
        return State.of("columns")
                .withParts(
                        "of",
                        columns.stream()
                                .map(c -> c.number
                                        ? State.of("number").with("name", c.name)
                                        : State.of("category")
                                                .with("name", c.name)
                                                .withTexts("levels", c.levels))
                                .toList());
    }

    static Schema restored(State state) {
        List<OfColumn> columns = new ArrayList<>();
        for (State c : state.parts("of")) {
            boolean number = c.kind().equals("number");
            Checks.that(number || c.kind().equals("category"), "a column of kind \"%s\"", c.kind());
            columns.add(new OfColumn(c.text("name"), number, number ? List.of() : c.texts("levels")));
        }
        long names = columns.stream().map(OfColumn::name).distinct().count();
        Checks.that(names == columns.size(), "columns: two have the same name");
        return new Schema(columns);
    }
}

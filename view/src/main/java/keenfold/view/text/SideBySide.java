package keenfold.view.text;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.results.table.Alignment;
import keenfold.results.table.Column;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;

/**
 * A long table made wide: the values of one column, such as candidates, stand next to each other, a few a table.
 */
final class SideBySide {
    private final List<Column> lineColumns;
    private final List<Column> cellColumns;
    private final List<String> names = new ArrayList<>();
    private final Map<List<Object>, Map<String, ResultTable.Row>> rows = new HashMap<>();
    private final List<List<Object>> lines = new ArrayList<>();

    /**
     * Makes a table wide.
     *
     * @param line keys of the columns that name a line
     * @param across key of the column whose values stand next to each other
     * @param cells keys of what is shown of each; the first has the value of {@code across} as its heading
     */
    SideBySide(ResultTable table, List<String> line, String across, List<String> cells) {
        this.lineColumns = line.stream().map(k -> column(table, k)).toList();
        this.cellColumns = cells.stream().map(k -> column(table, k)).toList();
        for (ResultTable.Row row : table.rows()) {
            List<Object> place = line.stream().map(row::cell).toList();
            String name = row.text(across);
            if (!names.contains(name)) {
                names.add(name);
            }
            if (!rows.containsKey(place)) {
                lines.add(place);
            }
            rows.computeIfAbsent(place, k -> new HashMap<>()).put(name, row);
        }
    }

    private static Column column(ResultTable table, String key) {
        return table.columns().stream()
                .filter(c -> c.key().equals(key))
                .findFirst()
                .orElseThrow();
    }

    /** Returns what names each line, in order of appearance. */
    List<List<Object>> lines() {
        return lines;
    }

    /** Returns the number of a line and name; NaN if it is not there. */
    double number(List<Object> line, String name, String key) {
        return row(line, name).map(r -> r.number(key)).orElse(Double.NaN);
    }

    private Map<String, ResultTable.Row> of(List<Object> line) {
        return rows.getOrDefault(line, Map.of());
    }

    private Optional<ResultTable.Row> row(List<Object> line, String name) {
        return Optional.ofNullable(of(line).get(name));
    }

    /** Returns the values that stand next to each other. */
    List<String> names() {
        return names;
    }

    /**
     * Returns tables of some lines, each followed by an empty line; columns in which no number is defined are left out, but for
     * the first of each name and its error.
     */
    String render(List<List<Object>> shown, int aTable, List<String> dispensable, Ink ink) {
        StringBuilder text = new StringBuilder();
        for (int from = 0; from < names.size(); from += aTable) {
            text.append(table(shown, names.subList(from, Math.min(names.size(), from + aTable)), dispensable)
                            .render(ink))
                    .append('\n');
        }
        return text.toString();
    }

    private TextTable table(List<List<Object>> shown, List<String> some, List<String> dispensable) {
        TextTable table = TextTable.empty();
        lineColumns.forEach(c -> table.column(c.heading(), c.kind().alignment()));
        for (String name : some) {
            for (Column cell : kept(name, dispensable)) {
                table.column(cell.equals(cellColumns.get(0)) ? name : cell.heading(), alignment(cell));
            }
        }
        for (List<Object> line : shown) {
            List<String> cells = new ArrayList<>();
            ResultTable.Row any = of(line).values().iterator().next();
            lineColumns.forEach(c -> cells.add(any.shown(c)));
            for (String name : some) {
                kept(name, dispensable)
                        .forEach(c ->
                                cells.add(row(line, name).map(r -> r.shown(c)).orElse(NumberFormats.UNDEFINED)));
            }
            table.row(cells);
        }
        return table;
    }

    private static Alignment alignment(Column cell) {
        return cell.kind().alignment();
    }

    private List<Column> kept(String name, List<String> dispensable) {
        return cellColumns.stream()
                .filter(c -> !dispensable.contains(c.key())
                        || lines.stream().anyMatch(l -> !Double.isNaN(number(l, name, c.key()))))
                .toList();
    }
}

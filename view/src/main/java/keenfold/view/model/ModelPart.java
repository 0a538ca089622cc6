package keenfold.view.model;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import keenfold.results.table.Alignment;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;
import keenfold.view.text.Ink;
import keenfold.view.text.TextTable;
import keenfold.view.text.Wrap;

/**
 * A part of what was learned: a table, or a few lines.
 *
 * @param title what it is
 * @param lines stand above the table
 * @param columns of the table; none for lines alone
 * @param rows texts, numbers (NaN where nothing is), shares and whole numbers
 */
public record ModelPart(String title, List<String> lines, List<String> columns, List<List<Object>> rows) {
    /** Copies the lists. */
    public ModelPart {
        lines = List.copyOf(lines);
        columns = List.copyOf(columns);
        rows = List.copyOf(rows);
    }

    /** Returns it as text. */
    public String render(Ink ink) {
        StringBuilder text = new StringBuilder(ink.strong(title) + "\n");
        lines.forEach(l -> text.append(Wrap.lines(l, 2)));
        if (!columns.isEmpty()) {
            TextTable table = TextTable.empty();
            List<Alignment> alignments = alignments();
            for (int c = 0; c < columns.size(); c++) {
                table.column(columns.get(c), alignments.get(c));
            }
            cells().forEach(table::row);
            text.append(table.render(ink));
        }
        return text.toString();
    }

    /** Returns how the cells of each column stand below each other. */
    public List<Alignment> alignments() {
        List<Alignment> all = new ArrayList<>();
        for (int c = 0; c < columns.size(); c++) {
            int at = c;
            boolean number = rows.stream().anyMatch(r -> r.get(at) instanceof Number || r.get(at) instanceof Share);
            // What is indented keeps its left end.
            boolean indented = rows.stream().anyMatch(r -> r.get(at).toString().startsWith(" "));
            all.add(number ? Alignment.POINT : c == 0 && !indented ? Alignment.NAME : Alignment.LEFT);
        }
        return all;
    }

    /** Returns the rows as people read them. */
    public List<List<String>> cells() {
        return rows.stream().map(r -> r.stream().map(ModelPart::cell).toList()).toList();
    }

    /** Returns it for programs: what text says by indenting is a number. */
    public ResultTable table() {
        boolean rules = !columns.isEmpty() && columns.get(0).equals("rule");
        List<String> keys = new ArrayList<>();
        if (rules) {
            keys.add("depth");
        }
        columns.forEach(c -> keys.add(c.toLowerCase(Locale.ROOT)));
        List<List<Object>> all = new ArrayList<>();
        for (List<Object> row : rows) {
            List<Object> cells = new ArrayList<>();
            row.forEach(c -> cells.add(c instanceof Share share ? (Object) share.value() : c));
            if (rules) {
                String rule = row.get(0).toString();
                cells.set(0, rule.strip());
                cells.add(0, (rule.length() - rule.stripLeading().length()) / 2);
            }
            all.add(cells);
        }
        return ResultTable.of(keys, all);
    }

    private static String cell(Object value) {
        if (value instanceof Double number) {
            return number.isNaN() ? "" : NumberFormats.significant(number, 4);
        }
        return value instanceof Share share ? NumberFormats.fixed(share.value, 3) : value.toString();
    }

    /** A share of a whole, which is shown with three decimals. */
    public record Share(double value) {}

    /** Returns a part of lines alone. */
    static ModelPart ofLines(String title, List<String> lines) {
        return new ModelPart(title, lines, List.of(), List.of());
    }
}

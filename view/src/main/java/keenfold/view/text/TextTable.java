package keenfold.view.text;

import java.util.ArrayList;
import java.util.List;
import keenfold.results.table.Alignment;
import keenfold.results.table.Column;
import keenfold.results.table.ResultTable;

/** Rows of cells in columns: names on the left, numbers aligned at their points. */
public final class TextTable {
    private static final String GAP = "  ";
    private static final int LONGEST_NAME = 28;
    private static final int SHORTEST_NAME = 8;

    private final List<Title> columns;
    private final List<List<String>> rows = new ArrayList<>();
    private final List<Boolean> strong = new ArrayList<>();

    private record Title(String title, Alignment align) {}

    private TextTable(List<Title> columns) {
        this.columns = columns;
    }

    /** Returns a table of no column. */
    public static TextTable empty() {
        return new TextTable(new ArrayList<>());
    }

    /** Returns the columns of a table that people read, and its rows. */
    public static TextTable of(ResultTable results) {
        TextTable table = empty();
        List<Column> shown = results.forPeople();
        shown.forEach(c -> table.column(c.heading(), c.kind().alignment()));
        for (ResultTable.Row row : results.rows()) {
            table.row(shown.stream().map(row::shown).toList(), row.standsOut());
        }
        return table;
    }

    /** Adds a column; before the first row. */
    public TextTable column(String title, Alignment align) {
        columns.add(new Title(Wrap.visible(title), align));
        return this;
    }

    /** Adds a row. */
    public void row(List<String> cells) {
        row(cells, false);
    }

    /** Adds a row that perhaps stands out. */
    public void row(List<String> cells, boolean standsOut) {
        rows.add(cells.stream().map(Wrap::visible).toList());
        strong.add(standsOut);
    }

    /** Returns how many rows there are. */
    public int size() {
        return rows.size();
    }

    /** Returns the titles, for other formats. */
    public List<String> titles() {
        return columns.stream().map(Title::title).toList();
    }

    /** Returns the table, each line ended by a line feed. */
    public String render(Ink ink) {
        int room = roomForNames();
        List<List<String>> laid = new ArrayList<>();
        for (int c = 0; c < columns.size(); c++) {
            laid.add(lay(c, room));
        }
        StringBuilder text = new StringBuilder();
        for (int r = -1; r < rows.size(); r++) {
            StringBuilder line = new StringBuilder();
            for (List<String> column : laid) {
                line.append(line.isEmpty() ? "" : GAP).append(column.get(r + 1));
            }
            String whole = line.toString().stripTrailing();
            boolean out = r >= 0 && strong.get(r);
            text.append(r < 0 ? ink.quiet(whole) : out ? ink.strong(whole) : whole)
                    .append('\n');
        }
        return text.toString();
    }

    /** How long a name may be so that the page is kept, if it can be. */
    private int roomForNames() {
        int others = GAP.length() * (columns.size() - 1);
        int names = 0;
        for (int c = 0; c < columns.size(); c++) {
            if (columns.get(c).align == Alignment.NAME) {
                names++;
            } else {
                others += lay(c, LONGEST_NAME).get(0).length();
            }
        }
        return names == 0
                ? LONGEST_NAME
                : Math.max(SHORTEST_NAME, Math.min(LONGEST_NAME, (Wrap.WIDTH - others) / names));
    }

    /** A column's title and cells, all of one width. */
    private List<String> lay(int c, int room) {
        Title column = columns.get(c);
        List<String> cells = rows.stream()
                .map(r -> column.align == Alignment.NAME ? shortened(r.get(c), room) : r.get(c))
                .toList();
        int after = column.align == Alignment.POINT
                ? cells.stream().mapToInt(TextTable::afterPoint).max().orElse(0)
                : 0;
        List<String> padded = cells.stream()
                .map(cell -> column.align == Alignment.POINT ? cell + " ".repeat(after - afterPoint(cell)) : cell)
                .toList();
        int width = Math.max(
                column.title.length(),
                padded.stream().mapToInt(String::length).max().orElse(0));
        List<String> laid = new ArrayList<>();
        laid.add(pad(column.title, width, column.align));
        padded.forEach(cell -> laid.add(pad(cell, width, column.align)));
        return laid;
    }

    private static int afterPoint(String cell) {
        int point = cell.indexOf('.');
        return point < 0 ? 0 : cell.length() - point;
    }

    private static String pad(String cell, int width, Alignment align) {
        String space = " ".repeat(Math.max(0, width - cell.length()));
        return align == Alignment.LEFT || align == Alignment.NAME ? cell + space : space + cell;
    }

    /** A long name loses its middle: its ends tell members of a family apart. */
    private static String shortened(String cell, int room) {
        if (cell.length() <= room) {
            return cell;
        }
        int kept = room - 2;
        return cell.substring(0, kept - kept / 2) + ".." + cell.substring(cell.length() - kept / 2);
    }
}

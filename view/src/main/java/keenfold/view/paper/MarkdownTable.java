package keenfold.view.paper;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.results.table.Alignment;

/** Tables as Markdown: pipes between cells, numbers aligned at their points by spaces as wide as digits. */
final class MarkdownTable {
    private static final String FIGURE_SPACE = "\u2007";
    private static final String PUNCTUATION_SPACE = "\u2008";
    private static final String SPACE = "[\\s" + FIGURE_SPACE + PUNCTUATION_SPACE + "]*";
    private static final String INK = "[^\\s" + FIGURE_SPACE + PUNCTUATION_SPACE + "]";

    /** Spaces of any width, what is written, and spaces again. */
    private static final Pattern ALIGNED =
            Pattern.compile("^(" + SPACE + ")(" + INK + "(?:.*" + INK + ")?)(" + SPACE + ")$");

    private MarkdownTable() {}

    static String render(List<PaperTable> tables) {
        return tables.stream().map(MarkdownTable::render).collect(Collectors.joining("\n"));
    }

    private static String render(PaperTable table) {
        int columns = table.heads().size();
        List<List<String>> cells = new ArrayList<>();
        for (int c = 0; c < columns; c++) {
            cells.add(table.aligned(c, FIGURE_SPACE, PUNCTUATION_SPACE));
        }
        StringBuilder text = new StringBuilder();
        if (!table.caption().isEmpty()) {
            text.append("**").append(escaped(table.caption()).strip()).append("**\n\n");
        }
        text.append(line(table.heads().stream().map(h -> escaped(h.text())).toList()));
        text.append(line(table.heads().stream()
                .map(h -> h.alignment() == Alignment.LEFT || h.alignment() == Alignment.NAME ? ":--" : "--:")
                .toList()));
        for (int r = 0; r < table.rows().size(); r++) {
            int row = r;
            boolean strong = table.strong().get(r);
            text.append(line(IntStream.range(0, columns)
                    .mapToObj(c -> cell(cells.get(c), row))
                    .map(t -> strong ? strong(t) : t)
                    .toList()));
        }
        if (!table.notes().isEmpty()) {
            text.append('\n').append(escaped(String.join(" ", table.notes()))).append('\n');
        }
        return text.toString();
    }

    /** A cell in bold, without the spaces that align it: stars beside a space are no markup. */
    private static String strong(String cell) {
        return ALIGNED.matcher(cell).replaceFirst("$1**$2**$3");
    }

    /** A cell with its mark raised; beside marked cells, those without one leave as much room. */
    private static String cell(List<String> column, int row) {
        String mark = PaperTable.mark(column.get(row));
        boolean marked = column.stream().anyMatch(c -> !PaperTable.mark(c).isEmpty());
        return escaped(PaperTable.unmarked(column.get(row)))
                + (marked ? "<sup>" + (mark.isEmpty() ? FIGURE_SPACE : mark) + "</sup>" : "");
    }

    private static String line(List<String> cells) {
        return "| " + String.join(" | ", cells) + " |\n";
    }

    /** What Markdown would take for its own. A minus is a minus. */
    private static String escaped(String text) {
        return text.replaceAll("[\\\\`*_\\[\\]<>|~]", "\\\\$0")
                .replaceAll("(^| )-(?=[0-9])", "$1−")
                .replaceAll("(?<=[0-9]) x (?=[0-9])", " × ");
    }
}

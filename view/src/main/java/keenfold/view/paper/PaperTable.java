package keenfold.view.paper;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.IntStream;
import keenfold.results.table.Alignment;
import keenfold.results.table.Column;
import keenfold.results.table.ResultTable;
import keenfold.view.model.ModelPart;
import keenfold.view.text.Wrap;

/**
 * A table with its caption and what is to be known for reading it.
 *
 * @param caption a phrase without a full stop
 * @param heads of the columns
 * @param rows as many cells each, as people read them
 * @param strong which rows stand out
 * @param notes sentences below the table
 */
record PaperTable(String caption, List<Head> heads, List<List<String>> rows, List<Boolean> strong, List<String> notes) {
    /** Ends the cell of the best mean in a table of several metrics. */
    static final String BEST = " [b]";

    /** Ends the cells of other candidates that may be the best. */
    static final String MAY_BE_BEST = " [m]";

    /** As wide as a digit. */
    private static final String INDENT = "\u2007";

    /** Copies the lists. */
    PaperTable {
        heads = List.copyOf(heads);
        rows = rows.stream().map(List::copyOf).toList();
        strong = List.copyOf(strong);
        notes = List.copyOf(notes);
    }

    /**
     * A column.
     *
     * @param text its heading
     * @param alignment of its cells
     */
    record Head(String text, Alignment alignment) {}

    /** Returns a table of results: the columns for people, or those of CSV where there are none, without empty ones. */
    static PaperTable of(String caption, ResultTable table, List<String> notes) {
        List<Column> shown = table.forPeople().isEmpty() ? table.forCsv() : table.forPeople();
        List<List<String>> cells = table.rows().stream()
                .map(r -> shown.stream().map(c -> Wrap.visible(r.shown(c))).toList())
                .toList();
        int[] kept = IntStream.range(0, shown.size())
                .filter(c -> cells.stream().anyMatch(r -> !r.get(c).isEmpty()))
                .toArray();
        return new PaperTable(
                caption,
                IntStream.of(kept)
                        .mapToObj(c -> new Head(
                                shown.get(c).heading(), shown.get(c).kind().alignment()))
                        .toList(),
                cells.stream()
                        .map(r -> IntStream.of(kept).mapToObj(r::get).toList())
                        .toList(),
                table.rows().stream().map(ResultTable.Row::standsOut).toList(),
                notes);
    }

    /** Returns a part of a model; lines above it become notes, and rules are indented by spaces as wide as digits. */
    static PaperTable of(String caption, ModelPart part) {
        List<Alignment> alignments = part.alignments();
        List<Head> heads = IntStream.range(0, part.columns().size())
                .mapToObj(c -> new Head(Wrap.visible(part.columns().get(c)), alignments.get(c)))
                .toList();
        List<List<String>> rows = part.cells().stream()
                .map(r -> r.stream().map(PaperTable::indented).toList())
                .toList();
        return new PaperTable(
                caption,
                heads,
                rows,
                rows.stream().map(r -> false).toList(),
                part.lines().stream()
                        .map(Wrap::visible)
                        .map(l -> l.substring(0, 1).toUpperCase(Locale.ROOT) + l.substring(1) + ".")
                        .toList());
    }

    /** Returns the same with more notes. */
    PaperTable with(List<String> more) {
        List<String> all = new ArrayList<>(notes);
        all.addAll(more);
        return new PaperTable(caption, heads, rows, strong, all);
    }

    private static String indented(String cell) {
        String bare = cell.stripLeading();
        return INDENT.repeat(cell.length() - bare.length()) + Wrap.visible(bare);
    }

    /** Returns a name by which it can be referred to: the caption in small letters and hyphens. */
    String label() {
        return caption.toLowerCase(Locale.ROOT)
                .replaceAll("[^\\p{L}\\p{N}]+", "-")
                .replaceAll("^-|-$", "");
    }

    /**
     * Returns the cells of a column so that their points stand below each other.
     *
     * @param digit what is as wide as a digit
     * @param point what is as wide as a point
     */
    List<String> aligned(int column, String digit, String point) {
        List<String> cells = rows.stream().map(r -> r.get(column)).toList();
        if (heads.get(column).alignment() != Alignment.POINT) {
            return cells;
        }
        int most = cells.stream().mapToInt(c -> decimals(unmarked(c))).max().orElse(-1);
        List<String> padded = new ArrayList<>();
        for (String cell : cells) {
            int own = decimals(unmarked(cell));
            padded.add(
                    own == most || cell.isEmpty()
                            ? cell
                            : unmarked(cell)
                                    + (own < 0 ? point : "")
                                    + digit.repeat(most - Math.max(own, 0))
                                    + cell.substring(unmarked(cell).length()));
        }
        return padded;
    }

    /** Returns the letter that marks a cell; empty if none does. */
    static String mark(String cell) {
        return cell.endsWith(BEST) || cell.endsWith(MAY_BE_BEST)
                ? cell.substring(cell.length() - 2, cell.length() - 1)
                : "";
    }

    /** Returns a cell without its mark. */
    static String unmarked(String cell) {
        return mark(cell).isEmpty() ? cell : cell.substring(0, cell.length() - BEST.length());
    }

    /** How many decimals a number has; −1 if it has no point. */
    private static int decimals(String number) {
        int point = number.indexOf('.');
        return point < 0 ? -1 : number.length() - point - 1;
    }
}

package keenfold.view.page;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import keenfold.results.table.Column;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;
import keenfold.view.text.Wrap;

/** Makes a table of a page, row by row. */
final class TableBuilder {
    private final String caption;
    private final List<Page.Head> heads = new ArrayList<>();
    private final List<Page.Row> rows = new ArrayList<>();
    private List<Page.Cell> cells = new ArrayList<>();

    private TableBuilder(String caption) {
        this.caption = caption;
    }

    static TableBuilder of(String caption) {
        return new TableBuilder(caption);
    }

    /**
     * Returns a table of results.
     *
     * @param about key of the column that names the candidate of a row; empty if no row is about one
     * @param marks "pick" or "best" by candidate
     */
    static Page.Table of(String caption, ResultTable results, String about, Map<String, String> marks) {
        List<Column> shown = results.forPeople();
        return new Page.Table(
                caption,
                shown.stream()
                        .map(c -> new Page.Head(c.heading(), c.kind().isNumber()))
                        .toList(),
                results.rows().stream()
                        .map(r -> {
                            String name = about.isEmpty() ? "" : r.text(about);
                            String mark = about.isEmpty() ? r.standsOut() ? "pick" : "" : marks.getOrDefault(name, "");
                            return new Page.Row(
                                    name,
                                    mark,
                                    shown.stream()
                                            .map(c -> new Page.Cell(Wrap.visible(r.shown(c)), r.order(c)))
                                            .toList());
                        })
                        .toList());
    }

    TableBuilder texts(String... names) {
        for (String name : names) {
            heads.add(new Page.Head(name, false));
        }
        return this;
    }

    TableBuilder numbers(String... names) {
        for (String name : names) {
            heads.add(new Page.Head(name, true));
        }
        return this;
    }

    TableBuilder text(String text) {
        cells.add(new Page.Cell(text, text));
        return this;
    }

    /** A number as shown, sorted by its full value; undefined ones stand last. */
    TableBuilder number(String shown, double value) {
        cells.add(new Page.Cell(shown, Double.isNaN(value) ? "" : Double.toString(value)));
        return this;
    }

    /** An interval, sorted by its lower end. */
    TableBuilder interval(double low, double high, double se) {
        return number(NumberFormats.interval(low, high, se), low);
    }

    /**
     * Ends a row.
     *
     * @param about the candidate it is about, empty for none
     * @param mark "pick", "best" or empty
     */
    TableBuilder row(String about, String mark) {
        rows.add(new Page.Row(about, mark, cells));
        cells = new ArrayList<>();
        return this;
    }

    Page.Table build() {
        return new Page.Table(caption, heads, rows);
    }
}

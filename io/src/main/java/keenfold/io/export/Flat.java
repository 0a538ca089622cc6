package keenfold.io.export;

import com.fasterxml.jackson.core.JsonGenerator;
import java.io.IOException;
import java.io.Writer;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import keenfold.core.data.Checks;

/** A table of texts and numbers that is written alike as CSV and as JSON: one object a row, keys as the columns. */
public final class Flat extends JsonText {
    private final List<String> columns;
    private final List<List<Object>> rows;

    private Flat(JsonGenerator json, List<String> columns, List<List<Object>> rows) {
        super(json);
        this.columns = columns;
        this.rows = rows;
    }

    /** What a flat table is made of, row by row. */
    public static final class Table {
        private final List<String> columns;
        private final List<List<Object>> rows = new ArrayList<>();

        private Table(List<String> columns) {
            this.columns = columns;
        }

        /** Adds a row of texts, numbers (NaN is undefined), whole numbers and truths, one per column. */
        public Table row(Object... cells) {
            Checks.that(cells.length == columns.size(), "%d cells for %d columns", cells.length, columns.size());
            rows.add(List.of(cells));
            return this;
        }

        /** Writes it as CSV with a header. */
        public void csv(Writer out) {
            List<List<String>> texts = new ArrayList<>();
            for (List<Object> row : rows) {
                texts.add(row.stream()
                        .map(c -> c instanceof Double d ? CsvExport.cell(d) : c.toString())
                        .toList());
            }
            CsvExport.table(columns, texts, out);
        }

        /**
         * Writes it as a JSON document.
         *
         * @param about keys and texts that stand before the rows, in turn
         */
        public void json(Writer out, String... about) {
            document(out, g -> new Flat(g, columns, rows), to -> {
                for (int i = 0; i < about.length; i += 2) {
                    to.json.writeStringField(about[i], about[i + 1]);
                }
                to.write();
            });
        }
    }

    /**
     * A table with what stands above it.
     *
     * @param title what it is
     * @param lines said of it
     * @param table its rows, perhaps none
     */
    public record Titled(String title, List<String> lines, Table table) {
        /** Copies the lines. */
        public Titled {
            lines = List.copyOf(lines);
        }
    }

    /**
     * Writes several tables as one JSON document.
     *
     * @param about keys and texts that stand before them, in turn
     */
    public static void json(Writer out, List<Titled> parts, String... about) {
        document(out, g -> new Flat(g, List.of(), List.of()), to -> {
            for (int i = 0; i < about.length; i += 2) {
                to.json.writeStringField(about[i], about[i + 1]);
            }
            to.json.writeArrayFieldStart("parts");
            for (Titled part : parts) {
                to.json.writeStartObject();
                to.json.writeStringField("title", part.title);
                to.strings("lines", part.lines);
                new Flat(to.json, part.table.columns, part.table.rows).write();
                to.json.writeEndObject();
            }
            to.json.writeEndArray();
        });
    }

    /** Returns an empty table. */
    public static Table of(String... columns) {
        return new Table(List.of(columns));
    }

    private void write() throws IOException {
        json.writeArrayFieldStart("rows");
        for (List<Object> row : rows) {
            json.writeStartObject();
            for (int c = 0; c < columns.size(); c++) {
                cell(columns.get(c).toLowerCase(Locale.ROOT), row.get(c));
            }
            json.writeEndObject();
        }
        json.writeEndArray();
    }

    private void cell(String key, Object value) throws IOException {
        if (value instanceof Double number) {
            number(key, number);
        } else if (value instanceof Integer whole) {
            json.writeNumberField(key, whole);
        } else if (value instanceof Boolean truth) {
            json.writeBooleanField(key, truth);
        } else {
            json.writeStringField(key, value.toString());
        }
    }
}

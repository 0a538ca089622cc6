package keenfold.io.export;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.util.DefaultPrettyPrinter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.core.data.Decimals;
import keenfold.core.data.Notice;
import keenfold.results.Result;
import keenfold.results.table.ResultTable;

/**
 * Writes results as one JSON document, with the keys that docs/json.md settles: the version first, the notices last; numbers
 * read back equal, undefined ones are null.
 */
public final class JsonExport {
    private final JsonGenerator json;

    private JsonExport(JsonGenerator json) {
        this.json = json;
    }

    /** Writes a result with what its readers should know. */
    public static void write(Result result, Writer out) {
        List<Notice> notices = new java.util.ArrayList<>(result.warnings());
        notices.addAll(result.notices());
        write(result.document(), notices, out);
    }

    /**
     * Writes a document.
     *
     * @param document texts, numbers, truths, tables, lists and maps of these by key; an empty optional is null
     */
    public static void write(Map<String, Object> document, Collection<Notice> notices, Writer out) {
        try {
            JsonGenerator json = new JsonFactory().createGenerator(out);
            json.disable(JsonGenerator.Feature.AUTO_CLOSE_TARGET);
            json.setPrettyPrinter(new DefaultPrettyPrinter());
            Map<String, Object> all = new LinkedHashMap<>();
            all.put("keenfold", 1);
            all.putAll(document);
            all.put(
                    "notices",
                    notices.stream().distinct().map(JsonExport::values).toList());
            new JsonExport(json).value(all);
            json.flush();
            out.write('\n');
            out.flush();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static Map<String, Object> values(Notice notice) {
        Map<String, Object> all = new LinkedHashMap<>();
        all.put("code", notice.code());
        all.put("dataset", notice.dataset().isEmpty() ? Optional.empty() : notice.dataset());
        all.put("metric", notice.metric().isEmpty() ? Optional.empty() : notice.metric());
        all.put("values", notice.values());
        all.put("text", notice.text());
        return all;
    }

    private void value(Object value) throws IOException {
        if (value instanceof Map<?, ?> map) {
            json.writeStartObject();
            for (Map.Entry<?, ?> entry : map.entrySet()) {
                json.writeFieldName(String.valueOf(entry.getKey()));
                value(entry.getValue());
            }
            json.writeEndObject();
        } else if (value instanceof ResultTable table) {
            value(table.rows().stream().map(ResultTable.Row::values).toList());
        } else if (value instanceof Collection<?> list) {
            json.writeStartArray();
            for (Object item : list) {
                value(item);
            }
            json.writeEndArray();
        } else if (value instanceof Optional<?> optional) {
            if (optional.isPresent()) {
                value(optional.get());
            } else {
                json.writeNull();
            }
        } else {
            plain(value);
        }
    }

    private void plain(Object value) throws IOException {
        if (value instanceof Double number) {
            if (Double.isFinite(number)) {
                json.writeNumber(Decimals.exact(number));
            } else {
                json.writeNull();
            }
        } else if (value instanceof Number whole) {
            json.writeNumber(whole.longValue());
        } else if (value instanceof Boolean truth) {
            json.writeBoolean(truth);
        } else {
            json.writeString(value.toString());
        }
    }
}

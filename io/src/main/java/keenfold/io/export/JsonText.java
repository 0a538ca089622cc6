package keenfold.io.export;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.util.DefaultPrettyPrinter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.util.List;
import java.util.function.Function;
import keenfold.core.data.Decimals;

/** What all documents have in common: one object, the version first, numbers that read back equal. */
class JsonText {
    final JsonGenerator json;

    JsonText(JsonGenerator json) {
        this.json = json;
    }

    /** Writes part of a document. */
    interface Part<T> {
        void write(T to) throws IOException;
    }

    static <T extends JsonText> void document(Writer out, Function<JsonGenerator, T> maker, Part<T> body) {
        try {
            JsonGenerator json = new JsonFactory().createGenerator(out);
            json.disable(JsonGenerator.Feature.AUTO_CLOSE_TARGET);
            json.setPrettyPrinter(new DefaultPrettyPrinter());
            json.writeStartObject();
            json.writeNumberField("keenfold", 1);
            body.write(maker.apply(json));
            json.writeEndObject();
            json.flush();
            out.write('\n');
            out.flush();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    void strings(String name, List<String> values) throws IOException {
        json.writeArrayFieldStart(name);
        for (String value : values) {
            json.writeString(value);
        }
        json.writeEndArray();
    }

    /** Writes a number, null if it is undefined. */
    void number(String name, double value) throws IOException {
        if (Double.isFinite(value)) {
            json.writeFieldName(name);
            json.writeNumber(Decimals.exact(value));
        } else {
            json.writeNullField(name);
        }
    }
}

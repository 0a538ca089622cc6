package keenfold.io.table;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParseException;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.core.StreamReadFeature;
import java.io.BufferedReader;
import java.io.IOException;
import java.nio.charset.CharacterCodingException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import keenfold.io.InputException;
import keenfold.io.Reason;

/**
 * JSON Lines: an object a line, its keys the columns, in the order in which they first appear. A key that a line lacks is
 * a missing value there, as is null; true and false are words.
 */
final class JsonLinesFeed implements TableFeed {
    private static final JsonFactory JSON = JsonFactory.builder()
            .enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION)
            .build();

    private final TextSource source;

    JsonLinesFeed(TextSource source) {
        this.source = source;
    }

    @Override
    public void feed(TableSink intake) {
        List<String> names = new ArrayList<>();
        Map<String, Integer> place = new HashMap<>();
        each((line, object) -> object.keySet().forEach(key -> {
            if (place.putIfAbsent(key, names.size()) == null) {
                names.add(key);
            }
        }));
        intake.header(names, "");
        String[] values = new String[names.size()];
        boolean[] there = new boolean[names.size()];
        each((line, object) -> {
            java.util.Arrays.fill(there, false);
            object.forEach((key, value) -> {
                int at = place.getOrDefault(key, 0);
                values[at] = value.text();
                there[at] = !value.missing();
            });
            for (int i = 0; i < values.length; i++) {
                if (there[i]) {
                    intake.value(i, values[i], line);
                } else {
                    intake.missing(i);
                }
            }
        });
    }

    private record Value(String text, boolean missing) {}

    private interface ObjectSink {
        void take(long line, Map<String, Value> object);
    }

    private void each(ObjectSink sink) {
        long number = 0;
        try (BufferedReader lines = new BufferedReader(source.open())) {
            for (String line = lines.readLine(); line != null; line = lines.readLine()) {
                number++;
                if (!line.isBlank()) {
                    sink.take(number, parse(line, number));
                }
            }
        } catch (CharacterCodingException e) {
            throw source.undecodable(e);
        } catch (IOException e) {
            throw new InputException(source.shown(), "cannot be read: " + Reason.ofReading(e), e);
        }
    }

    private Map<String, Value> parse(String line, long number) throws IOException {
        String place = source.shown() + ", line " + number;
        Map<String, Value> object = new LinkedHashMap<>();
        try (JsonParser parser = JSON.createParser(line)) {
            if (parser.nextToken() != JsonToken.START_OBJECT) {
                throw new InputException(
                        place, "expected one JSON object a line, such as {\"mites\": 2.2, \"race\": \"dark\"}");
            }
            while (parser.nextToken() == JsonToken.FIELD_NAME) {
                String key = parser.currentName();
                JsonToken token = parser.nextToken();
                if (token.isStructStart()) {
                    throw new InputException(
                            place + ", column \"" + key + "\"",
                            "a value must be a number, a text, true, false or null; spread nested ones out into columns"
                                    + " of their own");
                }
                object.put(key, new Value(parser.getText(), token == JsonToken.VALUE_NULL));
            }
            if (parser.nextToken() != null) {
                throw new InputException(place, "something stands behind the object; write one object a line");
            }
        } catch (JsonParseException e) {
            throw new InputException(
                    place + ", character " + e.getLocation().getColumnNr(),
                    "not valid JSON: " + e.getOriginalMessage().replaceFirst(" \\(start marker.*", ""),
                    e);
        }
        return object;
    }
}

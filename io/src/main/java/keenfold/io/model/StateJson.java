package keenfold.io.model;

import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.data.State;
import keenfold.core.data.ValueException;

/**
 * States as JSON, and back to the last bit.
 *
 * <p>A state is an object whose first key is {@code kind}. A number is a number; one that is not finite is an object {@code
 * {"number": "nan" | "inf" | "-inf"}}. Numbers are an array, in which these three stand as text. Texts are {@code {"texts":
 * […]}}, parts an array of objects.
 */
final class StateJson {
    private static final String KIND = "kind";
    private static final String NUMBER = "number";
    private static final String TEXTS = "texts";

    private StateJson() {}

    static void write(State state, JsonGenerator json) throws IOException {
        try {
            json.writeStartObject();
            json.writeStringField(KIND, state.kind());
            state.read(new Writer(json));
            json.writeEndObject();
        } catch (UncheckedIOException e) {
            throw e.getCause();
        }
    }

    /** What can fail while a value is written. */
    private interface Writing {
        void run() throws IOException;
    }

    private record Writer(JsonGenerator json) implements State.Reader {
        private static void tried(Writing writing) {
            try {
                writing.run();
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }

        @Override
        public void number(String key, double number) {
            tried(() -> {
                json.writeFieldName(key);
                if (Double.isFinite(number)) {
                    json.writeNumber(number);
                } else {
                    json.writeStartObject();
                    json.writeStringField(NUMBER, text(number));
                    json.writeEndObject();
                }
            });
        }

        @Override
        public void numbers(String key, double[] numbers) {
            tried(() -> {
                json.writeArrayFieldStart(key);
                for (double n : numbers) {
                    if (!Double.isFinite(n)) {
                        json.writeString(text(n));
                    } else if (n == Math.rint(n)
                            && Math.abs(n) < 1e15
                            && Double.doubleToRawLongBits(n) != Long.MIN_VALUE) {
                        json.writeNumber((long) n);
                    } else {
                        json.writeNumber(n);
                    }
                }
                json.writeEndArray();
            });
        }

        private static String text(double number) {
            return Double.isNaN(number) ? "nan" : number > 0 ? "inf" : "-inf";
        }

        @Override
        public void text(String key, String text) {
            tried(() -> json.writeStringField(key, text));
        }

        @Override
        public void texts(String key, List<String> texts) {
            tried(() -> {
                json.writeObjectFieldStart(key);
                json.writeArrayFieldStart(TEXTS);
                for (String text : texts) {
                    json.writeString(text);
                }
                json.writeEndArray();
                json.writeEndObject();
            });
        }

        @Override
        public void part(String key, State part) {
            tried(() -> {
                json.writeFieldName(key);
                write(part, json);
            });
        }

        @Override
        public void parts(String key, List<State> parts) {
            tried(() -> {
                json.writeArrayFieldStart(key);
                for (State part : parts) {
                    write(part, json);
                }
                json.writeEndArray();
            });
        }
    }

    /**
     * Reads a state; the parser stands at its opening brace.
     *
     * @throws IllegalArgumentException if it is none
     */
    static State read(JsonParser json) throws IOException {
        expect(json, json.currentToken(), JsonToken.START_OBJECT);
        expect(json, json.nextToken(), JsonToken.FIELD_NAME);
        if (!json.currentName().equals(KIND)) {
            throw wrong(json, "an object that begins with \"kind\"");
        }
        expect(json, json.nextToken(), JsonToken.VALUE_STRING);
        return rest(State.of(json.getText()), json);
    }

    private static State rest(State begun, JsonParser json) throws IOException {
        State state = begun;
        while (json.nextToken() != JsonToken.END_OBJECT) {
            String key = json.currentName();
            JsonToken token = json.nextToken();
            if (token == JsonToken.VALUE_STRING) {
                state = state.with(key, json.getText());
            } else if (token == JsonToken.START_ARRAY) {
                state = array(state, key, json);
            } else if (token == JsonToken.START_OBJECT) {
                state = object(state, key, json);
            } else {
                state = state.with(key, number(json));
            }
        }
        return state;
    }

    private static State object(State state, String key, JsonParser json) throws IOException {
        expect(json, json.nextToken(), JsonToken.FIELD_NAME);
        String first = json.currentName();
        json.nextToken();
        if (first.equals(KIND)) {
            return state.with(key, rest(State.of(json.getText()), json));
        }
        State made;
        if (first.equals(TEXTS)) {
            expect(json, json.currentToken(), JsonToken.START_ARRAY);
            List<String> texts = new ArrayList<>();
            while (json.nextToken() != JsonToken.END_ARRAY) {
                expect(json, json.currentToken(), JsonToken.VALUE_STRING);
                texts.add(json.getText());
            }
            made = state.withTexts(key, texts);
        } else if (first.equals(NUMBER)) {
            made = state.with(key, number(json));
        } else {
            throw wrong(json, "\"kind\", \"texts\" or \"number\", not \"" + first + "\"");
        }
        expect(json, json.nextToken(), JsonToken.END_OBJECT);
        return made;
    }

    private static State array(State state, String key, JsonParser json) throws IOException {
        if (json.nextToken() == JsonToken.START_OBJECT) {
            List<State> parts = new ArrayList<>();
            do {
                parts.add(read(json));
            } while (json.nextToken() == JsonToken.START_OBJECT);
            expect(json, json.currentToken(), JsonToken.END_ARRAY);
            return state.withParts(key, parts);
        }
        double[] numbers = new double[16];
        int count = 0;
        while (json.currentToken() != JsonToken.END_ARRAY) {
            if (count == numbers.length) {
                numbers = Arrays.copyOf(numbers, 2 * count);
            }
            numbers[count++] = number(json);
            json.nextToken();
        }
        return state.with(key, Arrays.copyOf(numbers, count));
    }

    private static double number(JsonParser json) throws IOException {
        JsonToken token = json.currentToken();
        if (token == JsonToken.VALUE_STRING) {
            return switch (json.getText()) {
                case "nan" -> Double.NaN;
                case "inf" -> Double.POSITIVE_INFINITY;
                case "-inf" -> Double.NEGATIVE_INFINITY;
                default -> throw wrong(json, "a number, not \"" + json.getText() + "\"");
            };
        }
        if (token == null || !token.isNumeric()) {
            throw wrong(json, "a number");
        }
        double number = json.getDoubleValue();
        if (!Double.isFinite(number)) {
            throw wrong(json, "a number within what a double holds, not " + json.getText());
        }
        return number;
    }

    private static void expect(JsonParser json, JsonToken is, JsonToken wanted) throws IOException {
        if (is != wanted) {
            throw wrong(json, wanted == JsonToken.VALUE_STRING ? "a text" : wanted.toString());
        }
    }

    private static ValueException wrong(JsonParser json, String expected) {
        return Checks.wrong(String.format(
                java.util.Locale.ROOT,
                "line %d, column %d: expected %s",
                json.currentLocation().getLineNr(),
                json.currentLocation().getColumnNr(),
                expected));
    }
}

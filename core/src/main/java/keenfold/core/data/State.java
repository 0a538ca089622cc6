package keenfold.core.data;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/**
 * What something has learned, as named values: so that it can be kept, and made again without learning anew.
 *
 * <p>Values are numbers (finite, or NaN), texts, lists of both, and parts, which are states themselves. Reading a value that
 * is not there, or of another form, or out of its range, is refused with its name: states may come from a damaged file.
 * Immutable.
 */
public final class State {
    private final String kind;
    private final Map<String, Object> values;

    private State(String kind, Map<String, Object> values) {
        this.kind = kind;
        this.values = values;
    }

    /** Returns a state without values. */
    public static State of(String kind) {
        return new State(kind, Map.of());
    }

    /** Returns what it is a state of. */
    public String kind() {
        return kind;
    }

    private State and(String key, Object value) {
        Map<String, Object> more = new LinkedHashMap<>(values);
        Checks.that(more.put(key, value) == null, "state %s has two values \"%s\"", kind, key);
        return new State(kind, Collections.unmodifiableMap(more));
    }

    /** Returns the same with a number. */
    public State with(String key, double number) {
        return and(key, number);
    }

    /** Returns the same with numbers. */
    public State with(String key, double[] numbers) {
        return and(key, Vector.of(numbers));
    }

    /** Returns the same with whole numbers. */
    public State with(String key, int[] numbers) {
        return and(key, Vector.of(Arrays.stream(numbers).asDoubleStream().toArray()));
    }

    /** Returns the same with numbers. */
    public State with(String key, Vector numbers) {
        return and(key, numbers);
    }

    /** Returns the same with whole numbers. */
    public State withWholes(String key, List<Integer> numbers) {
        return with(key, numbers.stream().mapToInt(Integer::intValue).toArray());
    }

    /** Returns the same with rows of numbers, which may be of different lengths. */
    public State withRows(String key, List<Vector> rows) {
        return withParts(
                key, rows.stream().map(r -> State.of("row").with("of", r)).toList());
    }

    /** Returns the same with a text. */
    public State with(String key, String text) {
        return and(key, text);
    }

    /** Returns the same with texts. */
    public State withTexts(String key, List<String> texts) {
        return and(key, List.copyOf(texts));
    }

    /** Returns the same with a part. */
    public State with(String key, State part) {
        return and(key, part);
    }

    /** Returns the same with parts. */
    public State withParts(String key, List<State> parts) {
        return and(key, List.copyOf(parts));
    }

    private Object value(String key) {
        Object value = values.get(key);
        if (value == null) {
            throw Checks.wrong(kind + " has no value \"" + key + "\"");
        }
        return value;
    }

    private ValueException wrong(String key, String expected) {
        return Checks.wrong(kind + ", \"" + key + "\": expected " + expected);
    }

    /** Returns whether there is a value. */
    public boolean has(String key) {
        return values.containsKey(key);
    }

    /** Returns a number, which may be NaN. */
    public double number(String key) {
        if (value(key) instanceof Double number) {
            return number;
        }
        throw wrong(key, "a number");
    }

    /** Returns a whole number in a range. */
    public int whole(String key, int least, int most) {
        double number = number(key);
        if (!(number >= least && number <= most) || number != Math.rint(number)) {
            throw wrong(key, "a whole number from " + least + " to " + most + ", not " + number);
        }
        return (int) number;
    }

    /** Returns whether something is so: 1, or 0. */
    public boolean truth(String key) {
        return whole(key, 0, 1) == 1;
    }

    /** Returns the same with a truth. */
    public State with(String key, boolean truth) {
        return with(key, truth ? 1.0 : 0.0);
    }

    /** Returns numbers. */
    public Vector numbers(String key) {
        Object value = value(key);
        if (value instanceof Vector numbers) {
            return numbers;
        }
        if (value instanceof List<?> list && list.isEmpty()) {
            return Vector.of();
        }
        throw wrong(key, "numbers");
    }

    /** Returns so many numbers. */
    public Vector numbers(String key, int count) {
        Vector numbers = numbers(key);
        if (numbers.size() != count) {
            throw wrong(key, count + " numbers, not " + numbers.size());
        }
        return numbers;
    }

    /** Returns whole numbers, each in a range. */
    public List<Integer> wholes(String key, int least, int most) {
        List<Integer> wholes = new ArrayList<>();
        for (double n : numbers(key).toArray()) {
            if (!(n >= least && n <= most) || n != Math.rint(n)) {
                throw wrong(key, "whole numbers from " + least + " to " + most + ", not " + n);
            }
            wholes.add((int) n);
        }
        return List.copyOf(wholes);
    }

    /** Returns so many whole numbers, each in a range. */
    public List<Integer> wholes(String key, int least, int most, int count) {
        numbers(key, count);
        return wholes(key, least, most);
    }

    /** Returns rows of numbers. */
    public List<Vector> rows(String key) {
        return parts(key).stream().map(p -> p.numbers("of")).toList();
    }

    /** Returns rows of so many numbers each. */
    public List<Vector> rows(String key, int count) {
        List<Vector> rows = rows(key);
        for (Vector row : rows) {
            if (row.size() != count) {
                throw wrong(key, "rows of " + count + " numbers, not of " + row.size());
            }
        }
        return rows;
    }

    /** Returns a text. */
    public String text(String key) {
        if (value(key) instanceof String text) {
            return text;
        }
        throw wrong(key, "a text");
    }

    /** Returns the constant of an enumeration that a text names. */
    public <E extends Enum<E>> E named(String key, Class<E> type) {
        String name = text(key);
        return Arrays.stream(type.getEnumConstants())
                .filter(e -> e.name().equals(name))
                .findFirst()
                .orElseThrow(() -> wrong(key, "one of " + Arrays.toString(type.getEnumConstants()) + ", not " + name));
    }

    /** Returns texts. */
    public List<String> texts(String key) {
        return list(key, String.class, "texts");
    }

    /** Returns a part. */
    public State part(String key) {
        if (value(key) instanceof State part) {
            return part;
        }
        throw wrong(key, "a part");
    }

    /** Returns parts. */
    public List<State> parts(String key) {
        return list(key, State.class, "parts");
    }

    private <T> List<T> list(String key, Class<T> type, String expected) {
        Object value = value(key);
        if (value instanceof Vector numbers && numbers.size() == 0) {
            return List.of();
        }
        if (!(value instanceof List<?> list) || !list.stream().allMatch(type::isInstance)) {
            throw wrong(key, expected);
        }
        List<T> typed = new ArrayList<>();
        list.forEach(v -> typed.add(type.cast(v)));
        return typed;
    }

    /** What is done with each value: a function for each form that it can have. */
    public interface Reader {
        /** Takes a number. */
        void number(String key, double number);

        /** Takes numbers. */
        void numbers(String key, double[] numbers);

        /** Takes a text. */
        void text(String key, String text);

        /** Takes texts, at least one. */
        void texts(String key, List<String> texts);

        /** Takes a part. */
        void part(String key, State part);

        /** Takes parts, or a list of nothing. */
        void parts(String key, List<State> parts);
    }

    /** Hands over all values in order. */
    public void read(Reader reader) {
        values.forEach((key, value) -> {
            if (value instanceof Double number) {
                reader.number(key, number);
            } else if (value instanceof Vector numbers) {
                reader.numbers(key, numbers.toArray());
            } else if (value instanceof String text) {
                reader.text(key, text);
            } else if (value instanceof State part) {
                reader.part(key, part);
            } else if (value instanceof List<?> list && !list.isEmpty() && list.get(0) instanceof String) {
                reader.texts(key, texts(key));
            } else {
                reader.parts(key, parts(key));
            }
        });
    }

    /**
     * Makes something of a state by its kind.
     *
     * @param what is made, for the message
     * @param makers by kind
     */
    public <T> T made(String what, Map<String, Function<State, T>> makers) {
        return Optional.ofNullable(makers.get(kind))
                .orElseThrow(() -> Checks.wrong("no " + what + " is called \"" + kind + "\""))
                .apply(this);
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof State state && kind.equals(state.kind) && values.equals(state.values);
    }

    @Override
    public int hashCode() {
        return 31 * kind.hashCode() + values.hashCode();
    }

    @Override
    public String toString() {
        return kind + values;
    }
}

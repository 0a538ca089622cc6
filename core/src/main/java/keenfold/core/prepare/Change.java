package keenfold.core.prepare;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.State;

/** What a step, once fitted, puts in the place of one column. */
interface Change {
    /** The columns that take its place. */
    List<Column> of(Column column);

    /** What was learned. */
    State state();

    /** A column stays as it is. */
    Change KEEP = new Kept();

    /** A column is taken away. */
    Change DROP = new Dropped();

    /** Makes the change of a state. */
    static Change restored(State state) {
        Map<String, Function<State, Change>> makers = new LinkedHashMap<>();
        makers.put("keep", s -> KEEP);
        makers.put("drop", s -> DROP);
        makers.put("standardise", s -> new Standardised(s.number("mean"), s.number("sd")));
        makers.put(
                "rescale",
                s -> new Rescaled(s.number("low"), s.number("high"), s.number("least"), s.number("greatest")));
        makers.put("log", s -> new Logged(s.number("unit")));
        makers.put("power", s -> new Powered(s.number("exponent")));
        makers.put("bins", s -> new Binned(s.numbers("edges"), s.truth("numbers")));
        makers.put("one-hot", s -> new Indicated(s.wholes("codes", 0, Integer.MAX_VALUE - 1)));
        makers.put("ordinal", s -> new Placed(s.numbers("places")));
        makers.put("fill-number", s -> new FilledNumber(s.number("value")));
        makers.put("fill-level", s -> new FilledLevel(s.whole("code", -1, Integer.MAX_VALUE - 1)));
        makers.put("fill-new-level", s -> new NewLevel(s.text("level")));
        makers.put("mark", s -> new Marked(restored(s.part("fill"))));
        return state.made("change of a column", makers);
    }

    /** Leaves a column as it is. */
    record Kept() implements Change {
        @Override
        public List<Column> of(Column column) {
            return List.of(column);
        }

        @Override
        public State state() {
            return State.of("keep");
        }
    }

    /** Takes a column away. */
    record Dropped() implements Change {
        @Override
        public List<Column> of(Column column) {
            return List.of();
        }

        @Override
        public State state() {
            return State.of("drop");
        }
    }

    /** Changes each number of a number column; categories stay. */
    interface Formula extends Change {
        /** The new number; never asked for a missing one. */
        double of(double x);

        @Override
        default List<Column> of(Column column) {
            return List.of(column.<Column>match(
                    n -> {
                        double[] values = new double[n.rows()];
                        for (int i = 0; i < values.length; i++) {
                            double x = n.get(i);
                            double y = Double.isNaN(x) ? x : of(x);
                            // A value far off the training rows may leave the numbers; it stays the largest there is.
                            values[i] = Double.isInfinite(y) ? Math.copySign(Double.MAX_VALUE, y) : y;
                        }
                        return Numbers.owning(n.name(), values);
                    },
                    k -> k));
        }
    }

    /** (x − mean)/sd. */
    record Standardised(double mean, double sd) implements Formula {
        @Override
        public double of(double x) {
            return (x - mean) / sd;
        }

        @Override
        public State state() {
            return State.of("standardise").with("mean", mean).with("sd", sd);
        }
    }

    /** low + (high − low)·(x − least)/(greatest − least). */
    record Rescaled(double low, double high, double least, double greatest) implements Formula {
        @Override
        public double of(double x) {
            return low + (high - low) * ((x - least) / (greatest - least));
        }

        @Override
        public State state() {
            return State.of("rescale")
                    .with("low", low)
                    .with("high", high)
                    .with("least", least)
                    .with("greatest", greatest);
        }
    }

    /** sign(x)·ln(1 + |x|/unit). */
    record Logged(double unit) implements Formula {
        @Override
        public double of(double x) {
            return Math.copySign(StrictMath.log1p(Math.abs(x) / unit), x);
        }

        @Override
        public State state() {
            return State.of("log").with("unit", unit);
        }
    }

    /** The power of Yeo and Johnson. */
    record Powered(double exponent) implements Formula {
        @Override
        public double of(double x) {
            return Power.of(x, StrictMath.log1p(Math.abs(x)), exponent);
        }

        @Override
        public State state() {
            return State.of("power").with("exponent", exponent);
        }
    }

    /** Intervals of numbers: a number from 1, or a category. */
    final class Binned implements Change {
        private final double[] inner;
        private final boolean numbers;

        /** @param inner edges, rising */
        Binned(double[] inner, boolean numbers) {
            this.inner = inner;
            this.numbers = numbers;
        }

        @Override
        public List<Column> of(Column column) {
            return List.of(column.<Column>match(this::binned, k -> k));
        }

        private Column binned(Numbers column) {
            if (numbers) {
                double[] values = new double[column.rows()];
                Arrays.setAll(values, i -> column.missing(i) ? Double.NaN : 1 + Bins.bin(column.get(i), inner));
                return Numbers.owning(column.name(), values);
            }
            int digits = Integer.toString(inner.length + 1).length();
            List<String> levels = IntStream.rangeClosed(1, inner.length + 1)
                    .mapToObj(j -> "0".repeat(digits - Integer.toString(j).length()) + j)
                    .toList();
            int[] codes = new int[column.rows()];
            Arrays.setAll(codes, i -> column.missing(i) ? -1 : Bins.bin(column.get(i), inner));
            return Categories.ofCodes(column.name(), levels, codes);
        }

        @Override
        public State state() {
            return State.of("bins").with("edges", inner).with("numbers", numbers);
        }
    }

    /** A column of zeros and ones for each of some levels. */
    final class Indicated implements Change {
        private final int[] codes;

        Indicated(int[] codes) {
            this.codes = codes;
        }

        @Override
        public List<Column> of(Column column) {
            return column.match(List::of, this::indicators);
        }

        private List<Column> indicators(Categories column) {
            List<Column> made = new ArrayList<>();
            for (int code : codes) {
                double[] values = new double[column.rows()];
                for (int i = 0; i < values.length; i++) {
                    values[i] = column.missing(i) ? Double.NaN : column.code(i) == code ? 1 : 0;
                }
                made.add(Numbers.owning(column.name() + "=" + column.levels().get(code), values));
            }
            return made;
        }

        @Override
        public State state() {
            return State.of("one-hot").with("codes", codes);
        }
    }

    /** The place of a level, 0 for one that has none. */
    final class Placed implements Change {
        private final double[] places;

        /** @param places by code */
        Placed(double[] places) {
            this.places = places;
        }

        @Override
        public List<Column> of(Column column) {
            return List.of(column.<Column>match(n -> n, this::placed));
        }

        private Numbers placed(Categories column) {
            double[] values = new double[column.rows()];
            for (int i = 0; i < values.length; i++) {
                int code = column.code(i);
                values[i] = code < 0 ? Double.NaN : code < places.length ? places[code] : 0;
            }
            return Numbers.owning(column.name(), values);
        }

        @Override
        public State state() {
            return State.of("ordinal").with("places", places);
        }
    }

    /** Puts a number into gaps. */
    record FilledNumber(double value) implements Change {
        @Override
        public List<Column> of(Column column) {
            return List.of(column.<Column>match(this::filled, k -> k));
        }

        private Numbers filled(Numbers column) {
            if (column.countMissing() == 0) {
                return column;
            }
            double[] values = column.toArray();
            for (int i = 0; i < values.length; i++) {
                if (Double.isNaN(values[i])) {
                    values[i] = value;
                }
            }
            return Numbers.owning(column.name(), values);
        }

        @Override
        public State state() {
            return State.of("fill-number").with("value", value);
        }
    }

    /** Puts a level into gaps; −1 if there is none to put. */
    record FilledLevel(int code) implements Change {
        @Override
        public List<Column> of(Column column) {
            return List.of(column.<Column>match(n -> n, x -> x.countMissing() == 0 ? x : x.fill(code)));
        }

        @Override
        public State state() {
            return State.of("fill-level").with("code", code);
        }
    }

    /** Puts a level of its own into gaps; also where nothing is missing, so that all rows have the same levels. */
    record NewLevel(String level) implements Change {
        @Override
        public List<Column> of(Column column) {
            return List.of(column.<Column>match(n -> n, this::filled));
        }

        private Categories filled(Categories column) {
            int at = column.levels().indexOf(level);
            if (at >= 0) {
                return column.fill(at);
            }
            List<String> levels = new ArrayList<>(column.levels());
            levels.add(level);
            int[] codes = EachColumn.codes(column);
            return Categories.ofCodes(
                    column.name(),
                    levels,
                    Arrays.stream(codes).map(c -> c < 0 ? levels.size() - 1 : c).toArray());
        }

        @Override
        public State state() {
            return State.of("fill-new-level").with("level", level);
        }
    }

    /** Fills, and adds a column that has ones at the gaps. */
    record Marked(Change fill) implements Change {
        @Override
        public List<Column> of(Column column) {
            double[] gaps = new double[column.rows()];
            for (int i = 0; i < gaps.length; i++) {
                gaps[i] = column.missing(i) ? 1 : 0;
            }
            List<Column> both = new ArrayList<>(fill.of(column));
            both.add(Numbers.owning(column.name() + " missing", gaps));
            return both;
        }

        @Override
        public State state() {
            return State.of("mark").with("fill", fill.state());
        }
    }
}

package keenfold.core.learned;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Checks;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.State;
import keenfold.core.data.Vector;

/** What a fitted step puts in the place of one column. Immutable. */
public sealed interface ColumnTransform
        permits ColumnTransform.Kept,
                ColumnTransform.Dropped,
                ColumnTransform.Formula,
                ColumnTransform.Binned,
                ColumnTransform.Indicated,
                ColumnTransform.Placed,
                ColumnTransform.FilledNumber,
                ColumnTransform.FilledLevel,
                ColumnTransform.NewLevel,
                ColumnTransform.Marked,
                ColumnTransform.DateSplit,
                WordCounts,
                LevelMeans {
    /** A column stays as it is. */
    ColumnTransform KEEP = new Kept();

    /** A column is taken away. */
    ColumnTransform DROP = new Dropped();

    /** Returns the columns that take a column's place. */
    List<Column> of(Column column);

    /** Returns it as a model file keeps it; docs/model.md says what each value means. */
    State state();

    /** Returns what is done with a transform of its kind. */
    <R> R match(Cases<R> cases);

    /**
     * What is done with each kind of transform.
     *
     * @param <R> what comes of it
     */
    interface Cases<R> {
        /** Takes a column that stays. */
        R kept(Kept t);

        /** Takes a column that goes. */
        R dropped(Dropped t);

        /** Takes a standardised column. */
        R standardised(Standardised t);

        /** Takes a rescaled column. */
        R rescaled(Rescaled t);

        /** Takes a logarithm. */
        R logged(Logged t);

        /** Takes a power. */
        R powered(Powered t);

        /** Takes intervals. */
        R binned(Binned t);

        /** Takes indicators of levels. */
        R indicated(Indicated t);

        /** Takes places of levels. */
        R placed(Placed t);

        /** Takes gaps that get a number. */
        R filledNumber(FilledNumber t);

        /** Takes gaps that get a level. */
        R filledLevel(FilledLevel t);

        /** Takes gaps that get a level of their own. */
        R newLevel(NewLevel t);

        /** Takes marked gaps. */
        R marked(Marked t);

        /** Takes parts of dates. */
        R dateSplit(DateSplit t);

        /** Takes counts of words. */
        R wordCounts(WordCounts t);

        /** Takes shares of classes by level. */
        R levelMeans(LevelMeans t);
    }

    /** Returns the transform of a state. */
    static ColumnTransform of(State state) {
        Map<String, Function<State, ColumnTransform>> makers = new LinkedHashMap<>();
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
        makers.put(
                "date-parts",
                s -> new DateSplit(s.texts("parts").stream()
                        .map(t -> DatePart.of(t).orElseThrow(() -> Checks.wrong("part \"" + t + "\"")))
                        .toList()));
        makers.put("words", s -> {
            List<String> words = s.texts("words");
            return new WordCounts(words, s.numbers("weights", words.size()), s.truth("unit-length"));
        });
        makers.put("level-means", s -> {
            List<String> labels = s.texts("labels");
            int count = labels.size();
            return new LevelMeans(labels, s.rows("shares"), s.numbers("unseen", count), s.numbers("missing", count));
        });
        makers.put("mark", s -> new Marked(of(s.part("fill"))));
        return state.made("change of a column", makers);
    }

    /** Leaves a column as it is. */
    record Kept() implements ColumnTransform {
        @Override
        public List<Column> of(Column column) {
            return List.of(column);
        }

        @Override
        public State state() {
            return State.of("keep");
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.kept(this);
        }
    }

    /** Takes a column away. */
    record Dropped() implements ColumnTransform {
        @Override
        public List<Column> of(Column column) {
            return List.of();
        }

        @Override
        public State state() {
            return State.of("drop");
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.dropped(this);
        }
    }

    /** Changes each number of a number column; categories stay. */
    sealed interface Formula extends ColumnTransform {
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

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.standardised(this);
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

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.rescaled(this);
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

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.logged(this);
        }
    }

    /** The power of Yeo and Johnson. */
    record Powered(double exponent) implements Formula {
        /** Returns the power of x; {@code log} is ln(1 + |x|). */
        public static double power(double x, double log, double exponent) {
            double power = x < 0 ? 2 - exponent : exponent;
            return Math.copySign(power == 0 ? log : StrictMath.expm1(power * log) / power, x);
        }

        @Override
        public double of(double x) {
            return power(x, StrictMath.log1p(Math.abs(x)), exponent);
        }

        @Override
        public State state() {
            return State.of("power").with("exponent", exponent);
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.powered(this);
        }
    }

    /**
     * Intervals of numbers: a number from 1, or a category.
     *
     * @param edges between intervals, rising; a value on an edge lies below it
     * @param numbers whether an interval is a number
     */
    record Binned(Vector edges, boolean numbers) implements ColumnTransform {
        /** Returns the interval of a value, from 0: how many edges lie below it. */
        public static int interval(double x, double[] edges) {
            int at = Arrays.binarySearch(edges, x);
            return at >= 0 ? at : -at - 1;
        }

        @Override
        public List<Column> of(Column column) {
            return List.of(column.<Column>match(this::binned, k -> k));
        }

        private Column binned(Numbers column) {
            double[] inner = edges.toArray();
            if (numbers) {
                double[] values = new double[column.rows()];
                Arrays.setAll(values, i -> column.missing(i) ? Double.NaN : 1 + interval(column.get(i), inner));
                return Numbers.owning(column.name(), values);
            }
            int digits = Integer.toString(inner.length + 1).length();
            List<String> levels = IntStream.rangeClosed(1, inner.length + 1)
                    .mapToObj(j -> "0".repeat(digits - Integer.toString(j).length()) + j)
                    .toList();
            int[] codes = new int[column.rows()];
            Arrays.setAll(codes, i -> column.missing(i) ? -1 : interval(column.get(i), inner));
            return Categories.ofCodes(column.name(), levels, codes);
        }

        @Override
        public State state() {
            return State.of("bins").with("edges", edges).with("numbers", numbers);
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.binned(this);
        }
    }

    /** A column of zeros and ones for each of some levels. */
    record Indicated(List<Integer> codes) implements ColumnTransform {
        /** Copies the codes. */
        public Indicated {
            codes = List.copyOf(codes);
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
            return State.of("one-hot").withWholes("codes", codes);
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.indicated(this);
        }
    }

    /**
     * The place of a level, 0 for one that has none.
     *
     * @param places by code
     */
    record Placed(Vector places) implements ColumnTransform {
        @Override
        public List<Column> of(Column column) {
            return List.of(column.<Column>match(n -> n, this::placed));
        }

        private Numbers placed(Categories column) {
            double[] values = new double[column.rows()];
            for (int i = 0; i < values.length; i++) {
                int code = column.code(i);
                values[i] = code < 0 ? Double.NaN : code < places.size() ? places.get(code) : 0;
            }
            return Numbers.owning(column.name(), values);
        }

        @Override
        public State state() {
            return State.of("ordinal").with("places", places);
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.placed(this);
        }
    }

    /** Puts a number into gaps. */
    record FilledNumber(double value) implements ColumnTransform {
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

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.filledNumber(this);
        }
    }

    /** Puts a level into gaps; −1 if there is none to put. */
    record FilledLevel(int code) implements ColumnTransform {
        @Override
        public List<Column> of(Column column) {
            return List.of(column.<Column>match(n -> n, x -> x.countMissing() == 0 ? x : x.fill(code)));
        }

        @Override
        public State state() {
            return State.of("fill-level").with("code", code);
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.filledLevel(this);
        }
    }

    /** Puts a level of its own into gaps; also where nothing is missing, so that all rows have the same levels. */
    record NewLevel(String level) implements ColumnTransform {
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
            int[] codes = column.codes();
            return Categories.ofCodes(
                    column.name(),
                    levels,
                    Arrays.stream(codes).map(c -> c < 0 ? levels.size() - 1 : c).toArray());
        }

        @Override
        public State state() {
            return State.of("fill-new-level").with("level", level);
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.newLevel(this);
        }
    }

    /** Fills, and adds a column that has ones at the gaps. */
    record Marked(ColumnTransform fill) implements ColumnTransform {
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

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.marked(this);
        }
    }

    /**
     * Parts of dates in the place of days since 1970-01-01; a category stays.
     *
     * @param parts in their order
     */
    record DateSplit(List<DatePart> parts) implements ColumnTransform {
        /** Copies the parts. */
        public DateSplit {
            parts = List.copyOf(parts);
        }

        @Override
        public List<Column> of(Column column) {
            return column.match(
                    n -> parts.stream().flatMap(p -> p.of(n).stream()).toList(), List::of);
        }

        @Override
        public State state() {
            return State.of("date-parts")
                    .withTexts("parts", parts.stream().map(DatePart::label).toList());
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.dateSplit(this);
        }
    }
}

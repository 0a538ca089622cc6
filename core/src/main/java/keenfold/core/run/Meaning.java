package keenfold.core.run;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.DoubleUnaryOperator;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.data.CodePoints;
import keenfold.core.data.Column;
import keenfold.core.data.State;
import keenfold.core.data.Table;
import keenfold.core.prepare.Step;

/**
 * What a prepared column says in terms of the columns of the data: {@code slope·head + offset}, where the head is a column of
 * the data or something made of it. Immutable.
 *
 * <p>It leads back what a classifier learned, such as a coefficient or a threshold, to the units that a reader knows.
 */
public final class Meaning {
    /** What the head is. */
    public enum Kind {
        /** A number of the data, or a rising function of one. */
        NUMBER,
        /** 1 where a category has a level, 0 elsewhere. */
        LEVEL,
        /** 1 where a value is missing, 0 elsewhere. */
        MISSING,
        /** The place of a category's level among others. */
        PLACE,
        /** A category itself. */
        CATEGORY,
        /** Made of several columns, or of one in a way that the others do not name. */
        OTHER
    }

    private final String head;
    private final String raw;
    private final Kind kind;
    private final List<String> levels;
    private final double[] places;
    private final double slope;
    private final double offset;
    private final DoubleUnaryOperator back;

    private Meaning(
            String head,
            String raw,
            Kind kind,
            List<String> levels,
            double[] places,
            double slope,
            double offset,
            DoubleUnaryOperator back) {
        this.head = head;
        this.raw = raw;
        this.kind = kind;
        this.levels = List.copyOf(levels);
        this.places = places;
        this.slope = slope;
        this.offset = offset;
        this.back = back;
    }

    private static Meaning plain(String head, String raw, Kind kind, List<String> levels) {
        return new Meaning(head, raw, kind, levels, new double[0], 1, 0, x -> x);
    }

    private static Meaning other(String head) {
        return plain(head, "", Kind.OTHER, List.of());
    }

    /** Returns what the columns that a predictor's classifier is handed mean, in their order. */
    public static List<Meaning> of(Predictor predictor, Table columns) {
        List<Meaning> all = of(predictor.steps(), predictor.memberNames(), predictor.classes(), columns);
        Checks.that(all.size() == predictor.prepared().size(), "%d columns of %s", all.size(), predictor.prepared());
        return all;
    }

    /** Returns what the columns mean that steps make of those of the data, or of what members predict. */
    static List<Meaning> of(List<Step.Fitted> steps, List<String> members, int classes, Table columns) {
        List<Meaning> all = new ArrayList<>();
        if (members.isEmpty()) {
            for (Column c : columns.columns()) {
                all.add(c.match(
                        n -> plain(n.name(), n.name(), Kind.NUMBER, List.of()),
                        k -> plain(k.name(), k.name(), Kind.CATEGORY, k.levels())));
            }
        } else {
            for (String member : members) {
                for (int c = 1; c < classes; c++) {
                    all.add(other(member + " " + (c + 1)));
                }
            }
        }
        for (Step.Fitted step : steps) {
            all = after(step.state(), all);
        }
        return all;
    }

    private static List<Meaning> after(State step, List<Meaning> columns) {
        return switch (step.kind()) {
            case "each" -> {
                List<State> changes = step.parts("columns");
                yield IntStream.range(0, columns.size())
                        .boxed()
                        .flatMap(c -> columns.get(c).changed(changes.get(c)).stream())
                        .toList();
            }
            case "choice" ->
                Arrays.stream(step.wholes("columns", 0, columns.size() - 1))
                        .mapToObj(columns::get)
                        .toList();
            case "products" -> {
                List<Meaning> all = new ArrayList<>(columns);
                int[] factors = step.wholes("columns", 0, columns.size() - 1);
                for (int a = 0; a < factors.length; a++) {
                    for (int b = step.truth("squares") ? a : a + 1; b < factors.length; b++) {
                        all.add(other(columns.get(factors[a]).prepared() + " * "
                                + columns.get(factors[b]).prepared()));
                    }
                }
                yield all;
            }
            case "components" -> {
                List<Meaning> all = new ArrayList<>(
                        columns.stream().filter(c -> c.kind == Kind.CATEGORY).toList());
                int count = step.parts("directions").size();
                IntStream.rangeClosed(1, count).forEach(k -> all.add(other("component " + k)));
                yield all;
            }
            default -> throw new IllegalArgumentException("no step is called \"" + step.kind() + "\"");
        };
    }

    /** Its name where it is a part of something: standardised columns are not the columns. */
    private String prepared() {
        return slope == 1 && offset == 0 ? head : "scaled(" + head + ")";
    }

    private List<Meaning> changed(State change) {
        boolean category = kind == Kind.CATEGORY;
        return switch (change.kind()) {
            case "drop" -> List.of();
            case "standardise" -> {
                double sd = change.number("sd");
                yield List.of(category ? this : line(1 / sd, -change.number("mean") / sd));
            }
            case "rescale" -> {
                double low = change.number("low");
                double by = (change.number("high") - low) / (change.number("greatest") - change.number("least"));
                yield List.of(category ? this : line(by, low - by * change.number("least")));
            }
            case "log" -> {
                double unit = change.number("unit");
                yield List.of(
                        category ? this : bent("log", y -> Math.copySign(StrictMath.expm1(Math.abs(y)) * unit, y)));
            }
            case "power" -> List.of(category ? this : bent("power", unpowered(change.number("exponent"))));
            case "bins" -> List.of(category ? this : binned(change.numbers("edges"), change.truth("numbers")));
            case "one-hot" -> category ? indicators(change) : List.of(this);
            case "ordinal" -> List.of(category ? placed(change.numbers("places")) : this);
            case "fill-new-level" -> List.of(category ? withLevel(change.text("level")) : this);
            case "mark" -> {
                List<Meaning> both = new ArrayList<>(changed(change.part("fill")));
                both.add(plain(raw + " missing", raw, Kind.MISSING, List.of()));
                yield both;
            }
            default -> List.of(this);
        };
    }

    private Meaning line(double by, double add) {
        return new Meaning(head, raw, kind, levels, places, by * slope, by * offset + add, back);
    }

    /** A rising function of this, which begins a new head. */
    private Meaning bent(String name, DoubleUnaryOperator inverse) {
        if (kind != Kind.NUMBER) {
            return plain(name + "(" + prepared() + ")", raw, Kind.OTHER, List.of());
        }
        Meaning before = this;
        return new Meaning(
                name + "(" + prepared() + ")",
                raw,
                Kind.NUMBER,
                levels,
                places,
                1,
                0,
                y -> before.raw(inverse.applyAsDouble(y)));
    }

    private static DoubleUnaryOperator unpowered(double exponent) {
        return y -> {
            double power = y < 0 ? 2 - exponent : exponent;
            double up = power == 0
                    ? StrictMath.expm1(Math.abs(y))
                    : StrictMath.expm1(StrictMath.log1p(power * Math.abs(y)) / power);
            return Math.copySign(up, y);
        };
    }

    private Meaning binned(double[] edges, boolean numbers) {
        if (kind != Kind.NUMBER) {
            return plain("bin of " + prepared(), raw, Kind.OTHER, List.of());
        }
        double[] own = Arrays.stream(edges).map(this::raw).toArray();
        if (numbers) {
            // Up to bin j is up to its upper edge.
            DoubleUnaryOperator inverse = y -> {
                int bin = (int) Math.floor(y + 1e-9);
                return bin < 1 ? Double.NEGATIVE_INFINITY : bin > own.length ? Double.POSITIVE_INFINITY : own[bin - 1];
            };
            return new Meaning("bin of " + raw, raw, Kind.NUMBER, List.of(), new double[0], 1, 0, inverse);
        }
        List<String> names = new ArrayList<>();
        for (int j = 0; j <= own.length; j++) {
            names.add(
                    own.length == 0
                            ? "any"
                            : j == 0
                                    ? "up to " + shown(own[0])
                                    : j == own.length
                                            ? "above " + shown(own[j - 1])
                                            : shown(own[j - 1]) + " to " + shown(own[j]));
        }
        return plain(raw, raw, Kind.CATEGORY, names);
    }

    /** Six digits, which tell edges apart. */
    private static String shown(double x) {
        return new java.math.BigDecimal(x)
                .round(new java.math.MathContext(6))
                .stripTrailingZeros()
                .toPlainString();
    }

    private List<Meaning> indicators(State change) {
        List<Meaning> all = new ArrayList<>();
        for (int code : change.wholes("codes", 0, levels.size() - 1)) {
            all.add(plain(raw + " = " + levels.get(code), raw, Kind.LEVEL, List.of(levels.get(code))));
        }
        return all;
    }

    private Meaning placed(double[] byCode) {
        return new Meaning("place of " + raw, raw, Kind.PLACE, levels, byCode.clone(), 1, 0, x -> x);
    }

    private Meaning withLevel(String level) {
        if (levels.contains(level)) {
            return this;
        }
        List<String> more = new ArrayList<>(levels);
        more.add(level);
        more.sort(CodePoints.ORDER);
        return plain(head, raw, kind, more);
    }

    /** Returns the column of the data, or what is made of it. */
    public String head() {
        return head;
    }

    /** Returns the name of the one column of the data that it comes of, empty if of several. */
    public String raw() {
        return raw;
    }

    /** Returns what the head is. */
    public Kind kind() {
        return kind;
    }

    /** Returns the levels: of {@link Kind#LEVEL} that one, of others all that the category has. */
    public List<String> levels() {
        return levels;
    }

    /** Returns by how much the prepared column rises with the head. */
    public double slope() {
        return slope;
    }

    /** Returns the prepared column where the head is 0. */
    public double offset() {
        return offset;
    }

    /** Returns the value of the head where the prepared column has a value. */
    public double head(double prepared) {
        return (prepared - offset) / slope;
    }

    /** Returns the value of the raw column where the prepared one has a value; of {@link Kind#NUMBER} alone. */
    public double raw(double prepared) {
        return back.applyAsDouble(head(prepared));
    }

    /** Returns the levels whose place is at most a value of the prepared column; of {@link Kind#PLACE} alone. */
    public List<String> upTo(double prepared) {
        double place = head(prepared);
        return IntStream.range(0, levels.size())
                .filter(code -> (code < places.length ? places[code] : 0) <= place)
                .mapToObj(levels::get)
                .toList();
    }
}

package keenfold.core.run.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.function.DoubleUnaryOperator;
import java.util.function.Supplier;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.data.CodePoints;
import keenfold.core.data.Column;
import keenfold.core.data.Table;
import keenfold.core.data.Vector;
import keenfold.core.learned.ColumnTransform;
import keenfold.core.learned.DatePart;
import keenfold.core.learned.LearnedStep;
import keenfold.core.learned.LevelMeans;
import keenfold.core.learned.WordCounts;

/**
 * What a prepared column says in terms of the columns of the data: {@code slope·head + offset}, where the head is a column of
 * the data or something made of it. Immutable.
 *
 * <p>It leads back what a classifier learned, such as a coefficient or a threshold, to the units that a reader knows.
 */
public final class ColumnOrigin {
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

    private ColumnOrigin(
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

    private static ColumnOrigin plain(String head, String raw, Kind kind, List<String> levels) {
        return new ColumnOrigin(head, raw, kind, levels, new double[0], 1, 0, x -> x);
    }

    private static ColumnOrigin other(String head) {
        return plain(head, "", Kind.OTHER, List.of());
    }

    /** Returns what the columns that a predictor's classifier is handed mean, in their order. */
    public static List<ColumnOrigin> of(FittedPipeline predictor, Table columns) {
        List<ColumnOrigin> all = of(predictor.steps(), predictor.memberColumns(), columns);
        Checks.that(all.size() == predictor.prepared().size(), "%d columns of %s", all.size(), predictor.prepared());
        return all;
    }

    /** Returns what the columns mean that steps make of those of the data, or of what members predict. */
    static List<ColumnOrigin> of(List<LearnedStep> steps, MemberColumns members, Table columns) {
        List<ColumnOrigin> all = new ArrayList<>();
        if (members.none()) {
            for (Column c : columns.columns()) {
                all.add(c.match(
                        n -> plain(n.name(), n.name(), Kind.NUMBER, List.of()),
                        k -> plain(k.name(), k.name(), Kind.CATEGORY, k.levels())));
            }
        } else {
            for (String name : members.names()) {
                all.add(other(name));
            }
        }
        for (LearnedStep step : steps) {
            all = step.match(new AfterStep(all));
        }
        return all;
    }

    /** The columns behind a step. */
    private record AfterStep(List<ColumnOrigin> columns) implements LearnedStep.Cases<List<ColumnOrigin>> {
        @Override
        public List<ColumnOrigin> columnByColumn(LearnedStep.ColumnByColumn step) {
            return IntStream.range(0, columns.size())
                    .boxed()
                    .flatMap(c -> step.transforms().get(c).match(new Transformed(columns.get(c))).stream())
                    .toList();
        }

        @Override
        public List<ColumnOrigin> columnChoice(LearnedStep.ColumnChoice step) {
            return step.kept().stream().map(columns::get).toList();
        }

        @Override
        public List<ColumnOrigin> columnProducts(LearnedStep.ColumnProducts step) {
            List<ColumnOrigin> all = new ArrayList<>(columns);
            List<Integer> factors = step.factors();
            for (int a = 0; a < factors.size(); a++) {
                for (int b = step.squares() ? a : a + 1; b < factors.size(); b++) {
                    all.add(other(columns.get(factors.get(a)).prepared() + " * "
                            + columns.get(factors.get(b)).prepared()));
                }
            }
            return all;
        }

        @Override
        public List<ColumnOrigin> projection(LearnedStep.Projection step) {
            List<ColumnOrigin> all = new ArrayList<>(
                    columns.stream().filter(c -> c.kind == Kind.CATEGORY).toList());
            int count = step.directions().size();
            IntStream.rangeClosed(1, count).forEach(k -> all.add(other("component " + k)));
            return all;
        }
    }

    /** Its name where it is a part of something: standardised columns are not the columns. */
    private String prepared() {
        return slope == 1 && offset == 0 ? head : "scaled(" + head + ")";
    }

    /** What takes the place of a column. */
    private record Transformed(ColumnOrigin column) implements ColumnTransform.Cases<List<ColumnOrigin>> {
        private List<ColumnOrigin> number(Supplier<ColumnOrigin> made) {
            return List.of(column.kind == Kind.CATEGORY ? column : made.get());
        }

        private List<ColumnOrigin> category(Supplier<ColumnOrigin> made) {
            return List.of(column.kind == Kind.CATEGORY ? made.get() : column);
        }

        @Override
        public List<ColumnOrigin> kept(ColumnTransform.Kept t) {
            return List.of(column);
        }

        @Override
        public List<ColumnOrigin> dropped(ColumnTransform.Dropped t) {
            return List.of();
        }

        @Override
        public List<ColumnOrigin> standardised(ColumnTransform.Standardised t) {
            return number(() -> column.line(1 / t.sd(), -t.mean() / t.sd()));
        }

        @Override
        public List<ColumnOrigin> rescaled(ColumnTransform.Rescaled t) {
            double by = (t.high() - t.low()) / (t.greatest() - t.least());
            return number(() -> column.line(by, t.low() - by * t.least()));
        }

        @Override
        public List<ColumnOrigin> logged(ColumnTransform.Logged t) {
            return number(() -> column.bent("log", y -> Math.copySign(StrictMath.expm1(Math.abs(y)) * t.unit(), y)));
        }

        @Override
        public List<ColumnOrigin> powered(ColumnTransform.Powered t) {
            return number(() -> column.bent("power", unpowered(t.exponent())));
        }

        @Override
        public List<ColumnOrigin> binned(ColumnTransform.Binned t) {
            return number(() -> column.inIntervals(t.edges(), t.numbers()));
        }

        @Override
        public List<ColumnOrigin> indicated(ColumnTransform.Indicated t) {
            return column.kind == Kind.CATEGORY ? column.indicators(t.codes()) : List.of(column);
        }

        @Override
        public List<ColumnOrigin> placed(ColumnTransform.Placed t) {
            return category(() -> column.byPlace("place of " + column.raw, t.places()));
        }

        @Override
        public List<ColumnOrigin> filledNumber(ColumnTransform.FilledNumber t) {
            return List.of(column);
        }

        @Override
        public List<ColumnOrigin> filledLevel(ColumnTransform.FilledLevel t) {
            return List.of(column);
        }

        @Override
        public List<ColumnOrigin> newLevel(ColumnTransform.NewLevel t) {
            return category(() -> column.withLevel(t.level()));
        }

        @Override
        public List<ColumnOrigin> dateSplit(ColumnTransform.DateSplit t) {
            if (column.kind == Kind.CATEGORY) {
                return List.of(column);
            }
            List<ColumnOrigin> all = new ArrayList<>();
            for (DatePart part : t.parts()) {
                String of = part.label().replace('-', ' ') + " of " + column.prepared();
                switch (part) {
                    case YEAR, MONTH -> all.add(plain(of, column.raw, Kind.OTHER, List.of()));
                    case DAY_OF_WEEK ->
                        all.add(plain(
                                of,
                                column.raw,
                                Kind.CATEGORY,
                                DatePart.daysOfWeek().stream().sorted().toList()));
                    case DAY_OF_YEAR -> {
                        all.add(plain("sin(" + of + ")", column.raw, Kind.OTHER, List.of()));
                        all.add(plain("cos(" + of + ")", column.raw, Kind.OTHER, List.of()));
                    }
                }
            }
            return all;
        }

        @Override
        public List<ColumnOrigin> wordCounts(WordCounts t) {
            String what = t.unitLength() ? "weight" : "count";
            return column.kind == Kind.CATEGORY
                    ? t.words().stream()
                            .map(w -> plain(
                                    what + " of \"" + w + "\" in " + column.raw, column.raw, Kind.OTHER, List.of()))
                            .toList()
                    : List.of(column);
        }

        @Override
        public List<ColumnOrigin> levelMeans(LevelMeans t) {
            return column.kind == Kind.CATEGORY
                    ? IntStream.range(0, t.labels().size())
                            .mapToObj(c -> column.byPlace(
                                    "share of " + t.labels().get(c) + " by " + column.raw,
                                    t.byCode().get(c)))
                            .toList()
                    : List.of(column);
        }

        @Override
        public List<ColumnOrigin> marked(ColumnTransform.Marked t) {
            List<ColumnOrigin> both = new ArrayList<>(t.fill().match(this));
            both.add(plain(column.raw + " missing", column.raw, Kind.MISSING, List.of()));
            return both;
        }
    }

    private ColumnOrigin line(double by, double add) {
        return new ColumnOrigin(head, raw, kind, levels, places, by * slope, by * offset + add, back);
    }

    /** A rising function of this, which begins a new head. */
    private ColumnOrigin bent(String name, DoubleUnaryOperator inverse) {
        if (kind != Kind.NUMBER) {
            return plain(name + "(" + prepared() + ")", raw, Kind.OTHER, List.of());
        }
        ColumnOrigin before = this;
        return new ColumnOrigin(
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

    private ColumnOrigin inIntervals(Vector edges, boolean numbers) {
        if (kind != Kind.NUMBER) {
            return plain("bin of " + prepared(), raw, Kind.OTHER, List.of());
        }
        double[] own = edges.stream().map(this::raw).toArray();
        if (numbers) {
            // Up to bin j is up to its upper edge.
            DoubleUnaryOperator inverse = y -> {
                int bin = (int) Math.floor(y + 1e-9);
                return bin < 1 ? Double.NEGATIVE_INFINITY : bin > own.length ? Double.POSITIVE_INFINITY : own[bin - 1];
            };
            return new ColumnOrigin("bin of " + raw, raw, Kind.NUMBER, List.of(), new double[0], 1, 0, inverse);
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

    private List<ColumnOrigin> indicators(List<Integer> codes) {
        List<ColumnOrigin> all = new ArrayList<>();
        for (int code : codes) {
            all.add(plain(raw + " = " + levels.get(code), raw, Kind.LEVEL, List.of(levels.get(code))));
        }
        return all;
    }

    private ColumnOrigin byPlace(String what, Vector byCode) {
        return new ColumnOrigin(what, raw, Kind.PLACE, levels, byCode.toArray(), 1, 0, x -> x);
    }

    private ColumnOrigin withLevel(String level) {
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

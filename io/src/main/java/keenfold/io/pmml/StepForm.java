package keenfold.io.pmml;

import static keenfold.io.pmml.Expression.apply;
import static keenfold.io.pmml.Expression.literal;
import static keenfold.io.pmml.Expression.ref;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.function.UnaryOperator;
import keenfold.core.data.CodePoints;
import keenfold.core.data.Vector;
import keenfold.core.learned.ColumnTransform;
import keenfold.core.learned.LearnedStep;
import keenfold.core.learned.LevelMeans;
import keenfold.core.learned.WordCounts;

/**
 * Fitted steps as derived fields: each does to fields what {@code docs/model.md} says that it does to columns.
 *
 * @param columns that the step is handed
 */
record StepForm(Fields fields, List<Field> columns) implements LearnedStep.Cases<List<Field>> {
    private static final double HAIR = 1e-12;

    /** Returns the fields that a step makes of fields. */
    static List<Field> after(LearnedStep step, List<Field> columns, Fields fields) {
        return step.match(new StepForm(fields, columns));
    }

    @Override
    public List<Field> columnByColumn(LearnedStep.ColumnByColumn step) {
        List<Field> all = new ArrayList<>();
        for (int c = 0; c < columns.size(); c++) {
            all.addAll(step.transforms().get(c).match(new Transformed(fields, columns.get(c))));
        }
        return all;
    }

    @Override
    public List<Field> columnChoice(LearnedStep.ColumnChoice step) {
        return step.kept().stream().map(columns::get).toList();
    }

    @Override
    public List<Field> columnProducts(LearnedStep.ColumnProducts step) {
        List<Field> all = new ArrayList<>(columns);
        List<Integer> factors = step.factors();
        for (int a = 0; a < factors.size(); a++) {
            for (int b = step.squares() ? a : a + 1; b < factors.size(); b++) {
                Field first = columns.get(factors.get(a));
                Field second = columns.get(factors.get(b));
                String made = first.column() + "*" + second.column();
                String name = fields.number(made, apply("*", ref(first.name()), ref(second.name())));
                all.add(new Field(name, made, true, List.of()));
            }
        }
        return all;
    }

    @Override
    public List<Field> projection(LearnedStep.Projection step) {
        List<Field> all =
                new ArrayList<>(columns.stream().filter(c -> !c.numeric()).toList());
        for (int k = 0; k < step.directions().size(); k++) {
            List<Expression> terms = new ArrayList<>();
            for (int j = 0; j < step.numbers().size(); j++) {
                Expression x = ref(columns.get(step.numbers().get(j)).name());
                Expression centred = apply("-", x, literal(step.means().get(j)));
                terms.add(apply("*", centred, literal(step.directions().get(k).get(j))));
            }
            String made = "component " + (k + 1);
            all.add(new Field(fields.number(made, Expression.sum(terms)), made, true, List.of()));
        }
        return all;
    }

    /** The fields that take the place of one. */
    private record Transformed(Fields fields, Field column) implements ColumnTransform.Cases<List<Field>> {
        @Override
        public List<Field> kept(ColumnTransform.Kept t) {
            return List.of(column);
        }

        @Override
        public List<Field> dropped(ColumnTransform.Dropped t) {
            return List.of();
        }

        @Override
        public List<Field> standardised(ColumnTransform.Standardised t) {
            return number("standardise", x -> apply("/", apply("-", x, literal(t.mean())), literal(t.sd())));
        }

        @Override
        public List<Field> rescaled(ColumnTransform.Rescaled t) {
            return number("rescale", x -> {
                Expression share = apply("/", apply("-", x, literal(t.least())), literal(t.greatest() - t.least()));
                return apply("+", literal(t.low()), apply("*", literal(t.high() - t.low()), share));
            });
        }

        @Override
        public List<Field> logged(ColumnTransform.Logged t) {
            return number(
                    "log",
                    x -> mirrored(x, u -> apply("ln", apply("+", literal(1), apply("/", u, literal(t.unit()))))));
        }

        @Override
        public List<Field> powered(ColumnTransform.Powered t) {
            return number("power", x -> power(t.exponent(), x));
        }

        @Override
        public List<Field> filledNumber(ColumnTransform.FilledNumber t) {
            return number("fill-number", x -> Expression.filled(column.name(), t.value()));
        }

        /** A number of a number; a category stays. */
        private List<Field> number(String did, UnaryOperator<Expression> made) {
            return List.of(column.numeric() ? derived(did, made.apply(ref(column.name()))) : column);
        }

        private Field derived(String did, Expression made) {
            String name = fields.number(did + "(" + column.column() + ")", made);
            return new Field(name, column.column(), true, List.of());
        }

        @Override
        public List<Field> binned(ColumnTransform.Binned t) {
            return List.of(column.numeric() ? inIntervals(t) : column);
        }

        private Field inIntervals(ColumnTransform.Binned t) {
            double[] edges = t.edges().toArray();
            if (!fields.ofData(List.of(column.name())).contains(column.name())) {
                // An edge is the value of a training row; where that is computed, another program's last digit must not
                // carry the row over it.
                edges = Arrays.stream(edges).map(e -> e + Math.abs(e) * HAIR).toArray();
            }
            int digits = Integer.toString(edges.length + 1).length();
            List<String> labels = new ArrayList<>();
            for (int j = 1; j <= edges.length + 1; j++) {
                String digit = Integer.toString(j);
                labels.add(t.numbers() ? Double.toString(j) : "0".repeat(digits - digit.length()) + digit);
            }
            Expression made = discrete(column.name(), edges, labels, t.numbers());
            return t.numbers()
                    ? derived("bins", made)
                    : new Field(fields.category("bins(" + column.column() + ")", made), column.column(), false, labels);
        }

        @Override
        public List<Field> indicated(ColumnTransform.Indicated t) {
            if (column.numeric()) {
                return List.of(column);
            }
            List<Field> all = new ArrayList<>();
            for (int code : t.codes()) {
                String level = column.levels().get(code);
                String made = column.column() + "=" + level;
                String name = fields.number(
                        made,
                        new Expression(
                                Set.of(column.name()),
                                xml -> xml.leaf("NormDiscrete", "field", column.name(), "value", level)));
                all.add(new Field(name, made, true, List.of()));
            }
            return all;
        }

        @Override
        public List<Field> placed(ColumnTransform.Placed t) {
            if (column.numeric()) {
                return List.of(column);
            }
            return List.of(derived("ordinal", byLevel(t.places(), 0, OptionalDouble.empty())));
        }

        /** A number for each level, another for all others, and perhaps one where the level is missing. */
        private Expression byLevel(Vector byCode, double others, OptionalDouble missing) {
            return new Expression(Set.of(column.name()), xml -> {
                List<Object> open = new ArrayList<>(List.of(
                        "outputColumn", "number", "defaultValue", Double.toString(others), "dataType", "double"));
                missing.ifPresent(m -> open.addAll(List.of("mapMissingTo", Double.toString(m))));
                xml.open("MapValues", open.toArray());
                xml.leaf("FieldColumnPair", "field", column.name(), "column", "level");
                xml.open("InlineTable");
                int count = Math.min(byCode.size(), column.levels().size());
                for (int code = 0; code < count; code++) {
                    row(xml, "level", column.levels().get(code), "number", Double.toString(byCode.get(code)));
                }
                xml.close().close();
            });
        }

        @Override
        public List<Field> filledLevel(ColumnTransform.FilledLevel t) {
            return List.of(
                    column.numeric() || t.code() < 0
                            ? column
                            : filled(column.levels().get(t.code()), column.levels()));
        }

        @Override
        public List<Field> newLevel(ColumnTransform.NewLevel t) {
            if (column.numeric()) {
                return List.of(column);
            }
            List<String> levels = new ArrayList<>(column.levels());
            if (!levels.contains(t.level())) {
                // Codes are places among the sorted levels.
                levels.add(t.level());
                levels.sort(CodePoints.ORDER);
            }
            return List.of(filled(t.level(), levels));
        }

        private Field filled(String level, List<String> levels) {
            String name = fields.category("fill(" + column.column() + ")", Expression.filled(column.name(), level));
            return new Field(name, column.column(), false, levels);
        }

        @Override
        public List<Field> dateSplit(ColumnTransform.DateSplit t) {
            return column.numeric() ? new DateForm(fields, column).of(t.parts()) : List.of(column);
        }

        @Override
        public List<Field> wordCounts(WordCounts t) {
            return column.numeric() ? List.of(column) : new WordForm(fields, column).of(t);
        }

        @Override
        public List<Field> levelMeans(LevelMeans t) {
            if (column.numeric()) {
                return List.of(column);
            }
            List<Field> all = new ArrayList<>();
            for (int c = 0; c < t.labels().size(); c++) {
                String made = t.name(column.column(), c);
                Expression share = byLevel(
                        t.byCode().get(c),
                        t.unseen().get(c),
                        OptionalDouble.of(t.missing().get(c)));
                all.add(new Field(fields.number("share(" + made + ")", share), made, true, List.of()));
            }
            return all;
        }

        @Override
        public List<Field> marked(ColumnTransform.Marked t) {
            List<Field> both = new ArrayList<>(t.fill().match(this));
            String name = fields.number(
                    column.column() + " missing",
                    apply("if", apply("isMissing", ref(column.name())), literal(1), literal(0)));
            both.add(new Field(name, column.column() + " missing", true, List.of()));
            return both;
        }
    }

    /** An odd function from its right half. */
    private static Expression mirrored(Expression x, UnaryOperator<Expression> right) {
        return apply(
                "if",
                apply("lessThan", x, literal(0)),
                apply("-", literal(0), right.apply(apply("-", literal(0), x))),
                right.apply(x));
    }

    /** Yeo and Johnson: the left half is the right one with the exponent 2 − λ, mirrored. */
    private static Expression power(double exponent, Expression x) {
        return apply(
                "if",
                apply("lessThan", x, literal(0)),
                apply("-", literal(0), half(2 - exponent, apply("-", literal(0), x))),
                half(exponent, x));
    }

    private static Expression half(double exponent, Expression u) {
        Expression base = apply("+", literal(1), u);
        return exponent == 0
                ? apply("ln", base)
                : apply("/", apply("-", apply("pow", base, literal(exponent)), literal(1)), literal(exponent));
    }

    /** A row of a table: each cell is an element of its column's name. */
    static void row(Xml xml, String... cells) {
        xml.open("row");
        for (int i = 0; i < cells.length; i += 2) {
            xml.open(cells[i]).text(cells[i + 1]).close();
        }
        xml.close();
    }

    /** Intervals that begin behind an edge and end with one. */
    static Expression discrete(String field, double[] edges, List<String> labels, boolean numbers) {
        return new Expression(Set.of(field), xml -> {
            xml.open("Discretize", "field", field, "dataType", numbers ? "double" : "string");
            for (int j = 0; j <= edges.length; j++) {
                xml.open("DiscretizeBin", "binValue", labels.get(j));
                List<Object> interval =
                        new ArrayList<>(List.of("closure", j == edges.length ? "openOpen" : "openClosed"));
                if (j > 0 || edges.length == 0) {
                    // An interval has one end at least.
                    interval.addAll(List.of("leftMargin", j > 0 ? edges[j - 1] : -Double.MAX_VALUE));
                }
                if (j < edges.length) {
                    interval.addAll(List.of("rightMargin", edges[j]));
                }
                xml.leaf("Interval", interval.toArray()).close();
            }
            xml.close();
        });
    }
}

package keenfold.io.pmml;

import static keenfold.io.pmml.Expression.apply;
import static keenfold.io.pmml.Expression.literal;
import static keenfold.io.pmml.Expression.ref;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Set;
import java.util.function.Function;
import keenfold.core.data.CodePoints;
import keenfold.core.data.State;

/** Fitted steps as derived fields: each does to fields what {@code docs/model.md} says that it does to columns. */
final class StepForms {
    private static final double HAIR = 1e-12;

    private final Fields fields;

    StepForms(Fields fields) {
        this.fields = fields;
    }

    /** Returns the fields that a step makes of fields. */
    List<Field> after(State step, List<Field> columns) {
        return switch (step.kind()) {
            case "each" -> each(step.parts("columns"), columns);
            case "choice" -> choice(step.wholes("columns", 0, columns.size() - 1), columns);
            case "products" -> products(step.wholes("columns", 0, columns.size() - 1), step.truth("squares"), columns);
            case "components" -> components(step, columns);
            default -> throw new IllegalArgumentException("a step \"" + step.kind() + "\" has no form in PMML");
        };
    }

    private List<Field> each(List<State> changes, List<Field> columns) {
        List<Field> all = new ArrayList<>();
        for (int c = 0; c < columns.size(); c++) {
            all.addAll(changed(changes.get(c), columns.get(c)));
        }
        return all;
    }

    private List<Field> changed(State change, Field column) {
        return switch (change.kind()) {
            case "keep" -> List.of(column);
            case "drop" -> List.of();
            case "mark" -> marked(change.part("fill"), column);
            case "one-hot" -> column.numeric() ? List.of(column) : indicators(change, column);
            case "ordinal" -> List.of(column.numeric() ? column : placed(change.numbers("places"), column));
            case "fill-level", "fill-new-level" -> List.of(column.numeric() ? column : filled(change, column));
            case "bins" -> List.of(column.numeric() ? binned(change, column) : column);
            default -> List.of(column.numeric() ? formula(change, column) : column);
        };
    }

    private Field number(Field column, String did, Expression made) {
        return new Field(fields.number(did + "(" + column.column() + ")", made), column.column(), true, List.of());
    }

    private Field formula(State change, Field column) {
        Expression x = ref(column.name());
        Expression made =
                switch (change.kind()) {
                    case "standardise" ->
                        apply("/", apply("-", x, literal(change.number("mean"))), literal(change.number("sd")));
                    case "rescale" -> rescaled(change, x);
                    case "log" ->
                        mirrored(
                                x,
                                u -> apply(
                                        "ln", apply("+", literal(1), apply("/", u, literal(change.number("unit"))))));
                    case "power" -> power(change.number("exponent"), x);
                    case "fill-number" -> Expression.filled(column.name(), change.number("value"));
                    default ->
                        throw new IllegalArgumentException("a change \"" + change.kind() + "\" has no form in PMML");
                };
        return number(column, change.kind(), made);
    }

    private static Expression rescaled(State change, Expression x) {
        double low = change.number("low");
        double least = change.number("least");
        Expression share = apply("/", apply("-", x, literal(least)), literal(change.number("greatest") - least));
        return apply("+", literal(low), apply("*", literal(change.number("high") - low), share));
    }

    /** An odd function from its right half. */
    private static Expression mirrored(Expression x, Function<Expression, Expression> right) {
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

    private List<Field> marked(State fill, Field column) {
        List<Field> both = new ArrayList<>(changed(fill, column));
        String name = fields.number(
                column.column() + " missing",
                apply("if", apply("isMissing", ref(column.name())), literal(1), literal(0)));
        both.add(new Field(name, column.column() + " missing", true, List.of()));
        return both;
    }

    private List<Field> indicators(State change, Field column) {
        List<Field> all = new ArrayList<>();
        for (int code : change.wholes("codes", 0, column.levels().size() - 1)) {
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

    private Field placed(double[] places, Field column) {
        return number(column, "ordinal", new Expression(Set.of(column.name()), xml -> {
            xml.open("MapValues", "outputColumn", "place", "defaultValue", "0", "dataType", "double");
            xml.leaf("FieldColumnPair", "field", column.name(), "column", "level");
            xml.open("InlineTable");
            for (int code = 0; code < Math.min(places.length, column.levels().size()); code++) {
                row(xml, "level", column.levels().get(code), "place", Double.toString(places[code]));
            }
            xml.close().close();
        }));
    }

    /** A row of a table: each cell is an element of its column's name. */
    static void row(Xml xml, String... cells) {
        xml.open("row");
        for (int i = 0; i < cells.length; i += 2) {
            xml.open(cells[i]).text(cells[i + 1]).close();
        }
        xml.close();
    }

    private Field filled(State change, Field column) {
        String level;
        List<String> levels = new ArrayList<>(column.levels());
        if (change.kind().equals("fill-level")) {
            int code = change.whole("code", -1, levels.size() - 1);
            if (code < 0) {
                return column;
            }
            level = levels.get(code);
        } else {
            level = change.text("level");
            if (!levels.contains(level)) {
                // Codes are places among the sorted levels.
                levels.add(level);
                levels.sort(CodePoints.ORDER);
            }
        }
        String name = fields.category("fill(" + column.column() + ")", Expression.filled(column.name(), level));
        return new Field(name, column.column(), false, levels);
    }

    private Field binned(State change, Field column) {
        double[] edges = change.numbers("edges");
        if (!fields.ofData(List.of(column.name())).contains(column.name())) {
            // An edge is the value of a training row; where that is computed, another program's last digit must not
            // carry the row over it.
            edges = Arrays.stream(edges).map(e -> e + Math.abs(e) * HAIR).toArray();
        }
        boolean numbers = change.truth("numbers");
        int digits = Integer.toString(edges.length + 1).length();
        List<String> labels = new ArrayList<>();
        for (int j = 1; j <= edges.length + 1; j++) {
            String digit = Integer.toString(j);
            labels.add(numbers ? Double.toString(j) : "0".repeat(digits - digit.length()) + digit);
        }
        Expression made = discrete(column.name(), edges, labels, numbers);
        String name = "bins(" + column.column() + ")";
        return numbers
                ? number(column, "bins", made)
                : new Field(fields.category(name, made), column.column(), false, labels);
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

    private static List<Field> choice(int[] kept, List<Field> columns) {
        List<Field> all = new ArrayList<>();
        for (int c : kept) {
            all.add(columns.get(c));
        }
        return all;
    }

    private List<Field> products(int[] factors, boolean squares, List<Field> columns) {
        List<Field> all = new ArrayList<>(columns);
        for (int a = 0; a < factors.length; a++) {
            for (int b = squares ? a : a + 1; b < factors.length; b++) {
                Field first = columns.get(factors[a]);
                Field second = columns.get(factors[b]);
                String made = first.column() + "*" + second.column();
                String name = fields.number(made, apply("*", ref(first.name()), ref(second.name())));
                all.add(new Field(name, made, true, List.of()));
            }
        }
        return all;
    }

    private List<Field> components(State step, List<Field> columns) {
        int[] numbers = step.wholes("columns", 0, columns.size() - 1);
        double[] means = step.numbers("means", numbers.length);
        double[][] directions = step.rows("directions", numbers.length);
        List<Field> all =
                new ArrayList<>(columns.stream().filter(c -> !c.numeric()).toList());
        for (int k = 0; k < directions.length; k++) {
            List<Expression> terms = new ArrayList<>();
            for (int j = 0; j < numbers.length; j++) {
                Expression x = ref(columns.get(numbers[j]).name());
                terms.add(apply("*", apply("-", x, literal(means[j])), literal(directions[k][j])));
            }
            String made = "component " + (k + 1);
            all.add(new Field(fields.number(made, Expression.sum(terms)), made, true, List.of()));
        }
        return all;
    }
}

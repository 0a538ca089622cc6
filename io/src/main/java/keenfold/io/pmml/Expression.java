package keenfold.io.pmml;

import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.function.Consumer;

/**
 * How a field comes of others.
 *
 * @param fields names of the fields that it reads
 * @param form its element
 */
record Expression(Set<String> fields, Consumer<Xml> form) {
    /** The value of a field. */
    static Expression ref(String field) {
        return new Expression(Set.of(field), xml -> xml.leaf("FieldRef", "field", field));
    }

    /** The value of a field, something else where it is missing. */
    static Expression filled(String field, Object value) {
        return new Expression(Set.of(field), xml -> xml.leaf("FieldRef", "field", field, "mapMissingTo", value));
    }

    /** A number. */
    static Expression literal(double number) {
        return new Expression(Set.of(), xml -> xml.open("Constant", "dataType", "double")
                .text(Double.toString(number))
                .close());
    }

    /** A built-in function of the standard. */
    static Expression apply(String function, Expression... arguments) {
        return apply(function, Arrays.asList(arguments));
    }

    /** A built-in function of the standard. */
    static Expression apply(String function, List<Expression> arguments) {
        Set<String> all = new LinkedHashSet<>();
        arguments.forEach(a -> all.addAll(a.fields));
        return new Expression(all, xml -> {
            xml.open("Apply", "function", function);
            arguments.forEach(a -> a.form.accept(xml));
            xml.close();
        });
    }

    /** The sum; what is missing would be left out of it, so that no argument may be. */
    static Expression sum(List<Expression> terms) {
        return terms.isEmpty() ? literal(0) : terms.size() == 1 ? terms.get(0) : apply("sum", terms);
    }

    /** 1/(1 + exp(−x)). */
    static Expression logistic(Expression x) {
        return apply("/", literal(1), apply("+", literal(1), apply("exp", apply("-", literal(0), x))));
    }

    /** x, at least {@code low} and at most {@code high}. */
    static Expression within(double low, double high, Expression x) {
        return apply("min", literal(high), apply("max", literal(low), x));
    }
}

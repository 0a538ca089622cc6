package keenfold.core.metric.catalog;

import java.util.List;
import java.util.Optional;
import java.util.function.DoublePredicate;
import java.util.function.Function;
import keenfold.core.data.Classes;
import keenfold.core.metric.ClassWeights;
import keenfold.core.metric.Costs;
import keenfold.core.metric.CountMetric;
import keenfold.core.metric.Metric;
import keenfold.core.metric.OneClassMetric;

/**
 * A metric that can be asked for by name: all that is known of it, in one place.
 *
 * @param label the name that plans use
 * @param meaning the definition in one line, without its number
 * @param range the least and the greatest value, in words
 * @param source paper or book
 * @param higherIsBetter whether higher values are better
 * @param oneSided whether it speaks of one class, and so can be asked for a class, or by class share
 * @param byLabels whether it looks at predicted labels, and not at probabilities
 * @param number the number that the name goes on with, if it does
 * @param formula how it is computed of a data set
 */
public record Measure(
        String label,
        String meaning,
        String range,
        String source,
        boolean higherIsBetter,
        boolean oneSided,
        boolean byLabels,
        Optional<Parameter> number,
        Function<Binding, Metric> formula) {
    private static final Classes OTHERS_AND_ONE = new Classes(List.of("0", "1"), 1);

    /**
     * A number that is part of a metric's name.
     *
     * @param symbol that stands for it in the definition
     * @param range what it may be, in words
     * @param example the name with a number
     * @param takes whether a number is in the range
     */
    public record Parameter(String symbol, String range, String example, DoublePredicate takes) {}

    /**
     * What a metric is computed of.
     *
     * @param name as it was asked for
     * @param classes of the data set
     * @param counts rows of each class
     * @param weights how classes are averaged, of a one-sided metric
     * @param number the one of the name; NaN if it has none
     * @param costs of predictions, for the metric that needs them
     */
    record Binding(
            String name, Classes classes, List<Integer> counts, ClassWeights weights, double number, Costs costs) {
        Binding {
            counts = List.copyOf(counts);
        }
    }

    /** Returns a metric of labels from 0 to 1, of which higher values are better. */
    static Measure of(String label, String meaning, String source, Function<Binding, Metric> formula) {
        return new Measure(label, meaning, "0 to 1", source, true, false, true, Optional.empty(), formula);
    }

    /** Returns the same with another range. */
    Measure within(String otherRange) {
        return new Measure(label, meaning, otherRange, source, higherIsBetter, oneSided, byLabels, number, formula);
    }

    /** Returns the same, of which lower values are better. */
    Measure lowerIsBetter() {
        return new Measure(label, meaning, range, source, false, oneSided, byLabels, number, formula);
    }

    /** Returns the same, which speaks of one class. */
    Measure ofOneClass() {
        return new Measure(label, meaning, range, source, higherIsBetter, true, byLabels, number, formula);
    }

    /** Returns the same, which looks at probabilities. */
    Measure ofProbabilities() {
        return new Measure(label, meaning, range, source, higherIsBetter, oneSided, false, number, formula);
    }

    /** Returns the same with a number in its name. */
    Measure with(Parameter parameter) {
        return new Measure(
                label, meaning, range, source, higherIsBetter, oneSided, byLabels, Optional.of(parameter), formula);
    }

    /** Returns the definition in one line. */
    public String definition() {
        return number.map(n -> meaning + "; asked for as " + label + "=" + n.symbol() + ", such as " + n.example())
                .orElse(meaning);
    }

    /**
     * Returns the metric on all classes alike; for one-sided measures, weighted over classes.
     *
     * @throws IllegalArgumentException if the number says nothing about so many classes, or costs are missing
     */
    Metric bind(Binding of) {
        Optional<Integer> only = of.weights().only();
        if (of.classes().count() == 2 || !byLabels || only.isEmpty()) {
            return formula.apply(of);
        }
        // Of labels one class is asked for: the others are one.
        int rows = of.counts().stream().mapToInt(Integer::intValue).sum();
        int own = of.counts().get(only.get());
        Metric ofTwo = bind(new Binding(
                of.name(), OTHERS_AND_ONE, List.of(rows - own, own), ClassWeights.only(1), of.number(), of.costs()));
        return ofTwo instanceof CountMetric counted ? new OneClassMetric(of.name(), counted, only.get()) : ofTwo;
    }
}

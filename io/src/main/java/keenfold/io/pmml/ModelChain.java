package keenfold.io.pmml;

import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Models of a document, one after another: each may read what those before it put out, and the last one gives the
 * probabilities.
 */
final class ModelChain {
    private final Fields fields;
    private final List<String> labels;
    private final List<Segment> segments = new ArrayList<>();

    /** @param labels of the classes */
    ModelChain(Fields fields, List<String> labels) {
        this.fields = fields;
        this.labels = List.copyOf(labels);
    }

    Fields fields() {
        return fields;
    }

    /** Returns the labels of the classes. */
    List<String> labels() {
        return labels;
    }

    /** Adds a model. */
    void add(Segment segment) {
        segments.add(segment);
    }

    /** Lets the last model put out some values. */
    void put(List<Segment.Output> outputs) {
        add(segments.remove(segments.size() - 1).with(outputs));
    }

    /** Returns all models as one. */
    Segment whole() {
        return segments.size() == 1 ? segments.get(0) : Segment.several("modelChain", true, segments);
    }

    /** Adds a model that gives the same probabilities to every row. */
    void addConstant(double[] shares) {
        add(Segment.classifier("TreeModel", List.of(), Set.of(), xml -> {
            xml.open("Node", "score", labels.get(largest(shares)), "recordCount", 1.0)
                    .leaf("True");
            distribution(xml, shares, 1);
            xml.close();
        }));
    }

    /** The place of the largest share, the first among equals. */
    static int largest(double[] shares) {
        int most = 0;
        for (int c = 1; c < shares.length; c++) {
            most = shares[c] > shares[most] ? c : most;
        }
        return most;
    }

    /** Writes the class shares of a node. */
    void distribution(Xml xml, double[] shares, double weight) {
        for (int c = 0; c < shares.length; c++) {
            xml.leaf(
                    "ScoreDistribution",
                    "value",
                    labels.get(c),
                    "recordCount",
                    shares[c] * weight,
                    "probability",
                    shares[c]);
        }
    }

    /** Adds the model that makes probabilities of scores: of the second class against the first, or one of each class. */
    void addSoftmax(List<Integer> present, List<Expression> scores) {
        List<Map<String, Double>> terms = new ArrayList<>();
        for (int k = 0; k < scores.size(); k++) {
            terms.add(Map.of(fields.number("score " + (k + 1), scores.get(k)), 1.0));
        }
        addLinear(present, terms, Collections.nCopies(scores.size(), 0.0), 1);
    }

    /**
     * Adds scores that are linear in fields: of the second class against the first, or one of each class.
     *
     * @param terms coefficients by field
     * @param exponent that each field is raised to
     */
    void addLinear(List<Integer> present, List<Map<String, Double>> terms, List<Double> intercepts, int exponent) {
        boolean two = terms.size() == 1;
        Set<String> used = new LinkedHashSet<>();
        terms.forEach(t -> used.addAll(t.keySet()));
        add(Segment.classifier(
                "RegressionModel", List.of("normalizationMethod", two ? "logit" : "softmax"), used, xml -> {
                    for (int k = 0; k < terms.size(); k++) {
                        table(xml, labels.get(present.get(two ? 1 : k)), intercepts.get(k), terms.get(k), exponent);
                    }
                    if (two) {
                        table(xml, labels.get(present.get(0)), 0, Map.of(), 1);
                    }
                }));
    }

    /**
     * Adds a number that is linear in fields.
     *
     * @param name of the field that it puts out
     * @param terms coefficients by field
     */
    void addLinearNumber(String name, Map<String, Double> terms, double intercept) {
        add(Segment.number("RegressionModel", List.of(), terms.keySet(), xml -> {
                    xml.open("RegressionTable", "intercept", intercept);
                    predictors(xml, terms, 1);
                    xml.close();
                })
                .with(List.of(Segment.Output.predicted(name))));
    }

    /**
     * Adds a model whose probabilities are the values of expressions, or their shares of their sum.
     *
     * @param normalisation "none" or "simplemax"
     */
    void addPlain(List<String> of, List<Expression> probabilities, String normalisation) {
        List<String> names = new ArrayList<>();
        for (int k = 0; k < of.size(); k++) {
            names.add(fields.number("share of " + of.get(k), probabilities.get(k)));
        }
        add(Segment.classifier(
                "RegressionModel", List.of("normalizationMethod", normalisation), new LinkedHashSet<>(names), xml -> {
                    for (int k = 0; k < names.size(); k++) {
                        table(xml, of.get(k), 0, Map.of(names.get(k), 1.0), 1);
                    }
                }));
    }

    private static void table(Xml xml, String label, double intercept, Map<String, Double> terms, int exponent) {
        xml.open("RegressionTable", "intercept", intercept, "targetCategory", label);
        predictors(xml, terms, exponent);
        xml.close();
    }

    private static void predictors(Xml xml, Map<String, Double> terms, int exponent) {
        terms.forEach((field, coefficient) ->
                xml.leaf("NumericPredictor", "name", field, "exponent", exponent, "coefficient", coefficient));
    }

    /** The names of columns' fields. */
    static Set<String> names(List<Field> columns) {
        Set<String> all = new LinkedHashSet<>();
        columns.forEach(c -> all.add(c.name()));
        return all;
    }
}

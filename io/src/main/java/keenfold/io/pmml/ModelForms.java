package keenfold.io.pmml;

import static keenfold.io.pmml.Expression.apply;
import static keenfold.io.pmml.Expression.literal;
import static keenfold.io.pmml.Expression.ref;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.data.State;

/**
 * Trained classifiers as models of the standard, one after another; the last one gives the probabilities.
 *
 * <p>What each state holds is in {@code docs/model.md}. A classifier that the standard has no form for is refused with the
 * reason.
 */
final class ModelForms {

    private final Fields fields;
    private final List<String> labels;
    private final List<Segment> chain;

    /**
     * @param labels of the classes
     * @param chain where models are added
     */
    ModelForms(Fields fields, List<String> labels, List<Segment> chain) {
        this.fields = fields;
        this.labels = labels;
        this.chain = chain;
    }

    /**
     * Adds the models of a classifier.
     *
     * @param columns that it is handed
     * @return the classes that it knows; others have the probability 0
     */
    int[] add(State model, List<Field> columns) {
        int[] all = IntStream.range(0, labels.size()).toArray();
        int[] present = model.has("present") ? model.wholes("present", 0, labels.size() - 1) : all;
        switch (model.kind()) {
            case "majority" -> chain.add(constant(model.numbers("shares")));
            case "one-class" -> {
                double[] shares = new double[labels.size()];
                shares[model.whole("only", 0, shares.length - 1)] = 1;
                chain.add(constant(shares));
            }
            case "tree" -> chain.add(tree(model.part("root"), columns));
            case "forest" ->
                chain.add(Segment.several(
                        "average",
                        true,
                        model.parts("roots").stream().map(r -> tree(r, columns)).toList()));
            case "boosting" -> boosting(model, present, columns);
            case "logistic" -> logistic(model, present, columns);
            case "naive-bayes" -> {
                return naiveBayes(model, columns);
            }
            case "discriminant" -> discriminant(model, present, columns);
            case "svm" -> svm(model, present, columns);
            case "network" -> network(model, present, columns);
            case "vote" -> vote(model, columns);
            case "nearest" ->
                throw new IllegalArgumentException(
                        "nearest has no form in PMML: its neighbours are exactly so many rows,"
                                + " whichever of equally near ones, and it leaves their probabilities open");
            default -> throw new IllegalArgumentException(model.kind() + " has no form in PMML");
        }
        return present;
    }

    private static Set<String> names(List<Field> columns) {
        Set<String> all = new LinkedHashSet<>();
        columns.forEach(c -> all.add(c.name()));
        return all;
    }

    private Segment constant(double[] shares) {
        return Segment.classifier(
                "TreeModel", List.of(), Set.of(), xml -> leaf(xml, shares, 1).close());
    }

    /** Begins a node that has class shares. */
    private Xml leaf(Xml xml, double[] shares, double weight) {
        int most = 0;
        for (int c = 1; c < shares.length; c++) {
            most = shares[c] > shares[most] ? c : most;
        }
        xml.open("Node", "score", labels.get(most), "recordCount", weight).leaf("True");
        distribution(xml, shares, weight);
        return xml;
    }

    private void distribution(Xml xml, double[] shares, double weight) {
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

    private static List<Object> treeAttributes() {
        return List.of("missingValueStrategy", "none", "splitCharacteristic", "binarySplit");
    }

    /** A tree from its nodes, those before what is below them, the left side first. */
    private Segment tree(State nodes, List<Field> columns) {
        int[] split = nodes.wholes("columns", -1, columns.size() - 1);
        double[] thresholds = nodes.numbers("thresholds", split.length);
        double[] shares = nodes.numbers("shares", split.length * labels.size());
        double[] weights = nodes.numbers("weights", split.length);
        Set<String> used = new LinkedHashSet<>();
        Arrays.stream(split)
                .filter(c -> c >= 0)
                .forEach(c -> used.add(columns.get(c).name()));
        return Segment.classifier("TreeModel", treeAttributes(), used, xml -> {
            // Of each open node what writes the predicate of its right side, nothing once that is begun.
            Deque<Optional<Runnable>> rights = new ArrayDeque<>();
            Runnable predicate = () -> xml.leaf("True");
            for (int i = 0; i < split.length; i++) {
                double[] own = Arrays.copyOfRange(shares, i * labels.size(), (i + 1) * labels.size());
                int most = 0;
                for (int c = 1; c < own.length; c++) {
                    most = own[c] > own[most] ? c : most;
                }
                xml.open("Node", "score", labels.get(most), "recordCount", weights[i]);
                predicate.run();
                distribution(xml, own, weights[i]);
                if (split[i] >= 0) {
                    String field = columns.get(split[i]).name();
                    double at = thresholds[i];
                    rights.push(Optional.of(() -> side(xml, field, "greaterThan", at)));
                    predicate = () -> side(xml, field, "lessOrEqual", at);
                } else {
                    predicate = closed(xml, rights);
                }
            }
        });
    }

    /** Ends a leaf and every node whose right side it ends; returns what writes the predicate of the next node. */
    private static Runnable closed(Xml xml, Deque<Optional<Runnable>> rights) {
        xml.close();
        while (!rights.isEmpty()) {
            Optional<Runnable> right = rights.pop();
            if (right.isPresent()) {
                rights.push(Optional.empty());
                return right.get();
            }
            xml.close();
        }
        return () -> {};
    }

    private static void side(Xml xml, String field, String operator, double value) {
        xml.leaf("SimplePredicate", "field", field, "operator", operator, "value", value);
    }

    private void boosting(State model, int[] present, List<Field> columns) {
        double[] start = model.numbers("start");
        List<State> rounds = model.parts("rounds");
        List<Expression> scores = new ArrayList<>();
        for (int k = 0; k < start.length; k++) {
            int place = k;
            List<Segment> trees = rounds.stream()
                    .map(r -> valueTree(r.parts("trees").get(place), columns))
                    .toList();
            if (trees.isEmpty()) {
                scores.add(literal(start[k]));
                continue;
            }
            String sum = fields.put("sum of trees " + (k + 1));
            chain.add(Segment.several("sum", false, trees).with(List.of(Segment.Output.predicted(sum))));
            scores.add(apply("+", ref(sum), literal(start[k])));
        }
        softmax(present, scores);
    }

    private Segment valueTree(State nodes, List<Field> columns) {
        int[] left = nodes.wholes("left", -1, Integer.MAX_VALUE);
        int[] right = nodes.wholes("right", -1, Integer.MAX_VALUE);
        int[] split = nodes.wholes("columns", 0, Math.max(0, columns.size() - 1));
        double[] thresholds = nodes.numbers("thresholds");
        double[] values = nodes.numbers("values");
        Set<String> used = new LinkedHashSet<>();
        for (int i = 0; i < left.length; i++) {
            if (left[i] >= 0) {
                used.add(columns.get(split[i]).name());
            }
        }
        return Segment.number("TreeModel", treeAttributes(), used, xml -> {
            Deque<Optional<Runnable>> rights = new ArrayDeque<>();
            Deque<Integer> next = new ArrayDeque<>(List.of(0));
            Runnable predicate = () -> xml.leaf("True");
            while (!next.isEmpty()) {
                int i = next.pop();
                xml.open("Node", "score", values[i]);
                predicate.run();
                if (left[i] >= 0) {
                    String field = columns.get(split[i]).name();
                    rights.push(Optional.of(() -> side(xml, field, "greaterThan", thresholds[i])));
                    predicate = () -> side(xml, field, "lessOrEqual", thresholds[i]);
                    next.push(right[i]);
                    next.push(left[i]);
                } else {
                    predicate = closed(xml, rights);
                }
            }
        });
    }

    /** The last model, from the score of the second class against the first, or one of each class. */
    private void softmax(int[] present, List<Expression> scores) {
        List<Map<String, Double>> terms = new ArrayList<>();
        for (int k = 0; k < scores.size(); k++) {
            terms.add(Map.of(fields.number("score " + (k + 1), scores.get(k)), 1.0));
        }
        linear(present, terms, new double[scores.size()], 1);
    }

    /**
     * Adds scores that are linear in fields: of the second class against the first, or one of each class.
     *
     * @param terms coefficients by field
     * @param exponent that each field is raised to
     */
    private void linear(int[] present, List<Map<String, Double>> terms, double[] intercepts, int exponent) {
        boolean two = terms.size() == 1;
        Set<String> used = new LinkedHashSet<>();
        terms.forEach(t -> used.addAll(t.keySet()));
        chain.add(Segment.classifier(
                "RegressionModel", List.of("normalizationMethod", two ? "logit" : "softmax"), used, xml -> {
                    for (int k = 0; k < terms.size(); k++) {
                        table(xml, labels.get(present[two ? 1 : k]), intercepts[k], terms.get(k), exponent);
                    }
                    if (two) {
                        table(xml, labels.get(present[0]), 0, Map.of(), 1);
                    }
                }));
    }

    private static void table(Xml xml, String label, double intercept, Map<String, Double> terms, int exponent) {
        xml.open("RegressionTable", "intercept", intercept, "targetCategory", label);
        terms.forEach((field, coefficient) ->
                xml.leaf("NumericPredictor", "name", field, "exponent", exponent, "coefficient", coefficient));
        xml.close();
    }

    private void logistic(State model, int[] present, List<Field> columns) {
        if (present.length == 1) {
            double[] shares = new double[labels.size()];
            shares[present[0]] = 1;
            chain.add(constant(shares));
            return;
        }
        double[][] beta = model.rows("coefficients", columns.size() + 1);
        List<Map<String, Double>> terms = new ArrayList<>();
        double[] intercepts = new double[beta.length];
        for (int k = 0; k < beta.length; k++) {
            Map<String, Double> own = new LinkedHashMap<>();
            for (int j = 0; j < columns.size(); j++) {
                if (beta[k][j] != 0) {
                    own.merge(columns.get(j).name(), beta[k][j], Double::sum);
                }
            }
            terms.add(own);
            intercepts[k] = beta[k][columns.size()];
        }
        linear(present, terms, intercepts, 1);
    }

    private int[] naiveBayes(State model, List<Field> columns) {
        double[] prior =
                Arrays.stream(model.numbers("prior")).map(StrictMath::exp).toArray();
        int[] present =
                IntStream.range(0, prior.length).filter(c -> prior[c] > 0).toArray();
        List<Consumer<Xml>> inputs = new ArrayList<>();
        Set<String> used = new LinkedHashSet<>();
        for (int j = 0; j < columns.size(); j++) {
            State density = model.parts("columns").get(j);
            Field column = columns.get(j);
            switch (density.kind()) {
                case "normal" -> {
                    if (density.truth("varies")) {
                        used.add(column.name());
                        inputs.add(normal(density, column, present));
                    }
                }
                case "levels" -> levels(density, column, present, used, inputs);
                default ->
                    throw new IllegalArgumentException("naive-bayes with kernel densities has no form in PMML:"
                            + " it has normal ones for numbers, and no kernels");
            }
        }
        if (inputs.isEmpty()) {
            chain.add(constant(prior));
            return present;
        }
        String target = fields.target();
        chain.add(Segment.classifier("NaiveBayesModel", List.of("threshold", 0), used, xml -> {
            xml.open("BayesInputs");
            inputs.forEach(i -> i.accept(xml));
            xml.close();
            xml.open("BayesOutput", "fieldName", target);
            counts(xml, present, prior);
            xml.close();
        }));
        return present;
    }

    private Consumer<Xml> normal(State density, Field column, int[] present) {
        double[] mean = density.numbers("mean", labels.size());
        double[] variance = density.numbers("variance", labels.size());
        return xml -> {
            xml.open("BayesInput", "fieldName", column.name()).open("TargetValueStats");
            for (int c : present) {
                xml.open("TargetValueStat", "value", labels.get(c))
                        .leaf("GaussianDistribution", "mean", mean[c], "variance", variance[c])
                        .close();
            }
            xml.close().close();
        };
    }

    private void levels(State density, Field column, int[] present, Set<String> used, List<Consumer<Xml>> inputs) {
        double[][] logs = density.rows("logs");
        int[] seen = IntStream.range(0, Math.min(logs.length, column.levels().size()))
                .filter(l -> logs[l].length > 0)
                .toArray();
        if (seen.length == 0) {
            return;
        }
        for (int c : present) {
            for (int level : seen) {
                Checks.that(
                        StrictMath.exp(logs[level][c]) > 0,
                        "naive-bayes: class \"%s\" has no \"%s\" in \"%s\", and without pseudo-counts that rules it out;"
                                + " PMML has no form for a row that every class is ruled out for",
                        labels.get(c),
                        column.levels().get(level),
                        column.column());
            }
        }
        // A level that had no training row says nothing, as a missing value does.
        String known = fields.category("known(" + column.column() + ")", new Expression(Set.of(column.name()), xml -> {
            xml.open("MapValues", "outputColumn", "known", "dataType", "string");
            xml.leaf("FieldColumnPair", "field", column.name(), "column", "level");
            xml.open("InlineTable");
            for (int level : seen) {
                String text = column.levels().get(level);
                StepForms.row(xml, "level", text, "known", text);
            }
            xml.close().close();
        }));
        used.add(known);
        inputs.add(xml -> {
            xml.open("BayesInput", "fieldName", known);
            for (int level : seen) {
                xml.open("PairCounts", "value", column.levels().get(level));
                counts(
                        xml,
                        present,
                        Arrays.stream(logs[level]).map(StrictMath::exp).toArray());
                xml.close();
            }
            xml.close();
        });
    }

    private void counts(Xml xml, int[] present, double[] shares) {
        xml.open("TargetValueCounts");
        for (int c : present) {
            xml.leaf("TargetValueCount", "value", labels.get(c), "count", shares[c]);
        }
        xml.close();
    }

    /** With z = L⁻¹(x − mean) of each class, its score is a constant less half the sum of squares of z. */
    private void discriminant(State model, int[] present, List<Field> columns) {
        int[] inUse = model.wholes("columns", 0, columns.size() - 1);
        List<State> densities = model.parts("densities");
        List<Map<String, Double>> terms = new ArrayList<>();
        double[] intercepts = new double[densities.size()];
        for (int k = 0; k < densities.size(); k++) {
            State density = densities.get(k);
            double[] mean = density.numbers("mean", inUse.length);
            double[][] lower = density.rows("lower", inUse.length);
            List<String> z = new ArrayList<>();
            for (int a = 0; a < inUse.length; a++) {
                List<Expression> parts = new ArrayList<>();
                parts.add(apply("-", ref(columns.get(inUse[a]).name()), literal(mean[a])));
                for (int b = 0; b < a; b++) {
                    if (lower[a][b] != 0) {
                        parts.add(apply("*", literal(-lower[a][b]), ref(z.get(b))));
                    }
                }
                z.add(fields.number(
                        "z " + (a + 1) + " of " + labels.get(present[k]),
                        apply("/", Expression.sum(parts), literal(lower[a][a]))));
            }
            Map<String, Double> own = new LinkedHashMap<>();
            z.forEach(name -> own.put(name, -0.5));
            terms.add(own);
            intercepts[k] = density.number("log-share") - density.number("log-root");
        }
        Checks.that(densities.size() > 1, "discriminant of one class");
        linear(present, terms, intercepts, 2);
    }

    private void svm(State model, int[] present, List<Field> columns) {
        Checks.that(
                present.length == 2,
                "svm of %d classes has no form in PMML: its votes of pairs give no probabilities, and those of Keen Fold"
                        + " solve a system of equations",
                present.length);
        State pair = model.parts("pairs").get(0);
        double[] coefficients = model.rows("coefficients")[0];
        String f = fields.put("margin");
        boolean linear = model.text("shape").equals("LINEAR");
        List<Object> attributes = List.of("svmRepresentation", linear ? "Coefficients" : "SupportVectors");
        chain.add(Segment.number("SupportVectorMachineModel", attributes, names(columns), xml -> {
                    kernel(xml, model, columns.size());
                    double[][] support = linear ? new double[0][] : model.rows("support", columns.size());
                    double scale = scale(model, columns.size());
                    vectors(xml, columns, support, scale);
                    xml.open("SupportVectorMachine");
                    if (!linear) {
                        xml.open("SupportVectors", "numberOfSupportVectors", support.length);
                        for (int s = 0; s < support.length; s++) {
                            xml.leaf("SupportVector", "vectorId", "v" + (s + 1));
                        }
                        xml.close();
                    }
                    xml.open("Coefficients", "absoluteValue", pair.number("bias"));
                    for (double c : coefficients) {
                        xml.leaf("Coefficient", "value", c);
                    }
                    xml.close().close();
                })
                .with(List.of(Segment.Output.predicted(f))));
        Expression line = apply("+", apply("*", literal(pair.number("slope")), ref(f)), literal(pair.number("offset")));
        // As Keen Fold does, so that no row is ever certain.
        Expression share = Expression.within(1e-7, 1 - 1e-7, Expression.logistic(line));
        plain(
                List.of(labels.get(present[0]), labels.get(present[1])),
                List.of(apply("-", literal(1), share), share),
                "none");
    }

    private static double scale(State model, int columns) {
        double width = model.number("width");
        return model.text("shape").equals("LINEAR") ? 1 : width > 0 ? width : Math.sqrt(Math.max(1, columns));
    }

    private static void kernel(Xml xml, State model, int columns) {
        double scale = scale(model, columns);
        switch (model.text("shape")) {
            case "LINEAR" -> xml.leaf("LinearKernelType");
            case "RADIAL" -> xml.leaf("RadialBasisKernelType", "gamma", 1 / (2 * scale * scale));
            default ->
                xml.leaf(
                        "PolynomialKernelType",
                        "gamma",
                        1 / (scale * scale),
                        "coef0",
                        1,
                        "degree",
                        model.whole("degree", 1, Integer.MAX_VALUE));
        }
    }

    private static void vectors(Xml xml, List<Field> columns, double[][] support, double scale) {
        xml.open("VectorDictionary", "numberOfVectors", support.length);
        xml.open("VectorFields", "numberOfFields", columns.size());
        columns.forEach(c -> xml.leaf("FieldRef", "field", c.name()));
        xml.close();
        for (int s = 0; s < support.length; s++) {
            StringBuilder all = new StringBuilder();
            for (double x : support[s]) {
                all.append(all.length() == 0 ? "" : " ").append(x * scale);
            }
            xml.open("VectorInstance", "id", "v" + (s + 1))
                    .open("Array", "n", columns.size(), "type", "real")
                    .text(all.toString())
                    .close()
                    .close();
        }
        xml.close();
    }

    private void network(State model, int[] present, List<Field> columns) {
        int layers = model.whole("layers", 0, 100);
        int units = model.whole("units", 0, 1_000_000);
        int outputs = model.whole("outputs", 1, 1_000_000);
        double[] weights = model.numbers("weights");
        Set<String> used = names(columns);
        String target = fields.target();
        chain.add(Segment.classifier("NeuralNetwork", List.of("activationFunction", "tanh"), used, xml -> {
            List<String> below = new ArrayList<>();
            xml.open("NeuralInputs", "numberOfInputs", columns.size());
            for (Field column : columns) {
                String id = "0," + below.size();
                below.add(id);
                xml.open("NeuralInput", "id", id)
                        .open("DerivedField", "optype", "continuous", "dataType", "double")
                        .leaf("FieldRef", "field", column.name())
                        .close()
                        .close();
            }
            xml.close();
            int at = 0;
            for (int l = 0; l <= layers; l++) {
                boolean last = l == layers;
                xml.open(
                        "NeuralLayer",
                        last
                                ? new Object[] {"activationFunction", "identity", "normalizationMethod", "softmax"}
                                : new Object[0]);
                List<String> own = new ArrayList<>();
                if (last && outputs == 1) {
                    own.add(neuron(xml, l + 1, 0, new double[below.size() + 1], 0, below));
                }
                for (int u = 0; u < (last ? outputs : units); u++) {
                    own.add(neuron(xml, l + 1, own.size(), weights, at, below));
                    at += below.size() + 1;
                }
                xml.close();
                below = own;
            }
            xml.open("NeuralOutputs", "numberOfOutputs", below.size());
            for (int k = 0; k < below.size(); k++) {
                xml.open("NeuralOutput", "outputNeuron", below.get(k))
                        .open("DerivedField", "optype", "categorical", "dataType", "string")
                        .leaf("NormDiscrete", "field", target, "value", labels.get(present[k]))
                        .close()
                        .close();
            }
            xml.close();
        }));
    }

    private static String neuron(Xml xml, int layer, int place, double[] weights, int from, List<String> below) {
        String id = layer + "," + place;
        xml.open("Neuron", "id", id, "bias", weights[from + below.size()]);
        for (int j = 0; j < below.size(); j++) {
            xml.leaf("Con", "from", below.get(j), "weight", weights[from + j]);
        }
        xml.close();
        return id;
    }

    private void vote(State model, List<Field> columns) {
        int members = model.whole("members", 1, 1_000_000);
        int classes = labels.size();
        double[] weights = model.numbers("weights");
        double total = weights.length == 0 ? members : Arrays.stream(weights).sum();
        List<List<Expression>> sums = new ArrayList<>();
        labels.forEach(l -> sums.add(new ArrayList<>()));
        for (int m = 0; m < members; m++) {
            List<Expression> own = new ArrayList<>();
            List<Expression> others = new ArrayList<>();
            for (int c = 1; c < classes; c++) {
                others.add(ref(columns.get(m * (classes - 1) + c - 1).name()));
            }
            own.add(ref(fields.number(
                    "rest " + (m + 1), apply("max", literal(0), apply("-", literal(1), Expression.sum(others))))));
            own.addAll(others);
            double weight = (weights.length == 0 ? 1 : weights[m]) / total;
            for (int c = 0; c < classes; c++) {
                Expression voice = model.truth("by-label") ? most(own, c) : own.get(c);
                sums.get(c).add(apply("*", literal(weight), voice));
            }
        }
        plain(labels, sums.stream().map(Expression::sum).toList(), "none");
    }

    /** 1 where a class is the most probable one, the first among equals; 0 elsewhere. */
    private static Expression most(List<Expression> own, int c) {
        List<Expression> all = new ArrayList<>();
        for (int d = 0; d < own.size(); d++) {
            if (d != c) {
                all.add(apply(d < c ? "greaterThan" : "greaterOrEqual", own.get(c), own.get(d)));
            }
        }
        return apply("if", all.size() == 1 ? all.get(0) : apply("and", all), literal(1), literal(0));
    }

    /** Adds a model whose probabilities are the values of expressions, or their shares of their sum. */
    private void plain(List<String> of, List<Expression> probabilities, String normalisation) {
        List<String> names = new ArrayList<>();
        for (int k = 0; k < of.size(); k++) {
            names.add(fields.number("share of " + of.get(k), probabilities.get(k)));
        }
        chain.add(Segment.classifier(
                "RegressionModel", List.of("normalizationMethod", normalisation), new LinkedHashSet<>(names), xml -> {
                    for (int k = 0; k < names.size(); k++) {
                        table(xml, of.get(k), 0, Map.of(names.get(k), 1.0), 1);
                    }
                }));
    }

    /**
     * Adds what calibrates probabilities.
     *
     * @param probabilities a field per class
     */
    void calibrate(State calibration, List<String> probabilities) {
        List<State> curves = calibration.parts("curves");
        if (labels.size() == 2) {
            Expression second = curve(curves.get(0), probabilities.get(1));
            plain(labels, List.of(apply("-", literal(1), second), second), "none");
            return;
        }
        List<Expression> all = new ArrayList<>();
        for (int c = 0; c < labels.size(); c++) {
            all.add(ref(fields.number("calibrated " + labels.get(c), curve(curves.get(c), probabilities.get(c)))));
        }
        Expression nothing = apply("equal", Expression.sum(all), literal(0));
        List<Expression> kept = new ArrayList<>();
        for (int c = 0; c < labels.size(); c++) {
            kept.add(apply("if", nothing, ref(probabilities.get(c)), all.get(c)));
        }
        plain(labels, kept, "simplemax");
    }

    private static Expression curve(State curve, String probability) {
        if (curve.kind().equals("platt")) {
            Expression p = Expression.within(1e-6, 1 - 1e-6, ref(probability));
            Expression odds = apply("ln", apply("/", p, apply("-", literal(1), p)));
            return Expression.logistic(
                    apply("+", apply("*", literal(curve.number("slope")), odds), literal(curve.number("offset"))));
        }
        double[] low = curve.numbers("low");
        double[] high = curve.numbers("high");
        double[] values = curve.numbers("values");
        double[] edges = new double[low.length - 1];
        Arrays.setAll(edges, s -> lastNearer(high[s], low[s + 1]));
        return StepForms.discrete(
                probability,
                edges,
                Arrays.stream(values).mapToObj(Double::toString).toList(),
                true);
    }

    /** Between two steps the nearer one holds: the last number that is not nearer to the second, as it is computed. */
    private static double lastNearer(double first, double second) {
        Checks.that(first < second, "isotonic: steps out of order");
        double p = first / 2 + second / 2;
        while (p - first > second - p) {
            p = Math.nextDown(p);
        }
        while (!(Math.nextUp(p) - first > second - Math.nextUp(p))) {
            p = Math.nextUp(p);
        }
        return p;
    }
}

package keenfold.io.pmml;

import java.io.ByteArrayInputStream;
import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import javax.xml.parsers.DocumentBuilderFactory;
import org.w3c.dom.Element;
import org.w3c.dom.Node;

/**
 * What a document of PMML 4.4 says of a row, by the text of the standard alone: each function is a section of it.
 *
 * <p>A model sees nothing but what its mining schema lists and what is derived of that. A missing value is null.
 */
final class PmmlEvaluator {
    private final Element root;
    private final Map<String, Element> global = new HashMap<>();
    private final Map<String, Element> dictionary = new HashMap<>();

    PmmlEvaluator(byte[] document) throws Exception {
        DocumentBuilderFactory factory = DocumentBuilderFactory.newInstance();
        factory.setNamespaceAware(true);
        root = factory.newDocumentBuilder()
                .parse(new ByteArrayInputStream(document))
                .getDocumentElement();
        children(one(root, "DataDictionary"), "DataField").forEach(f -> dictionary.put(f.getAttribute("name"), f));
        child(root, "TransformationDictionary")
                .ifPresent(d -> children(d, "DerivedField").forEach(f -> global.put(f.getAttribute("name"), f)));
    }

    /** The outputs of the document's model. */
    Map<String, Object> outputs(Map<String, Object> row) {
        Element model = elements(root).stream()
                .filter(e -> !Set.of("Header", "DataDictionary", "TransformationDictionary")
                        .contains(e.getLocalName()))
                .findFirst()
                .orElseThrow();
        return outputs(model, run(model, row));
    }

    /** What a model gives: a value, or the probability of each class; and the fields that it saw. */
    private record Result(Object value, Map<String, Double> probability, Scope scope) {}

    /** The fields that a model can see. */
    private final class Scope {
        private final Map<String, Object> values = new HashMap<>();
        private final Map<String, Element> local = new HashMap<>();

        Object get(String name) {
            if (!values.containsKey(name)) {
                Element derived = local.getOrDefault(name, global.get(name));
                if (derived == null) {
                    throw new IllegalStateException("no field \"" + name + "\" can be seen here");
                }
                Object made = expression(elements(derived).get(0));
                values.put(name, typed(made, derived));
            }
            return values.get(name);
        }

        private static Object typed(Object value, Element by) {
            return by.getAttribute("dataType").equals("double") && value instanceof String text
                    ? Double.valueOf(text)
                    : value;
        }

        private Object expression(Element e) {
            return switch (e.getLocalName()) {
                case "Constant" ->
                    e.getAttribute("dataType").equals("double")
                            ? (Object) Double.valueOf(e.getTextContent())
                            : e.getTextContent();
                case "FieldRef" -> {
                    Object value = get(e.getAttribute("field"));
                    yield value == null && e.hasAttribute("mapMissingTo")
                            ? value(e.getAttribute("field"), e.getAttribute("mapMissingTo"))
                            : value;
                }
                case "NormDiscrete" -> {
                    Object value = get(e.getAttribute("field"));
                    yield value == null ? null : value.equals(e.getAttribute("value")) ? 1.0 : 0.0;
                }
                case "Discretize" -> typed(discretised(e), e);
                case "MapValues" -> typed(mapped(e), e);
                case "Apply" -> applied(e);
                default -> throw new IllegalStateException(e.getLocalName());
            };
        }

        private Object value(String field, String text) {
            Element given = dictionary.get(field);
            Element derived = local.getOrDefault(field, global.get(field));
            return (given != null ? given : derived).getAttribute("dataType").equals("double")
                    ? (Object) Double.valueOf(text)
                    : text;
        }

        private Object discretised(Element e) {
            Object value = get(e.getAttribute("field"));
            if (value == null) {
                return null;
            }
            double x = (Double) value;
            for (Element bin : children(e, "DiscretizeBin")) {
                Element interval = one(bin, "Interval");
                String closure = interval.getAttribute("closure");
                double left = number(interval, "leftMargin", Double.NEGATIVE_INFINITY);
                double right = number(interval, "rightMargin", Double.POSITIVE_INFINITY);
                boolean above = closure.startsWith("open") ? x > left : x >= left;
                boolean below = closure.endsWith("Open") ? x < right : x <= right;
                if (above && below) {
                    return bin.getAttribute("binValue");
                }
            }
            return null;
        }

        private Object mapped(Element e) {
            Element pair = one(e, "FieldColumnPair");
            Object value = get(pair.getAttribute("field"));
            if (value == null) {
                return null;
            }
            for (Element row : children(one(e, "InlineTable"), "row")) {
                if (one(row, pair.getAttribute("column")).getTextContent().equals(value)) {
                    return one(row, e.getAttribute("outputColumn")).getTextContent();
                }
            }
            return e.hasAttribute("defaultValue") ? e.getAttribute("defaultValue") : null;
        }

        private Object applied(Element e) {
            List<Element> arguments = elements(e);
            String function = e.getAttribute("function");
            if (function.equals("if")) {
                Object condition = expression(arguments.get(0));
                return condition == null ? null : expression(arguments.get((Boolean) condition ? 1 : 2));
            }
            List<Object> values = new ArrayList<>();
            arguments.forEach(a -> values.add(expression(a)));
            if (function.equals("isMissing")) {
                return values.get(0) == null;
            }
            if (values.contains(null)) {
                return null;
            }
            if (function.equals("dateDaysSinceYear")) {
                LocalDate from = LocalDate.of((int) (double) (Double) values.get(1), 1, 1);
                return (double) ChronoUnit.DAYS.between(from, LocalDate.parse((String) values.get(0)));
            }
            if (function.equals("and")) {
                return values.stream().allMatch(v -> (Boolean) v);
            }
            double[] x = values.stream().mapToDouble(v -> (Double) v).toArray();
            return switch (function) {
                case "+" -> x[0] + x[1];
                case "-" -> x[0] - x[1];
                case "*" -> x[0] * x[1];
                case "/" -> x[0] / x[1];
                case "sum" -> Arrays.stream(x).sum();
                case "min" -> Arrays.stream(x).min().orElseThrow();
                case "max" -> Arrays.stream(x).max().orElseThrow();
                case "exp" -> Math.exp(x[0]);
                case "ln" -> Math.log(x[0]);
                case "pow" -> Math.pow(x[0], x[1]);
                case "lessThan" -> x[0] < x[1];
                case "greaterThan" -> x[0] > x[1];
                case "greaterOrEqual" -> x[0] >= x[1];
                case "equal" -> x[0] == x[1];
                default -> throw new IllegalStateException(function);
            };
        }
    }

    /** The values that the mining schema of a model lets in. */
    private Scope scope(Element model, Map<String, Object> outer) {
        Scope scope = new Scope();
        for (Element field : children(one(model, "MiningSchema"), "MiningField")) {
            String name = field.getAttribute("name");
            if (field.getAttribute("usageType").equals("target")) {
                continue;
            }
            if (!outer.containsKey(name)) {
                throw new IllegalStateException("the schema lists \"" + name + "\", which is not there");
            }
            Object value = outer.get(name);
            Element given = dictionary.get(name);
            boolean invalid = value != null
                    && given != null
                    && given.getAttribute("optype").equals("categorical")
                    && children(given, "Value").stream()
                            .noneMatch(v -> v.getAttribute("value").equals(value));
            if (invalid && !field.getAttribute("invalidValueTreatment").equals("asIs")) {
                throw new IllegalStateException("invalid value " + value);
            }
            scope.values.put(name, value);
        }
        child(model, "LocalTransformations")
                .ifPresent(l -> children(l, "DerivedField").forEach(f -> scope.local.put(f.getAttribute("name"), f)));
        return scope;
    }

    private Map<String, Object> outputs(Element model, Result result) {
        Map<String, Object> all = new LinkedHashMap<>();
        child(model, "Output").ifPresent(output -> {
            for (Element field : children(output, "OutputField")) {
                Object value =
                        switch (field.getAttribute("feature")) {
                            case "probability" -> result.probability.get(field.getAttribute("value"));
                            case "predictedValue" -> result.value;
                            case "transformedValue" ->
                                result.scope.expression(elements(field).get(0));
                            default -> throw new IllegalStateException(field.getAttribute("feature"));
                        };
                all.put(field.getAttribute("name"), value);
                result.scope.values.put(field.getAttribute("name"), value);
            }
        });
        return all;
    }

    private Result run(Element model, Map<String, Object> outer) {
        Scope scope = scope(model, outer);
        return switch (model.getLocalName()) {
            case "TreeModel" -> tree(model, scope);
            case "RegressionModel" -> regression(model, scope);
            case "NaiveBayesModel" -> naiveBayes(model, scope);
            case "NeuralNetwork" -> network(model, scope);
            case "SupportVectorMachineModel" -> supportVectors(model, scope);
            case "MiningModel" -> several(model, scope);
            default -> throw new IllegalStateException(model.getLocalName());
        };
    }

    private static Result classes(Map<String, Double> probability, Scope scope) {
        String most = null;
        for (String label : probability.keySet()) {
            most = most == null || probability.get(label) > probability.get(most) ? label : most;
        }
        return new Result(most, probability, scope);
    }

    private Result several(Element model, Scope scope) {
        Element segmentation = one(model, "Segmentation");
        String method = segmentation.getAttribute("multipleModelMethod");
        Map<String, Object> known = new HashMap<>(scope.values);
        List<Result> results = new ArrayList<>();
        for (Element segment : children(segmentation, "Segment")) {
            one(segment, "True");
            Element inner = elements(segment).get(1);
            Result result = run(inner, known);
            results.add(result);
            Map<String, Object> put = outputs(inner, result);
            if (method.equals("modelChain")) {
                known.putAll(put);
            }
        }
        if (method.equals("modelChain")) {
            Result last = results.get(results.size() - 1);
            return new Result(last.value, last.probability, scope);
        }
        if (method.equals("sum")) {
            return new Result(
                    results.stream().mapToDouble(r -> (Double) r.value).sum(), Map.of(), scope);
        }
        if (!method.equals("average")) {
            throw new IllegalStateException(method);
        }
        Map<String, Double> mean = new LinkedHashMap<>();
        results.forEach(r -> r.probability.forEach((k, p) -> mean.merge(k, p / results.size(), Double::sum)));
        return classes(mean, scope);
    }

    private Result tree(Element model, Scope scope) {
        Element node = one(model, "Node");
        if (!holds(elements(node).get(0), scope)) {
            throw new IllegalStateException("the root does not hold");
        }
        while (true) {
            Element next = null;
            for (Element below : children(node, "Node")) {
                if (next == null && holds(elements(below).get(0), scope)) {
                    next = below;
                }
            }
            if (next == null) {
                break;
            }
            node = next;
        }
        if (!children(node, "Node").isEmpty()) {
            throw new IllegalStateException("no side of a node holds");
        }
        if (model.getAttribute("functionName").equals("regression")) {
            return new Result(Double.valueOf(node.getAttribute("score")), Map.of(), scope);
        }
        Map<String, Double> probability = new LinkedHashMap<>();
        children(node, "ScoreDistribution")
                .forEach(d -> probability.put(d.getAttribute("value"), number(d, "probability", Double.NaN)));
        Result result = classes(probability, scope);
        if (!result.value.equals(node.getAttribute("score"))) {
            throw new IllegalStateException("the score is not the most probable class");
        }
        return result;
    }

    private static boolean holds(Element predicate, Scope scope) {
        if (predicate.getLocalName().equals("True")) {
            return true;
        }
        double x = (Double) scope.get(predicate.getAttribute("field"));
        double value = number(predicate, "value", Double.NaN);
        return switch (predicate.getAttribute("operator")) {
            case "lessOrEqual" -> x <= value;
            case "greaterThan" -> x > value;
            default -> throw new IllegalStateException(predicate.getAttribute("operator"));
        };
    }

    private Result regression(Element model, Scope scope) {
        Map<String, Double> y = new LinkedHashMap<>();
        for (Element table : children(model, "RegressionTable")) {
            double sum = number(table, "intercept", Double.NaN);
            for (Element term : children(table, "NumericPredictor")) {
                double x = (Double) scope.get(term.getAttribute("name"));
                sum += number(term, "coefficient", Double.NaN) * Math.pow(x, number(term, "exponent", 1));
            }
            y.put(table.getAttribute("targetCategory"), sum);
        }
        Map<String, Double> p = new LinkedHashMap<>();
        String method = model.getAttribute("normalizationMethod");
        if (method.equals("logit")) {
            List<String> both = List.copyOf(y.keySet());
            if (both.size() != 2) {
                throw new IllegalStateException("logit of " + both);
            }
            double first = 1 / (1 + Math.exp(-y.get(both.get(0))));
            p.put(both.get(0), first);
            p.put(both.get(1), 1 - first);
            return classes(p, scope);
        }
        double most = y.values().stream().mapToDouble(v -> v).max().orElseThrow();
        y.replaceAll((k, v) -> method.equals("softmax") ? Math.exp(v - most) : v);
        double total = method.equals("none")
                ? 1
                : y.values().stream().mapToDouble(v -> v).sum();
        y.forEach((k, v) -> p.put(k, v / total));
        return classes(p, scope);
    }

    private Result naiveBayes(Element model, Scope scope) {
        Map<String, Double> product = new LinkedHashMap<>();
        counts(one(one(model, "BayesOutput"), "TargetValueCounts")).forEach(product::put);
        for (Element input : children(one(model, "BayesInputs"), "BayesInput")) {
            Object value = scope.get(input.getAttribute("fieldName"));
            if (value == null) {
                continue;
            }
            if (child(input, "TargetValueStats").isPresent()) {
                for (Element stat : children(one(input, "TargetValueStats"), "TargetValueStat")) {
                    Element normal = one(stat, "GaussianDistribution");
                    double variance = number(normal, "variance", Double.NaN);
                    double off = (Double) value - number(normal, "mean", Double.NaN);
                    double density = Math.exp(-off * off / (2 * variance)) / Math.sqrt(2 * Math.PI * variance);
                    product.computeIfPresent(stat.getAttribute("value"), (k, v) -> v * density);
                }
                continue;
            }
            Map<String, Double> own = null;
            Map<String, Double> sums = new HashMap<>();
            for (Element pair : children(input, "PairCounts")) {
                Map<String, Double> counts = counts(one(pair, "TargetValueCounts"));
                counts.forEach((k, n) -> sums.merge(k, n, Double::sum));
                own = pair.getAttribute("value").equals(value) ? counts : own;
            }
            Map<String, Double> found = own;
            product.replaceAll((k, v) -> v * found.get(k) / sums.get(k));
        }
        double total = product.values().stream().mapToDouble(v -> v).sum();
        product.replaceAll((k, v) -> v / total);
        return classes(product, scope);
    }

    private static Map<String, Double> counts(Element of) {
        Map<String, Double> all = new LinkedHashMap<>();
        children(of, "TargetValueCount").forEach(c -> all.put(c.getAttribute("value"), number(c, "count", Double.NaN)));
        return all;
    }

    private Result network(Element model, Scope scope) {
        Map<String, Double> activation = new HashMap<>();
        for (Element input : children(one(model, "NeuralInputs"), "NeuralInput")) {
            Object value = scope.expression(elements(one(input, "DerivedField")).get(0));
            activation.put(input.getAttribute("id"), (Double) value);
        }
        for (Element layer : children(model, "NeuralLayer")) {
            String function = layer.hasAttribute("activationFunction")
                    ? layer.getAttribute("activationFunction")
                    : model.getAttribute("activationFunction");
            Map<String, Double> own = new LinkedHashMap<>();
            for (Element neuron : children(layer, "Neuron")) {
                double z = number(neuron, "bias", 0);
                for (Element con : children(neuron, "Con")) {
                    z += number(con, "weight", Double.NaN) * activation.get(con.getAttribute("from"));
                }
                own.put(neuron.getAttribute("id"), function.equals("tanh") ? Math.tanh(z) : z);
            }
            if (layer.getAttribute("normalizationMethod").equals("softmax")) {
                double total = own.values().stream().mapToDouble(Math::exp).sum();
                own.replaceAll((k, v) -> Math.exp(v) / total);
            }
            activation.putAll(own);
        }
        Map<String, Double> probability = new LinkedHashMap<>();
        for (Element output : children(one(model, "NeuralOutputs"), "NeuralOutput")) {
            Element norm = one(one(output, "DerivedField"), "NormDiscrete");
            probability.put(norm.getAttribute("value"), activation.get(output.getAttribute("outputNeuron")));
        }
        return classes(probability, scope);
    }

    private Result supportVectors(Element model, Scope scope) {
        Element vectors = one(model, "VectorDictionary");
        double[] x = children(one(vectors, "VectorFields"), "FieldRef").stream()
                .mapToDouble(f -> (Double) scope.get(f.getAttribute("field")))
                .toArray();
        Element machine = one(model, "SupportVectorMachine");
        Element coefficients = one(machine, "Coefficients");
        double[] values = children(coefficients, "Coefficient").stream()
                .mapToDouble(c -> number(c, "value", Double.NaN))
                .toArray();
        double sum = number(coefficients, "absoluteValue", 0);
        if (model.getAttribute("svmRepresentation").equals("Coefficients")) {
            for (int j = 0; j < x.length; j++) {
                sum += values[j] * x[j];
            }
            return new Result(sum, Map.of(), scope);
        }
        Map<String, double[]> byId = new HashMap<>();
        for (Element instance : children(vectors, "VectorInstance")) {
            byId.put(
                    instance.getAttribute("id"),
                    Arrays.stream(one(instance, "Array").getTextContent().trim().split(" ", -1))
                            .mapToDouble(Double::parseDouble)
                            .toArray());
        }
        List<Element> support = children(one(machine, "SupportVectors"), "SupportVector");
        for (int s = 0; s < support.size(); s++) {
            sum += values[s]
                    * kernel(elements(model), x, byId.get(support.get(s).getAttribute("vectorId")));
        }
        return new Result(sum, Map.of(), scope);
    }

    private static double kernel(List<Element> model, double[] x, double[] z) {
        Element kernel = model.stream()
                .filter(e -> e.getLocalName().endsWith("KernelType"))
                .findFirst()
                .orElseThrow();
        double dot = 0;
        double far = 0;
        for (int j = 0; j < x.length; j++) {
            dot += x[j] * z[j];
            far += (x[j] - z[j]) * (x[j] - z[j]);
        }
        double gamma = number(kernel, "gamma", 1);
        return kernel.getLocalName().startsWith("Radial")
                ? Math.exp(-gamma * far)
                : Math.pow(gamma * dot + number(kernel, "coef0", 1), number(kernel, "degree", 1));
    }

    private static double number(Element e, String attribute, double otherwise) {
        return e.hasAttribute(attribute) ? Double.parseDouble(e.getAttribute(attribute)) : otherwise;
    }

    private static List<Element> elements(Element of) {
        List<Element> all = new ArrayList<>();
        for (Node n = of.getFirstChild(); n != null; n = n.getNextSibling()) {
            if (n instanceof Element e && !e.getLocalName().equals("Extension")) {
                all.add(e);
            }
        }
        return all;
    }

    private static List<Element> children(Element of, String name) {
        return elements(of).stream().filter(e -> e.getLocalName().equals(name)).toList();
    }

    private static Optional<Element> child(Element of, String name) {
        return children(of, name).stream().findFirst();
    }

    private static Element one(Element of, String name) {
        return child(of, name).orElseThrow(() -> new IllegalStateException(of.getLocalName() + " has no " + name));
    }
}

package keenfold.io.pmml;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;

/**
 * One model of a document, by itself or among others.
 *
 * @param element its name
 * @param attributes names and values, one after the other
 * @param classifies whether it gives probabilities of classes; otherwise a number
 * @param used the fields that its content reads
 * @param inner the models inside it
 * @param outputs what it puts out beside its result
 * @param content what stands behind its mining schema and its derived fields
 */
record Segment(
        String element,
        List<Object> attributes,
        boolean classifies,
        Set<String> used,
        List<Segment> inner,
        List<Output> outputs,
        Consumer<Xml> content) {
    /** A value that a model puts out. */
    record Output(List<Object> attributes, Consumer<Xml> expression) {
        void write(Xml xml) {
            xml.open("OutputField", attributes.toArray());
            expression.accept(xml);
            xml.close();
        }

        /** The probability of a class. */
        static Output probability(String name, String label) {
            return number(name, "probability", "value", label);
        }

        /** The number that a model predicts. */
        static Output predicted(String name) {
            return number(name, "predictedValue");
        }

        /** A number by itself. */
        static Output constant(String name, double value) {
            return new Output(
                    number(name, "transformedValue").attributes,
                    Expression.literal(value).form());
        }

        /** The most probable class. */
        static Output label(String name) {
            return new Output(
                    List.of("name", name, "optype", "categorical", "dataType", "string", "feature", "predictedValue"),
                    xml -> {});
        }

        /** The number that an earlier model put out. */
        static Output copy(String name, String of) {
            return new Output(
                    number(name, "transformedValue").attributes,
                    Expression.ref(of).form());
        }

        private static Output number(String name, String feature, Object... more) {
            List<Object> all = new ArrayList<>(
                    List.of("name", name, "optype", "continuous", "dataType", "double", "feature", feature));
            all.addAll(Arrays.asList(more));
            return new Output(all, xml -> {});
        }
    }

    Segment {
        attributes = List.copyOf(attributes);
        // In the order given: that of Set.copyOf differs from run to run.
        used = Collections.unmodifiableSet(new LinkedHashSet<>(used));
        inner = List.copyOf(inner);
        outputs = List.copyOf(outputs);
    }

    /** A model that gives probabilities. */
    static Segment classifier(String element, List<Object> attributes, Set<String> used, Consumer<Xml> content) {
        List<Object> all = new ArrayList<>(List.of("functionName", "classification"));
        all.addAll(attributes);
        return new Segment(element, all, true, used, List.of(), List.of(), content);
    }

    /** A model that gives a number. */
    static Segment number(String element, List<Object> attributes, Set<String> used, Consumer<Xml> content) {
        List<Object> all = new ArrayList<>(List.of("functionName", "regression"));
        all.addAll(attributes);
        return new Segment(element, all, false, used, List.of(), List.of(), content);
    }

    /** Several models as one. */
    static Segment several(String method, boolean classifies, List<Segment> inner) {
        Set<String> used = new LinkedHashSet<>();
        inner.forEach(s -> used.addAll(s.used));
        return new Segment(
                "MiningModel",
                List.of("functionName", classifies ? "classification" : "regression"),
                classifies,
                used,
                inner,
                List.of(),
                xml -> xml.open("Segmentation", "multipleModelMethod", method));
    }

    /** The same with what it puts out. */
    Segment with(List<Output> more) {
        return new Segment(element, attributes, classifies, used, inner, more, content);
    }

    /**
     * Writes it.
     *
     * @param target name of the target
     * @param categories names of the fields of the data that are categories
     * @param within whether it stands inside a chain, so that the outputs of other models are known
     */
    void write(Xml xml, Fields fields, String target, Set<String> categories, boolean within) {
        xml.open(element, attributes.toArray());
        xml.open("MiningSchema");
        if (classifies) {
            xml.leaf("MiningField", "name", target, "usageType", "target");
        }
        Set<String> sources = within ? fields.sources(used) : fields.ofData(used);
        for (String source : sources) {
            Map<String, Object> field = new LinkedHashMap<>();
            field.put("name", source);
            if (categories.contains(source)) {
                // A level that was not there in training is a level of its own.
                field.put("invalidValueTreatment", "asIs");
            }
            List<Object> all = new ArrayList<>();
            field.forEach((k, v) -> all.addAll(List.of(k, v)));
            xml.leaf("MiningField", all.toArray());
        }
        xml.close();
        if (!outputs.isEmpty()) {
            xml.open("Output");
            outputs.forEach(o -> o.write(xml));
            xml.close();
        }
        if (inner.isEmpty()) {
            fields.writeLate(xml, used);
        }
        content.accept(xml);
        if (!inner.isEmpty()) {
            for (int i = 0; i < inner.size(); i++) {
                xml.open("Segment", "id", i + 1).leaf("True");
                inner.get(i).write(xml, fields, target, categories, true);
                xml.close();
            }
            xml.close();
        }
        xml.close();
    }
}

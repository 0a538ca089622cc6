package keenfold.io.pmml;

import static keenfold.io.pmml.Expression.apply;
import static keenfold.io.pmml.Expression.literal;
import static keenfold.io.pmml.Expression.ref;

import java.io.Writer;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.stream.IntStream;
import keenfold.core.learned.LearnedModel;
import keenfold.core.learned.LearnedStep;
import keenfold.core.run.pipeline.FittedPipeline;
import keenfold.io.model.ModelFile;
import keenfold.io.model.Origin;
import keenfold.io.model.Schema;
import keenfold.results.ModelScore;

/**
 * A model file as a document of PMML 4.4.
 *
 * <p>Steps become derived fields, classifiers the standard's models, and what several models do one after another a chain of
 * them; probabilities agree to 1e-9. Source: Data Mining Group (2019), PMML 4.4, General Structure and the pages of the
 * models, dmg.org.
 */
public final class PmmlExport {
    private final ModelFile model;
    private final Fields fields;
    private final ModelChain chain;

    private PmmlExport(ModelFile model) {
        this.model = model;
        this.fields = new Fields(model.target());
        this.chain = new ModelChain(fields, model.classes());
    }

    /**
     * Writes the document. Nothing is written before it is known that there is a form for all of it.
     *
     * @throws IllegalArgumentException if the standard has no form for the classifier, with the reason
     */
    public static void write(ModelFile model, Writer out) {
        new PmmlExport(model).write(out);
    }

    private void write(Writer out) {
        List<Field> columns = columns();
        List<Integer> present = add(model.predictor(), columns);
        Segment whole = whole(present);
        Xml xml = new Xml(out);
        xml.open("PMML", "version", "4.4");
        header(xml);
        dictionary(xml);
        fields.writeEarly(xml);
        Set<String> categories = new HashSet<>();
        for (Schema.OfColumn c : model.columns().columns()) {
            if (!c.numeric()) {
                categories.add(c.name());
            }
        }
        whole.write(xml, fields, model.target(), categories, false);
        xml.close().end();
    }

    /** The columns of the data as fields; a date becomes its days. */
    private List<Field> columns() {
        List<Field> all = new ArrayList<>();
        model.columns().columns().forEach(c -> fields.give(c.name()));
        for (Schema.OfColumn c : model.columns().columns()) {
            String name = c.kind() == Schema.Kind.DATE
                    ? fields.number("days(" + c.name() + ")", apply("dateDaysSinceYear", ref(c.name()), literal(1970)))
                    : c.name();
            all.add(new Field(name, c.name(), c.numeric(), c.levels()));
        }
        return all;
    }

    /** Adds the models of a predictor; returns the classes that the last one knows. */
    private List<Integer> add(FittedPipeline predictor, List<Field> columns) {
        List<Field> at = columns;
        if (!predictor.members().isEmpty()) {
            at = new ArrayList<>();
            for (int m = 0; m < predictor.members().size(); m++) {
                String member = predictor.memberNames().get(m);
                List<String> put = probabilities(member, add(predictor.members().get(m), columns));
                for (int c = predictor.everyClass() ? 0 : 1; c < put.size(); c++) {
                    at.add(new Field(put.get(c), member + " " + (c + 1), true, List.of()));
                }
            }
        }
        for (LearnedStep step : predictor.steps()) {
            at = StepForm.after(step, at, fields);
        }
        LearnedModel learned = predictor.learned();
        ModelForm.add(learned, at, chain);
        if (predictor.curves().isEmpty()) {
            return learned.present();
        }
        CalibrationForm.add(predictor.curves(), probabilities("not calibrated", learned.present()), chain);
        return all();
    }

    private List<Integer> all() {
        return IntStream.range(0, model.classes().size()).boxed().toList();
    }

    /** Lets the last model put out its probabilities; returns their fields. */
    private List<String> probabilities(String prefix, List<Integer> present) {
        List<String> names = new ArrayList<>();
        List<Segment.Output> outputs = new ArrayList<>();
        for (int c = 0; c < model.classes().size(); c++) {
            String name = fields.put(prefix + ": " + model.classes().get(c));
            names.add(name);
            outputs.add(output(name, c, present));
        }
        chain.put(outputs);
        return names;
    }

    private Segment.Output output(String name, int c, List<Integer> present) {
        return present.contains(c)
                ? Segment.Output.probability(name, model.classes().get(c))
                : Segment.Output.constant(name, 0);
    }

    /** All models as one that puts out the label and each class's probability. */
    private Segment whole(List<Integer> present) {
        OptionalDouble threshold = model.predictor().threshold();
        List<String> before = threshold.isPresent() ? probabilities("probability", present) : List.of();
        threshold.ifPresent(t -> addThreshold(t, before));
        List<Segment.Output> outputs = new ArrayList<>();
        for (int c = 0; c < model.classes().size(); c++) {
            String name = fields.put("probability(" + model.classes().get(c) + ")");
            outputs.add(before.isEmpty() ? output(name, c, present) : Segment.Output.copy(name, before.get(c)));
        }
        outputs.add(Segment.Output.label(fields.put("label")));
        return chain.whole().with(outputs);
    }

    /**
     * Adds a tree of one split, so that what the document predicts is the label that Keen Fold gives: the positive class from
     * the threshold on, whichever class is more probable.
     */
    private void addThreshold(double threshold, List<String> probabilities) {
        int positive = model.predictor().positive();
        String field = probabilities.get(positive);
        chain.add(Segment.classifier("TreeModel", List.of("splitCharacteristic", "binarySplit"), Set.of(field), xml -> {
            xml.open("Node").leaf("True");
            for (boolean from : new boolean[] {true, false}) {
                String operator = from ? "greaterOrEqual" : "lessThan";
                xml.open("Node", "score", model.classes().get(from ? positive : 1 - positive))
                        .leaf("SimplePredicate", "field", field, "operator", operator, "value", threshold)
                        .close();
            }
            xml.close();
        }));
    }

    private void header(Xml xml) {
        Origin origin = model.origin();
        xml.open(
                "Header",
                "description",
                origin.candidate() + " of " + origin.data() + ", trained on " + origin.rows() + " rows");
        for (String[] extension : new String[][] {
            {"data-fingerprint", origin.fingerprint()},
            {"seed", Long.toString(origin.seed())},
            {"settings", origin.settings()},
            {"plan", origin.plan()}
        }) {
            xml.leaf("Extension", "extender", "keenfold", "name", extension[0], "value", extension[1]);
        }
        for (ModelScore score : origin.scores()) {
            xml.leaf(
                    "Extension",
                    "extender",
                    "keenfold",
                    "name",
                    score.metric() + ", " + score.of(),
                    "value",
                    Double.isNaN(score.low())
                            ? score.mean()
                            : score.mean() + " (" + score.low() + " to " + score.high() + ")");
        }
        xml.leaf("Application", "name", "Keen Fold", "version", origin.program())
                .close();
    }

    private void dictionary(Xml xml) {
        List<Schema.OfColumn> columns = model.columns().columns();
        xml.open("DataDictionary", "numberOfFields", columns.size() + 1);
        category(xml, model.target(), model.classes());
        for (Schema.OfColumn c : columns) {
            switch (c.kind()) {
                case NUMBER -> xml.leaf("DataField", "name", c.name(), "optype", "continuous", "dataType", "double");
                case DATE -> xml.leaf("DataField", "name", c.name(), "optype", "ordinal", "dataType", "date");
                case CATEGORY, TEXT -> category(xml, c.name(), c.levels());
            }
        }
        xml.close();
    }

    private static void category(Xml xml, String name, List<String> levels) {
        xml.open("DataField", "name", name, "optype", "categorical", "dataType", "string");
        levels.forEach(l -> xml.leaf("Value", "value", l));
        xml.close();
    }
}

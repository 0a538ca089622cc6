package keenfold.io.pmml;

import static keenfold.io.model.ModelExamples.model;
import static keenfold.io.model.ModelExamples.plan;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import jakarta.xml.bind.JAXBContext;
import jakarta.xml.bind.SchemaOutputResolver;
import java.io.ByteArrayInputStream;
import java.io.StringReader;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import javax.xml.XMLConstants;
import javax.xml.transform.Result;
import javax.xml.transform.stream.StreamResult;
import javax.xml.transform.stream.StreamSource;
import javax.xml.validation.Schema;
import javax.xml.validation.SchemaFactory;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.Table;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.pipeline.FittedPipeline;
import keenfold.core.split.KFold;
import keenfold.io.model.ModelExamples;
import keenfold.io.model.ModelFile;
import keenfold.io.model.Origin;
import keenfold.io.plan.PlanReader;
import keenfold.io.table.DataReader;
import keenfold.io.table.LoadedData;
import keenfold.io.table.parse.TableFormat;
import org.dmg.pmml.ObjectFactory;
import org.jpmml.evaluator.Evaluator;
import org.jpmml.evaluator.EvaluatorUtil;
import org.jpmml.evaluator.LoadingModelEvaluatorBuilder;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.xml.sax.SAXException;
import org.xml.sax.SAXParseException;
import org.xml.sax.helpers.DefaultHandler;

/** Documents of PMML: valid, and saying what the model says, as another program reads them. */
class PmmlExportTest {
    @TempDir
    private static Path folder;

    private static ModelExamples examples;
    private static Schema schema;

    /** What the standard can express, with every step and every wrapper. */
    private static final String EXPRESSIBLE =
            """
              majority: {classifier: majority}
              bayes: {classifier: naive-bayes}
              logit: {classifier: logistic}
              lasso: {classifier: logistic, penalty: lasso, strength: 3}
              plane: {classifier: discriminant}
              bent: {classifier: discriminant, pooled: 0.3, diagonal: 0.3}
              bush: {classifier: tree, depth: 4}
              woods: {classifier: forest, trees: 7}
              climb: {classifier: boosting, rounds: 6}
              net: {classifier: network, units: 3}
              deep: {classifier: network, units: 2, layers: 2}
              poll: {classifier: vote, members: [bayes, bush, logit], by: label, weights: [2, 1, 1]}
              pile: {classifier: stack, members: [bayes, climb]}
              mound: {classifier: stack, members: [logit, bush], prepare: [{bins: {bins: 3}}, one-hot, standardise]}
              steps1: {prepare: [{fill: {with: mode, mark: yes}}, {one-hot: 2}, {rescale: {high: 2}}, {drop-constant: 0.9}], classifier: logistic}
              steps2: {prepare: [{fill: {with: constant, value: 3, level: none}}, ordinal, log, {drop-correlated: 0.8}, interactions, {strongest: 4}], classifier: discriminant}
              steps3: {prepare: [fill, {power: fitted}, {bins: {bins: 4, columns: [x]}}, one-hot, standardise, {components: 3}], classifier: logistic}
              steps5: {prepare: [fill, {date-parts: x}, one-hot, standardise], classifier: logistic}
              steps6: {prepare: [{target-means: {prior: 3, columns: [site]}}, fill, {words: hue}], classifier: tree}
              steps7: {prepare: [target-means, fill], classifier: naive-bayes}
              steps4: {prepare: [fill, {bins: {bins: 3, as: numbers}}, {ordinal: count}, {keep-only: [x, y, hue]}, {leave-out: [y]}], classifier: naive-bayes}
              soft: {classifier: tree, depth: 3, calibrate: isotonic}
              mean: {classifier: vote, members: [bayes, soft, net]}
              slope: {classifier: naive-bayes, calibrate: platt}
            """;

    private static final String OF_TWO =
            """
              firm: {classifier: logistic, threshold: f1}
              straight: {classifier: svm, kernel: linear}
              border: {classifier: svm}
              curved: {classifier: svm, kernel: polynomial, degree: 3, calibrate: platt, balance: weights}
            """;

    @BeforeAll
    static void prepare() throws Exception {
        examples = new ModelExamples(folder);
        // The classes of pmml-model are made from the schema of the standard, and say it again.
        StringWriter text = new StringWriter();
        JAXBContext.newInstance(ObjectFactory.class).generateSchema(new SchemaOutputResolver() {
            @Override
            public Result createOutput(String namespace, String file) {
                StreamResult result = new StreamResult(text);
                result.setSystemId(file);
                return result;
            }
        });
        SchemaFactory factory = SchemaFactory.newInstance(XMLConstants.W3C_XML_SCHEMA_NS_URI);
        factory.setErrorHandler(new DefaultHandler() {
            @Override
            public void error(SAXParseException e) throws SAXException {
                // Of time series, which are not written here, two parts have the same name.
                if (!e.getMessage().contains("cos-nonambig")) {
                    throw e;
                }
            }
        });
        schema = factory.newSchema(new StreamSource(new StringReader(
                // The standard lets the cells of a table be of any namespace, as its own examples have them.
                text.toString().replace("namespace=\"##other\"", "namespace=\"##any\""))));
    }

    private static byte[] document(ModelFile model) {
        StringWriter out = new StringWriter();
        PmmlExport.write(model, out);
        return out.toString().getBytes(StandardCharsets.UTF_8);
    }

    private static Map<String, Object> row(Table table, int i, Set<String> dates) {
        Map<String, Object> row = new HashMap<>();
        for (Column c : table.columns()) {
            row.put(
                    c.name(),
                    c.missing(i)
                            ? null
                            : c.<Object>match(
                                    n -> dates.contains(n.name())
                                            ? LocalDate.ofEpochDay((long) n.get(i))
                                                    .toString()
                                            : (Object) n.get(i),
                                    k -> k.levels().get(k.code(i))));
        }
        return row;
    }

    /** What another program makes of the document: probabilities, and the label in the target as in the output. */
    private static void agrees(String name, ModelFile file, Table rows, Set<String> dates) throws Exception {
        byte[] document = document(file);
        assertThatCode(() -> schema.newValidator().validate(new StreamSource(new ByteArrayInputStream(document))))
                .as(name)
                .doesNotThrowAnyException();
        Evaluator evaluator = new LoadingModelEvaluatorBuilder()
                .load(new ByteArrayInputStream(document))
                .build();
        evaluator.verify();
        FittedPipeline predictor = file.predictor();
        double[] p = predictor.probabilities(rows);
        int[] labels = predictor.labels(p);
        int classes = file.classes().size();
        for (int i = 0; i < rows.rows(); i++) {
            Map<String, ?> results = evaluator.evaluate(row(rows, i, dates));
            for (int c = 0; c < classes; c++) {
                assertThat((Double) results.get("probability(" + file.classes().get(c) + ")"))
                        .as("%s, row %d, class %d", name, i, c)
                        .isCloseTo(p[i * classes + c], within(1e-9));
            }
            String label = file.classes().get(labels[i]);
            assertThat(results.get("label")).as("%s, row %d", name, i).isEqualTo(label);
            assertThat(EvaluatorUtil.decode(results.get(file.target())))
                    .as("%s, row %d, target", name, i)
                    .isEqualTo(label);
        }
    }

    @Test
    void theDocumentSaysWhatTheModelSays() throws Exception {
        for (int classes : new int[] {2, 3}) {
            DataSet some = examples.some(classes);
            Table rows = examples.loaded(classes).data().features();
            for (Candidate c :
                    plan(classes, EXPRESSIBLE + (classes == 2 ? OF_TWO : "")).candidates()) {
                agrees(classes + " classes, " + c.name(), model(examples.trained(c, some), some), rows, Set.of());
            }
        }
    }

    /** Names and levels that XML must escape, dates, and levels that were not there in training. */
    @Test
    void oddNamesDatesAndUnseenLevelsAreExpressed() throws Exception {
        StringBuilder csv = new StringBuilder("\"a<b & \"\"c\"\"\",day,hue,kind\n");
        List<String> hues = List.of("\"x\ty\"", "\"two\nlines\"", "\" 'q' \"", "née <é>");
        for (int i = 0; i < 60; i++) {
            csv.append(i % 7).append(',').append(LocalDate.of(2020, 1, 1).plusDays(i * 397L % 1500));
            csv.append(',').append(hues.get(i % (i < 40 ? 3 : 4))).append(',');
            csv.append(i * 17 % 60 > 30 ^ i % 5 == 0 ? "<yes>" : "no & no").append('\n');
        }
        Files.writeString(folder.resolve("odd.csv"), csv);
        String text = "keenfold: 1\ndata: [{file: odd.csv, target: kind, positive: <yes>}]\nseed: 4\ncandidates:\n"
                + "  a: {classifier: naive-bayes}\n  b: {classifier: logistic}\n  c: {classifier: tree, depth: 5}\n"
                + "  d: {classifier: logistic, prepare: [ordinal, standardise]}\n"
                + "  e: {classifier: logistic, prepare: [{date-parts: day}, one-hot, standardise]}\n"
                + "  f: {classifier: tree, depth: 6, prepare: [{date-parts: {columns: day, parts: [day-of-year, year]}}, one-hot]}\n"
                + "  g: {classifier: logistic, prepare: [{words: {columns: hue, rows: 1}}]}\n"
                + "  h: {classifier: logistic, prepare: [{words: {columns: hue, by: tf-idf, most: 3}}]}\n"
                + "  i: {classifier: logistic, prepare: [target-means]}\n";
        var plan = PlanReader.parse("plan.yaml", text);
        LoadedData loaded = DataReader.read(plan.data().get(0), List.of(folder));
        assertThat(loaded.dates()).containsExactly("day");
        int[] first = new int[40];
        java.util.Arrays.setAll(first, i -> i);
        DataSet some = loaded.data().select(first);
        for (Candidate c : plan.candidates()) {
            FittedPipeline trained = FittedPipeline.train(c, some, new KFold(3, 1, true).divide(some, 1), 4);
            ModelFile file = new ModelFile(
                    keenfold.io.model.Schema.of(some.features(), loaded.dates(), TableFormat.PLAIN),
                    "kind",
                    some.classes().labels(),
                    trained,
                    new Origin(c.name(), "", "odd", 40, "f", text, 4, "test", List.of()));
            agrees(c.name(), file, loaded.data().features(), loaded.dates());
        }
    }

    private static void refused(int classes, String candidate, String why) {
        DataSet some = examples.some(classes);
        Candidate only = plan(classes, "  it: " + candidate + "\n").candidates().get(0);
        ModelFile file = model(examples.trained(only, some), some);
        StringWriter out = new StringWriter();
        assertThatThrownBy(() -> PmmlExport.write(file, out))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining(why);
        assertThat(out.toString()).isEmpty();
    }

    @Test
    void whatTheStandardHasNoFormForIsRefusedBeforeAnythingIsWritten() {
        refused(2, "{classifier: nearest, neighbours: 3}", "nearest has no form in PMML");
        refused(2, "{classifier: naive-bayes, density: kernel}", "kernel densities has no form in PMML");
        refused(3, "{classifier: svm}", "svm of 3 classes has no form in PMML");
    }

    /** Every classifier is either compared above or refused above. */
    @Test
    void noClassifierIsForgotten() {
        Set<String> tried = new TreeSet<>(Set.of("nearest", "command"));
        plan(2, EXPRESSIBLE + OF_TWO)
                .candidates()
                .forEach(c -> tried.add(c.kind().name()));
        assertThat(keenfold.core.classify.catalog.ClassifierKinds.all())
                .allSatisfy(k -> assertThat(tried).contains(k.name()));
        for (var step : keenfold.core.prepare.step.StepKinds.all()) {
            assertThat(EXPRESSIBLE).contains(step.name());
        }
    }

    @Test
    void theDocumentTellsWhereItComesFrom() {
        DataSet some = examples.some(2);
        Candidate bush =
                plan(2, "  bush: {classifier: tree, depth: 2}\n").candidates().get(0);
        String text = new String(document(model(examples.trained(bush, some), some)), StandardCharsets.UTF_8);
        assertThat(text)
                .startsWith("<?xml version=\"1.0\" encoding=\"UTF-8\"?>")
                .contains(
                        "xmlns=\"http://www.dmg.org/PMML-4_4\"",
                        "version=\"4.4\"",
                        "name=\"data-fingerprint\" value=\"f\"")
                .contains("name=\"auc, cross-validated\" value=\"0.7\"", "recordCount=\"60.0\"");
    }
}

package keenfold.io.model;

import static keenfold.io.model.ModelExamples.CANDIDATES;
import static keenfold.io.model.ModelExamples.model;
import static keenfold.io.model.ModelExamples.plan;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.HashSet;
import java.util.Random;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.data.DataSet;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.step.StepKinds;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.pipeline.FittedPipeline;
import keenfold.core.split.KFold;
import keenfold.io.InputException;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Models in files: every classifier, step and wrapper there and back; and files that are no models. */
class ModelFileTest {
    @TempDir
    private static Path folder;

    private static ModelExamples examples;

    @BeforeAll
    static void write() {
        examples = new ModelExamples(folder);
    }

    private static ModelFile written(ModelFile model) throws IOException {
        Path file = folder.resolve("m.kfm");
        Files.write(file, model.bytes());
        return ModelFile.read(file);
    }

    /** Trained, written, read: the same probabilities of other rows, bit for bit, and the same bytes again. */
    @Test
    void everyCandidateComesBackToTheLastBit() throws IOException {
        for (int classes : new int[] {2, 3}) {
            String more = classes == 2 ? "  firm: {classifier: logistic, threshold: f1}\n" : "";
            DataSet all = examples.loaded(classes).data();
            DataSet some = examples.some(classes);
            for (Candidate candidate : plan(classes, CANDIDATES + more).candidates()) {
                FittedPipeline trained = examples.trained(candidate, some);
                ModelFile back = written(model(trained, some));
                double[] p = trained.probabilities(all.features());
                assertThat(back.predictor().probabilities(all.features()))
                        .as(candidate.name())
                        .containsExactly(p);
                assertThat(back.predictor().labels(p)).containsExactly(trained.labels(p));
                assertThat(back.predictor().threshold()).isEqualTo(trained.threshold());
                assertThat(back.predictor().size()).isEqualTo(trained.size());
                assertThat(back.bytes())
                        .as(candidate.name())
                        .isEqualTo(model(trained, some).bytes());
                assertThat(back.columns())
                        .isEqualTo(Schema.of(
                                some.features(), java.util.Set.of(), keenfold.io.table.parse.TableFormat.PLAIN));
                assertThat(back.origin().scores().get(0).mean()).isEqualTo(0.7);
            }
        }
    }

    /** What is trained on all rows predicts what the same training predicts in a fold. */
    @Test
    void nothingIsForgottenHere() {
        Set<String> tried = plan(2, CANDIDATES).candidates().stream()
                .map(c -> c.kind().name())
                .collect(Collectors.toCollection(HashSet::new));
        assertThat(tried)
                .containsAll(ClassifierKinds.all().stream()
                        .map(ClassifierKind::name)
                        .filter(n -> !n.equals("command"))
                        .toList());
        Set<String> steps = Arrays.stream(CANDIDATES.split("[^a-z-]+", -1)).collect(Collectors.toSet());
        assertThat(steps)
                .containsAll(StepKinds.all().stream().map(StepKind::name).toList());
    }

    private static byte[] unpacked(byte[] bytes) throws IOException {
        try (GZIPInputStream in = new GZIPInputStream(new java.io.ByteArrayInputStream(bytes))) {
            return in.readAllBytes();
        }
    }

    private static byte[] packed(byte[] bytes) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (OutputStream gzip = new GZIPOutputStream(out)) {
            gzip.write(bytes);
        }
        return out.toByteArray();
    }

    private static ModelFile tree() {
        DataSet data = examples.loaded(2).data();
        Candidate bush = plan(2, CANDIDATES).candidates().stream()
                .filter(c -> c.name().equals("bush"))
                .findFirst()
                .orElseThrow();
        return model(FittedPipeline.train(bush, data, new KFold(3, 1, true).divide(data, 1), 4), data);
    }

    private static void refused(byte[] bytes, String... says) throws IOException {
        Path file = folder.resolve("bad.kfm");
        Files.write(file, bytes);
        for (String one : says) {
            assertThatThrownBy(() -> ModelFile.read(file))
                    .isInstanceOf(InputException.class)
                    .hasMessageContaining(one);
        }
    }

    private static void altered(Function<String, String> change, String... says) throws IOException {
        String json = new String(unpacked(tree().bytes()), StandardCharsets.UTF_8);
        String changed = change.apply(json);
        assertThat(changed).isNotEqualTo(json);
        refused(packed(changed.getBytes(StandardCharsets.UTF_8)), says);
    }

    @Test
    void whatIsDamagedOrForeignIsRefused() throws IOException {
        byte[] good = tree().bytes();
        refused(Arrays.copyOf(good, good.length / 2), "is cut off");
        refused(Arrays.copyOf(good, good.length - 3), "is cut off");
        refused(
                "colony,frames\n1,2\n".getBytes(StandardCharsets.UTF_8),
                "is no model, as train makes one; it looks like a table");
        refused(
                packed("{\"hello\": 1}".getBytes(StandardCharsets.UTF_8)),
                "expected an object that begins with \"kind\"");
        refused(packed("[1, 2]".getBytes(StandardCharsets.UTF_8)), "is no model of Keen Fold");
        refused(
                packed((new String(unpacked(good), StandardCharsets.UTF_8) + "{}").getBytes(StandardCharsets.UTF_8)),
                "behind the model");
        altered(j -> j.replaceFirst("\"version\":2(\\.0)?", "\"version\":9"), "version 9, and this program reads 2");
        altered(
                j -> j.replaceFirst("\"version\":2(\\.0)?", "\"version\":1"),
                "version 1, and this program reads 2; train");
        altered(j -> j.replaceFirst("\"classes\":2(\\.0)?", "\"classes\":1e400"), "no model");
        altered(j -> j.replaceFirst("\"classes\":2(\\.0)?", "\"classes\":1e300"), "whole number");
        altered(j -> j.replaceFirst("\"thresholds\":\\[", "\"thresholds\":[1,"), "nodes, \"thresholds\": expected");
        altered(j -> j.replaceFirst("\"columns\":\\[\\d+", "\"columns\":[99"), "whole numbers from -1 to");
        altered(j -> j.replaceFirst("\"columns\":\\[\\d+", "\"columns\":[-1"), "trees instead of one");
        altered(j -> j.replaceFirst("\"kind\":\"tree\"", "\"kind\":\"java.lang.Runtime\""), "no classifier is called");
        altered(j -> j.replaceFirst("\"name\":\"x\"", "\"name\":\"y\""), "two have the same name");
        // A bit here and there made another one: the checksum of the packing tells, but for bits that say nothing.
        Random chance = new Random(3);
        for (int i = 0; i < 60; i++) {
            byte[] flipped = good.clone();
            flipped[10 + chance.nextInt(good.length - 18)] ^= (byte) (1 << chance.nextInt(8));
            Files.write(folder.resolve("bad.kfm"), flipped);
            try {
                assertThat(ModelFile.read(folder.resolve("bad.kfm")).bytes()).isEqualTo(good);
            } catch (InputException e) {
                assertThat(e).hasMessageContaining("bad.kfm");
            }
        }
    }

    /** Within bounded memory and depth: a bomb of zeros, one of brackets, and a number of many digits. */
    @Test
    void whatGrowsBeyondMeasureIsRefused() throws IOException {
        ByteArrayOutputStream bomb = new ByteArrayOutputStream();
        try (OutputStream gzip = new GZIPOutputStream(bomb)) {
            gzip.write("{\"kind\":\"keenfold-model\",\"x\":\"".getBytes(StandardCharsets.UTF_8));
            byte[] zeros = new byte[1 << 20];
            Arrays.fill(zeros, (byte) '0');
            for (int i = 0; i < 130; i++) {
                gzip.write(zeros);
            }
        }
        refused(bomb.toByteArray(), "no model");
        refused(
                packed(("{\"kind\":\"k\",\"a\":" + "[{\"kind\":\"k\",\"a\":".repeat(100_000))
                        .getBytes(StandardCharsets.UTF_8)),
                "nesting depth");
        refused(
                packed(("{\"kind\":\"k\",\"a\":" + "9".repeat(5000) + "}").getBytes(StandardCharsets.UTF_8)),
                "no model");
        ByteArrayOutputStream numbers = new ByteArrayOutputStream();
        try (OutputStream gzip = new GZIPOutputStream(numbers)) {
            gzip.write("{\"kind\":\"keenfold-model\",\"x\":[0".getBytes(StandardCharsets.UTF_8));
            byte[] more = ",0".repeat(1 << 19).getBytes(StandardCharsets.UTF_8);
            for (int i = 0; i < 120; i++) {
                gzip.write(more);
            }
        }
        refused(numbers.toByteArray(), "more than 100 times as large");
    }

    /** A model holds what was learned, and of the training rows nothing where the classifier keeps none. */
    @Test
    void rowsAreKeptByNeighboursAlone() throws IOException {
        String json = new String(unpacked(tree().bytes()), StandardCharsets.UTF_8);
        long numbers = Stream.of(json.split("[\\[\\],:{}]", -1))
                .filter(t -> t.matches("-?[0-9].*"))
                .count();
        assertThat(numbers).isLessThan(300);
    }
}

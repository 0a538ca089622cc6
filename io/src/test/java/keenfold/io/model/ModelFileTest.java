package keenfold.io.model;

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
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.ClassifierKinds;
import keenfold.core.data.DataSet;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.StepKinds;
import keenfold.core.run.Candidate;
import keenfold.core.run.Predictor;
import keenfold.core.split.KFold;
import keenfold.core.split.Splits;
import keenfold.io.InputException;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.table.DataReader;
import keenfold.io.table.LoadedData;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Models in files: every classifier, step and wrapper there and back; and files that are no models. */
class ModelFileTest {
    @TempDir
    private static Path folder;

    /** Every classifier, step and wrapper, in every form that learns something else. */
    private static final String CANDIDATES =
            """
              majority: {classifier: majority}
              bayes: {classifier: naive-bayes}
              shapes: {classifier: naive-bayes, density: kernel}
              unsmoothed: {classifier: naive-bayes, pseudo-count: 0}
              logit: {classifier: logistic}
              lasso: {classifier: logistic, penalty: lasso, strength: 3}
              near: {classifier: nearest, neighbours: 3}
              mixed: {classifier: nearest, neighbours: 4, distance: mixed, votes: by-distance}
              plane: {classifier: discriminant}
              bent: {classifier: discriminant, pooled: 0.3, diagonal: 0.3}
              bush: {classifier: tree, depth: 4}
              woods: {classifier: forest, trees: 7}
              climb: {classifier: boosting, rounds: 6}
              straight: {classifier: svm, kernel: linear}
              border: {classifier: svm}
              net: {classifier: network, units: 3}
              poll: {classifier: vote, members: [bayes, near], by: label, weights: [2, 1]}
              pile: {classifier: stack, members: [bayes, bush]}
              steps1: {prepare: [{fill: {with: mode, mark: yes}}, {one-hot: 2}, {rescale: {high: 2}}, {drop-constant: 0.9}], classifier: logistic}
              steps2: {prepare: [{fill: {with: constant, value: 3, level: none}}, ordinal, log, {drop-correlated: 0.8}, interactions, {strongest: 4}], classifier: discriminant}
              steps3: {prepare: [fill, {power: fitted}, {bins: {bins: 4, columns: [x]}}, one-hot, standardise, {components: 3}], classifier: nearest}
              steps4: {prepare: [fill, {bins: {bins: 3, as: numbers}}, {ordinal: count}, {keep-only: [x, y, hue]}, {leave-out: [y]}], classifier: naive-bayes}
              tuned: {classifier: tree, depth: {choose: [1, 3]}, tuning: {folds: 3}}
              soft: {classifier: tree, depth: 3, calibrate: isotonic}
              curve: {classifier: svm, calibrate: platt, balance: weights}
            """;

    private static LoadedData loaded(int classes) {
        return DataReader.read(plan(classes, "").data().get(0), List.of(folder));
    }

    private static Plan plan(int classes, String more) {
        return PlanReader.parse(
                "plan.yaml",
                "keenfold: 1\ndata: [{file: d" + classes + ".csv, target: kind}]\nseed: 4\ncandidates:\n" + CANDIDATES
                        + more);
    }

    @BeforeAll
    static void write() throws IOException {
        for (int classes : new int[] {2, 3}) {
            Random chance = new Random(classes);
            StringBuilder csv = new StringBuilder("x,y,z,hue,site,kind\n");
            for (int i = 0; i < 90; i++) {
                int k = i % classes;
                csv.append(chance.nextGaussian() + k).append(',');
                csv.append(i % 11 == 0 ? "" : Double.toString(chance.nextGaussian() - k))
                        .append(',');
                csv.append(chance.nextInt(5)).append(',');
                csv.append(i % 7 == 0 ? "" : List.of("amber", "gold", "pale").get((k + chance.nextInt(2)) % 3));
                csv.append(',').append(List.of("hill", "moor").get(chance.nextInt(2)));
                csv.append(",k").append(k).append('\n');
            }
            Files.writeString(folder.resolve("d" + classes + ".csv"), csv);
        }
    }

    private static ModelFile model(Predictor predictor, DataSet data) {
        return new ModelFile(
                Schema.of(data.features(), java.util.Set.of(), keenfold.io.table.TableFormat.PLAIN),
                "kind",
                data.classes().labels(),
                predictor,
                new Origin(
                        "c",
                        "",
                        data.name(),
                        data.rows(),
                        "f",
                        "plan",
                        4,
                        "test",
                        List.of(new Origin.Score("auc", "cross-validated", 0.7, Double.NaN, Double.NaN))));
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
            DataSet all = loaded(classes).data();
            DataSet some = all.select(IntStream.range(0, 60).toArray());
            Splits like = new KFold(3, 1, true).divide(some, 1);
            for (Candidate candidate : plan(classes, more).candidates()) {
                Predictor trained = Predictor.train(candidate, some, like, 4);
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
                        .isEqualTo(Schema.of(some.features(), java.util.Set.of(), keenfold.io.table.TableFormat.PLAIN));
                assertThat(back.origin().scores().get(0).mean()).isEqualTo(0.7);
            }
        }
    }

    /** What is trained on all rows predicts what the same training predicts in a fold. */
    @Test
    void nothingIsForgottenHere() {
        Set<String> tried = plan(2, "").candidates().stream()
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
        DataSet data = loaded(2).data();
        Candidate bush = plan(2, "").candidates().stream()
                .filter(c -> c.name().equals("bush"))
                .findFirst()
                .orElseThrow();
        return model(Predictor.train(bush, data, new KFold(3, 1, true).divide(data, 1), 4), data);
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
        refused("colony,frames\n1,2\n".getBytes(StandardCharsets.UTF_8), "is no model file");
        refused(
                packed("{\"hello\": 1}".getBytes(StandardCharsets.UTF_8)),
                "expected an object that begins with \"kind\"");
        refused(packed("[1, 2]".getBytes(StandardCharsets.UTF_8)), "is no model of Keen Fold");
        refused(
                packed((new String(unpacked(good), StandardCharsets.UTF_8) + "{}").getBytes(StandardCharsets.UTF_8)),
                "behind the model");
        altered(j -> j.replaceFirst("\"version\":1(\\.0)?", "\"version\":9"), "version 9");
        altered(j -> j.replaceFirst("\"classes\":2(\\.0)?", "\"classes\":1e400"), "no model");
        altered(j -> j.replaceFirst("\"classes\":2(\\.0)?", "\"classes\":1e300"), "whole number");
        altered(j -> j.replaceFirst("\"thresholds\":\\[", "\"thresholds\":[1,"), "nodes, \"thresholds\": expected");
        altered(j -> j.replaceFirst("\"columns\":\\[\\d+", "\"columns\":[99"), "whole numbers from -1 to");
        altered(j -> j.replaceFirst("\"columns\":\\[\\d+", "\"columns\":[-1"), "trees in the place of one");
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
            for (int i = 0; i < 400; i++) {
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

package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import java.util.function.Function;
import java.util.stream.Collectors;
import keenfold.core.data.DataSet;
import keenfold.io.model.ModelFile;
import keenfold.io.plan.PlanReader;
import keenfold.io.table.DataReader;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** New rows and a model file, through the built program. */
class PredictIT {
    @TempDir
    private static Path folder;

    private static List<String> lines = List.of();

    @BeforeAll
    static void train() throws Exception {
        Random chance = new Random(6);
        StringBuilder csv = new StringBuilder("hive,seen,mites,stores,race,wintered\n");
        for (int i = 0; i < 200; i++) {
            boolean well = chance.nextBoolean();
            csv.append("H")
                    .append(i)
                    .append(",2026-0")
                    .append(1 + chance.nextInt(9))
                    .append("-11,");
            csv.append(
                    i % 9 == 0
                            ? "-"
                            : Double.toString(chance.nextGaussian() + (well ? 0 : 1))
                                    .replace('.', ','));
            csv.append(';').append(chance.nextInt(30)).append(';');
            csv.append(
                    i % 13 == 0 ? "" : List.of("carnica", "dark", "ligustica").get(chance.nextInt(3)));
            csv.append(';').append(well ? "yes" : "no").append('\n');
        }
        String text = csv.toString()
                .replaceAll("(?m)^(H\\d+),", "$1;")
                .replaceAll("(?m)^(H\\d+;[0-9-]+),", "$1;")
                .replaceFirst("hive,seen,mites,stores,race,wintered", "hive;seen;mites;stores;race;wintered");
        Files.writeString(folder.resolve("hives.csv"), text);
        lines = text.lines().toList();
        Files.writeString(
                folder.resolve("plan.yaml"),
                """
                keenfold: 1
                data:
                  - {file: hives.csv, target: wintered, positive: no, leave-out: [hive], decimal: ",", missing: ["", "-"]}
                splits: {folds: 4, repeats: 2}
                seed: 3
                metrics: [auc, accuracy]
                candidates:
                  logit: {classifier: logistic}
                  bayes: {classifier: naive-bayes}
                  bare: {classifier: logistic, prepare: [one-hot, standardise]}
                """);
        for (String name : List.of("logit", "bayes")) {
            program()
                    .run("train", "plan.yaml", "--candidate", name, "-o", name + ".kfm", "--quiet")
                    .expect(0);
        }
    }

    private static Program program() {
        return new Program(folder);
    }

    private static void file(String name, Function<List<String>, List<String>> change) throws Exception {
        List<List<String>> rows = lines.stream()
                .map(l -> change.apply(new ArrayList<>(Arrays.asList(l.split(";", -1)))))
                .toList();
        Files.writeString(
                folder.resolve(name),
                rows.stream().map(r -> String.join(";", r)).collect(Collectors.joining("\n", "", "\n")));
    }

    private static String predicted(String model, String data, String... more) throws Exception {
        List<String> args = new ArrayList<>(List.of("predict", model, data, "--quiet"));
        args.addAll(List.of(more));
        return program().run(args.toArray(String[]::new)).expect(0).out();
    }

    /** What the file says is what the model in memory says, and the order of columns does not matter. */
    @Test
    void rowsGetTheModelsProbabilities() throws Exception {
        DataSet all = DataReader.read(
                        PlanReader.read(folder.resolve("plan.yaml")).data().get(0), List.of(folder))
                .data();
        for (String name : List.of("logit", "bayes")) {
            double[] p =
                    ModelFile.read(folder.resolve(name + ".kfm")).predictor().probabilities(all.features());
            List<String> out = predicted(name + ".kfm", "hives.csv").lines().toList();
            assertThat(out.get(0)).isEqualTo("row,predicted,p:no,p:yes");
            assertThat(out).hasSize(201);
            for (int i = 0; i < 200; i++) {
                String[] cells = out.get(i + 1).split(",", -1);
                assertThat(Double.parseDouble(cells[2])).isEqualTo(p[2 * i]);
                assertThat(Double.parseDouble(cells[3])).isEqualTo(p[2 * i + 1]);
                assertThat(cells[1]).isEqualTo(p[2 * i] >= p[2 * i + 1] ? "no" : "yes");
            }
            file("turned.csv", r -> {
                Collections.reverse(r);
                return r;
            });
            assertThat(predicted(name + ".kfm", "turned.csv").lines().toList()).isEqualTo(out);
        }
        assertThat(program().run("predict", "logit.kfm", "turned.csv").expect(0).said())
                .contains("another order than in training")
                .contains("columns that the model does not use: hive")
                .containsPattern("200 rows have their class; .* auc 0\\.\\d+ \\(95 % interval");
        assertThat(program()
                        .run("predict", "logit.kfm", "turned.csv", "--strict")
                        .expect(3)
                        .said())
                .contains("another order")
                .contains("(--strict)");
    }

    @Test
    void jsonLinesAndColumnsBeside() throws Exception {
        List<String> csv =
                predicted("logit.kfm", "hives.csv", "--with-columns").lines().toList();
        assertThat(csv.get(0)).isEqualTo("row,predicted,p:no,p:yes,hive,seen,mites,stores,race,wintered");
        List<String> out = predicted("logit.kfm", "hives.csv", "--jsonl", "--with-columns")
                .lines()
                .toList();
        assertThat(out).hasSize(200);
        JsonNode first = new ObjectMapper().readTree(out.get(0));
        assertThat(first.get("columns").get("hive").asText()).isEqualTo("H0");
        assertThat(first.get("columns").get("mites").isNull()).isTrue();
        assertThat(csv.get(1))
                .startsWith("1," + first.get("predicted").asText() + ","
                        + first.get("p").get("no").asDouble());
        program().run("predict", "logit.kfm", "hives.csv", "-o", "out.csv").expect(0);
        assertThat(Files.readString(folder.resolve("out.csv"))).isEqualTo(predicted("logit.kfm", "hives.csv"));
    }

    @Test
    void whatDoesNotAgreeIsNamed() throws Exception {
        file("missing.csv", r -> r.subList(0, 3));
        assertThat(program()
                        .run("predict", "logit.kfm", "missing.csv")
                        .expect(3)
                        .said())
                .contains("2 columns \"stores\", \"race\" are missing");
        file(
                "typo.csv",
                r -> r.stream().map(c -> c.equals("stores") ? "stoers" : c).toList());
        assertThat(program().run("predict", "logit.kfm", "typo.csv").expect(3).said())
                .contains("the column \"stores\" is missing")
                .contains("the nearest is \"stoers\"");
        file("words.csv", r -> r.get(0).equals("H6") ? List.of("H6", r.get(1), "many", "3", "dark", "no") : r);
        assertThat(program()
                        .run("predict", "logit.kfm", "words.csv", "-o", "never.csv")
                        .expect(3)
                        .said())
                .contains("words.csv, line 8, column \"mites\": \"many\" is no number")
                .contains("missing values are written \"\", \"-\"");
        assertThat(folder.resolve("never.csv")).doesNotExist();
        file("days.csv", r -> r.get(0).equals("H6") ? List.of("H6", "yesterday", "1", "3", "dark", "no") : r);
        assertThat(program().run("predict", "logit.kfm", "days.csv").expect(3).said())
                .contains("\"yesterday\" is no ISO date");
        file(
                "levels.csv",
                r -> r.stream().map(c -> c.equals("dark") ? "martian" : c).toList());
        Program.Outcome levels =
                program().run("predict", "bayes.kfm", "levels.csv").expect(0);
        assertThat(levels.said())
                .containsPattern("column \"race\" has \"martian\", which the model was not trained on \\(\\d+ rows\\)");
        assertThat(levels.out().lines()).hasSize(201);
        assertThat(program()
                        .run("predict", "bayes.kfm", "levels.csv", "--strict")
                        .expect(3)
                        .said())
                .contains("martian");
        file(
                "unknown.csv",
                r -> r.stream().map(c -> c.equals("yes") ? "maybe" : c).toList());
        assertThat(program()
                        .run("predict", "bayes.kfm", "unknown.csv")
                        .expect(0)
                        .said())
                .contains("rows have no class that the model knows");
        Files.writeString(folder.resolve("empty.csv"), "");
        assertThat(program().run("predict", "bayes.kfm", "empty.csv").expect(3).said())
                .contains("empty");
        assertThat(program().run("predict", "hives.csv", "hives.csv").expect(3).said())
                .contains("is no model, as train makes one");
    }

    /** Rows without a class are predicted all the same; a model that takes no gaps says which column has one. */
    @Test
    void rowsWithoutAClassAreTheUsualCase() throws Exception {
        file("new.csv", r -> r.subList(0, 5));
        Program.Outcome made = program().run("predict", "logit.kfm", "new.csv").expect(0);
        assertThat(made.out()).isEqualTo(predicted("logit.kfm", "hives.csv"));
        assertThat(made.said()).doesNotContain("have their class");
        Files.writeString(
                folder.resolve("whole.csv"),
                lines.stream()
                        .filter(l -> !l.contains(";-;") && !l.contains(";;"))
                        .collect(Collectors.joining("\n", "", "\n")));
        Files.writeString(
                folder.resolve("whole.yaml"),
                Files.readString(folder.resolve("plan.yaml")).replace("hives.csv", "whole.csv"));
        program()
                .run("train", "whole.yaml", "--candidate", "bare", "-o", "bare.kfm", "--quiet")
                .expect(0);
        assertThat(program()
                        .run("predict", "bare.kfm", "hives.csv", "-o", "gaps.csv")
                        .expect(3)
                        .said())
                .contains("cannot be predicted: logistic needs columns without gaps: \"mites\" has some");
        assertThat(folder.resolve("gaps.csv")).doesNotExist();
        assertThat(new Program(folder).unfinished()).isEmpty();
    }

    /** A file is read as it comes: a heap much smaller than the rows will do. */
    @Test
    void manyRowsTakeLittleMemory() throws Exception {
        String body = String.join("\n", lines.subList(1, lines.size())) + "\n";
        StringBuilder many = new StringBuilder(lines.get(0)).append('\n');
        for (int i = 0; i < 1500; i++) {
            many.append(body);
        }
        Files.writeString(folder.resolve("many.csv"), many);
        Program small = program()
                .with(
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        List.of("-XX:+UseSerialGC", "-Xmx48m"));
        small.run("predict", "logit.kfm", "many.csv", "-o", "many.out", "--quiet")
                .expect(0);
        try (var out = Files.lines(folder.resolve("many.out"))) {
            assertThat(out.count()).isEqualTo(300_001);
        }
    }
}

package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.function.IntFunction;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Tables that reading commands stumble over: tiny, lopsided, hopelessly easy, many classes, many candidates. */
class OddDataIT {
    @TempDir
    private Path folder;

    private static final String CANDIDATES =
            """
            candidates:
              guess: {classifier: majority}
              logit: {classifier: logistic}
              twin: {classifier: logistic}
              near: {classifier: nearest, neighbours: {vary: [1, 5]}}
            """;

    private Program program() {
        return new Program(folder);
    }

    /** Two columns, the first shifted by class, and the class. */
    private void table(int rows, double shift, IntFunction<String> label, IntFunction<Integer> place) throws Exception {
        RandomSource chance = new Seed(rows).with(Double.toString(shift)).chance();
        String lines = IntStream.range(0, rows)
                .mapToObj(i -> String.format(
                        Locale.ROOT,
                        "%.4f,%.4f,%s",
                        chance.normal() + shift * place.apply(i),
                        chance.normal(),
                        label.apply(i)))
                .collect(Collectors.joining("\n"));
        Files.writeString(folder.resolve("bees.csv"), "weight,mites,fate\n" + lines + "\n");
    }

    private void run(String settings) throws Exception {
        Files.writeString(
                folder.resolve("p.yaml"),
                "keenfold: 1\ndata: [{file: bees.csv, target: fate}]\nseed: 4\n" + settings + CANDIDATES);
        Files.deleteIfExists(folder.resolve("l.kfl"));
        program().run("run", "p.yaml", "-o", "l.kfl").expect(0);
    }

    /** Every reading command ends well, keeps to the page, and writes sound documents. */
    private List<Program.Outcome> readings(List<List<String>> more) throws Exception {
        List<List<String>> all = new java.util.ArrayList<>(List.of(
                List.of("scores", "l.kfl"),
                List.of("contrast", "l.kfl", "--against", "all"),
                List.of("pick", "l.kfl"),
                List.of("scores", "l.kfl", "--spread"),
                List.of("scores", "l.kfl", "--confusion"),
                List.of("scores", "l.kfl", "--by", "class")));
        all.addAll(more);
        List<Program.Outcome> outcomes = new java.util.ArrayList<>();
        for (List<String> words : all) {
            List<String> call = new java.util.ArrayList<>(words);
            call.addAll(List.of("--draws", "300"));
            Program.Outcome outcome = program().run(call.toArray(String[]::new)).expect(0);
            assertThat(outcome.out().lines()).as(words + "").allMatch(l -> l.length() <= 100);
            assertThat(outcome.err().lines()).as(words + "").allMatch(l -> l.length() <= 100);
            assertThat(outcome.out()).doesNotContain("NaN").doesNotContain("null");
            call.add("--json");
            JsonNode json = program().run(call.toArray(String[]::new)).expect(0).json();
            assertThat(json.get("keenfold").asInt()).isEqualTo(1);
            outcomes.add(outcome);
        }
        return outcomes;
    }

    @Test
    void thirtyRows() throws Exception {
        table(30, 0.8, i -> i % 2 == 0 ? "kept" : "lost", i -> i % 2);
        run("splits: {folds: 5, repeats: 2}\n");
        List<Program.Outcome> outcomes = readings(List.of(
                List.of("scores", "l.kfl", "--thresholds"),
                List.of("scores", "l.kfl", "--by", "column"),
                List.of("contrast", "l.kfl", "--method", "cases-bca"),
                List.of("pick", "l.kfl", "--rule", "may-be-best")));
        assertThat(outcomes.get(0).said())
                .contains(
                        "2 repeats show little of how other training rows would change the models; 10 repeats are advised")
                .contains("logit, twin predict exactly the same");
        assertThat(outcomes.get(1).out()).contains("equivalent: identical predictions");
        assertThat(outcomes.get(2).said()).contains("was selected from 5");
    }

    @Test
    void threeRowsOfTheRarerClass() throws Exception {
        table(90, 1.5, i -> i < 3 ? "lost" : "kept", i -> i < 3 ? 1 : 0);
        run("splits: {folds: 3, repeats: 3}\nmetrics: [balanced-accuracy, accuracy, log-loss, f1]\n");
        List<Program.Outcome> outcomes = readings(List.of());
        assertThat(outcomes.get(0).said())
                .contains("fewer than 20 rows")
                .contains("97 % of rows are of one class, so that always guessing it has an accuracy of 0.967");
    }

    @Test
    void aPerfectCandidate() throws Exception {
        table(80, 40, i -> i % 2 == 0 ? "kept" : "lost", i -> i % 2);
        run("splits: {folds: 4, repeats: 3}\n");
        List<Program.Outcome> outcomes = readings(List.of());
        assertThat(outcomes.get(0).out()).contains("Clopper-Pearson").contains("one-sided, no spread");
        assertThat(outcomes.get(1).out()).contains("better: no spread was seen: logit and guess");
        assertThat(outcomes.get(1).said()).contains("what one row of the smallest class would have changed");
        assertThat(program()
                        .run("pick", "l.kfl", "--rule", "may-be-best")
                        .expect(0)
                        .out())
                .contains("Pick by auc: logit");
        assertThat(outcomes.get(2).out()).contains("Pick by auc: logit");
    }

    @Test
    void twentySixClasses() throws Exception {
        table(260, 0.5, i -> "kind " + (char) ('a' + i % 26), i -> i % 26);
        run("splits: {folds: 2, repeats: 2}\nmetrics: [auc-pairs, accuracy, brier-skill]\n");
        List<Program.Outcome> outcomes = readings(List.of());
        assertThat(outcomes.get(4).out()).contains("the most frequent mistakes");
        assertThat(outcomes.get(5).out().lines().filter(l -> l.startsWith("kind z")))
                .hasSize(5);
        assertThat(program().run("scores", "l.kfl", "--thresholds").expect(3).err())
                .contains("thresholds are for two classes: data set \"bees\" has 26");
    }

    @Test
    void sixtyCandidates() throws Exception {
        table(40, 0.8, i -> i % 2 == 0 ? "kept" : "lost", i -> i % 2);
        Files.writeString(
                folder.resolve("p.yaml"),
                """
                keenfold: 1
                data: [{file: bees.csv, target: fate}]
                splits: {folds: 4, repeats: 2}
                seed: 4
                metrics: [auc]
                candidates:
                  guess: {classifier: majority}
                  near: {classifier: nearest, neighbours: {vary: {from: 1, to: 15, points: 15}}, votes: {vary: [even, by-distance]}}
                  logit: {classifier: logistic, strength: {vary: {from: 0.01, to: 100, points: 29, scale: log}}}
                """);
        program().run("run", "p.yaml", "-o", "l.kfl").expect(0);
        List<Program.Outcome> outcomes = readings(List.of());
        assertThat(outcomes.get(2).out())
                .contains("family near, along its settings")
                .contains("family logit, along its settings")
                .contains("Of 60 candidates compared on the same splits");
        assertThat(outcomes.get(2).said()).contains("was selected from 60");
    }
}

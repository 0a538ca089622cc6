package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Locale;
import java.util.StringJoiner;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Steps of the plan through the built program. */
class StepsIT {
    private static final String CANDIDATES =
            """
              plain: {classifier: nearest}
              marked: {classifier: nearest, prepare: [{fill: {with: constant, mark: yes}}, {one-hot: 3}, standardise]}
              curved: {classifier: nearest, prepare: [{fill: mean}, ordinal, {log: {unit: 2}}, power, rescale, drop-constant, drop-correlated]}
              binned: {classifier: naive-bayes, prepare: [{bins: 4}, {fill: mode}]}
              few: {classifier: nearest, prepare: [fill, one-hot, standardise, {strongest: {vary: [3, 6]}}]}
              known: {classifier: tree, prepare: [{strongest: {number: 5, by: information}}, fill, one-hot, interactions]}
              turned: {classifier: naive-bayes, prepare: [fill, one-hot, standardise, {components: {choose: [2, 4]}}], tuning: {folds: 3, metric: log-loss}}
              named: {classifier: tree, prepare: [fill, one-hot, {leave-out: [%1$s]}]}
              only: {classifier: tree, prepare: [{keep-only: [%1$s]}, fill, one-hot]}
              only2: {classifier: tree, prepare: [{keep-only: [%1$s]}, fill, one-hot, rescale]}
            """;

    private static final String CLASSIFIERS =
            """
              guess: {classifier: majority}
              linear: {classifier: logistic, strength: 10}
              disc: {classifier: discriminant, diagonal: 0.3}
              woods: {classifier: forest, trees: 9, balance: weights}
              climb: {classifier: boosting, rounds: 3, depth: 2}
              even: {classifier: naive-bayes, density: kernel, balance: resampling, calibrate: {by: isotonic, folds: 2}}
              wide: {classifier: svm}
              flat: {classifier: svm, kernel: linear, strength: 0.1}
              deep: {classifier: network, layers: 2, units: 3, steps: 20}
              mixed: {classifier: nearest, distance: mixed, votes: by-distance}
              council: {classifier: vote, members: [woods, disc], by: label}
              tower: {classifier: stack, members: [mixed, woods], with: naive-bayes, folds: 2}
            """;

    @TempDir
    private Path folder;

    private Program.Outcome run(String data, String column, String splits) throws Exception {
        return run(data, column, splits, "");
    }

    private Program.Outcome run(String data, String column, String splits, String more) throws Exception {
        Files.writeString(
                folder.resolve("plan.yaml"),
                "keenfold: 1\ndata: [" + data + "]\nsplits: " + splits
                        + "\nseed: 3\nmetrics: [accuracy, log-loss]\ncandidates:\n"
                        + String.format(Locale.ROOT, CANDIDATES, column)
                        + more);
        return new Program(folder).run("run", "plan.yaml", "-o", "l.kfl");
    }

    @Test
    void stepsStandBeforeTheClassifierAndAreSaid() throws Exception {
        Program program = new Program(folder);
        run("{file: " + Program.DEMO.resolve("swarm.csv") + ", target: swarmed}", "weather", "{folds: 4, repeats: 2}")
                .expect(0);
        JsonNode candidates = program.run("scores", "l.kfl", "--json", "--draws", "200")
                .expect(0)
                .json()
                .get("datasets")
                .get(0)
                .get("candidates");
        assertThat(candidates.get(4).get("name").asText()).isEqualTo("few/3");
        assertThat(candidates.get(4).get("steps").toString())
                .isEqualTo("[\"fill\",\"one-hot\",\"standardise\",\"strongest 3\"]");
        assertThat(candidates.get(7).get("chosen").toString()).contains("components.keep=");
        Program.Outcome text = program.run("scores", "l.kfl", "--draws", "200").expect(0);
        assertThat(text.out())
                .contains("steps before the classifier; what it is wrapped in\nplain: fill, one-hot, standardise\n")
                .contains("few/3: fill, one-hot, standardise, strongest 3\n")
                .contains("turned: fill, one-hot, standardise, components (chosen)\n");
        assertThat(text.out().lines()).allMatch(l -> l.length() <= 100);
        assertThat(text.said()).contains("only, only2 predict exactly the same");
        // A class that is not there would weigh nothing, without a word.
        Files.writeString(
                folder.resolve("tilted.yaml"),
                Files.readString(folder.resolve("plan.yaml"))
                        + "  woods: {classifier: forest, trees: 9, balance: {of: {nope: 2}}}\n");
        assertThat(program.run("run", "tilted.yaml", "-o", "t.kfl").expect(3).said())
                .contains("key \"candidates.woods.balance.of\": there is no class \"nope\"");
        // The ledger's own plan makes the same run.
        Files.writeString(
                folder.resolve("frozen.yaml"),
                program.run("export", "l.kfl", "--what", "plan").expect(0).out());
        assertThat(program.run("run", "frozen.yaml", "-o", "l.kfl").expect(0).said())
                .contains("nothing to do");
    }

    @Test
    void everyStepAndClassifierTakesGapsUnseenLevelsManyClassesAndManyColumns() throws Exception {
        RandomSource chance = new Seed(4).chance();
        StringBuilder csv = new StringBuilder("y,c");
        for (int j = 0; j < 500; j++) {
            csv.append(",x").append(j);
        }
        for (int i = 0; i < 156; i++) {
            StringJoiner row = new StringJoiner(",", "\n", "");
            row.add(Character.toString((char) ('a' + i % 26)));
            // Some levels occur once, so that no training side without that row has seen them.
            row.add(i % 10 == 0 ? "once" + i : i % 7 == 0 ? "" : "l" + chance.below(5));
            for (int j = 0; j < 500; j++) {
                row.add(
                        j % 50 == 7 && chance.below(6) == 0
                                ? ""
                                : String.format(Locale.ROOT, "%.3f", chance.normal() + (j < 3 ? i % 26 : 0)));
            }
            csv.append(row);
        }
        Files.writeString(folder.resolve("wide.csv"), csv.append('\n'));
        Program.Outcome outcome = run("{file: wide.csv, target: y}", "x1, c", "{folds: 2, repeats: 2}", CLASSIFIERS);
        outcome.expect(0);
        assertThat(outcome.said()).doesNotContain("failed");
    }

    @Test
    void whatCannotBeMeantIsRefused() throws Exception {
        Program.Outcome outcome =
                run("{file: " + Program.DEMO.resolve("swarm.csv") + ", target: swarmed}", "wether", "{folds: 4}");
        assertThat(outcome.expect(3).said())
                .contains("candidate \"only\" prepares column \"wether\": data set \"swarm\" has no such column");
        Files.writeString(
                folder.resolve("bare.yaml"),
                """
                keenfold: 1
                data: [{file: %s, target: swarmed}]
                splits: {folds: 3, repeats: 1}
                seed: 1
                candidates: {bare: {classifier: logistic, prepare: [standardise]}, guess: {classifier: majority}}
                """
                        .formatted(Program.DEMO.resolve("swarm.csv")));
        assertThat(new Program(folder)
                        .run("run", "bare.yaml", "-o", "b.kfl")
                        .expect(4)
                        .said())
                .contains("failed 3 times: bare: logistic needs number columns");
    }
}

package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.StringJoiner;
import java.util.zip.GZIPInputStream;
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

    /** A table of counts gives what the same table gives with each case in a row of its own, to the last digit. */
    @Test
    void aRowOfAWeightIsThatManyCases() throws Exception {
        RandomSource chance = new Seed(8).chance();
        StringBuilder counted = new StringBuilder("site,queen,wintered,colonies\n");
        StringBuilder cases = new StringBuilder("site,queen,wintered\n");
        for (int i = 0; i < 24; i++) {
            String row = "s" + i % 3 + "," + i / 3 % 4 + "," + (i < 12 ? "no" : "yes");
            int count = chance.below(9) + (i % 3 == 0 && i < 12 ? 6 : 1);
            counted.append(row).append(',').append(i == 7 ? 0 : count).append('\n');
            cases.append((row + "\n").repeat(i == 7 ? 0 : count));
        }
        Files.writeString(folder.resolve("counted.csv"), counted);
        Files.writeString(folder.resolve("cases.csv"), cases);
        Program program = new Program(folder);
        String more =
                """
                  guess: {classifier: majority}
                  logit: {classifier: logistic}
                  bush: {classifier: tree, depth: {choose: [1, 3]}, balance: weights}
                  curve: {classifier: naive-bayes, calibrate: platt, prepare: [target-means]}
                """;
        StringJoiner told = new StringJoiner("\n");
        for (String data : List.of("counted.csv, weights: colonies, text: all", "cases.csv, text: all")) {
            Files.writeString(
                    folder.resolve("plan.yaml"),
                    "keenfold: 1\ndata: [{name: t, target: wintered, file: " + data + "}]\nholdout: {share: 0.2}\n"
                            + "splits: {folds: 3, repeats: 2}\nseed: 3\nmetrics: [auc, accuracy]\ncandidates:\n"
                            + more);
            Files.deleteIfExists(folder.resolve("l.kfl"));
            Program.Outcome run = program.run("run", "plan.yaml", "-o", "l.kfl").expect(0);
            assertThat(run.err().contains("1 row counts for no case by \"colonies\" and is left out"))
                    .isEqualTo(data.startsWith("counted"));
            told.add(
                    program.run("export", "l.kfl", "--what", "scores").expect(0).out());
            told.add(program.run("contrast", "l.kfl", "--draws", "200", "--csv")
                    .expect(0)
                    .out());
            JsonNode trained = program.run("train", "l.kfl", "-o", "m.kfm", "--force", "--json")
                    .expect(0)
                    .json();
            told.add(trained.get("rows").toString());
            if (data.startsWith("counted")) {
                assertThat(program.run("scores", "l.kfl", "--draws", "200")
                                .expect(0)
                                .out())
                        .contains("rows that count for");
                // The folds that were written are read back, case by case.
                Files.writeString(
                        folder.resolve("folds.csv"),
                        program.run("export", "l.kfl", "--what", "folds")
                                .expect(0)
                                .out());
                String given = Files.readString(folder.resolve("plan.yaml"))
                        .replace("{folds: 3, repeats: 2}", "{scheme: given, file: folds.csv}");
                Files.writeString(folder.resolve("given.yaml"), given);
                program.run("run", "given.yaml", "-o", "g.kfl").expect(0);
                assertThat(program.run("export", "g.kfl", "--what", "scores")
                                .expect(0)
                                .out())
                        .isEqualTo(program.run("export", "l.kfl", "--what", "scores")
                                .expect(0)
                                .out());
            }
        }
        String[] both = told.toString().split("\n(?=dataset,candidate,repeat)");
        assertThat(both).hasSize(2);
        assertThat(both[0]).isEqualTo(both[1]);
        Files.writeString(folder.resolve("half.csv"), counted.toString().replaceFirst(",[0-9]+\n", ",1.5\n"));
        String huge = counted.toString().replaceAll(",[0-9]+\n", ",900000\n");
        Files.writeString(folder.resolve("huge.csv"), huge);
        for (String command : List.of("draft", "compare")) {
            assertThat(program.run(command, "huge.csv", "--target", "wintered", "--weights", "colonies")
                            .expect(3)
                            .err())
                    .contains("they add up to 21600000 cases; from 1 to 10000000 are possible");
        }
        assertThat(program.run("compare", "half.csv", "--target", "wintered", "--weights", "colonies")
                        .expect(3)
                        .err())
                .contains("row 1 has 1.5; weights that are no counts of cases cannot be used");
    }

    /** Words of texts and lists of steps from the plan to new rows. */
    @Test
    void wordsAreReadAndListsOfStepsVaried() throws Exception {
        RandomSource chance = new Seed(4).chance();
        StringBuilder table = new StringBuilder("remark,kg,wintered\n");
        for (int i = 0; i < 120; i++) {
            boolean lost = chance.below(2) == 0;
            table.append("\"Row ")
                    .append(i)
                    .append(lost ? ": mould, few bees" : ": calm and strong")
                    .append("\",");
            table.append(chance.below(30))
                    .append(',')
                    .append(lost ? "no" : "yes")
                    .append('\n');
        }
        Files.writeString(folder.resolve("notes.csv"), table);
        String plan = "keenfold: 1\ndata: [{file: notes.csv, target: wintered, text: [remark]}]\n"
                + "splits: {folds: 3, repeats: 2}\nseed: 3\nmetrics: [accuracy]\ncandidates:\n"
                + "  plain: {classifier: logistic}\n"
                + "  read: {classifier: logistic, prepare: {vary: [[{words: remark}, standardise],"
                + " [{words: {columns: remark, by: tf-idf, most: 5}}]]}}\n";
        Files.writeString(folder.resolve("plan.yaml"), plan);
        Program program = new Program(folder);
        program.run("run", "plan.yaml", "-o", "l.kfl").expect(0);
        JsonNode candidates = program.run("scores", "l.kfl", "--json", "--draws", "200")
                .expect(0)
                .json()
                .get("datasets")
                .get(0)
                .get("candidates");
        assertThat(candidates.findValuesAsText("name"))
                .containsExactly("plain", "read/words=remark+standardise", "read/words=remark:by=tf-idf:most=5");
        List<JsonNode> means = candidates.findValues("accuracy");
        assertThat(means.get(0).get("mean").asDouble()).isLessThan(0.7);
        assertThat(means.get(1).get("mean").asDouble()).isEqualTo(1);
        assertThat(means.get(2).get("mean").asDouble()).isEqualTo(1);
        program.run("train", "l.kfl", "--candidate", "read/words=remark+standardise", "-o", "m.kfm")
                .expect(0);
        // The model keeps words, and no text of a training row.
        try (var unpacked = new GZIPInputStream(Files.newInputStream(folder.resolve("m.kfm")))) {
            assertThat(new String(unpacked.readAllBytes(), StandardCharsets.UTF_8))
                    .contains("mould")
                    .doesNotContain("mould, few bees");
        }
        assertThat(program.run("show", "m.kfm").expect(0).out()).contains("from remark (text), kg (number)");
        Files.writeString(folder.resolve("new.csv"), "kg,remark\n3,MOULD everywhere; bees few\n3,Strong! Calm.\n3,\n");
        Program.Outcome labelled = program.run("predict", "m.kfm", "new.csv").expect(0);
        assertThat(labelled.out().lines().skip(1).limit(2).map(l -> l.split(",")[1]))
                .containsExactly("no", "yes");
        assertThat(labelled.err()).doesNotContain("not trained on");
        Files.writeString(folder.resolve("plan.yaml"), plan.replace("words: remark}", "words: kg}"));
        assertThat(program.run("folds", "plan.yaml").expect(3).err())
                .contains("words: column \"kg\" of \"notes\" holds numbers");
        Files.writeString(folder.resolve("plan.yaml"), plan.replace(", text: [remark]", ""));
        assertThat(program.run("folds", "plan.yaml").expect(3).err()).contains("no such column");
    }
}

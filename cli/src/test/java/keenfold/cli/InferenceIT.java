package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Methods, rules, closer looks, halves and adopted tables through the built program. */
class InferenceIT {
    @TempDir
    private static Path folder;

    private static final String PLAN =
            """
            keenfold: 1
            data:
              - {file: %s, target: swarmed, positive: yes}
              - {file: %s, target: kind, leave-out: [sample]}
            splits: {folds: 5, repeats: 3}
            seed: 5
            metrics: [auc, accuracy]
            costs: {yes: {no: 4}, no: {yes: 1}}
            candidates:
              guess: {classifier: majority, rank: 3}
              logit: {classifier: logistic, strength: {vary: [1, 30]}, rank: 2}
              bush: {classifier: tree, depth: 3, rank: 1}
            evidence: {draws: 300, margin: 0.02%s}
            """;

    @BeforeAll
    static void runAPlan() throws Exception {
        write("plan.yaml", "");
        program().run("run", "plan.yaml", "-o", "l.kfl").expect(0);
    }

    private static void write(String name, String more) throws Exception {
        Files.writeString(
                folder.resolve(name),
                PLAN.formatted(Program.DEMO.resolve("swarm.csv"), Program.DEMO.resolve("forage.csv"), more));
    }

    private static Program program() {
        return new Program(folder);
    }

    private static JsonNode json(String... args) throws Exception {
        List<String> all = new ArrayList<>(List.of(args));
        all.add("--json");
        return program().run(all.toArray(String[]::new)).expect(0).json();
    }

    /** Means, differences, standard errors and thresholds of the three commands are the same numbers. */
    @ParameterizedTest
    @ValueSource(strings = {"auc", "accuracy", "mcc", "brier-skill"})
    void scoresContrastAndPickAgree(String metric) throws Exception {
        JsonNode scores = json("scores", "l.kfl", "--metric", metric);
        JsonNode contrast = json("contrast", "l.kfl", "--metric", metric, "--against", "all");
        JsonNode pick = json("pick", "l.kfl", "--metric", metric, "--rule", "m-se=0.7");
        for (int t = 0; t < 2; t++) {
            JsonNode set = scores.get("datasets").get(t);
            Map<String, JsonNode> means = new HashMap<>();
            set.get("candidates")
                    .forEach(c ->
                            means.put(c.get("name").asText(), c.get("metrics").get(metric)));
            for (JsonNode c : contrast.get("contrasts")) {
                if (c.get("dataset").asText().equals(set.get("name").asText())) {
                    double a =
                            means.get(c.get("candidate").asText()).get("mean").asDouble();
                    double b = means.get(c.get("against").asText()).get("mean").asDouble();
                    assertThat(c.get("difference").asDouble()).isEqualTo(a - b);
                }
            }
            JsonNode own = pick.get("datasets").get(t);
            JsonNode best = means.get(own.get("best").asText());
            assertThat(own.get("best_mean").asDouble())
                    .isEqualTo(best.get("mean").asDouble());
            assertThat(own.get("se").asDouble()).isEqualTo(best.get("se").asDouble());
            assertThat(own.get("threshold").asDouble())
                    .isCloseTo(
                            best.get("mean").asDouble() - 0.7 * best.get("se").asDouble(), within(1e-15));
            own.get("eligible")
                    .forEach(e -> assertThat(means.get(e.asText()).get("mean").asDouble())
                            .isGreaterThanOrEqualTo(own.get("threshold").asDouble()));
            double frequency = 0;
            for (JsonNode f : own.get("frequency")) {
                frequency += f.asDouble();
            }
            assertThat(frequency).isCloseTo(1, within(1e-9));
        }
    }

    @Test
    void everyMethodSaysWhatItIs() throws Exception {
        for (String method : List.of("pivot", "cases", "cases-bca", "corrected-t")) {
            JsonNode one = json("contrast", "l.kfl", "--method", method, "--dataset", "swarm");
            assertThat(one.get("method").asText()).isEqualTo(method);
            assertThat(one.get("adjust").asText()).isEqualTo(method.equals("pivot") ? "max-t" : "holm");
            one.get("contrasts").forEach(c -> assertThat(c.get("p_adjusted").asDouble())
                    .isGreaterThanOrEqualTo(c.get("p").asDouble()));
        }
        Program.Outcome mcnemar = program()
                .run("contrast", "l.kfl", "--method", "mcnemar", "--metric", "accuracy")
                .expect(0);
        assertThat(mcnemar.said()).contains("mcnemar looks at the labels of the first repeat alone");
        assertThat(program()
                        .run("contrast", "l.kfl", "--method", "mcnemar")
                        .expect(3)
                        .err())
                .contains("ask for --metric accuracy or error");
        assertThat(program()
                        .run("contrast", "l.kfl", "--method", "cases", "--adjust", "max-t")
                        .expect(2)
                        .err())
                .contains("max-t needs the draws of method pivot");
        assertThat(program()
                        .run("contrast", "l.kfl", "--method", "t-test")
                        .expect(2)
                        .err())
                .contains("--method \"t-test\" is not known");
        assertThat(program()
                        .run("contrast", "l.kfl", "--method", "halves")
                        .expect(3)
                        .err())
                .contains("of which this ledger has none");
        assertThat(json("contrast", "l.kfl", "--by", "class", "--metric", "recall", "--dataset", "forage")
                        .get("contrasts"))
                .hasSize(4 * 3);
    }

    @Test
    void acrossDataSets() throws Exception {
        JsonNode across = json("contrast", "l.kfl", "--across").get("across");
        double ranks = 0;
        for (JsonNode r : across.get("ranks")) {
            ranks += r.asDouble();
        }
        assertThat(ranks).isCloseTo(1 + 2 + 3 + 4, within(1e-12));
        assertThat(across.get("wilcoxon")).hasSize(6);
        assertThat(across.get("iman_davenport").get("exact").asBoolean()).isTrue();
        Program.Outcome text = program().run("contrast", "l.kfl", "--across").expect(0);
        assertThat(text.said()).contains("no pair can reach p adjusted < 0.05 by Wilcoxon's test");
        assertThat(program()
                        .run("contrast", "l.kfl", "--across", "--dataset", "swarm")
                        .expect(3)
                        .err())
                .contains("needs at least 2");
        JsonNode overall = json("pick", "l.kfl").get("overall");
        assertThat(overall.get("ranks")).hasSize(4);
        Files.writeString(
                folder.resolve("twice.yaml"),
                """
                keenfold: 1
                data: [{file: %1$s, target: swarmed}, {file: %1$s, target: swarmed, name: again}]
                splits: {folds: 3, repeats: 2}
                seed: 1
                candidates: {guess: {classifier: majority}, bush: {classifier: tree}}
                """
                        .formatted(Program.DEMO.resolve("swarm.csv")));
        program().run("run", "twice.yaml", "-o", "twice.kfl").expect(0);
        assertThat(program().run("contrast", "twice.kfl", "--across").expect(3).said())
                .contains("have rows of the same file in common");
    }

    @Test
    void rulesAndOrdersAreTheUsers() throws Exception {
        JsonNode bySize = json("pick", "l.kfl", "--dataset", "swarm", "--rule", "m-se=100");
        assertThat(bySize.get("datasets").get(0).get("pick").asText()).isEqualTo("guess");
        JsonNode byRank = json("pick", "l.kfl", "--dataset", "swarm", "--rule", "m-se=100", "--simpler-by", "rank");
        assertThat(byRank.get("datasets").get(0).get("pick").asText()).isEqualTo("bush");
        JsonNode stated = json("pick", "l.kfl", "--dataset", "swarm", "--rule", "m-se=100", "--rank", "logit/30,bush");
        assertThat(stated.get("datasets").get(0).get("pick").asText()).isEqualTo("logit/30");
        JsonNode rules = bySize.get("datasets").get(0).get("rules");
        assertThat(rules).hasSize(7);
        assertThat(bySize.get("datasets").get(0).get("families").get(0).get("members"))
                .hasSize(2);
        assertThat(bySize.get("datasets")
                        .get(0)
                        .get("corrected")
                        .get("best-mean")
                        .isNumber())
                .isTrue();
        assertThat(program().run("pick", "l.kfl", "--rank", "nobody").expect(3).err())
                .contains("no candidate or family is called \"nobody\"");
        assertThat(program().run("pick", "l.kfl", "--rule", "two-se").expect(2).err())
                .contains("rule \"two-se\" is not known");
        assertThat(program()
                        .run("pick", "l.kfl", "--rule", "may-be-best")
                        .expect(0)
                        .out()
                        .replaceAll("\\s+", " "))
                .contains("To quote: \"Of 4 candidates compared on the same splits (3 x 5 folds, stratified)");
    }

    @Test
    void closerLooksAreTextTablesAndDocuments() throws Exception {
        for (List<String> look : List.of(
                List.of("--by", "repeat"),
                List.of("--by", "fold"),
                List.of("--by", "class", "--dataset", "forage"),
                List.of("--by", "dataset"),
                List.of("--by", "column", "--dataset", "swarm"),
                List.of("--confusion"),
                List.of("--confusion=rows", "--by", "repeat"),
                List.of("--thresholds", "--dataset", "swarm"),
                List.of("--spread"))) {
            List<String> args = new ArrayList<>(List.of("scores", "l.kfl"));
            args.addAll(look);
            String text = program().run(args.toArray(String[]::new)).expect(0).out();
            assertThat(text.lines()).as(look + "").hasSizeGreaterThan(4).allMatch(l -> l.length() <= 100);
            args.add("--csv");
            String csv = program().run(args.toArray(String[]::new)).expect(0).out();
            assertThat(csv.lines().map(l -> l.split(",", -1).length).distinct())
                    .as(look + "")
                    .hasSize(1);
            args.set(args.size() - 1, "--json");
            assertThat(program()
                            .run(args.toArray(String[]::new))
                            .expect(0)
                            .json()
                            .get("keenfold")
                            .asInt())
                    .isEqualTo(1);
        }
        assertThat(program().run("scores", "l.kfl", "--thresholds").expect(3).err())
                .contains("thresholds are for two classes: data set \"forage\" has 4");
        assertThat(program().run("scores", "l.kfl", "--by", "class").expect(3).err())
                .contains("name one with --dataset");
        assertThat(program()
                        .run("scores", "l.kfl", "--by", "fold", "--confusion")
                        .expect(2)
                        .err())
                .contains("ask for one at a time");
        assertThat(program()
                        .run("scores", "l.kfl", "--spread", "--candidate", "bsh")
                        .expect(3)
                        .err())
                .contains("the nearest is \"bush\"");
    }

    /** Cost of a confusion matrix, from the counts that another look shows. */
    @Test
    void costsAreThoseOfTheConfusionMatrix() throws Exception {
        JsonNode matrix = json("scores", "l.kfl", "--confusion", "--dataset", "swarm", "--candidate", "bush");
        double sum = 0;
        double rows = 0;
        for (JsonNode cell : matrix.get("rows")) {
            if (cell.get("repeat").isNull()) {
                String pair =
                        cell.get("actual").asText() + cell.get("predicted").asText();
                double count = cell.get("count").asDouble();
                rows += count;
                sum += count * (pair.equals("yesno") ? 7 : pair.equals("noyes") ? 2 : 0);
            }
        }
        double cost = sum / rows;
        JsonNode scores = json(
                "scores",
                "l.kfl",
                "--dataset",
                "swarm",
                "--metric",
                "cost",
                "--cost",
                "yes:no=7",
                "--cost",
                "no:yes=2");
        for (JsonNode c : scores.get("datasets").get(0).get("candidates")) {
            if (c.get("name").asText().equals("bush")) {
                assertThat(c.get("metrics").get("cost").get("mean").asDouble()).isCloseTo(cost, within(1e-12));
            }
        }
        assertThat(program()
                        .run("scores", "l.kfl", "--dataset", "swarm", "--metric", "cost", "--cost", "yes:no=5")
                        .expect(2)
                        .err())
                .contains("--cost: costs do not say what a mistake (actual:predicted) costs: no:yes; name it")
                .contains("with else=COST");
        JsonNode named = json(
                "scores",
                "l.kfl",
                "--dataset",
                "swarm",
                "--metric",
                "cost",
                "--cost",
                "yes:no=5",
                "--cost",
                "no:yes=2");
        JsonNode others = json(
                "scores", "l.kfl", "--dataset", "swarm", "--metric", "cost", "--cost", "yes:no=5", "--cost", "else=2");
        assertThat(others.get("datasets")).isEqualTo(named.get("datasets"));
        Files.writeString(
                folder.resolve("costly.yaml"),
                PLAN.replace("no: {yes: 1}", "no: {no: 0}")
                        .formatted(Program.DEMO.resolve("swarm.csv"), Program.DEMO.resolve("forage.csv"), ""));
        assertThat(program()
                        .run("run", "costly.yaml", "-o", "costly.kfl")
                        .expect(3)
                        .err())
                .contains(
                        "costly.yaml, key \"costs\": costs do not say what a mistake (actual:predicted) costs: no:yes");
        assertThat(program()
                        .run("scores", "l.kfl", "--cost", "yes:maybe=7")
                        .expect(2)
                        .err())
                .contains("expected ACTUAL:PREDICTED=COST");
    }

    /** A plan that only reads results in another way goes on with its ledger; halves resume where they stopped. */
    @Test
    void halvesAreAddedAndResume() throws Exception {
        Files.writeString(
                folder.resolve("small.yaml"),
                """
                keenfold: 1
                data: [{file: %s, target: swarmed, positive: yes}]
                splits: {folds: 4, repeats: 2}
                seed: 5
                metrics: [auc]
                candidates: {guess: {classifier: majority}, bayes: {classifier: naive-bayes}}
                """
                        .formatted(Program.DEMO.resolve("swarm.csv")));
        program().run("run", "small.yaml", "-o", "r.kfl").expect(0);
        String before =
                program().run("export", "r.kfl", "--what", "scores").expect(0).out();
        String plan = Files.readString(folder.resolve("small.yaml"));
        Files.writeString(folder.resolve("small.yaml"), plan + "evidence: {halves: 4, draws: 200}\n");
        program().run("run", "small.yaml", "-o", "r.kfl").expect(0);
        JsonNode few = json("contrast", "r.kfl", "--method", "halves");
        assertThat(few.get("contrasts").get(0).get("call").isNull())
                .as("fewer than 10 make no call")
                .isTrue();
        Files.writeString(
                folder.resolve("small.yaml"),
                plan + "evidence: {halves: {splits: 10, repeats: 3}, draws: 200, method: halves}\n");
        program().run("run", "small.yaml", "-o", "r.kfl", "--threads", "1").expect(0);
        JsonNode enough = json("contrast", "r.kfl");
        assertThat(enough.get("method").asText()).isEqualTo("halves");
        assertThat(enough.get("contrasts").get(0).get("call").asText()).isNotEqualTo("null");
        program().run("run", "small.yaml", "-o", "whole.kfl", "--threads", "2").expect(0);
        assertThat(json("contrast", "whole.kfl")).isEqualTo(enough);
        assertThat(program()
                        .run("export", "r.kfl", "--what", "scores")
                        .expect(0)
                        .out())
                .isEqualTo(before);
        assertThat(program().run("run", "small.yaml", "-o", "r.kfl").expect(0).err())
                .contains("nothing to do");
    }

    /** What is named when results can be seen already has no smaller family, and is marked. */
    @Test
    void whatIsSaidAfterwardsIsMarked() throws Exception {
        String plan = Files.readString(folder.resolve("plan.yaml"));
        Files.writeString(folder.resolve("before.yaml"), plan.replace("margin: 0.02", "margin: 0.4, against: bush"));
        program().run("run", "before.yaml", "-o", "before.kfl").expect(0);
        JsonNode before = json("contrast", "before.kfl", "--dataset", "swarm");
        assertThat(before.get("contrasts")).hasSize(3);
        assertThat(before.get("margin_afterwards").asBoolean()).isFalse();
        assertThat(before.get("notices").toString()).doesNotContain("afterwards");
        // The same plan, said when the fits of another were there.
        program().run("run", "plan.yaml", "-o", "after.kfl").expect(0);
        Files.writeString(
                folder.resolve("after.yaml"),
                Files.readString(folder.resolve("before.yaml")) + "pick: {rule: best-mean}\n");
        program().run("run", "after.yaml", "-o", "after.kfl").expect(0);
        JsonNode after = json("contrast", "after.kfl", "--dataset", "swarm");
        for (JsonNode one : after.get("contrasts")) {
            for (JsonNode other : before.get("contrasts")) {
                if (one.get("candidate").equals(other.get("candidate"))) {
                    assertThat(one.get("difference")).isEqualTo(other.get("difference"));
                    assertThat(one.get("p_adjusted").asDouble())
                            .as("adjusted for all six pairs, not for three")
                            .isGreaterThanOrEqualTo(other.get("p_adjusted").asDouble());
                }
            }
        }
        assertThat(after.get("margin_afterwards").asBoolean()).isTrue();
        assertThat(after.get("notices").toString())
                .contains("\"against-afterwards\"")
                .containsPattern("was said after 120 fits were made \\(20\\d\\d-")
                .contains("\"margin-afterwards\"");
        assertThat(program()
                        .run("contrast", "after.kfl", "--dataset", "swarm")
                        .expect(0)
                        .out())
                .contains("equivalent")
                .contains("(margin set afterwards)");
        assertThat(json("pick", "after.kfl", "--dataset", "swarm")
                        .get("notices")
                        .toString())
                .contains("before the first fit the rule was one-se");
        program().run("report", "after.kfl", "-o", "after", "--page-only").expect(0);
        assertThat(Files.readString(folder.resolve("after/report.html")))
                .contains("p-values are adjusted for all pairs");
        // A merged ledger remembers it too.
        program().run("merge", "after.kfl", "-o", "merged.kfl").expect(0);
        assertThat(json("contrast", "merged.kfl", "--dataset", "swarm")).isEqualTo(after);
    }

    @Test
    void rowsThatCannotBeDividedAgainAreRefusedBeforeALedgerIsMade() throws Exception {
        write("loo.yaml", ", halves: 10");
        Path plan = folder.resolve("loo.yaml");
        Files.writeString(
                plan, Files.readString(plan).replace("{folds: 5, repeats: 3}", "{scheme: monte-carlo, repeats: 5}"));
        assertThat(program().run("run", "loo.yaml", "-o", "loo.kfl").expect(3).err())
                .contains("each half is divided into folds anew, which needs splits of scheme k-fold");
        assertThat(folder.resolve("loo.kfl")).doesNotExist();
    }

    @Test
    void adoptedTablesAreReadAsTheirOwn() throws Exception {
        program().run("export", "l.kfl", "--what", "predictions", "-o", "p.csv").expect(0);
        Files.deleteIfExists(folder.resolve("a.kfl"));
        assertThat(program()
                        .run("adopt", "p.csv", "-o", "a.kfl", "--positive", "yes")
                        .expect(3)
                        .err())
                .contains("--positive yes: data set \"forage\" has the classes");
        program()
                .run("adopt", "p.csv", "-o", "a.kfl", "--metric", "auc", "--metric", "accuracy")
                .expect(0);
        for (String command : List.of("contrast", "pick")) {
            JsonNode own = json(command, "l.kfl", "--dataset", "forage");
            JsonNode theirs = json(command, "a.kfl", "--dataset", "forage");
            String key = command.equals("pick") ? "best_mean" : "difference";
            List<Double> a = values(own, key);
            assertThat(a).isNotEmpty().isEqualTo(values(theirs, key));
        }
        program().run("export", "l.kfl", "--what", "scores", "-o", "s.csv").expect(0);
        program().run("adopt", "s.csv", "-o", "s.kfl").expect(0);
        JsonNode folds = json("contrast", "s.kfl", "--dataset", "forage");
        JsonNode corrected = json("contrast", "l.kfl", "--dataset", "forage", "--method", "corrected-t");
        assertThat(folds.get("method").asText()).isEqualTo("corrected-t");
        double[] theirs = values(folds.get("contrasts"), "se").stream()
                .mapToDouble(v -> v)
                .toArray();
        double[] own = values(corrected.get("contrasts"), "se").stream()
                .mapToDouble(v -> v)
                .toArray();
        Arrays.sort(theirs);
        Arrays.sort(own);
        // 320 rows do not divide evenly into 5 folds of the four classes; test rows per training row are 1/4 all the
        // same.
        assertThat(theirs).containsExactly(own, within(1e-9));
        assertThat(program()
                        .run("export", "s.kfl", "--what", "predictions")
                        .expect(3)
                        .err())
                .contains("only scores were adopted into it");
        for (String look : List.of("--confusion", "--thresholds", "--by=repeat")) {
            assertThat(program().run("scores", "s.kfl", look).expect(3).err())
                    .contains("needs predictions, and only scores were adopted here");
        }
        assertThat(program()
                        .run("contrast", "a.kfl", "--method", "halves")
                        .expect(3)
                        .err())
                .contains("which adopted ones cannot be; use pivot");
        assertThat(program().run("scores", "a.kfl", "--by", "column").expect(3).err())
                .contains("adopted candidates cannot be trained");
        // Two data sets, two metrics, six pairs, and a header; the numbers are those of contrast.
        String exported = program()
                .run("export", "l.kfl", "--what", "contrasts")
                .expect(0)
                .out();
        assertThat(exported.lines()).hasSize(1 + 2 * 2 * 6);
        String shown = program()
                .run("contrast", "l.kfl", "--against", "bush", "--csv", "--quiet")
                .expect(0)
                .out();
        assertThat(exported.lines().toList())
                .containsAll(shown.lines().filter(l -> l.contains(",bush,")).toList());
        assertThat(program()
                        .run("contrast", "s.kfl", "--method", "cases")
                        .expect(3)
                        .err())
                .contains("needs predictions, and only scores were adopted here");
        assertThat(program().run("run", "plan.yaml", "-o", "s.kfl").expect(3).err())
                .contains("holds scores that were made elsewhere, and no predictions");
    }

    private static List<Double> values(JsonNode document, String key) {
        List<Double> found = new ArrayList<>();
        document.findValues(key).forEach(v -> found.add(v.asDouble()));
        return found;
    }
}

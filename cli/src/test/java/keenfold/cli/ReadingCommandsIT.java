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

/** The commands that read a ledger, held against plain recomputation and against one another. */
class ReadingCommandsIT {
    @TempDir
    private static Path folder;

    private static final int DRAWS = 400;

    @BeforeAll
    static void runAPlan() throws Exception {
        // Without bayes, whose probabilities tie only by rounding, every candidate's ranks are the same from the
        // export.
        Files.writeString(
                folder.resolve("plan.yaml"),
                """
                keenfold: 1
                note: will they swarm?
                data: [{file: %s, target: swarmed, positive: yes}]
                splits: {folds: 5, repeats: 4}
                seed: 99
                metrics: [auc, accuracy, f1, log-loss]
                candidates:
                  guess: {classifier: majority}
                  logit: {classifier: logistic, strength: {vary: [1, 30]}}
                  near: {classifier: nearest, neighbours: 5}
                  tree: {classifier: tree, depth: 3}
                evidence: {draws: %d, margin: 0.01}
                """
                        .formatted(Program.DEMO.resolve("swarm.csv"), DRAWS));
        program().run("run", "plan.yaml", "-o", "l.kfl").expect(0);
    }

    private static Program program() {
        return new Program(folder);
    }

    private static String exported(String what) throws Exception {
        return program().run("export", "l.kfl", "--what", what).expect(0).out();
    }

    @ParameterizedTest
    @ValueSource(strings = {"auc", "accuracy", "f1", "log-loss"})
    void meansAndContrastsAgreeWithSlowRecomputationFromExportedPredictions(String metric) throws Exception {
        SlowInference slow = new SlowInference(exported("predictions"), "swarm", "yes", 99, metric, DRAWS);
        JsonNode scores = program()
                .run("scores", "l.kfl", "--json", "--metric", metric)
                .expect(0)
                .json();
        assertThat(scores.get("primary").asText()).isEqualTo("auc");
        List<String> compared = new ArrayList<>();
        for (JsonNode c : scores.get("datasets").get(0).get("candidates")) {
            JsonNode m = c.get("metrics").get(metric);
            SlowInference.Estimate e = slow.estimate(c.get("name").asText(), "");
            if (m.get("se").isNull()) {
                continue;
            }
            compared.add(c.get("name").asText());
            assertThat(m.get("mean").asDouble()).isCloseTo(e.value(), within(1e-12));
            if (m.get("se").asDouble() == 0) {
                continue;
            }
            assertThat(m.get("se").asDouble()).isCloseTo(e.se(), within(1e-9 * e.se()));
            assertThat(m.get("freedom").asDouble()).isCloseTo(e.freedom(), within(1e-6 * e.freedom()));
            double[] sorted = e.pivot().clone();
            Arrays.sort(sorted);
            double q = sorted[(int) Math.floor(0.95 * (DRAWS + 1))];
            assertThat(m.get("high").asDouble()).isCloseTo(e.value() + q * e.se(), within(1e-6 * e.se()));
        }
        JsonNode contrasts = program()
                .run("contrast", "l.kfl", "--json", "--metric", metric, "--against", "all")
                .expect(0)
                .json();
        List<SlowInference.Estimate> alone = new ArrayList<>();
        List<String[]> pairs = new ArrayList<>();
        Map<String, Integer> index = new HashMap<>();
        for (JsonNode c : contrasts.get("contrasts")) {
            String pair = c.get("candidate").asText() + " " + c.get("against").asText();
            index.put(pair, alone.size());
            pairs.add(
                    new String[] {c.get("candidate").asText(), c.get("against").asText()});
            alone.add(
                    slow.estimate(c.get("candidate").asText(), c.get("against").asText()));
        }
        List<SlowInference.Estimate> family = slow.family(pairs);
        assertThat(family).hasSize(compared.size() * (compared.size() - 1) / 2);
        double[] adjusted = SlowInference.adjusted(family);
        for (JsonNode c : contrasts.get("contrasts")) {
            int i = index.get(
                    c.get("candidate").asText() + " " + c.get("against").asText());
            SlowInference.Estimate e = alone.get(i);
            assertThat(c.get("difference").asDouble()).isCloseTo(e.value(), within(1e-12));
            assertThat(c.get("se").asDouble()).isCloseTo(e.se(), within(1e-9 * e.se()));
            assertThat(c.get("lambda").asDouble()).isCloseTo(e.lambda(), within(1e-9));
            assertThat(c.get("p").asDouble()).isEqualTo(SlowInference.p(e.pivot(), e.statistic()));
            SlowInference.Estimate f = family.get(i);
            assertThat(c.get("freedom").asDouble()).isCloseTo(e.freedom(), within(1e-6 * e.freedom()));
            if (!metric.equals("log-loss")) {
                assertThat(c.get("lambda_family").asDouble()).isCloseTo(f.lambda(), within(1e-9));
            }
            assertThat(c.get("freedom_family").asDouble()).isCloseTo(f.freedom(), within(1e-6 * f.freedom()));
            assertThat(c.get("p_adjusted").asDouble())
                    .isEqualTo(Math.max(c.get("p").asDouble(), adjusted[i]));
        }
    }

    @Test
    void scoresContrastAndPickAgreeWithOneAnother() throws Exception {
        JsonNode scores = program().run("scores", "l.kfl", "--json").expect(0).json();
        JsonNode contrast =
                program().run("contrast", "l.kfl", "--json").expect(0).json();
        JsonNode pick = program()
                .run("pick", "l.kfl", "--json")
                .expect(0)
                .json()
                .get("datasets")
                .get(0);
        Map<String, JsonNode> auc = new HashMap<>();
        scores.get("datasets")
                .get(0)
                .get("candidates")
                .forEach(c -> auc.put(c.get("name").asText(), c.get("metrics").get("auc")));
        String best = pick.get("best").asText();
        assertThat(auc.values())
                .allMatch(m ->
                        m.get("mean").asDouble() <= auc.get(best).get("mean").asDouble());
        assertThat(pick.get("se").asDouble()).isEqualTo(auc.get(best).get("se").asDouble());
        assertThat(pick.get("threshold").asDouble())
                .isEqualTo(pick.get("best_mean").asDouble() - pick.get("se").asDouble());
        for (JsonNode c : contrast.get("contrasts")) {
            assertThat(c.get("against").asText()).isEqualTo(best);
            assertThat(c.get("difference").asDouble())
                    .isEqualTo(auc.get(c.get("candidate").asText()).get("mean").asDouble()
                            - auc.get(best).get("mean").asDouble());
            for (JsonNode rule : pick.get("rules")) {
                if (rule.get("pick").equals(c.get("candidate"))) {
                    assertThat(rule.get("low").asDouble())
                            .isEqualTo(c.get("low").asDouble());
                }
            }
        }
        assertThat(pick.get("eligible")).contains(pick.get("pick"));
        assertThat(contrast.get("adjust").asText()).isEqualTo("max-t");
        assertThat(scores.get("datasets").get(0).get("classes").toString()).isEqualTo("[\"no\",\"yes\"]");
    }

    @Test
    void exportsHaveTheirColumnsInOrder() throws Exception {
        assertThat(exported("predictions").lines().findFirst().orElseThrow())
                .isEqualTo("dataset,row,repeat,fold,candidate,actual,predicted,p:no,p:yes");
        assertThat(exported("predictions").lines()).hasSize(1 + 96 * 4 * 5);
        assertThat(exported("folds"))
                .startsWith("dataset,row,repeat,fold\nswarm,1,1,")
                .hasLineCount(1 + 96 * 4);
        assertThat(exported("scores"))
                .startsWith("dataset,candidate,repeat,fold,metric,value\nswarm,guess,1,1,auc,0.5\n");
        assertThat(exported("fits"))
                .startsWith(
                        "dataset,candidate,repeat,fold,status,train_seconds,predict_seconds,size,message,chosen,shared\n")
                .hasLineCount(1 + 5 * 20);
        Files.writeString(folder.resolve("again.yaml"), exported("plan"));
        program().run("run", "again.yaml", "-o", "l.kfl").expect(0);
        program().run("export", "l.kfl", "--what", "folds", "-o", "folds.csv").expect(0);
        assertThat(Files.readString(folder.resolve("folds.csv"))).isEqualTo(exported("folds"));
    }

    @Test
    void textsFitAHundredColumnsAndSayWhatTheyShow() throws Exception {
        for (String command : List.of("scores", "contrast", "pick")) {
            Program.Outcome outcome = program().run(command, "l.kfl").expect(0);
            assertThat(outcome.out().lines()).as(outcome.out()).allMatch(l -> l.length() <= 100);
            assertThat(outcome.err().lines()).allMatch(l -> l.length() <= 100);
            assertThat(outcome.out())
                    .contains("swarm: 96 rows")
                    .contains("seed 99")
                    .doesNotContain("\u00b1");
            assertThat(program()
                            .run(command, "l.kfl", "--csv", "--quiet")
                            .expect(0)
                            .err())
                    .isEmpty();
        }
        assertThat(program()
                        .run("contrast", "l.kfl", "--against", "guess")
                        .expect(0)
                        .out())
                .contains("auc: each candidate against guess");
        assertThat(program()
                        .run("contrast", "l.kfl", "--margin", "0.9")
                        .expect(0)
                        .out())
                .contains("equivalent");
        assertThat(program()
                        .run("pick", "l.kfl", "--rule", "best-mean")
                        .expect(0)
                        .out())
                .contains("by best-mean:");
        assertThat(program().run("scores", "l.kfl").expect(0).out()).contains("will they swarm?");
    }

    @Test
    void askingForWhatIsNotThereIsSaid() throws Exception {
        assertThat(program().run("scores", "l.kfl", "--metric", "ac").expect(2).err())
                .contains("metric \"ac\" is not known; the nearest is \"auc\"");
        assertThat(program()
                        .run("contrast", "l.kfl", "--against", "logit")
                        .expect(3)
                        .err())
                .contains("no candidate is called \"logit\"; the nearest is \"logit/1\"");
        assertThat(program().run("pick", "l.kfl", "--level", "95").expect(2).err())
                .contains("level = 95");
        assertThat(program().run("pick", "none.kfl").expect(3).err()).contains("there is no such ledger");
        assertThat(program()
                        .run("export", "plan.yaml", "--what", "plan")
                        .expect(3)
                        .err())
                .contains("is no ledger");
    }
}

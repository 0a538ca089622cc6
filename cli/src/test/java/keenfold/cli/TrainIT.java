package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import keenfold.core.data.DataSet;
import keenfold.io.model.ModelFile;
import keenfold.io.plan.PlanReader;
import keenfold.io.table.DataReader;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** From the pick to a model file, through the built program. */
class TrainIT {
    @TempDir
    private static Path folder;

    private static final String PLAN =
            """
            keenfold: 1
            data:
              - {file: swarm.csv, target: swarmed, positive: yes}
            %ssplits: {folds: 5, repeats: 3}
            seed: 5
            metrics: [auc, accuracy]
            candidates:
              guess: {classifier: majority}
              logit: {classifier: logistic, strength: {vary: [1, 30]}}
              bush: {classifier: tree, depth: {choose: [1, 3]}}
              mine: {classifier: command, run: [cat]}
            evidence: {draws: 300}
            """;

    @BeforeAll
    static void runAPlan() throws Exception {
        Files.copy(Program.DEMO.resolve("swarm.csv"), folder.resolve("swarm.csv"));
        Files.writeString(
                folder.resolve("plan.yaml"),
                PLAN.formatted("holdout: {share: 0.25}\n").replaceAll("(?m)^  mine.*\n", ""));
        Files.writeString(folder.resolve("programs.yaml"), PLAN.formatted("").replace("3}\nseed", "1}\nseed"));
        program().run("run", "plan.yaml", "-o", "l.kfl", "--quiet").expect(0);
    }

    private static Program program() {
        return new Program(folder);
    }

    private static JsonNode score(JsonNode document, String metric, String of) {
        for (JsonNode row : document.get("rows")) {
            if (row.get("metric").asText().equals(metric)
                    && row.get("of").asText().equals(of)) {
                return row;
            }
        }
        throw new AssertionError(metric + ", " + of + " is not in " + document);
    }

    /** The holdout's accuracy, counted from the model file over the rows that no fold tests. */
    @Test
    void thePickIsTrainedOnAllButTheHoldoutAndScoredOnIt() throws Exception {
        Files.copy(folder.resolve("l.kfl"), folder.resolve("a.kfl"));
        JsonNode made = program()
                .run("train", "a.kfl", "-o", "a.kfm", "--json", "--quiet")
                .expect(0)
                .json();
        JsonNode pick = program()
                .run("pick", "a.kfl", "--json", "--quiet")
                .expect(0)
                .json()
                .get("datasets")
                .get(0);
        assertThat(made.get("candidate").asText()).isEqualTo(pick.get("pick").asText());
        assertThat(score(made, "auc", "corrected for choosing").get("value"))
                .isEqualTo(pick.get("corrected").get("one-se"));
        JsonNode scores =
                program().run("scores", "a.kfl", "--json", "--quiet").expect(0).json();
        for (JsonNode c : scores.get("datasets").get(0).get("candidates")) {
            if (c.get("name").asText().equals(made.get("candidate").asText())) {
                JsonNode mean = score(made, "accuracy", "cross-validated mean");
                assertThat(mean.get("value"))
                        .isEqualTo(c.get("metrics").get("accuracy").get("mean"));
                assertThat(mean.get("low"))
                        .isEqualTo(c.get("metrics").get("accuracy").get("low"));
            }
        }
        ModelFile model = ModelFile.read(folder.resolve("a.kfm"));
        assertThat(model.target()).isEqualTo("swarmed");
        assertThat(model.origin().rows()).isEqualTo(72);
        DataSet all = DataReader.read(
                        PlanReader.read(folder.resolve("plan.yaml")).data().get(0), List.of(folder))
                .data();
        Set<Integer> developed = new HashSet<>();
        program()
                .run("export", "a.kfl", "--what", "folds")
                .expect(0)
                .out()
                .lines()
                .skip(1)
                .forEach(l -> developed.add(Integer.parseInt(l.split(",", -1)[1])));
        List<Integer> held = new ArrayList<>();
        for (int i = 0; i < all.rows(); i++) {
            if (!developed.contains(all.sourceRows()[i])) {
                held.add(i);
            }
        }
        assertThat(held).hasSize(24);
        DataSet rows = all.select(held.stream().mapToInt(Integer::intValue).toArray());
        int[] labels = model.predictor().labels(model.predictor().probabilities(rows.features()));
        double right = 0;
        for (int i = 0; i < labels.length; i++) {
            right += labels[i] == rows.target(i) ? 1 : 0;
        }
        assertThat(score(made, "accuracy", "holdout").get("value").doubleValue())
                .isCloseTo(right / 24, within(1e-12));
    }

    /** The ledger remembers each opening; the model is the same to the last byte for any number of threads. */
    @Test
    void openingsAreRememberedAndSaid() throws Exception {
        // In a folder of its own, since the rows are remembered from ledger to ledger.
        Path apart = Files.createDirectory(folder.resolve("apart"));
        for (String name : List.of("l.kfl", "swarm.csv", "plan.yaml")) {
            Files.copy(folder.resolve(name), apart.resolve(name.replace("l.kfl", "b.kfl")));
        }
        Program program = new Program(apart);
        Program.Outcome early =
                program.run("train", "b.kfl", "-o", "b0.kfm", "--all").expect(3);
        assertThat(early.said()).contains("the 24 rows of \"swarm\" that are held back have not been scored yet");
        Program.Outcome first =
                program.run("train", "b.kfl", "-o", "b1.kfm", "--threads", "1").expect(0);
        assertThat(first.said()).doesNotContain("opened before");
        assertThat(first.out())
                .containsPattern("accuracy +cross-validated mean +0\\.\\d+ +0\\.\\d+ to 0\\.\\d+")
                .containsPattern("accuracy +holdout, scored once +0\\.\\d+ +0\\.\\d+ to 0\\.\\d+")
                .contains("trained on 72 rows, all but the 24 of the holdout")
                .contains("wrote b1.kfm");
        Program.Outcome second = program.run("train", "b.kfl", "-o", "b2.kfm").expect(0);
        assertThat(second.said()).contains("the holdout was opened before, 1 time (first by ");
        assertThat(second.out()).containsPattern("accuracy +holdout, seen 2 times +0");
        assertThat(Files.readAllBytes(apart.resolve("b2.kfm"))).isEqualTo(Files.readAllBytes(apart.resolve("b1.kfm")));
        Program.Outcome third = program.run("train", "b.kfl", "-o", "b3.kfm", "--candidate", "bush")
                .expect(0);
        assertThat(third.said()).contains("opened before, 2 times");
        assertThat(third.out()).contains("bush, named").containsPattern("tree \\(depth [13]\\)");
        assertThat(program.run("scores", "b.kfl", "--quiet").expect(0).out()).contains("auc");
        // A ledger that is made beside it, of another plan, holds back the same rows, and knows it.
        Files.writeString(
                apart.resolve("other.yaml"),
                Files.readString(apart.resolve("plan.yaml")).replaceFirst("(?m)^seed:", "note: again\nseed:"));
        program.run("run", "other.yaml", "-o", "c.kfl").expect(0);
        Files.delete(apart.resolve("b.kfl"));
        Program.Outcome fourth =
                program.run("train", "c.kfl", "-o", "c.kfm", "--json").expect(0);
        assertThat(fourth.said()).contains("opened before, 3 times", "through b.kfl");
        assertThat(fourth.json().get("seen").asInt()).isEqualTo(4);
        assertThat(program.run("history", "c.kfl").expect(0).out()).contains("holdout opened", "seen 4 times");
        Program.Outcome all =
                program.run("train", "c.kfl", "-o", "all.kfm", "--all").expect(0);
        assertThat(all.said())
                .contains(
                        "the 24 rows of the holdout were trained on too: this model has no held-out score of its own");
        assertThat(all.out()).contains("trained on 96 rows\n").doesNotContain("holdout");
        assertThat(ModelFile.read(apart.resolve("all.kfm")).origin().rows()).isEqualTo(96);
    }

    @Test
    void aPlanAloneWillDo() throws Exception {
        Program.Outcome made = program()
                .run("train", "plan.yaml", "--candidate", "logit/30", "-o", "c.kfm")
                .expect(0);
        assertThat(made.said()).contains("a plan does not remember that its holdout was opened");
        assertThat(made.out()).contains("logit/30, named").doesNotContain("cross-validated");
        Program.Outcome whole = program()
                .run("train", "programs.yaml", "--candidate", "bush", "-o", "d.kfm")
                .expect(0);
        assertThat(whole.said()).contains("no rows were held back");
        assertThat(ModelFile.read(folder.resolve("d.kfm")).origin().rows()).isEqualTo(96);
    }

    @Test
    void whatCannotBeTrainedIsSaidAndNothingIsOpened() throws Exception {
        Files.copy(folder.resolve("l.kfl"), folder.resolve("e.kfl"));
        assertThat(program().run("train", "plan.yaml", "-o", "x.kfm").expect(3).said())
                .contains("say which of its candidates with --candidate");
        assertThat(program()
                        .run("train", "e.kfl", "--candidate", "bsh", "-o", "x.kfm")
                        .expect(3)
                        .said())
                .contains("no candidate is called \"bsh\"; the nearest is \"bush\"");
        assertThat(program()
                        .run("train", "programs.yaml", "--candidate", "mine", "-o", "x.kfm")
                        .expect(3)
                        .said())
                .contains("candidate \"mine\" runs a program: cat; if you trust it");
        assertThat(program()
                        .run("train", "nowhere.kfl", "-o", "x.kfm")
                        .expect(3)
                        .said())
                .contains("there is no such ledger or plan");
        Path other = Files.createDirectory(folder.resolve("other"));
        Files.copy(folder.resolve("l.kfl"), other.resolve("l.kfl"));
        assertThat(program()
                        .run("train", "other/l.kfl", "-o", "x.kfm")
                        .expect(3)
                        .said())
                .contains("swarm.csv");
        Files.writeString(
                other.resolve("swarm.csv"),
                Files.readString(folder.resolve("swarm.csv")).replaceFirst("\n([^,]*,)", "\n9$1"));
        assertThat(program()
                        .run("train", "other/l.kfl", "-o", "x.kfm")
                        .expect(3)
                        .said())
                .contains("has changed since the ledger was filled from it");
        assertThat(program().run("train", "e.kfl", "-o", "no/x.kfm").expect(3).said())
                .contains("cannot be written");
        assertThat(folder.resolve("x.kfm")).doesNotExist();
        assertThat(program()
                        .run("train", "e.kfl", "--candidate", "guess", "-o", "y.kfm")
                        .expect(0)
                        .said())
                .doesNotContain("opened before");
    }
}

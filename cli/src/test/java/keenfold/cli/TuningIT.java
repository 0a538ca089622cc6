package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Chosen and varied settings through the built program. */
class TuningIT {
    @TempDir
    private Path folder;

    @Test
    void whatTuningChoseIsKeptCountedAndShown() throws Exception {
        Files.writeString(
                folder.resolve("plan.yaml"),
                """
                keenfold: 1
                data: [{file: %s, target: swarmed, positive: yes}]
                splits: {folds: 4, repeats: 2}
                seed: 3
                metrics: [auc, log-loss]
                candidates:
                  guess: {classifier: majority}
                  near: {classifier: nearest, neighbours: {vary: [3, 9, 27]}}
                  bush: {classifier: tree, depth: {choose: [1, 3, 6]}, leaf-rows: {vary: [2, 12]}}
                  pond: {classifier: nearest, neighbours: {choose: {from: 1, to: 40, points: 6, scale: log}}, tuning: {folds: 3, by: one-se, metric: log-loss}}
                  fair: {classifier: logistic, balance: resampling, calibrate: {by: isotonic, folds: 3}, threshold: f1, strength: {choose: [1, 30]}, tuning: {folds: 3}}
                evidence: {draws: 200}
                """
                        .formatted(Program.DEMO.resolve("swarm.csv")));
        Program program = new Program(folder);
        program.run("run", "plan.yaml", "-o", "l.kfl").expect(0);
        program.run("run", "plan.yaml", "-o", "again.kfl", "--threads", "1").expect(0);
        for (String what : new String[] {"predictions", "scores", "plan"}) {
            assertThat(program.run("export", "again.kfl", "--what", what)
                            .expect(0)
                            .out())
                    .isEqualTo(program.run("export", "l.kfl", "--what", what)
                            .expect(0)
                            .out());
        }
        JsonNode scores = program.run("scores", "l.kfl", "--json").expect(0).json();
        for (JsonNode c : scores.get("datasets").get(0).get("candidates")) {
            int counted = 0;
            for (JsonNode count : c.get("chosen")) {
                counted += count.asInt();
            }
            String name = c.get("name").asText();
            boolean tuned = name.startsWith("bush") || name.equals("pond") || name.equals("fair");
            assertThat(counted).as(name).isEqualTo(tuned ? 8 : 0);
            assertThat(c.get("shared").asBoolean()).as(name).isEqualTo(name.startsWith("near"));
        }
        String text =
                program.run("scores", "l.kfl", "--metric", "auc").expect(0).out();
        assertThat(text)
                .contains("what tuning chose inside the training sides")
                .containsPattern("bush/2 +depth=[136] +[1-8] +[0-9]+ %")
                .containsPattern("pond +neighbours=[0-9]+ +[1-8] ")
                .contains("shared: done once for the family")
                .contains("fair: fill, one-hot, standardise; balance resampling, calibrate isotonic, threshold f1");
        // Labels follow the threshold, which need not be one half.
        double leastYes = 1;
        double mostNo = 0;
        for (String line : program.run("export", "l.kfl", "--what", "predictions")
                .expect(0)
                .out()
                .lines()
                .filter(l -> l.contains(",1,1,fair,"))
                .toList()) {
            String[] cells = line.split(",", -1);
            double yes = Double.parseDouble(cells[8]);
            leastYes = cells[6].equals("yes") ? Math.min(leastYes, yes) : leastYes;
            mostNo = cells[6].equals("no") ? Math.max(mostNo, yes) : mostNo;
        }
        assertThat(leastYes).isGreaterThan(mostNo);
        assertThat(leastYes < 0.5 || mostNo > 0.5).isTrue();
        assertThat(program.run("export", "l.kfl", "--what", "fits").expect(0).out())
                .containsPattern("swarm,bush/12,2,4,ok,[^\n]*,,depth=[136],no\n");
        // The exported plan is the same plan: a run of it has nothing to do.
        Files.writeString(
                folder.resolve("frozen.yaml"),
                program.run("export", "l.kfl", "--what", "plan").expect(0).out());
        assertThat(program.run("run", "frozen.yaml", "-o", "l.kfl").expect(0).said())
                .contains("nothing to do");
    }

    /** The costs of the plan reach what is chosen inside the training sides. */
    @Test
    void tuningAndThresholdsGoByThePlansCosts() throws Exception {
        Files.writeString(
                folder.resolve("costs.yaml"),
                """
                keenfold: 1
                data: [{file: %s, target: swarmed, positive: yes}]
                splits: {folds: 4, repeats: 2}
                seed: 3
                metrics: [cost, auc]
                costs: {yes: {no: 9}, no: {yes: 1}}
                candidates:
                  plain: {classifier: logistic}
                  wary: {classifier: logistic, threshold: {for: cost}}
                  bush: {classifier: tree, depth: {choose: [1, 2, 4]}, tuning: {folds: 3, metric: cost}}
                """
                        .formatted(Program.DEMO.resolve("swarm.csv")));
        Program program = new Program(folder);
        program.run("run", "costs.yaml", "-o", "costs.kfl").expect(0);
        long plain = 0;
        long wary = 0;
        for (String line : program.run("export", "costs.kfl", "--what", "predictions")
                .expect(0)
                .out()
                .lines()
                .toList()) {
            plain += line.contains(",plain,") && line.split(",", -1)[6].equals("yes") ? 1 : 0;
            wary += line.contains(",wary,") && line.split(",", -1)[6].equals("yes") ? 1 : 0;
        }
        assertThat(wary).isGreaterThan(plain + 20);
        // A fold trained again from the ledger's plan goes by them too.
        program.run("train", "costs.kfl", "--candidate", "wary", "-o", "wary.kfm")
                .expect(0);
        program.run("train", "costs.kfl", "--candidate", "bush", "-o", "bush.kfm")
                .expect(0);
    }
}

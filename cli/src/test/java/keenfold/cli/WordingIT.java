package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What stands under tables, and what is noticed, follows from what was done and seen. */
class WordingIT {
    @TempDir
    private Path folder;

    private Program.Outcome run(int code, String command) throws Exception {
        return new Program(folder).run(command.split(" ")).expect(code);
    }

    private void plan(String splits, String candidates) throws Exception {
        Files.deleteIfExists(folder.resolve("l.kfl"));
        Files.writeString(
                folder.resolve("p.yaml"),
                """
                keenfold: 1
                data: [{file: %s, target: swarmed, positive: yes}]
                splits: %s
                seed: 3
                metrics: [auc, log-loss, calibration-error]
                candidates: %s
                evidence: {draws: 300}
                """
                        .formatted(Program.DEMO.resolve("swarm.csv"), splits, candidates));
        run(0, "run p.yaml -o l.kfl");
    }

    private static String unwrapped(String text) {
        return text.replaceAll("\\s+", " ");
    }

    private static final String TWO = "{guess: {classifier: majority}, logit: {classifier: logistic}}";

    @Test
    void theLegendOfAContrastSaysHowItsVarianceCame() throws Exception {
        plan("{folds: 5, repeats: 3}", TWO);
        assertThat(unwrapped(run(0, "contrast l.kfl --metric log-loss").out()))
                .contains("on the scale of log-loss (lower is better)")
                .contains("300 draws of rows, widened for what other training rows would have changed");
        assertThat(unwrapped(
                        run(0, "contrast l.kfl --metric auc --metric log-loss").out()))
                .contains("on the scale of each metric (auc: higher is better, log-loss: lower is better)");
        plan("{folds: 5, repeats: 1}", TWO);
        assertThat(unwrapped(run(0, "contrast l.kfl").out()))
                .contains("inflated by test rows per training row")
                .doesNotContain("widened");
        plan("{scheme: monte-carlo, repeats: 30}", TWO);
        assertThat(unwrapped(run(0, "contrast l.kfl").out()))
                .contains("the spread of the 30 splits, widened for the rows that they share");
        assertThat(unwrapped(run(0, "contrast l.kfl --method cases").out()))
                .contains("300 draws of rows alone, for these fitted models only");
    }

    @Test
    void aMeanOfJoinedFoldsSaysSoBesideTheFoldsExtremes() throws Exception {
        plan("{folds: 5, repeats: 3}", TWO);
        String shown = run(0, "scores l.kfl").out();
        assertThat(shown)
                .contains("calibration-error (lower is better; mean of repeats, folds joined; sd, min, max of folds)")
                .contains("auc (higher is better)\n");
    }

    /** What a survey finds reaches those who never ran one. */
    @Test
    void leaksGroupsAndNumberTargetsAreSaidByEveryCommandThatReadsTheTable() throws Exception {
        StringBuilder table = new StringBuilder("speaker,pitch,after the fact,vowel,rings\n");
        for (int i = 0; i < 600; i++) {
            boolean high = i % 3 == 0;
            table.append("%d,%.3f,%d,%s,%d%n"
                    .formatted(
                            i * 7 % 15,
                            Math.sin(i) + (high ? 0.4 : 0),
                            high ? 7 : 2,
                            high ? "i" : "a",
                            i % 5 + i / 5 % 5 + i / 25 % 5 + i / 125 % 5));
        }
        Files.writeString(folder.resolve("v.csv"), table.toString());
        Files.writeString(
                folder.resolve("v.yaml"),
                """
                keenfold: 1
                data: [{file: v.csv, target: vowel, leave-out: [rings]}]
                splits: {folds: 3, repeats: 1}
                candidates: {guess: {classifier: majority}}
                """);
        Program program = new Program(folder);
        for (Program.Outcome said : List.of(
                run(0, "folds v.yaml"),
                run(0, "run v.yaml -o v.kfl"),
                program.run(
                                "compare",
                                "v.csv",
                                "--target",
                                "vowel",
                                "--repeats",
                                "1",
                                "--folds",
                                "2",
                                "--try",
                                "majority")
                        .expect(0))) {
            assertThat(unwrapped(said.err()))
                    .contains("column \"speaker\" looks like a group (15 values)")
                    .contains("--groups speaker.")
                    .contains(
                            "column \"after the fact\" alone gives the class of 100 % of rows by the best simple rule,"
                                    + " where the largest class is 67 %")
                    .contains("--leave-out 'after the fact'");
        }
        String drafted =
                program.run("draft", "v.csv", "--target", "vowel").expect(0).out();
        assertThat(drafted).contains("groups: speaker").contains("\"after the fact\" tells the class nearly by itself");
        assertThat(unwrapped(program.run(
                                "compare",
                                "v.csv",
                                "--target",
                                "rings",
                                "--repeats",
                                "1",
                                "--folds",
                                "2",
                                "--try",
                                "majority")
                        .said()))
                .contains("target \"rings\" is a number with 16 values, each of which is a class of its own");
    }
}

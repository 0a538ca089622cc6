package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
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
        assertThat(unwrapped(run(0, "contrast l.kfl --metric auc --metric log-loss").out()))
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
}

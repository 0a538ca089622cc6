package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Figures and reports where something is missing or unusual: what can be had is drawn, what cannot is said. */
class OddFiguresIT {
    @TempDir
    private Path folder;

    private Program program() {
        return new Program(folder);
    }

    private void run(String splits, String metrics, String... more) throws Exception {
        Files.copy(Program.DEMO.resolve("swarm.csv"), folder.resolve("swarm.csv"));
        Files.writeString(
                folder.resolve("plan.yaml"),
                """
                keenfold: 1
                data: [{file: swarm.csv, target: swarmed, positive: yes}]
                splits: %s
                seed: 5
                metrics: [%s]
                candidates:
                  guess: {classifier: majority}
                  logit: {classifier: logistic, strength: {vary: [1, 30, 300]}}
                evidence: {draws: 200}
                """
                        .formatted(splits, metrics));
        String[] args = java.util.stream.Stream.concat(
                        java.util.stream.Stream.of("run", "plan.yaml", "-o", "l.kfl", "--quiet"), Arrays.stream(more))
                .toArray(String[]::new);
        program().run(args).expect(0);
    }

    private List<String> lines(String... args) throws Exception {
        return program().run(args).expect(0).out().lines().toList();
    }

    private static String cell(List<String> table, String row, String column) {
        int at = List.of(table.get(0).split(",", -1)).indexOf(column);
        return table.stream()
                .filter(l -> List.of(l.split(",", -1)).contains(row))
                .map(l -> l.split(",", -1)[at])
                .findFirst()
                .orElseThrow();
    }

    /** Training scores stand beside the test scores of a family where the run kept them. */
    @Test
    void familiesShowTrainingScoresWhereThereAreAny() throws Exception {
        run("{folds: 4, repeats: 2}", "accuracy", "--train-scores");
        List<String> family = lines("draw", "l.kfl", "--figure", "family", "--csv", "--quiet");
        List<String> scores = lines("scores", "l.kfl", "--train-scores", "--csv", "--quiet");
        for (String name : List.of("logit/1", "logit/30", "logit/300")) {
            assertThat(cell(family, name, "train")).isNotEmpty().isEqualTo(cell(scores, name, "train"));
            assertThat(cell(family, name, "mean")).isEqualTo(cell(scores, name, "mean"));
        }
        program()
                .run("draw", "l.kfl", "--figure", "family", "-o", "f.svg", "--quiet")
                .expect(0);
        assertThat(Files.readString(folder.resolve("f.svg")))
                .contains("stroke-dasharray")
                .contains("own training");
    }

    /** A family that varies two settings lies along the one with most values, whichever the plan names last. */
    @Test
    void familiesLieAlongTheSettingOfMostValues() throws Exception {
        Files.writeString(
                folder.resolve("two.yaml"),
                """
                keenfold: 1
                data: [{file: %s, target: swarmed, positive: yes}]
                splits: {folds: 3, repeats: 2}
                seed: 1
                candidates:
                  near: {classifier: nearest, neighbours: {vary: [1, 5, 15]}, votes: {vary: [even, by-distance]}}
                """
                        .formatted(Program.DEMO.resolve("swarm.csv")));
        program().run("run", "two.yaml", "-o", "two.kfl").expect(0);
        List<String> family = lines("draw", "two.kfl", "--figure", "family", "--csv", "--quiet", "--draws", "200");
        assertThat(cell(family, "near/5/even", "setting")).isEqualTo("5");
        assertThat(cell(family, "near/15/by-distance", "setting")).isEqualTo("15");
    }

    /** Columns are worth something on the ledger's own data alone. */
    @Test
    void columnsOfChangedDataAreRefusedAndTheReportSaysSo() throws Exception {
        run("{folds: 4, repeats: 1}", "accuracy");
        String data = Files.readString(folder.resolve("swarm.csv"));
        Files.writeString(folder.resolve("swarm.csv"), data.replaceFirst("\n([^,]*,)", "\n9$1"));
        for (List<String> args : List.of(
                List.of("scores", "l.kfl", "--by", "column"), List.of("draw", "l.kfl", "--figure", "columns"))) {
            assertThat(program().run(args.toArray(String[]::new)).expect(3).said())
                    .contains("data set \"swarm\" has changed since the ledger was filled from it");
        }
        program()
                .run("report", "l.kfl", "-o", "r", "--columns", "--page-only", "--quiet")
                .expect(0);
        assertThat(Files.readString(folder.resolve("r/report.html")))
                .contains("Left out")
                .contains("has changed since the ledger was filled from it")
                .contains("mean accuracy");
    }

    /** Rows tested alone cannot be ranked: no ROC curve, all else. */
    @Test
    void leaveOneOutHasNoCurvesOfRanks() throws Exception {
        run("{scheme: leave-one-out}", "accuracy, log-loss");
        assertThat(program().run("draw", "l.kfl", "--figure", "roc").expect(3).said())
                .contains("auc")
                .contains("use fewer folds, or log-loss or brier");
        assertThat(lines("draw", "l.kfl", "--figure", "calibration", "--csv", "--quiet"))
                .hasSize(1 + 4 * 10);
        program().run("report", "l.kfl", "-o", "r", "--quiet").expect(0);
        assertThat(folder.resolve("r/figures/swarm-confusion.svg")).exists();
        assertThat(folder.resolve("r/figures/swarm-roc.svg")).doesNotExist();
        assertThat(Files.readString(folder.resolve("r/report.html"))).contains("figure roc: ");
    }

    /** Splits that are scored by themselves: the curves are of splits, and means settle as splits are added. */
    @Test
    void splitsThatStandAloneAreCalledSplits() throws Exception {
        run("{scheme: monte-carlo, share: 0.3, repeats: 12}", "auc");
        List<String> settling = lines("draw", "l.kfl", "--figure", "settling", "--csv", "--quiet");
        assertThat(settling).hasSize(1 + 4 * 12);
        assertThat(String.join(" ", lines("draw", "l.kfl", "--figure", "roc", "--ascii", "--quiet")))
                .contains("Thin: each split");
        assertThat(String.join(" ", lines("draw", "l.kfl", "--figure", "settling", "--ascii", "--quiet")))
                .contains("number of splits");
    }
}

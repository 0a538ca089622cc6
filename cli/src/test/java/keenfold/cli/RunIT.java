package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.File;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import keenfold.io.sqlite.NativeLibrary;
import keenfold.io.sqlite.SqliteFile;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What a run must survive, and what must not change its content. */
class RunIT {
    static {
        // The same copy as the program's: a process that loads two of them can end at once.
        NativeLibrary.load();
    }

    @TempDir
    private Path folder;

    /** The first rows of a table of the demo: an interpreted run takes long enough with them. */
    private void some(String table, int rows) throws Exception {
        List<String> lines = Files.readAllLines(Program.DEMO.resolve(table));
        Files.write(folder.resolve(table), lines.subList(0, rows + 1));
    }

    @BeforeEach
    void writePlan() throws Exception {
        some("hives.csv", 90);
        some("forage.csv", 60);
        Files.writeString(
                folder.resolve("plan.yaml"),
                """
                keenfold: 1
                data:
                  - {file: hives.csv, target: wintered, positive: no, groups: apiary, leave-out: [hive_id]}
                  - {file: forage.csv, target: kind, leave-out: [sample]}
                splits: {folds: 3, repeats: 2}
                seed: 5
                candidates:
                  bayes: {classifier: naive-bayes}
                  logit: {classifier: logistic}
                  near: {classifier: nearest, neighbours: {vary: [3, 9]}}
                  tree: {classifier: tree, impurity: entropy, pruning: 0.001}
                """);
    }

    private Program program() {
        return new Program(folder);
    }

    private String content(Program program, String ledger) throws Exception {
        StringBuilder all = new StringBuilder();
        all.append(
                program.run("export", ledger, "--what", "predictions").expect(0).out());
        all.append(program.run("contrast", ledger, "--json", "--against", "all", "--draws", "300")
                .expect(0)
                .out());
        all.append(program.run("pick", ledger, "--json", "--draws", "300")
                .expect(0)
                .out());
        return all.toString();
    }

    /** A trained model as other tools read it: its parts come in an order that is not left to the process. */
    private String model(Program program, String ledger) throws Exception {
        program.run("train", ledger, "--dataset", "hives", "--candidate", "tree", "-o", "tree.kfm", "--force")
                .expect(0);
        // It names the Java that wrote it.
        return program.run("export", "tree.kfm", "--what", "pmml")
                .expect(0)
                .out()
                .replaceFirst("<Application [^>]*>", "");
    }

    @Test
    void threadsInterpreterAndNewerJdkGiveTheSameToTheLastBit() throws Exception {
        program().run("run", "plan.yaml", "-o", "one.kfl", "--threads", "1").expect(0);
        String one = content(program(), "one.kfl") + model(program(), "one.kfl");
        program().run("run", "plan.yaml", "-o", "two.kfl", "--threads", "2").expect(0);
        assertThat(content(program(), "two.kfl") + model(program(), "two.kfl")).isEqualTo(one);
        String java = Path.of(System.getProperty("java.home"), "bin", "java").toString();
        Program interpreted = program().with(java, Program.options("-Xint"));
        interpreted.run("run", "plan.yaml", "-o", "int.kfl").expect(0);
        assertThat(content(interpreted, "int.kfl") + model(interpreted, "int.kfl"))
                .isEqualTo(one);
        Program optimised = program().with(java, Program.options());
        optimised.run("run", "plan.yaml", "-o", "c2.kfl").expect(0);
        assertThat(content(optimised, "c2.kfl") + model(optimised, "c2.kfl")).isEqualTo(one);
        Optional<String> newer = newerJava();
        assumeTrue(newer.isPresent(), "no newer JDK beside this one: the comparison with it is left out");
        Program other = program().with(newer.get(), List.of());
        other.run("run", "plan.yaml", "-o", "new.kfl").expect(0);
        assertThat(content(other, "new.kfl") + model(other, "new.kfl")).isEqualTo(one);
    }

    @Test
    void theNameOfTheFileChangesNothing() throws Exception {
        String plan =
                """
                keenfold: 1
                data: [{file: %s.csv, target: swarmed, positive: yes}]
                splits: {folds: 4, repeats: 2}
                holdout: {share: 0.2}
                seed: 9
                candidates:
                  guess: {classifier: majority}
                  woods: {classifier: forest, trees: 5}
                evidence: {draws: 300, halves: 2}
                """;
        List<String> contents = new ArrayList<>();
        for (String name : List.of("bees", "queens")) {
            Files.copy(Program.DEMO.resolve("swarm.csv"), folder.resolve(name + ".csv"));
            Files.writeString(folder.resolve(name + ".yaml"), plan.formatted(name));
            String ledger = name + ".kfl";
            program().run("run", name + ".yaml", "-o", ledger).expect(0);
            program()
                    .run("train", ledger, "--candidate", "woods", "-o", name + ".kfm")
                    .expect(0);
            contents.add((content(program(), ledger)
                            + program()
                                    .run("contrast", ledger, "--method", "halves", "--json")
                                    .expect(0)
                                    .out()
                            + program()
                                    .run("scores", ledger, "--by", "column", "--json")
                                    .expect(0)
                                    .out()
                            + program()
                                    .run("predict", name + ".kfm", name + ".csv")
                                    .expect(0)
                                    .out())
                    .replace(name, "NAME"));
        }
        assertThat(contents.get(1)).isEqualTo(contents.get(0));
    }

    @Test
    void trainingScoresStandBesideTestScoresWhereTheyWereAskedFor() throws Exception {
        Files.writeString(
                folder.resolve("learned.yaml"),
                """
                keenfold: 1
                data: [{file: %s, target: kind, leave-out: [sample]}]
                splits: {folds: 5, repeats: 2}
                metrics: [accuracy, log-loss, kappa, mcc, g-mean, npv, f-beta=2, top-k=2, average-precision]
                candidates:
                  near: {classifier: nearest, neighbours: {vary: [1, 20]}}
                  guess: {classifier: majority}
                """
                        .formatted(Program.DEMO.resolve("forage.csv")));
        program().run("run", "learned.yaml", "-o", "plain.kfl").expect(0);
        assertThat(program()
                        .run("scores", "plain.kfl", "--train-scores")
                        .expect(3)
                        .said())
                .contains("run the plan into a new ledger with --train-scores");
        assertThat(program()
                        .run("run", "learned.yaml", "-o", "plain.kfl", "--train-scores")
                        .expect(3)
                        .said())
                .contains("were not scored on their training rows");
        program().run("run", "learned.yaml", "-o", "both.kfl", "--train-scores").expect(0);
        Program.Outcome scores = program()
                .run("scores", "both.kfl", "--train-scores", "--draws", "200")
                .expect(0);
        assertThat(scores.out())
                .contains("f-beta=2 (higher")
                .containsPattern("top-k=2 \\(higher is better\\)\n.*\nnear/20 ");
        assertThat(scores.out()).containsPattern("near/1 +0\\.\\d+ +1\\.000 ");
        assertThat(scores.said())
                .contains("(accuracy): far better on training rows than on test rows for near/1")
                .contains("(log-loss): far better on training rows than on test rows for near/1");
        assertThat(program()
                        .run("scores", "both.kfl", "--train-scores", "--by", "repeat")
                        .expect(2)
                        .err())
                .contains("--train-scores has no effect beside a closer look");
        assertThat(program()
                        .run("scores", "both.kfl", "--train-scores", "--csv", "--draws", "200")
                        .expect(0)
                        .out())
                .startsWith("dataset,candidate,metric,mean,sd,se,low,high,min,max,train,instability\n")
                .containsPattern("near/1,accuracy,[^\n]*,1,0\\.\\d+\n");
        assertThat(program()
                        .run("run", "learned.yaml", "-o", "both.kfl")
                        .expect(3)
                        .said())
                .contains("go on with --train-scores");
    }

    private static Optional<String> newerJava() {
        File[] beside =
                Optional.ofNullable(new File("/usr/lib/jvm").listFiles()).orElse(new File[0]);
        return Arrays.stream(beside)
                .filter(f -> f.getName().matches(".*(2[1-9]|3[0-9]).*"))
                .map(f -> new File(f, "bin/java").getPath())
                .filter(p -> new File(p).canExecute())
                .sorted()
                .findFirst();
    }

    @Test
    void aKilledRunGoesOnToTheSameContent() throws Exception {
        program().run("run", "plan.yaml", "-o", "calm.kfl").expect(0);
        String calm = content(program(), "calm.kfl");
        int kills = 0;
        for (int attempt = 0; attempt < 6 && kills < 3; attempt++) {
            Process process =
                    program().start(folder.resolve("o"), folder.resolve("e"), "run", "plan.yaml", "-o", "torn.kfl");
            int fits = 15 * (attempt + 1);
            Until.holds("fits", () -> fits("torn.kfl") >= fits || !process.isAlive());
            kills += process.isAlive() ? 1 : 0;
            process.destroyForcibly().waitFor();
        }
        assertThat(kills).isPositive();
        program().run("run", "plan.yaml", "-o", "torn.kfl").expect(0);
        assertThat(content(program(), "torn.kfl")).isEqualTo(calm);
        assertThat(program().run("run", "plan.yaml", "-o", "torn.kfl").expect(0).said())
                .contains("nothing to do");
    }

    /** How many fits a ledger has so far; none where there is no ledger yet. */
    private int fits(String ledger) {
        if (!Files.exists(folder.resolve(ledger))) {
            return 0;
        }
        try (Connection connection = SqliteFile.open(folder.resolve(ledger), SqliteFile.Access.WRITE);
                ResultSet count = connection.createStatement().executeQuery("SELECT count(*) FROM fit")) {
            return count.getInt(1);
        } catch (SQLException e) {
            // Not laid out yet.
            return 0;
        }
    }

    @Test
    void anInterruptedRunSaysHowToGoOn() throws Exception {
        Files.writeString(
                folder.resolve("plan.yaml"),
                Files.readString(folder.resolve("plan.yaml")).replace("repeats: 2", "repeats: 60"));
        Path err = folder.resolve("err");
        Process process = program().start(folder.resolve("out"), err, "run", "plan.yaml", "-o", "long.kfl");
        Until.holds("five fits", () -> fits("long.kfl") >= 5);
        process.destroy();
        assertThat(Until.ended(process)).isTrue();
        assertThat(process.exitValue()).isEqualTo(143);
        assertThat(Files.readString(err))
                .contains("interrupted; finished fits are kept in long.kfl; go on with: keenfold run");
        assertThat(folder.resolve("long.kfl-wal")).doesNotExist();
        assertThat(program()
                        .run("export", "long.kfl", "--what", "fits")
                        .expect(0)
                        .out()
                        .lines()
                        .count())
                .isGreaterThan(1);
        assertThat(program().run("scores", "long.kfl", "--draws", "100").code()).isIn(0, 3);
    }

    @Test
    void failedFitsAreListedAndTheRunEndsWithFour() throws Exception {
        // Two columns that are the same up to scale leave coefficients undetermined without a penalty.
        Files.writeString(
                folder.resolve("d.csv"), "x,twice,y\n1,2,a\n2,4,b\n3,6,a\n4,8,b\n5,10,b\n6,12,a\n7,14,b\n8,16,a\n");
        Files.writeString(
                folder.resolve("p.yaml"),
                """
                keenfold: 1
                data: [{file: d.csv, target: y}]
                splits: {folds: 2, repeats: 2}
                seed: 1
                metrics: [accuracy]
                candidates: {guess: {classifier: majority}, bare: {classifier: logistic, strength: 0}}
                """);
        Program.Outcome outcome = program().run("run", "p.yaml", "-o", "d.kfl").expect(4);
        assertThat(outcome.said()).contains("4 fits failed");
        assertThat(program().run("export", "d.kfl", "--what", "fits").expect(0).out())
                .contains("linearly dependent");
        Program.Outcome scores = program().run("scores", "d.kfl").expect(0);
        assertThat(scores.said()).contains("4 of 4 fits of bare failed").contains("too many to be compared");
        assertThat(scores.out()).contains("not compared");
        assertThat(program().run("run", "p.yaml", "-o", "d.kfl").expect(0).said())
                .contains("nothing to do");
        assertThat(program()
                        .run("run", "p.yaml", "-o", "d.kfl", "--retry")
                        .expect(4)
                        .err())
                .contains("repeating 4 failed fits");
    }

    @Test
    void aPlanWithoutSeedDrawsOneAndGoesOnWithIt() throws Exception {
        Files.writeString(
                folder.resolve("plan.yaml"),
                Files.readString(folder.resolve("plan.yaml")).replace("seed: 5\n", ""));
        assertThat(program().run("run", "plan.yaml", "-o", "s.kfl").expect(0).said())
                .containsPattern("seed [0-9]+; read with");
        assertThat(program().run("run", "plan.yaml", "-o", "s.kfl").expect(0).said())
                .contains("nothing to do");
    }

    @Test
    void aChangedPlanIsRefusedWithWhatDiffers() throws Exception {
        program().run("run", "plan.yaml", "-o", "c.kfl").expect(0);
        Files.writeString(
                folder.resolve("plan.yaml"),
                Files.readString(folder.resolve("plan.yaml")).replace("seed: 5", "seed: 6"));
        assertThat(program().run("run", "plan.yaml", "-o", "c.kfl").expect(3).said())
                .contains(
                        "its fits derive from seed 5, and the plan says 6",
                        "a new ledger for this plan, such as -o c-2.kfl");
    }
}

package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

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

    @Test
    void oneNoticeAKindWhateverTheNumberOfClasses() throws Exception {
        StringBuilder table = new StringBuilder("x,kind\n");
        for (int i = 0; i < 200; i++) {
            table.append("%.3f,%s%n".formatted(Math.sin(i), i < 100 ? "many" : "few" + i % 9));
        }
        Files.writeString(folder.resolve("k.csv"), table.toString());
        Files.writeString(
                folder.resolve("k.yaml"),
                """
                keenfold: 1
                data: [{file: k.csv, target: kind}]
                splits: {folds: 3, repeats: 2}
                seed: 2
                candidates: {guess: {classifier: majority}, near: {classifier: nearest}}
                evidence: {draws: 300}
                """);
        run(0, "run k.yaml -o k.kfl");
        String said = unwrapped(run(0, "scores k.kfl --by class").err());
        assertThat(said)
                .contains("2 repeats show little")
                .containsPattern(
                        "k \\([^)]*and \\d+ more metrics\\): class \"few0\" \\(11 rows\\) and 8 other classes have"
                                + " fewer than 20 rows")
                // The class of a hundred rows is not said to be small.
                .doesNotContain("class=many");
        assertThat(said.split("notice: ", -1).length - 1).isLessThan(7);
    }

    @Test
    void numbersInDisguiseAreToldByTheirCommas() throws Exception {
        Files.writeString(folder.resolve("a b.csv"), "w,y\n\"1,234,000\",k\n\"2,500,000\",l\n\"1,000,500\",k\n");
        Program program = new Program(folder);
        assertThat(unwrapped(program.run("survey", "a b.csv").said()))
                .contains("write them without commas between thousands (1234000)")
                .doesNotContain("--decimal");
        Files.writeString(folder.resolve("c.csv"), "w;y\n1,5;k\n2,25;l\n3,1;k\n");
        assertThat(unwrapped(program.run("survey", "c.csv").said())).contains("say --decimal , if a comma");
        assertThat(unwrapped(program.run(
                                "draft",
                                Program.DEMO.resolve("swarm.csv").toString(),
                                "--target",
                                "swarmed",
                                "-o",
                                "my plan.yaml")
                        .expect(0)
                        .said()))
                .contains("keenfold folds 'my plan.yaml', then keenfold run 'my plan.yaml'");
    }

    @Test
    void equalRowsThatStayTogetherAreNoMatter() throws Exception {
        StringBuilder rows = new StringBuilder("a,b,y\n");
        for (int i = 0; i < 40; i++) {
            rows.append("%d,%d,%s%n".formatted(i / 2 * 31 % 23, i / 2 % 7, i / 2 % 2 == 0 ? "k" : "l"));
        }
        Files.writeString(folder.resolve("e.csv"), rows.toString());
        for (String bind : List.of("", ", bind-equal: true")) {
            Files.writeString(
                    folder.resolve("e.yaml"),
                    "keenfold: 1\ndata: [{file: e.csv, target: y}]\nsplits: {folds: 2, repeats: 1" + bind
                            + "}\nseed: 1\ncandidates: {guess: {classifier: majority}}\n");
            String said = unwrapped(run(0, "folds e.yaml").err());
            assertThat(said.contains("20 of 40 rows repeat an earlier row")).isEqualTo(bind.isEmpty());
        }
    }

    /** Blocks of one class, so that two of five splits in time test a single class. */
    @Test
    void splitsInTimeAreScoredByWhatTheyHold() throws Exception {
        StringBuilder table = new StringBuilder("day,a,y\n");
        for (int i = 0; i < 300; i++) {
            table.append("%d,%.3f,%s%n".formatted(i, Math.sin(7 * i) + i / 40 % 2, i / 40 % 2 == 0 ? "calm" : "swarm"));
        }
        Files.writeString(folder.resolve("o.csv"), table.toString());
        Program program = new Program(folder);
        Program.Outcome compared = program.run(
                        "compare", "o.csv", "--target", "y", "--order", "day", "--try", "majority", "--try", "logistic")
                .expect(0);
        assertThat(compared.out())
                .containsPattern("candidate +log-loss")
                .contains("brier")
                .doesNotContain("auc");
        assertThat(unwrapped(compared.err())).contains("some splits in time test no row of some class");
        assertThat(program.run("draft", "o.csv", "--target", "y", "--order", "day")
                        .expect(0)
                        .out())
                .contains("metrics: [log-loss, accuracy, brier]");
        Files.writeString(
                folder.resolve("o.yaml"),
                """
                keenfold: 1
                data: [{file: o.csv, target: y, order: day}]
                splits: {scheme: rolling-origin}
                seed: 1
                metrics: [auc, log-loss, "precision:class=swarm"]
                candidates: {guess: {classifier: majority}, logit: {classifier: logistic}}
                """);
        run(0, "run o.yaml -o o2.kfl");
        Program.Outcome scores = run(0, "scores o2.kfl --metric auc");
        assertThat(scores.out()).contains("undefined in 2 folds");
        assertThat(unwrapped(scores.err())).contains("o (auc): undefined in 2 of 5 splits");
        double sum = 0;
        for (String line : run(0, "export o2.kfl --what scores").out().lines().toList()) {
            String[] cells = line.split(",", -1);
            boolean auc = line.contains(",logit,") && line.contains(",auc,");
            sum += auc && !cells[cells.length - 1].isEmpty() ? Double.parseDouble(cells[cells.length - 1]) : 0;
        }
        double mean = run(0, "scores o2.kfl --metric auc --json")
                .json()
                .get("datasets")
                .get(0)
                .get("candidates")
                .get(1)
                .get("metrics")
                .get("auc")
                .get("mean")
                .asDouble();
        assertThat(mean).isEqualTo(sum / 3, within(1e-12));
        assertThat(run(0, "pick o2.kfl").out()).contains("Pick by auc: logit");
    }

    @Test
    void aPickThatCannotBeMadeIsNoBlank() throws Exception {
        // Guesses that never predict the positive class have no precision at all.
        plan("{folds: 5, repeats: 2}", "{guess: {classifier: majority}, again: {classifier: majority}}");
        assertThat(run(3, "pick l.kfl --metric precision").err())
                .contains("no candidate can be picked by precision: it is undefined in too many splits or draws")
                .contains("--metric auc, or log-loss, or calibration-error can serve");
    }

    @Test
    void thatNoCallCanComeIsSaidBeforeTheTable() throws Exception {
        plan(
                "{folds: 5, repeats: 2}",
                "{guess: {classifier: majority}, logit: {classifier: logistic}, near: {classifier: nearest},"
                        + " bush: {classifier: tree}}");
        // Six comparisons: 6/101 is not below 0.05, 6/301 is.
        assertThat(unwrapped(run(0, "contrast l.kfl --draws 100 --adjust holm").err()))
                .contains("swarm (auc): with 100 draws no p adjusted can be below 0.059, so that nothing can be called")
                .contains("ask for --draws 120 or more");
        assertThat(unwrapped(run(0, "contrast l.kfl --adjust holm").err()))
                .doesNotContain("no p adjusted can be below");
        assertThat(unwrapped(run(0, "contrast l.kfl --draws 120 --adjust holm").err()))
                .doesNotContain("no p adjusted can be below");
    }

    /** What a newcomer types, through the built program; many more are in {@link SlipsTest}. */
    @Test
    void slipsOfANewcomerAreAnswered() throws Exception {
        plan("{folds: 3, repeats: 2}", TWO);
        run(0, "train l.kfl --candidate logit -o m.kfm");
        Files.copy(Program.DEMO.resolve("swarm.csv"), folder.resolve("t.csv"));
        Files.writeString(folder.resolve("odd.csv"), "a,b: \"x\n1,2: [\n");
        Files.writeString(
                folder.resolve("slip.yaml"),
                "keenfold: 1\ndata: [{file: t.csv, target: swarmed}]\ncandidates:\n  a: {clasifier: tree}\n");
        String table = "it looks like a table, which survey, compare, draft and predict read";
        String[][] slips = {
            {"score l.kfl", "2", "there is no command \"score\"; the nearest is \"scores\""},
            {"help scors", "2", "there is no command \"scors\"; the nearest is \"scores\""},
            {"scores l.kfl --candidate NOSUCH", "3", "no candidate is called \"NOSUCH\"; there are guess, logit"},
            {"scores l.kfl --candidate logit", "2", "--candidate is for a closer look"},
            {"run odd.csv -o x.kfl", "3", "odd.csv: is no plan; " + table},
            {"run slip.yaml -o x.kfl", "3", "the key \"clasifier\" is not known; the nearest is \"classifier\""},
            {"predict t.csv t.csv", "3", "t.csv: is no model, as train makes one; " + table},
        };
        for (String[] slip : slips) {
            Program.Outcome said = new Program(folder).run(slip[0].split(" "));
            assertThat(said.err()).as(slip[0]).contains(slip[2]);
            assertThat(said.expect(Integer.parseInt(slip[1])).err().lines().filter(l -> l.startsWith("keenfold: ")))
                    .as(slip[0])
                    .hasSize(1);
        }
        assertThat(folder.resolve("x.kfl")).doesNotExist();
        String help = run(0, "draw --help").out();
        assertThat(help)
                .containsPattern("Figures:\n  means +means with interval")
                .contains("  settling ");
        assertThat(run(0, "help draw").out()).isEqualTo(help);
    }

    @Test
    void aProgramThatCannotStartIsNamedOnce() throws Exception {
        Files.writeString(
                folder.resolve("c.yaml"),
                """
                keenfold: 1
                data: [{file: %s, target: swarmed, positive: yes}]
                splits: {folds: 3, repeats: 2}
                seed: 1
                candidates: {guess: {classifier: majority}, theirs: {classifier: command, run: [./nosuch]}}
                """
                        .formatted(Program.DEMO.resolve("swarm.csv")));
        assertThat(unwrapped(run(4, "run c.yaml -o c.kfl --allow-commands").err()))
                .containsOnlyOnce("./nosuch cannot be started")
                .contains("failed 6 times: theirs: ./nosuch cannot be started: No such file or directory");
    }
}

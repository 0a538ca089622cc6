package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.File;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The one-call comparison, the demo, the launcher, and what happens to bad input. */
class CompareIT {
    @TempDir
    private Path folder;

    private Program program() {
        return new Program(folder);
    }

    private Program.Outcome compare(String... more) throws Exception {
        String[] args = new String[more.length + 7];
        args[0] = "compare";
        args[1] = Program.DEMO.resolve("swarm.csv").toString();
        args[2] = "--target";
        args[3] = "swarmed";
        args[4] = "--repeats";
        args[5] = "2";
        args[6] = "--folds=5";
        System.arraycopy(more, 0, args, 7, more.length);
        return program().run(args);
    }

    @Test
    void oneCallGivesOneScreenWithScoresContrastsAndAPick() throws Exception {
        Program.Outcome outcome = compare("--seed", "4").expect(0);
        assertThat(outcome.out())
                .contains("swarm: 96 rows; no 56 (58 %), yes 40 (42 %, positive)")
                .contains("2 x 5 folds, stratified; seed 4")
                .containsPattern("candidate +auc +sd +se +95 % interval +accuracy +balanced-accuracy +log-loss +size")
                .containsPattern("difference +se +95 % for all +p adjusted +call +could be seen")
                .containsPattern("(?s)seed 4\n\nPick: \\w+.*best mean.*May be the best.*\ncandidate ");
        assertThat(outcome.out().lines()).allMatch(l -> l.length() <= 100).hasSizeLessThan(46);
        assertThat(outcome.said())
                .contains("the positive class is \"yes\", the rarer one (40 of 96 rows)")
                .contains("2 repeats show little")
                .contains("kept in swarm.kfl");
        // Once more: the same ledger, nothing to do. Another seed: the next free number.
        assertThat(compare("--seed", "4").expect(0).err()).contains("nothing to do");
        assertThat(compare("--seed", "4").out()).isEqualTo(outcome.out());
        assertThat(compare("--seed", "5").expect(0).err()).contains("kept in swarm-2.kfl");
        assertThat(compare().expect(0).err()).contains("nothing to do");
    }

    @Test
    void candidatesMetricAndPlanAreTheUsers() throws Exception {
        Program.Outcome outcome = compare(
                        "--try",
                        "near=nearest neighbours=3,7",
                        "--try",
                        "majority",
                        "--metric",
                        "brier",
                        "--save-plan",
                        "saved.yaml",
                        "-o",
                        "mine.kfl",
                        "--seed",
                        "8")
                .expect(0);
        assertThat(outcome.out()).contains("near/3").contains("near/7").contains("brier: each candidate against");
        program().run("run", "saved.yaml", "-o", "again.kfl").expect(0);
        assertThat(program().run("export", "again.kfl", "--what", "predictions").out())
                .isEqualTo(program()
                        .run("export", "mine.kfl", "--what", "predictions")
                        .out());
        assertThat(compare("--json", "--seed", "1")
                        .expect(0)
                        .json()
                        .get("datasets")
                        .get(0)
                        .get("candidates")
                        .size())
                .isEqualTo(11);
    }

    @Test
    void manyRowsAreNotComparedWithWhatWouldTakeHours() throws Exception {
        StringBuilder rows = new StringBuilder("x,y\n");
        for (int i = 0; i < 10_001; i++) {
            // Trees know the class after one split: how well it is told is of no interest here.
            rows.append(100 * (i % 3) + i % 83).append(i % 3 == 0 ? ",a\n" : ",b\n");
        }
        Files.writeString(folder.resolve("many.csv"), rows.toString());
        Program.Outcome outcome = program()
                .run("compare", "many.csv", "--target", "y", "--folds", "2", "--metric", "accuracy", "--json")
                .expect(0);
        assertThat(outcome.said())
                .contains(
                        "with 10001 rows and 1 column once encoded, 2 repeats are made instead of 10; --repeats 10 makes them all")
                .contains("with 10001 rows, fits of svm would take most of the time and are left out; --full")
                .contains("with 10001 rows, one member stands for nearest/1, nearest/5, nearest/25; --full");
        JsonNode set = outcome.json().get("datasets").get(0);
        assertThat(set.get("candidates").findValuesAsText("name"))
                .containsExactlyInAnyOrder(
                        "majority", "naive-bayes", "logistic", "nearest", "tree", "forest", "boosting", "network");
        // What is asked for is done.
        Program.Outcome asked = program()
                .run("compare", "many.csv", "--target", "y", "--folds", "2", "--repeats", "3", "--try", "majority")
                .expect(0);
        assertThat(asked.out()).contains("3 x 2 folds");
        assertThat(asked.said()).doesNotContain("--full", "instead of");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "none.csv|y|there is no such file",
                "good.csv|z|there is no column \"z\"",
                "good.csv|yy|there is no column \"yy\"; the nearest is \"y\"",
                "empty.csv|y|the file is empty",
                "one.csv|y|every row is of class \"a\"; a comparison needs at least two classes",
                "ragged.csv|y|ragged.csv, line 3: 1 fields: expected 2",
                "tiny.csv|y|folds = 10: data set \"tiny\" has only 4 rows; ask for 4 folds or fewer",
            })
    void badInputEndsWithThreeAndOneClearMessage(String file, String target, String message) throws Exception {
        Files.writeString(folder.resolve("good.csv"), "x,y\n1,a\n2,b\n");
        Files.writeString(folder.resolve("empty.csv"), "");
        Files.writeString(folder.resolve("one.csv"), "x,y\n1,a\n2,a\n");
        Files.writeString(folder.resolve("ragged.csv"), "x,y\n1,a\n2\n");
        Files.writeString(folder.resolve("tiny.csv"), "x,y\n1,a\n2,b\n3,a\n4,b\n");
        Program.Outcome outcome =
                program().run("compare", file, "--target", target).expect(3);
        assertThat(outcome.err()).contains("keenfold: ").contains(message);
        assertThat(outcome.err().lines().filter(l -> l.startsWith("keenfold:"))).hasSize(1);
        assertThat(outcome.out()).isEmpty();
        assertThat(folder.toFile().list((dir, name) -> name.endsWith(".kfl"))).isEmpty();
    }

    /** A word among numbers, and groups that are not known of every row: survey, draft and compare see them alike. */
    @Test
    void surveyDraftAndCompareAgreeOnColumns() throws Exception {
        StringBuilder slip = new StringBuilder("x,lab 2,y\n");
        for (int i = 0; i < 90; i++) {
            slip.append(i == 12 ? "many" : i * 7 % 31)
                    .append(i % 10 == 3 ? "," : ",site" + i % 18)
                    .append(i % 2 == 0 ? ",a\n" : ",b\n");
        }
        Files.writeString(folder.resolve("slip.csv"), slip.toString());
        String said =
                "slip.csv, line 14, column \"x\": \"many\" is a word among 89 numbers, so that the column is read as"
                        + " categories; to have numbers, correct it, or read it as missing (--missing many)";
        assertThat(program()
                        .run("survey", "slip.csv", "--target", "y")
                        .expect(0)
                        .said())
                .contains(said);
        Program.Outcome drafted = program()
                .run("draft", "slip.csv", "--target", "y", "-o", "slip.yaml")
                .expect(0);
        assertThat(drafted.said()).contains(said);
        assertThat(Files.readString(folder.resolve("slip.yaml")))
                .contains("text: [x]")
                .doesNotContain("groups: lab")
                .contains("\"lab 2\" looks like groups too");
        program().run("folds", "slip.yaml").expect(0);
        Program.Outcome compared = program()
                .run(
                        "compare",
                        "slip.csv",
                        "--target",
                        "y",
                        "--try",
                        "tree",
                        "--folds",
                        "3",
                        "--repeats",
                        "1",
                        "--save-plan",
                        "kept.yaml")
                .expect(0);
        assertThat(compared.said()).contains(said).contains("--groups 'lab 2'");
        assertThat(Files.readString(folder.resolve("kept.yaml"))).contains("text: [x]");
        program().run("run", "kept.yaml", "-o", "kept.kfl").expect(0);
    }

    @Test
    void aMisspeltPlanKeyIsNamedWithItsPlace() throws Exception {
        Files.writeString(folder.resolve("p.yaml"), "keenfold: 1\ndata: []\ncandiates: {}\n");
        assertThat(program().run("run", "p.yaml", "-o", "l.kfl").expect(3).err())
                .contains("p.yaml, line 3, column 12, key \"candiates\": unknown key")
                .contains("the nearest is \"candidates\"");
        assertThat(program().run("run", "p.yaml").expect(2).err()).contains("--ledger");
    }

    /** The story that the demo is to tell, at its seed. */
    @Test
    void theDemoDoesTheWholeJobAndTellsItsStory() throws Exception {
        // Two repeats tell it as ten do.
        Program.Outcome outcome =
                program().run("demo", "show", "--repeats", "2").expect(0);
        assertThat(outcome.out())
                .contains("$ keenfold run show/demo.yaml -o show/demo.kfl")
                .contains("$ keenfold scores")
                .contains("$ keenfold contrast")
                .contains("$ keenfold pick")
                .contains("$ keenfold train show/demo.kfl --dataset hives -o show/pick.kfm")
                .contains("$ keenfold show show/pick.kfm", "coefficients (log-odds of no)")
                .contains("$ keenfold predict show/pick.kfm show/new-hives.csv", "row,predicted,p:no,p:yes")
                .contains("What to look at next")
                .contains("undecided");
        assertThat(Files.readAllLines(folder.resolve("show/labelled.csv"))).hasSize(61);
        var scores = program()
                .run("scores", "show/demo.kfl", "--json", "--metric", "auc")
                .expect(0)
                .json();
        var picks = program()
                .run("pick", "show/demo.kfl", "--json")
                .expect(0)
                .json()
                .get("datasets");
        for (var dataSet : scores.get("datasets")) {
            String lowest = "";
            double least = 2;
            for (var c : dataSet.get("candidates")) {
                double mean = c.get("metrics").get("auc").get("mean").asDouble();
                if (mean < least) {
                    least = mean;
                    lowest = c.get("name").asText();
                }
            }
            if (!dataSet.get("name").asText().equals("swarm")) {
                assertThat(lowest).isEqualTo("majority");
            }
        }
        assertThat(picks.get(0).get("pick")).isNotEqualTo(picks.get(0).get("best"));
        assertThat(Files.readString(folder.resolve("show/predictions.csv"))).startsWith("dataset,row,");
        program().run("demo", "show", "--repeats", "2", "--files-only").expect(0);
        assertThat(program().run("demo", "show", "--files-only").expect(3).err())
                .contains("demo.yaml: is there already and differs");
        Files.writeString(folder.resolve("show/hives.csv"), "mine");
        assertThat(program().run("demo", "show").expect(3).err()).contains("is there already and differs");
    }

    @Test
    void theLauncherNeverBuildsInsideASchedulersJob() throws Exception {
        Path copy = Files.copy(Program.ROOT.resolve("keenfold"), folder.resolve("keenfold"));
        copy.toFile().setExecutable(true);
        ProcessBuilder builder = new ProcessBuilder(copy.toString(), "--help").redirectErrorStream(true);
        builder.environment().put("SLURM_JOB_ID", "17");
        Process process = builder.start();
        String said = new String(process.getInputStream().readAllBytes(), java.nio.charset.StandardCharsets.UTF_8);
        assertThat(Until.ended(process)).isTrue();
        assertThat(process.exitValue()).isEqualTo(3);
        assertThat(said).contains("build it before the job starts");
        assertThat(new File(folder.toFile(), "cli")).doesNotExist();
    }
}

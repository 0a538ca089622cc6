package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Candidates that are programs, through the built program. */
class CommandIT {
    /** The class shares, by the tools that every system has: what the majority guess does. */
    private static final String SHARES =
            """
            awk -F, 'NR==FNR { if (FNR > 1) { w[$1] += $2; all += $2 } next }
              FNR == 1 { print "yes,no"; next } { printf "%.17g,%.17g\\n", w["yes"] / all, w["no"] / all }
            ' train.csv test.csv > probabilities.csv
            """;

    @TempDir
    private Path folder;

    private Program plan(String candidates) throws IOException {
        return plan("swarm.csv", "swarmed, positive: yes", candidates);
    }

    private Program plan(String file, String target, String candidates) throws IOException {
        Files.writeString(
                folder.resolve("plan.yaml"),
                """
                keenfold: 1
                data: [{file: %s, target: %s}]
                splits: {folds: 3, repeats: 2}
                seed: 3
                metrics: [log-loss, auc]
                candidates:
                %s"""
                        .formatted(Program.DEMO.resolve(file), target, candidates));
        return new Program(folder);
    }

    @Test
    void aProgramIsComparedLikeAnyOtherCandidateOnceItIsAllowed() throws Exception {
        Files.writeString(folder.resolve("shares.sh"), SHARES);
        Program program = plan("  guess: {classifier: majority}\n  mine: {classifier: command, run: [sh, shares.sh]}\n"
                + "  weighed: {classifier: command, run: [sh, shares.sh], balance: weights}\n"
                + "  both: {classifier: vote, members: [guess, mine]}\n");
        assertThat(program.run("run", "plan.yaml", "-o", "l.kfl").expect(3).said())
                .contains(
                        "candidate \"mine\" runs a program: sh shares.sh; if you trust it, say so with --allow-commands");
        assertThat(folder.resolve("l.kfl")).doesNotExist();
        program.run("run", "plan.yaml", "-o", "l.kfl", "--allow-commands").expect(0);
        JsonNode candidates = program.run("scores", "l.kfl", "--json", "--draws", "200")
                .expect(0)
                .json()
                .get("datasets")
                .get(0)
                .get("candidates");
        double[] loss = new double[4];
        Arrays.setAll(loss, c -> candidates
                .get(c)
                .get("metrics")
                .get("log-loss")
                .get("mean")
                .asDouble());
        assertThat(loss[1]).isCloseTo(loss[0], org.assertj.core.data.Offset.offset(1e-12));
        assertThat(loss[3]).isCloseTo(loss[0], org.assertj.core.data.Offset.offset(1e-12));
        assertThat(loss[2]).isCloseTo(Math.log(2), org.assertj.core.data.Offset.offset(1e-12));
        assertThat(candidates.get(1).get("size").isNull()).isTrue();
        // A program that has changed is another candidate.
        Files.writeString(folder.resolve("shares.sh"), SHARES + "\n# better\n");
        assertThat(program.run("run", "plan.yaml", "-o", "l.kfl", "--allow-commands")
                        .expect(0)
                        .said())
                .contains("changed, and so refitted: mine, weighed, both", "not in the plan any more: mine@1");
        // And the one after that another one again, told from both by the version of the plan.
        Files.writeString(folder.resolve("shares.sh"), SHARES + "\n# best\n");
        assertThat(program.run("run", "plan.yaml", "-o", "l.kfl", "--allow-commands")
                        .expect(0)
                        .said())
                .contains("not in the plan any more: mine@2");
        assertThat(program.run("scores", "l.kfl", "--with-former", "--draws", "200")
                        .expect(0)
                        .out())
                .contains("mine@1", "mine@2");
        // They stay two where the ledger is joined to another one.
        Files.writeString(
                folder.resolve("other.yaml"),
                Files.readString(folder.resolve("plan.yaml"))
                        .replaceAll("(?s)candidates:.*", "candidates: {m: {classifier: majority}}\n"));
        program.run("run", "other.yaml", "-o", "other.kfl").expect(0);
        program.run("merge", "other.kfl", "l.kfl", "-o", "joined.kfl").expect(0);
        assertThat(Pattern.compile("\"mine@\\d+\"")
                        .matcher(program.run("scores", "joined.kfl", "--with-former", "--draws", "200", "--json")
                                .expect(0)
                                .out())
                        .results()
                        .map(MatchResult::group)
                        .distinct())
                .hasSize(2);
    }

    @Test
    void aProgramThatHangsOrCrashesIsOneFailedFitAndTheRunGoesOn() throws Exception {
        Program program = plan("  guess: {classifier: majority}\n"
                + "  slow: {classifier: command, run: [sh, -c, sleep 300], time-limit: 0.2s}\n"
                + "  bad: {classifier: command, run: [sh, -c, echo oops >&2; exit 9]}\n");
        assertThat(program.run("run", "plan.yaml", "-o", "l.kfl", "--allow-commands")
                        .expect(4)
                        .said())
                .contains("failed 6 times: bad: sh -c echo oops >&2; exit 9 ended with code 9 (oops)")
                .contains("failed 6 times: slow: took longer than its time-limit of 0.2s");
        assertThat(program.run("export", "l.kfl", "--what", "fits").expect(0).out())
                .contains("ended with code 9\nstandard error:\noops");
    }

    @Test
    void whatWasCutOffIsNoFailedFit() throws Exception {
        Program program = plan("  slow: {classifier: command, run: [sh, -c, 'touch \"$0\"; sleep 300', '"
                + folder.resolve("begun") + "']}\n");
        Path err = folder.resolve("err");
        Process run = program.start(folder.resolve("out"), err, "run", "plan.yaml", "-o", "l.kfl", "--allow-commands");
        Until.holds("the program begins", () -> Files.exists(folder.resolve("begun")));
        ProcessHandle[] children = run.descendants().toArray(ProcessHandle[]::new);
        assertThat(children).isNotEmpty();
        run.destroy();
        assertThat(Until.ended(run)).isTrue();
        for (ProcessHandle child : children) {
            child.onExit().get(Until.HANG_SECONDS, TimeUnit.SECONDS);
        }
        assertThat(program.run("export", "l.kfl", "--what", "fits")
                        .expect(0)
                        .out()
                        .lines())
                .hasSize(1);
    }

    @Test
    void theExampleOfTheManualRuns() throws Exception {
        assumeTrue(Program.has("python3"), "no python3 here");
        String manual = Files.readString(Program.ROOT.resolve("docs/command.md"));
        int from = manual.indexOf("```python\n") + "```python\n".length();
        Files.writeString(folder.resolve("my_model.py"), manual.substring(from, manual.indexOf("```", from)));
        Program program = plan(
                "hives.csv",
                "wintered, positive: no",
                "  guess: {classifier: majority}\n"
                        + "  mine:  {classifier: command, run: [python3, my_model.py], time-limit: 60s}\n");
        program.run("run", "plan.yaml", "-o", "l.kfl", "--allow-commands").expect(0);
        Map<String, Double> auc = new TreeMap<>();
        program.run("scores", "l.kfl", "--json", "--draws", "200")
                .expect(0)
                .json()
                .get("datasets")
                .get(0)
                .get("candidates")
                .forEach(c -> auc.put(
                        c.get("name").asText(),
                        c.get("metrics").get("auc").get("mean").asDouble()));
        assertThat(auc.get("mine")).isGreaterThan(auc.get("guess"));
    }

    /** Texts, and levels that no training row has, are handed on as they stand in the file, in a fold and for new rows. */
    @Test
    void aProgramSeesTextsAndNewLevels() throws Exception {
        Files.writeString(
                folder.resolve("look.sh"),
                """
                [ -f test.csv ] || { echo kept > model/kept; exit 0; }
                cat test.csv >> '%s'
                awk 'NR == 1 { print "no,yes"; next } { print "0.5,0.5" }' test.csv > probabilities.csv
                """
                        .formatted(folder.resolve("seen.csv")));
        StringBuilder table = new StringBuilder("remark,site,kind\n");
        for (int i = 0; i < 30; i++) {
            table.append("row ").append(i).append(i % 2 == 0 ? ",hill,yes\n" : ",moor,no\n");
        }
        Files.writeString(folder.resolve("notes.csv"), table);
        Program program = plan(
                folder.resolve("notes.csv").toString(),
                "kind, text: [remark]",
                "  mine: {classifier: command, run: [sh, look.sh], prepare: []}\n");
        program.run("run", "plan.yaml", "-o", "l.kfl", "--allow-commands").expect(0);
        assertThat(Files.readAllLines(folder.resolve("seen.csv"))).contains("remark,site", "row 17,moor");
        program.run("train", "l.kfl", "-o", "m.kfm", "--candidate", "mine", "--allow-commands")
                .expect(0);
        Files.writeString(folder.resolve("new.csv"), "site,remark\nhill,row 17\nbog,never seen\n,\n");
        assertThat(program.run("predict", "m.kfm", "new.csv", "--allow-commands")
                        .expect(0)
                        .said())
                .contains("column \"site\" has \"bog\"")
                .doesNotContain("never seen");
        assertThat(Files.readAllLines(folder.resolve("seen.csv")))
                .endsWith("remark,site", "row 17,hill", "never seen,bog", ",");
    }

    /** A kept model predicts what a fit on the same rows does: the training side of a fold, as a table of its own. */
    @Test
    void aProgramIsTrainedOnceAndAskedForPredictionsLater() throws Exception {
        assumeTrue(Program.has("python3"), "no python3 here");
        String manual = Files.readString(Program.ROOT.resolve("docs/command.md"));
        int from = manual.indexOf("```python\n") + "```python\n".length();
        Files.writeString(folder.resolve("my_model.py"), manual.substring(from, manual.indexOf("```", from)));
        String candidates = "  guess: {classifier: majority}\n"
                + "  mine:  {classifier: command, run: [python3, my_model.py]}\n"
                + "  both:  {classifier: vote, members: [guess, mine]}\n";
        Program program = plan("swarm.csv", "swarmed, positive: yes", candidates);
        program.run("run", "plan.yaml", "-o", "l.kfl", "--allow-commands").expect(0);
        List<String> rows = Files.readAllLines(Program.DEMO.resolve("swarm.csv"));
        List<String> learned = new ArrayList<>(rows.subList(0, 1));
        List<String> tested = new ArrayList<>(rows.subList(0, 1));
        for (String line : program.run("export", "l.kfl", "--what", "folds")
                .expect(0)
                .out()
                .lines()
                .skip(1)
                .filter(l -> l.split(",", -1)[2].equals("1"))
                .toList()) {
            String[] fields = line.split(",", -1);
            (fields[3].equals("1") ? tested : learned).add(rows.get(Integer.parseInt(fields[1])));
        }
        Files.write(folder.resolve("learned.csv"), learned);
        Files.write(folder.resolve("tested.csv"), tested);
        Files.writeString(
                folder.resolve("part.yaml"),
                Files.readString(folder.resolve("plan.yaml"))
                        .replace(Program.DEMO.resolve("swarm.csv").toString(), "learned.csv"));
        assertThat(program.run("train", "part.yaml", "--candidate", "mine", "-o", "m.kfm")
                        .expect(3)
                        .said())
                .contains("candidate \"mine\" runs a program: python3 my_model.py")
                .contains("--allow-commands");
        program.run("train", "part.yaml", "--candidate", "mine", "-o", "m.kfm", "--allow-commands")
                .expect(0);
        assertThat(program.run("predict", "m.kfm", "tested.csv").expect(3).out())
                .isEmpty();
        List<String> asked = program.run("predict", "m.kfm", "tested.csv", "--allow-commands")
                .expect(0)
                .out()
                .lines()
                .skip(1)
                .map(l -> l.split(",", -1)[2])
                .toList();
        List<String> fitted = program.run("export", "l.kfl", "--what", "predictions")
                .expect(0)
                .out()
                .lines()
                .filter(l -> l.contains(",1,1,mine,"))
                .map(l -> l.split(",", -1)[7])
                .toList();
        assertThat(asked).isEqualTo(fitted).hasSize(tested.size() - 1);
        assertThat(program.run("show", "m.kfm").expect(0).out()).contains("python3 my_model.py", "means.json");
        // A member is kept with what it is a member of, also when all of a ledger's rows are learned from.
        program.run("train", "l.kfl", "--candidate", "both", "-o", "b.kfm", "--allow-commands")
                .expect(0);
        assertThat(program.run("predict", "b.kfm", "tested.csv", "--allow-commands")
                        .expect(0)
                        .out()
                        .lines())
                .hasSize(tested.size());
        // The program is looked for where the model is; another one is not asked.
        Path away = Files.createDirectory(folder.resolve("away"));
        Files.copy(folder.resolve("m.kfm"), away.resolve("m.kfm"));
        assertThat(program.run("predict", "away/m.kfm", "tested.csv", "--allow-commands")
                        .expect(3)
                        .said())
                .contains("is not that which it was trained with");
        program.run("predict", "away/m.kfm", "tested.csv", "--allow-commands", "--programs", ".")
                .expect(0);
        Files.writeString(folder.resolve("my_model.py"), "# another one\n");
        assertThat(program.run("predict", "m.kfm", "tested.csv", "--allow-commands")
                        .expect(3)
                        .said())
                .contains("is not that which it was trained with");
        assertThat(program.run("train", "l.kfl", "--candidate", "mine", "-o", "n.kfm", "--allow-commands")
                        .expect(3)
                        .said())
                .contains("is not beside the ledger as it was when it was run");
        // One that keeps nothing is told so.
        Files.writeString(folder.resolve("nothing.sh"), "exit 0\n");
        Files.writeString(
                folder.resolve("part.yaml"),
                Files.readString(folder.resolve("part.yaml")).replace("python3, my_model.py", "sh, nothing.sh"));
        assertThat(program.run("train", "part.yaml", "--candidate", "mine", "-o", "o.kfm", "--allow-commands")
                        .expect(3)
                        .said())
                .contains("wrote nothing into the folder model");
    }
}

package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import keenfold.io.sqlite.SqliteFile;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Ledgers that grow, are edited, joined and set against each other, by the built program. */
class LedgerLifeIT {
    private static final String PLAN =
            """
            keenfold: 1
            data: [{file: swarm.csv, target: swarmed, positive: yes}]
            splits: {folds: 5, repeats: 3}
            seed: 5
            metrics: [auc, accuracy]
            candidates:
              guess: {classifier: majority}
              tree: {classifier: tree, depth: 2}
              logit: {classifier: logistic}
            evidence: {draws: 300}
            """;

    @TempDir
    private Path folder;

    private Program program;

    @BeforeEach
    void makeFolder() throws IOException {
        Files.copy(Program.DEMO.resolve("swarm.csv"), folder.resolve("swarm.csv"));
        Files.writeString(folder.resolve("plan.yaml"), PLAN);
        program = new Program(folder);
    }

    private void plan(String name, String yaml) throws IOException {
        Files.writeString(folder.resolve(name), yaml);
    }

    @Test
    void aWeekLaterAPlanIsChangedAndOnlyWhatIsNewIsRun() throws Exception {
        program.run("run", "plan.yaml", "-o", "l.kfl").expect(0);
        plan(
                "later.yaml",
                PLAN.replace("repeats: 3", "repeats: 4")
                                .replace("[auc, accuracy]", "[auc, accuracy, mcc]")
                                .replace("depth: 2", "depth: 3")
                                .replace("  guess: {classifier: majority}\n", "")
                        + "pick: {rule: fold-se}\n");
        Program.Outcome later = program.run("run", "later.yaml", "-o", "l.kfl").expect(0);
        assertThat(later.said())
                .contains("it is version 2 there now, and 15 fits are kept")
                .contains("changed, and so refitted: tree;")
                .contains("not in the plan any more: guess@1, tree@1;")
                .contains("repeats: 4 of swarm, 3 before")
                .contains("metrics computed for the fits made before: mcc")
                .contains("going on: 15 of 40 units are in l.kfl");
        program.run("run", "later.yaml", "-o", "fresh.kfl").expect(0);
        assertThat(program.exports("l.kfl")).isEqualTo(program.exports("fresh.kfl"));
        assertThat(program.run("scores", "l.kfl").expect(0).out()).doesNotContain("guess");
        assertThat(program.run("scores", "l.kfl", "--with-former").expect(0).out())
                .contains("guess@1", "tree@1");
        plan("other.yaml", PLAN.replace("folds: 5", "folds: 4"));
        assertThat(program.run("run", "other.yaml", "-o", "l.kfl").expect(3).said())
                .contains("the splits of data set \"swarm\" are not those that the ledger was made with")
                .contains("such as -o l-2.kfl");
        program.run("note", "l.kfl", "depth", "2", "was too little: three leaves")
                .expect(0);
        Program.Outcome told = program.run("history", "l.kfl").expect(0);
        assertThat(told.out())
                .containsPattern("settings changed +tree: plan 2\n")
                .containsPattern("note +depth 2 was too little: three leaves\n")
                .containsPattern("pick changed +plan 2: \\{rule: fold-se}\n")
                .contains("not in the plan any more: guess@1, tree@1");
        JsonNode history = program.run("history", "l.kfl", "--json").expect(0).json();
        assertThat(history.get("not_in_plan")).hasSize(2);
        assertThat(history.get("events").get(0).get("event").asText()).isEqualTo("made");
        assertThat(program.run("export", "l.kfl", "--what", "history").expect(0).out())
                .contains(",note,,depth 2 was too little: three leaves");
        assertThat(program.run("export", "l.kfl", "--what", "plan").expect(0).out())
                .startsWith("# ")
                .contains("UTC: depth 2 was too little: three leaves\nkeenfold: 1\n");
        program.run("report", "l.kfl", "-o", "page", "--page-only").expect(0);
        assertThat(Files.readString(folder.resolve("page/report.html")))
                .contains("UTC: depth 2 was too little: three leaves");
        program.run("rename", "l.kfl", "logit", "straight").expect(0);
        assertThat(program.run("forget", "l.kfl", "--former").expect(0).said())
                .contains("forgot guess@1, tree@1: 30 fits");
        assertThat(program.run("forget", "l.kfl", "nobody").expect(3).said())
                .contains("no candidate is called \"nobody\"");
        assertThat(program.run("forget", "l.kfl").expect(2).said()).contains("say what to forget");
        assertThat(program.run("scores", "l.kfl").expect(0).out())
                .contains("straight")
                .doesNotContain("logit");
    }

    /** A further member of a family costs its own fits: a program that notes each call is called for no other. */
    @Test
    void aFurtherMemberRunsNoOtherAgain() throws Exception {
        Files.writeString(
                folder.resolve("noted.sh"),
                "echo x >> '" + folder.resolve("calls") + "'\n"
                        + "{ echo no,yes; tail -n +2 test.csv | sed 's/.*/0.5,0.5/'; } > probabilities.csv\n");
        String one = PLAN.replace(
                "evidence:",
                "  mine: {classifier: command, run: [sh, noted.sh], balance: {by: {vary: [weights]}}}\nevidence:");
        plan("one.yaml", one);
        program.run("run", "one.yaml", "-o", "l.kfl", "--allow-commands").expect(0);
        assertThat(Files.readAllLines(folder.resolve("calls"))).hasSize(15);
        plan("two.yaml", one.replace("vary: [weights]", "vary: [resampling, weights]"));
        assertThat(program.run("run", "two.yaml", "-o", "l.kfl", "--allow-commands")
                        .expect(0)
                        .said())
                .contains("new: mine/resampling");
        assertThat(Files.readAllLines(folder.resolve("calls"))).hasSize(30);
        assertThat(program.run("scores", "l.kfl").expect(0).out()).contains("mine/resampling", "mine/weights");
    }

    /** A paired difference between ledgers is that of one ledger that holds both. */
    @Test
    void twoLedgersAreSetAgainstEachOther() throws Exception {
        plan("other.yaml", PLAN.replace("depth: 2", "depth: 3").replace("  logit: {classifier: logistic}\n", ""));
        program.run("run", "plan.yaml", "-o", "a.kfl").expect(0);
        program.run("run", "other.yaml", "-o", "b.kfl").expect(0);
        Program.Outcome text = program.run("versus", "a.kfl", "b.kfl").expect(0);
        assertThat(text.out())
                .contains("96 rows in the same folds of 3 repeats in both: differences are paired, and tested")
                .contains("candidate in a.kfl alone: logit")
                .contains("other settings");
        JsonNode both = program.run("versus", "a.kfl", "b.kfl", "--json")
                .expect(0)
                .json()
                .get("parts")
                .get(0);
        JsonNode tree = both.get("candidates").get(1);
        assertThat(tree.get("candidate").asText()).isEqualTo("tree");
        assertThat(both.get("candidates").get(0).get("note").asText()).isEqualTo("identical");
        assertThat(program.run("merge", "a.kfl", "b.kfl", "-o", "m.kfl")
                        .expect(3)
                        .said())
                .contains("candidate tree is not what the ledgers before it call so");
        program.run("rename", "b.kfl", "tree", "deeper").expect(0);
        program.run("merge", "a.kfl", "b.kfl", "-o", "m.kfl").expect(0);
        List<String> contrast = program.run("contrast", "m.kfl", "--against", "deeper", "--adjust", "none", "--csv")
                .expect(0)
                .out()
                .lines()
                .toList();
        List<String> titles = List.of(contrast.get(0).split(",", -1));
        List<String> values = contrast.stream()
                .filter(l -> l.startsWith("swarm,tree,deeper,"))
                .map(l -> List.of(l.split(",", -1)))
                .findFirst()
                .orElseThrow();
        for (String key : List.of("difference", "se", "p")) {
            assertThat(tree.get(key.equals("se") ? "se_difference" : key).asDouble())
                    .as(key)
                    .isEqualTo(Double.parseDouble(values.get(titles.indexOf(key))));
        }
        plan("fewer.yaml", PLAN.replace("positive: yes}", "positive: yes, leave-out: [cells]}"));
        program.run("run", "fewer.yaml", "-o", "d.kfl").expect(0);
        assertThat(program.run("versus", "a.kfl", "d.kfl").expect(0).out())
                .containsPattern(
                        "with other columns, or other\\s+values in them:\\s+differences are paired, and tested");
        plan("seeded.yaml", PLAN.replace("seed: 5", "seed: 6"));
        program.run("run", "seeded.yaml", "-o", "c.kfl").expect(0);
        Program.Outcome apart = program.run("versus", "a.kfl", "c.kfl").expect(0);
        assertThat(apart.said()).contains("not made on the same rows in the same folds");
        assertThat(apart.out())
                .contains("96 rows against 96, other folds", "not tested")
                .doesNotContain("undecided");
        JsonNode shown = program.run("versus", "a.kfl", "c.kfl", "--json", "--quiet")
                .expect(0)
                .json()
                .get("parts")
                .get(0);
        assertThat(shown.get("paired").asBoolean()).isFalse();
        assertThat(shown.get("candidates").get(1).get("p_adjusted").isNull()).isTrue();
        assertThat(shown.get("candidates").get(1).get("difference").asDouble())
                .isEqualTo(shown.get("candidates").get(1).get("mean").asDouble()
                        - shown.get("candidates").get(1).get("mean_other").asDouble());
    }

    /** A ledger of another format is refused in one line by every command, and left as it is. */
    @Test
    void ledgersOfOtherFormatsAreRefused() throws Exception {
        program.run("run", "plan.yaml", "-o", "l.kfl").expect(0);
        Path ledger = folder.resolve("l.kfl");
        for (int format : new int[] {3, 99}) {
            try (Connection connection = SqliteFile.open(ledger, SqliteFile.Access.WRITE);
                    Statement statement = connection.createStatement()) {
                statement.execute("PRAGMA user_version=" + format);
            }
            byte[] before = Files.readAllBytes(ledger);
            for (String command : List.of("scores", "contrast", "pick", "history", "report -o page", "note x")) {
                List<String> words = new ArrayList<>(List.of(command.split(" ")));
                words.add(1, ledger.toString());
                Program.Outcome refused =
                        program.run(words.toArray(new String[0])).expect(3);
                assertThat(refused.said().strip().lines()).as(command).hasSize(1);
                assertThat(refused.said()).contains("is of ledger format " + format);
            }
            assertThat(ledger).hasBinaryContent(before);
        }
    }
}

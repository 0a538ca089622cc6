package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import keenfold.cli.run.Scheduled;
import keenfold.io.sqlite.NativeLibrary;
import keenfold.io.sqlite.SqliteFile;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A run in shards, and their ledgers joined, through the built program. */
class ShardIT {
    static {
        // The same copy as the program's: a process that loads two of them can end at once.
        NativeLibrary.load();
    }

    @TempDir
    private static Path folder;

    private static final String PLAN =
            """
            keenfold: 1
            data:
              - {file: swarm.csv, target: swarmed, positive: yes}
              - {file: forage.csv, target: kind, leave-out: [sample]}
            splits: {folds: 4, repeats: 2}
            seed: 5
            metrics: [auc, accuracy]
            candidates:
              guess: {classifier: majority}
              logit: {classifier: logistic, strength: {vary: [1, 30]}}
              bush: {classifier: tree, depth: {choose: [1, 3]}}
              firm: {classifier: vote, members: [logit/1, bush], by: label}
            evidence: {draws: 200, halves: 1}
            """;

    @BeforeAll
    static void run() throws Exception {
        for (String name : List.of("swarm.csv", "forage.csv")) {
            Files.copy(Program.DEMO.resolve(name), folder.resolve(name));
        }
        Files.writeString(folder.resolve("plan.yaml"), PLAN + "effort: {bush: 4, logit: 2.5}\n");
        program().run("run", "plan.yaml", "-o", "whole.kfl").expect(0);
        for (int i = 1; i <= 3; i++) {
            program()
                    .run("run", "plan.yaml", "--shard", i + "/3", "-o", "s" + i + ".kfl")
                    .expect(0);
        }
    }

    private static Program program() {
        return new Program(folder);
    }

    private static String exports(String ledger) throws Exception {
        StringBuilder all = new StringBuilder(program().exports(ledger));
        all.append(
                program().run("export", ledger, "--what", "contrasts").expect(0).out());
        all.append(program().run("pick", ledger, "--json").expect(0).out());
        return all.append(program()
                        .run("contrast", ledger, "--json", "--method", "halves", "--against", "all")
                        .out())
                .toString();
    }

    private static int sql(String ledger, String command) throws Exception {
        try (Connection connection = SqliteFile.open(folder.resolve(ledger), SqliteFile.Access.WRITE);
                Statement statement = connection.createStatement()) {
            if (command.startsWith("SELECT")) {
                return statement.executeQuery(command).getInt(1);
            }
            return statement.executeUpdate(command);
        }
    }

    @Test
    void joinedShardsAreTheRunOfOneMachine() throws Exception {
        Program.Outcome merged = program()
                .run("merge", "s1.kfl", "s2.kfl", "s3.kfl", "-o", "merged.kfl")
                .expect(0);
        int fits = sql("whole.kfl", "SELECT count(*) FROM fit");
        assertThat(merged.said()).contains("joined 3 ledgers into merged.kfl: " + fits + " of " + fits + " fits");
        assertThat(exports("merged.kfl")).isEqualTo(exports("whole.kfl"));
        assertThat(program()
                        .run("run", "plan.yaml", "-o", "merged.kfl")
                        .expect(0)
                        .said())
                .contains("nothing to do");
        // Each shard has its part, of the halves too, and nobody has what another has.
        int sum = 0;
        for (int i = 1; i <= 3; i++) {
            sum += sql("s" + i + ".kfl", "SELECT count(*) FROM fit");
            assertThat(sql("s" + i + ".kfl", "SELECT count(*) FROM fit WHERE purpose = 'half'"))
                    .isPositive();
            assertThat(folder.resolve("s" + i + ".kfl-wal")).doesNotExist();
        }
        assertThat(sum).isEqualTo(fits);
        // In another order too.
        program().run("merge", "s3.kfl", "s1.kfl", "s2.kfl", "-o", "turned.kfl").expect(0);
        assertThat(exports("turned.kfl")).isEqualTo(exports("whole.kfl"));
    }

    @Test
    void whatIsMissingIsListedAndDoneByRun() throws Exception {
        Program.Outcome two =
                program().run("merge", "s1.kfl", "s3.kfl", "-o", "two.kfl").expect(4);
        assertThat(two.said()).contains("fits are missing: ", "keenfold run PLAN -o two.kfl does them");
        program().run("run", "plan.yaml", "-o", "two.kfl").expect(0);
        assertThat(exports("two.kfl")).isEqualTo(exports("whole.kfl"));
    }

    @Test
    void whatIsTwiceThereIsSaidAndWhatDiffersIsRefused() throws Exception {
        Program.Outcome twice = program()
                .run("merge", "s1.kfl", "s2.kfl", "s1.kfl", "s3.kfl", "-o", "twice.kfl")
                .expect(0);
        assertThat(twice.said()).contains("s1.kfl: ", "fits were in a ledger before it too, and the same");
        Files.writeString(
                folder.resolve("other.yaml"),
                Files.readString(folder.resolve("plan.yaml")).replace("seed: 5", "seed: 6"));
        program().run("run", "other.yaml", "--shard", "2/3", "-o", "o2.kfl").expect(0);
        assertThat(program()
                        .run("merge", "s1.kfl", "o2.kfl", "-o", "o.kfl")
                        .expect(3)
                        .said())
                .contains("o2.kfl: its fits derive from seed 6, those of the ledgers before it from seed 5");
        assertThat(folder.resolve("o.kfl")).doesNotExist();
        assertThat(new Program(folder).unfinished()).isEmpty();
        assertThat(program().run("merge", "s1.kfl", "-o", "s2.kfl").expect(3).said())
                .contains("is there already");
        assertThat(program()
                        .run("merge", "nowhere.kfl", "-o", "n.kfl")
                        .expect(3)
                        .said())
                .contains("nowhere.kfl: there is no such ledger");
        assertThat(program().run("merge", "swarm.csv", "-o", "n.kfl").expect(3).said())
                .contains("swarm.csv");
    }

    /** A program that throws dice, and now and then fails: what differs is refused, and what failed gives way. */
    @Test
    void fitsThatDifferAreRefusedAndFailedOnesGiveWay() throws Exception {
        Files.writeString(
                folder.resolve("dice.sh"),
                """
                [ -e "$1" ] && exit 1
                p=0.$((RANDOM % 9 + 1))$((RANDOM % 9 + 1))
                echo no,yes > probabilities.csv
                tail -n +2 test.csv | awk -v p=$p '{print 1 - p "," p}' >> probabilities.csv
                """);
        Path fail = folder.resolve("fail");
        Files.writeString(
                folder.resolve("dice.yaml"),
                """
                keenfold: 1
                data: [{file: swarm.csv, target: swarmed, positive: yes}]
                splits: {folds: 3, repeats: 1}
                seed: 5
                metrics: [auc, accuracy]
                candidates:
                  guess: {classifier: majority}
                  dice: {classifier: command, run: [bash, dice.sh, %s]}
                """
                        .formatted(fail));
        for (String name : List.of("d1", "d2")) {
            program()
                    .run("run", "dice.yaml", "-o", name + ".kfl", "--allow-commands")
                    .expect(0);
        }
        Files.createFile(fail);
        program()
                .run("run", "dice.yaml", "-o", "failed.kfl", "--allow-commands")
                .expect(4);
        assertThat(program()
                        .run("merge", "d1.kfl", "d2.kfl", "-o", "joined.kfl")
                        .expect(3)
                        .said())
                .contains("d2.kfl: the fit of dice", "is in a ledger before it too, and differs");
        assertThat(program()
                        .run("merge", "failed.kfl", "d1.kfl", "-o", "joined.kfl")
                        .expect(0)
                        .said())
                .contains("6 of 6 fits");
        assertThat(program()
                        .run("scores", "joined.kfl", "--json")
                        .expect(0)
                        .json()
                        .get("rows"))
                .isEqualTo(program()
                        .run("scores", "d1.kfl", "--json")
                        .expect(0)
                        .json()
                        .get("rows"));
    }

    /** A changed score, a blob that is cut, and a page of zeros: each costs its own fits, and a run makes them again. */
    @Test
    void whatIsSoundOfADamagedLedgerIsRescued() throws Exception {
        Files.copy(folder.resolve("whole.kfl"), folder.resolve("hurt.kfl"));
        sql(
                "hurt.kfl",
                "UPDATE score SET value = value + 0.01 WHERE metric = 'accuracy' AND fit = (SELECT min(f.id) FROM fit f"
                        + " JOIN candidate c ON c.id = f.candidate WHERE c.name = 'logit/1' AND f.purpose = 'cv')");
        sql(
                "hurt.kfl",
                "UPDATE prediction SET probabilities = substr(probabilities, 1, 20) WHERE fit = (SELECT max(f.id) FROM fit f"
                        + " JOIN candidate c ON c.id = f.candidate WHERE c.name = 'logit/1' AND f.purpose = 'cv')");
        assertThat(program().run("scores", "hurt.kfl").expect(3).said()).contains("damaged", "keenfold merge");
        Program.Outcome rescued =
                program().run("merge", "hurt.kfl", "-o", "sound.kfl").expect(4);
        assertThat(rescued.said())
                .contains(
                        "hurt.kfl is damaged: the fit of ",
                        "does not agree with its checksum",
                        "2 of ",
                        "fits are missing");
        program().run("run", "plan.yaml", "-o", "sound.kfl").expect(0);
        assertThat(exports("sound.kfl")).isEqualTo(exports("whole.kfl"));

        byte[] bytes = Files.readAllBytes(folder.resolve("whole.kfl"));
        int at = bytes.length / 2 / 4096 * 4096;
        java.util.Arrays.fill(bytes, at, at + 4096, (byte) 0);
        Files.write(folder.resolve("zeros.kfl"), bytes);
        Program.Outcome zeros = program().run("merge", "zeros.kfl", "-o", "after.kfl");
        assertThat(zeros.code()).isIn(0, 4);
        program().run("run", "plan.yaml", "-o", "after.kfl").expect(0);
        assertThat(exports("after.kfl")).isEqualTo(exports("whole.kfl"));
    }

    @Test
    void aShardKeepsToItsLedger() throws Exception {
        assertThat(program()
                        .run("run", "plan.yaml", "--shard", "2/3", "-o", "s1.kfl")
                        .expect(3)
                        .said())
                .contains("is the ledger of shard 1/3; go on with --shard 1/3, or join all shards with keenfold merge");
        assertThat(program().run("run", "plan.yaml", "-o", "s1.kfl").expect(3).said())
                .contains("shard 1/3");
        assertThat(program()
                        .run("run", "plan.yaml", "--shard", "1/3", "-o", "whole.kfl")
                        .expect(3)
                        .said())
                .contains("is the ledger of a whole run, not of shard 1/3");
        assertThat(program()
                        .run("run", "plan.yaml", "--shard", "1/3", "-o", "s1.kfl")
                        .expect(0)
                        .said())
                .contains("nothing to do: s1.kfl has all");
        assertThat(program()
                        .run("run", "plan.yaml", "--shard", "4/3", "-o", "x.kfl")
                        .expect(2)
                        .said())
                .contains("--shard: shard 4/3: expected a number from 1 to 3");
        Files.writeString(
                folder.resolve("unsown.yaml"),
                Files.readString(folder.resolve("plan.yaml")).replace("seed: 5\n", ""));
        assertThat(program()
                        .run("run", "unsown.yaml", "--shard", "1/3", "-o", "x.kfl")
                        .expect(3)
                        .said())
                .contains("has no seed, and shards with different ones would be of different comparisons");
    }

    @Test
    void schedulersSayWhichShardItIs() {
        List<String> said = new ArrayList<>();
        for (Map<String, String> environment : List.of(
                Map.of("KEENFOLD_SHARDS", "8", "SLURM_ARRAY_TASK_ID", "3"),
                Map.of("KEENFOLD_SHARDS", "8", "JOB_COMPLETION_INDEX", "0"),
                Map.of("KEENFOLD_SHARDS", "8", "PBS_ARRAY_INDEX", "8"))) {
            said.add(Scheduled.shard(environment).toString());
        }
        assertThat(said).containsExactly("3/8", "1/8", "8/8");
        for (Map<String, String> environment :
                List.of(Map.<String, String>of(), Map.of("KEENFOLD_SHARDS", "8"), Map.of("SLURM_ARRAY_TASK_ID", "3"))) {
            org.assertj.core.api.Assertions.assertThatThrownBy(() -> Scheduled.shard(environment))
                    .hasMessageStartingWith("from-env: ");
        }
    }
}

package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What the world may do to a run, done to the built program: each fault is named, and what was sound before it is kept. */
class FaultIT {
    @TempDir
    private static Path folder;

    private static final FaultRuns RUNS = new FaultRuns();

    @BeforeAll
    static void prepare() throws Exception {
        RUNS.runUndisturbed(folder);
    }

    @AfterEach
    void endAll() {
        RUNS.endAll();
    }

    /** SQLite takes a wrong page for the end of its journal, and says nothing: here it is said, with what is missing. */
    @Test
    void aBitThatTurnedInTheJournalOfAKilledRunIsSaid() throws Exception {
        Process torn = RUNS.started(RUNS.program(), "run", "long.yaml", "-o", "bit.kfl");
        // Several times something was written, so that something is left when the last of it does not count.
        for (int i = 0; i < 4; i++) {
            RUNS.awaitFits("bit.kfl", RUNS.number("bit.kfl", "SELECT count(*) FROM fit") + 10);
        }
        torn.destroyForcibly().waitFor();
        Path journal = folder.resolve("bit.kfl-wal");
        byte[] bytes = Files.readAllBytes(journal);
        assertThat(RUNS.program().run("scores", "bit.kfl").expect(0).said()).doesNotContain("damaged");
        // In the page before the last one: at least one behind it is lost.
        bytes[bytes.length - (24 + 4096) - 100] ^= 4;
        Files.write(journal, bytes);
        for (String[] command : new String[][] {
            {"scores", "bit.kfl"}, {"export", "bit.kfl", "--what", "fits", "-o", "bit.csv"}, {"contrast", "bit.kfl"}
        }) {
            assertThat(RUNS.program().run(command).expect(0).said())
                    .as(command[0])
                    .contains("bit.kfl-wal, the journal that an interrupted writer left, is damaged in the middle")
                    .containsPattern("bit.kfl holds [0-9]+ of [0-9]+ fits of its plan");
        }
    }

    // The file.

    @Test
    void aLedgerThatIsDeletedOrReplacedIsSaved() throws Exception {
        for (String shard : List.of("", "1/1")) {
            for (boolean replaced : new boolean[] {false, true}) {
                String name = "gone" + shard.length() + replaced + ".kfl";
                String[] command = shard.isEmpty()
                        ? new String[] {"run", "long.yaml", "-o", name}
                        : new String[] {"run", "long.yaml", "-o", name, "--shard", shard};
                Process running = RUNS.started(RUNS.program(), command);
                if (shard.isEmpty()) {
                    RUNS.awaitFits(name, 20);
                } else {
                    // Nobody may look into it.
                    Until.holds(
                            "bytes of " + name,
                            () -> Files.exists(folder.resolve(name)) && Files.size(folder.resolve(name)) >= 150_000);
                }
                if (replaced) {
                    Files.copy(folder.resolve("whole.kfl"), folder.resolve("other.kfl"));
                    Files.move(folder.resolve("other.kfl"), folder.resolve(name), StandardCopyOption.REPLACE_EXISTING);
                } else {
                    Files.delete(folder.resolve(name));
                }
                assertThat(RUNS.ended(running)).as(name).isEqualTo(3);
                assertThat(RUNS.said())
                        .contains(
                                replaced ? "was replaced by another file" : "was deleted",
                                "while it was written; all that was done is in ",
                                name + ".rescued: move that to where it was, and run again");
                if (replaced) {
                    assertThat(Files.readAllBytes(folder.resolve(name)))
                            .isEqualTo(Files.readAllBytes(folder.resolve("whole.kfl")));
                }
                int kept = RUNS.number(name + ".rescued", "SELECT count(*) FROM fit");
                assertThat(kept).isGreaterThan(10);
                Files.move(
                        folder.resolve(name + ".rescued"), folder.resolve(name), StandardCopyOption.REPLACE_EXISTING);
                assertThat(RUNS.program()
                                .run("export", name, "--what", "fits")
                                .expect(0)
                                .out()
                                .lines()
                                .count())
                        .isEqualTo(kept + 1);
            }
        }
    }

    /** One bit turned, or an end cut off, anywhere: no number changes unsaid, and merge and run make it whole again. */
    @Test
    void noDamagePassesUnseenAndWhatIsSoundIsRescued() throws Exception {
        byte[] whole = Files.readAllBytes(folder.resolve("whole.kfl"));
        Random chance = new Random(8);
        int found = 0;
        int rescued = 0;
        int cases = Integer.getInteger("keenfold.damages", 40);
        for (int k = 0; k < cases; k++) {
            byte[] bytes = whole.clone();
            if (k % 5 == 4) {
                bytes = Arrays.copyOf(bytes, 1 + chance.nextInt(bytes.length - 1));
            } else {
                bytes[chance.nextInt(bytes.length)] ^= (byte) (1 << chance.nextInt(8));
            }
            Files.write(folder.resolve("hurt.kfl"), bytes);
            boolean said = false;
            StringBuilder all = new StringBuilder();
            for (String what : List.of("plan", "predictions", "folds", "scores")) {
                Program.Outcome outcome = RUNS.program().run("export", "hurt.kfl", "--what", what);
                assertThat(outcome.code()).as("damage %d: %s", k, outcome.err()).isIn(0, 3);
                said |= outcome.code() == 3;
                all.append(outcome.out());
            }
            if (!said) {
                assertThat(all.toString()).as("damage %d", k).isEqualTo(RUNS.undisturbed());
                continue;
            }
            found++;
            Program.Outcome run = RUNS.program().run("run", "plan.yaml", "-o", "hurt.kfl");
            assertThat(run.code()).as(run.err()).isIn(0, 3);
            Program.Outcome merged = RUNS.program().run("merge", "hurt.kfl", "-o", "mended.kfl");
            assertThat(merged.code()).as(merged.err()).isIn(0, 3, 4);
            if (merged.code() != 3) {
                RUNS.program().run("run", "plan.yaml", "-o", "mended.kfl").expect(0);
                assertThat(RUNS.exports("mended.kfl")).as("damage %d", k).isEqualTo(RUNS.undisturbed());
                Files.delete(folder.resolve("mended.kfl"));
                rescued++;
            } else {
                assertThat(merged.said()).contains("hurt.kfl");
            }
        }
        assertThat(found).isGreaterThan(cases / 2);
        assertThat(rescued).isGreaterThan(found / 2);
    }

    @Test
    void changedDataIsRefusedWithWhatChanged() throws Exception {
        String csv = Files.readString(folder.resolve("swarm.csv"));
        Files.createDirectory(folder.resolve("later"));
        Files.writeString(folder.resolve("later/plan.yaml"), FaultRuns.PLAN);
        List<String> lines = csv.lines().toList();
        for (String[] change : new String[][] {
            {lines.get(4), lines.get(4).replaceAll("no$", "yes"), "row 4 was \"no\", and is \"yes\" now"},
            {lines.get(7) + "\n", "", "96 rows then, 95 now"},
            {lines.get(9), "1" + lines.get(9), "rows and classes are the same; values of columns"}
        }) {
            Files.writeString(folder.resolve("later/swarm.csv"), csv.replaceFirst(change[0], change[1]));
            assertThat(RUNS.program()
                            .run("run", "later/plan.yaml", "-o", "whole.kfl")
                            .expect(3)
                            .said())
                    .contains("data set \"swarm\" has changed since the ledger was made (" + change[2]);
        }
        assertThat(RUNS.exports("whole.kfl")).isEqualTo(RUNS.undisturbed());
    }

    // The processes.

    @Test
    void twoWritersAndAReaderAndThenAnInterruption() throws Exception {
        // Fits of a minute: whoever is told to stop cannot wait for them.
        Files.writeString(
                folder.resolve("slow.yaml"),
                FaultRuns.PLAN.replace(
                        "{classifier: forest, trees: 20}", "{classifier: command, run: [sleep, \"60\"]}"));
        boolean env = Program.has("env");
        for (String signal : env ? List.of("INT", "TERM") : List.of("TERM")) {
            Files.deleteIfExists(folder.resolve("busy.kfl"));
            Program first = env ? RUNS.program().under("env", "--default-signal=INT") : RUNS.program();
            Process running =
                    RUNS.started(first, "run", "slow.yaml", "-o", "busy.kfl", "--allow-commands", "--threads", "4");
            RUNS.awaitFits("busy.kfl", 2);
            assertThat(RUNS.program()
                            .run("run", "slow.yaml", "-o", "busy.kfl", "--allow-commands")
                            .expect(3)
                            .said())
                    .contains("busy.kfl: another keenfold is writing to this ledger; wait for it");
            assertThat(RUNS.program()
                            .run("merge", "busy.kfl", "-o", "early.kfl")
                            .expect(3)
                            .said())
                    .contains("another keenfold is writing to this ledger");
            assertThat(RUNS.program()
                            .run("export", "busy.kfl", "--what", "fits")
                            .expect(0)
                            .out())
                    .contains("guess,");
            Program.Outcome early = RUNS.program().run("scores", "busy.kfl").expect(0);
            assertThat(early.out().replaceAll("\\s+", " "))
                    .contains("No se and no interval: no candidate has enough of its 60 fits to be compared.");
            assertThat(early.said()).containsPattern("busy.kfl holds \\d+ of 240 fits of its plan; go on with run");
            new ProcessBuilder("kill", "-" + signal, Long.toString(running.pid()))
                    .start()
                    .waitFor();
            assertThat(RUNS.ended(running)).isEqualTo(signal.equals("INT") ? 130 : 143);
            // It did not wait for the fits under way: none of a minute's ended.
            assertThat(RUNS.number(
                            "busy.kfl",
                            "SELECT count(*) FROM fit f JOIN candidate c ON c.id = f.candidate WHERE c.classifier ="
                                    + " 'command'"))
                    .isZero();
            assertThat(RUNS.said())
                    .contains("interrupted; finished fits are kept in busy.kfl; go on with: keenfold run slow.yaml -o"
                            + " busy.kfl --allow-commands");
            assertThat(RUNS.namesLike("busy.kfl")).containsExactly("busy.kfl");
        }
    }

    @Test
    void aClockThatIsSetBackChangesNothing() throws Exception {
        Program back = RUNS.program().through(SetBack.class);
        Files.createDirectories(folder.resolve("spread/ledgers"));
        Files.writeString(folder.resolve("spread/shards"), "1\n");
        back.run(
                        "run",
                        "plan.yaml",
                        "--shard",
                        "1/1",
                        "-o",
                        "spread/ledgers/1.kfl",
                        "--status",
                        "spread/ledgers/1.status")
                .expect(0);
        assertThat(RUNS.exports("spread/ledgers/1.kfl")).isEqualTo(RUNS.undisturbed());
        assertThat(Files.readString(folder.resolve("spread/ledgers/1.status")))
                .contains("\"state\":\"done\",\"units\":180,\"done\":180")
                .containsPattern("\"seconds\":\\d+\\.\\d+");
        String ahead = Files.readString(folder.resolve("spread/ledgers/1.status"))
                .replaceAll("\"updated\":\"....", "\"updated\":\"2099");
        Files.writeString(folder.resolve("spread/ledgers/1.status"), ahead);
        Program.Outcome status = back.run("scatter", "--status", "spread").expect(0);
        assertThat(status.out()).contains("just now");
        assertThat(status.said()).contains("ahead: one of the clocks is wrong, or was set back");
        // Openings of a holdout stay in the order in which they happened.
        Files.writeString(folder.resolve("held.yaml"), FaultRuns.PLAN + "holdout: {share: 0.2}\n");
        RUNS.program().run("run", "held.yaml", "-o", "held.kfl").expect(0);
        back.run("train", "held.kfl", "--candidate", "woods", "-o", "a.kfm").expect(0);
        assertThat(back.run("train", "held.kfl", "--candidate", "guess", "-o", "b.kfm")
                        .expect(0)
                        .said())
                .contains("the holdout was opened before, 1 time (first by woods");
    }

    @Test
    void aFitWithoutMemoryFailsAlone() throws Exception {
        Random chance = new Random(1);
        Files.writeString(
                folder.resolve("many.csv"),
                "mites,bees,lost\n"
                        + IntStream.range(0, 6000)
                                .mapToObj(i -> chance.nextInt(1000) + "," + chance.nextInt(1000) + ","
                                        + (chance.nextBoolean() ? "yes" : "no") + "\n")
                                .collect(Collectors.joining()));
        Files.writeString(
                folder.resolve("many.yaml"),
                """
                keenfold: 1
                data: [{file: many.csv, target: lost, positive: yes}]
                splits: {folds: 2, repeats: 1}
                seed: 5
                metrics: [accuracy]
                candidates:
                  guess: {classifier: majority}
                  margin: {classifier: svm, kernel: radial}
                  tree: {classifier: tree}
                """);
        String java = Path.of(System.getProperty("java.home"), "bin", "java").toString();
        Program small = RUNS.program().with(java, List.of("-XX:+UseSerialGC", "-Xmx32m"));
        assertThat(small.run("run", "many.yaml", "-o", "many.kfl", "--threads", "1")
                        .expect(4)
                        .said())
                .contains(
                        "failed 2 times: margin: out of memory",
                        "what ran out of memory may do with more",
                        "2 fits failed");
        RUNS.program().run("run", "many.yaml", "-o", "calm.kfl").expect(0);
        assertThat(RUNS.program()
                        .run("run", "many.yaml", "-o", "many.kfl", "--retry")
                        .expect(0)
                        .said())
                .contains("repeating 2 failed fits");
        assertThat(RUNS.exports("many.kfl")).isEqualTo(RUNS.exports("calm.kfl"));
    }
}

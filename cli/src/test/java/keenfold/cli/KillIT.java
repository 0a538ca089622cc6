package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.File;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * The built program, killed (SIGKILL) after numbers of bytes drawn from a seed, and started again: nothing differs from
 * what an undisturbed one makes. {@code -Dkeenfold.kills=100} draws as many; a dozen otherwise.
 */
class KillIT {
    @TempDir
    private static Path folder;

    private static final int KILLS = Integer.getInteger("keenfold.kills", 12);
    private static final long SEED = 8;

    private static String undisturbed;
    private static long bytes;

    @BeforeAll
    static void runUndisturbed() throws Exception {
        Files.copy(Program.DEMO.resolve("swarm.csv"), folder.resolve("swarm.csv"));
        Files.writeString(
                folder.resolve("plan.yaml"),
                """
                keenfold: 1
                data: [{file: swarm.csv, target: swarmed, positive: yes}]
                splits: {folds: 5, repeats: 20}
                seed: 5
                metrics: [auc, accuracy]
                holdout: {share: 0.2}
                candidates:
                  guess: {classifier: majority}
                  logit: {classifier: logistic, strength: {vary: [1, 30]}}
                  woods: {classifier: forest, trees: 20}
                evidence: {draws: 100}
                """);
        new Program(folder).run("run", "plan.yaml", "-o", "whole.kfl").expect(0);
        bytes = Files.size(folder.resolve("whole.kfl"));
        undisturbed = exports("whole.kfl");
    }

    private static Process started(String... args) throws Exception {
        return new Program(folder).start(folder.resolve("out"), folder.resolve("err"), args);
    }

    private static String exports(String ledger) throws Exception {
        return new Program(folder).exports(ledger);
    }

    /**
     * Kills a command once it has written so many bytes, drawn from none to most, to files of some name and those beside it;
     * returns whether it was at work then. How fast the machine is makes no difference.
     */
    private static boolean killed(Random chance, String name, long most, String... args) throws Exception {
        long enough = (long) (chance.nextDouble() * most);
        Process process = started(args);
        while (process.isAlive() && written(name) < enough) {
            Thread.onSpinWait();
        }
        boolean atWork = process.isAlive();
        process.destroyForcibly().waitFor();
        return atWork;
    }

    /** Bytes in the files whose names hold a name; one that is gone between two looks counts for nothing. */
    private static long written(String name) {
        File[] files = folder.toFile().listFiles((dir, file) -> file.contains(name));
        return files == null ? 0 : Arrays.stream(files).mapToLong(File::length).sum();
    }

    private static void forget(String prefix) throws Exception {
        List<Path> all = new ArrayList<>();
        try (Stream<Path> files = Files.list(folder)) {
            files.filter(f -> f.getFileName().toString().startsWith(prefix)).forEach(all::add);
        }
        for (Path file : all) {
            Files.delete(file);
        }
    }

    @Test
    void aRunThatIsKilledGoesOnToTheSame() throws Exception {
        Random chance = new Random(SEED);
        int killed = 0;
        for (int k = 0; k < KILLS; k++) {
            boolean shard = k % 4 == 3;
            String[] command = shard
                    ? new String[] {"run", "plan.yaml", "-o", "k.kfl", "--shard", "1/1"}
                    : new String[] {"run", "plan.yaml", "-o", "k.kfl"};
            killed += killed(chance, "k.kfl", bytes / 2, command) ? 1 : 0;
            // Now and then a second time, in what goes on.
            if (k % 3 == 2) {
                killed(chance, "k.kfl", bytes, command);
            }
            new Program(folder).run(command).expect(0);
            if (shard) {
                new Program(folder).run("merge", "k.kfl", "-o", "k.merged").expect(0);
            }
            assertThat(exports(shard ? "k.merged" : "k.kfl")).as("kill %d", k).isEqualTo(undisturbed);
            forget("k.");
        }
        assertThat(killed).isGreaterThan(KILLS / 2);
    }

    /** Candidates, members, a metric and repeats are added to a ledger, and the run that does it is killed. */
    @Test
    void anAdditionThatIsKilledGoesOnToTheSame() throws Exception {
        Random chance = new Random(SEED + 1);
        Files.writeString(
                folder.resolve("before.yaml"),
                Files.readString(folder.resolve("plan.yaml"))
                        .replace("repeats: 20", "repeats: 8")
                        .replace("[auc, accuracy]", "[accuracy]")
                        .replace("vary: [1, 30]", "vary: [30]")
                        .replace("trees: 20", "trees: 10"));
        new Program(folder).run("run", "before.yaml", "-o", "before.kfl").expect(0);
        long begun = Files.size(folder.resolve("before.kfl"));
        int killed = 0;
        for (int k = 0; k < Math.max(4, KILLS / 3); k++) {
            Files.copy(folder.resolve("before.kfl"), folder.resolve("a.kfl"));
            String[] command = {"run", "plan.yaml", "-o", "a.kfl"};
            killed += killed(chance, "a.kfl", begun + bytes / 2, command) ? 1 : 0;
            new Program(folder).run(command).expect(0);
            assertThat(exports("a.kfl")).as("kill %d", k).isEqualTo(undisturbed);
            forget("a.kfl");
        }
        assertThat(killed).isPositive();
    }

    /** From the first byte, before the file is laid out, to a little after. */
    @Test
    void aRunThatIsKilledWhileItMakesItsLedgerBeginsAgain() throws Exception {
        Random chance = new Random(SEED);
        int early = 0;
        for (int k = 0; k < Math.max(4, KILLS / 4); k++) {
            String[] command = k % 2 == 0
                    ? new String[] {"run", "plan.yaml", "-o", "c.kfl"}
                    : new String[] {"run", "plan.yaml", "-o", "c.kfl", "--shard", "1/1"};
            Process process = started(command);
            int enough = chance.nextInt(60_000);
            while (process.isAlive() && (!Files.exists(folder.resolve("c.kfl")) || written("c.kfl") < enough)) {
                Thread.onSpinWait();
            }
            process.destroyForcibly().waitFor();
            early += Files.size(folder.resolve("c.kfl")) < bytes / 2 ? 1 : 0;
            // Whoever looks before it is begun again is told so.
            assertThat(new Program(folder).run("scores", "c.kfl").code()).isIn(0, 3);
            new Program(folder).run(command).expect(0);
            if (k % 2 == 1) {
                new Program(folder).run("merge", "c.kfl", "-o", "c.merged").expect(0);
            }
            assertThat(exports(k % 2 == 1 ? "c.merged" : "c.kfl"))
                    .as("kill %d", k)
                    .isEqualTo(undisturbed);
            forget("c.");
        }
        assertThat(early).isPositive();
    }

    /** What is being made is there whole, or not at all. */
    @Test
    void mergeTrainAndExportLeaveNothingHalf() throws Exception {
        Random chance = new Random(SEED);
        for (int k = 0; k < Math.max(4, KILLS / 4); k++) {
            killed(chance, "m.kfl", bytes, "merge", "whole.kfl", "-o", "m.kfl");
            if (Files.exists(folder.resolve("m.kfl"))) {
                assertThat(exports("m.kfl")).isEqualTo(undisturbed);
            } else {
                new Program(folder).run("merge", "whole.kfl", "-o", "m.kfl").expect(0);
            }
            forget("m.kfl");
            killed(chance, "p.csv", 40_000, "export", "whole.kfl", "--what", "predictions", "-o", "p.csv");
            if (Files.exists(folder.resolve("p.csv"))) {
                assertThat(undisturbed).contains(Files.readString(folder.resolve("p.csv")));
            }
            forget("p.csv");
            Files.copy(folder.resolve("whole.kfl"), folder.resolve("t.kfl"));
            killed(chance, "t.kfm", 40_000, "train", "t.kfl", "--candidate", "woods", "-o", "t.kfm");
            if (!Files.exists(folder.resolve("t.kfm"))) {
                new Program(folder)
                        .run("train", "t.kfl", "--candidate", "woods", "-o", "t.kfm")
                        .expect(0);
            }
            new Program(folder).run("show", "t.kfm").expect(0);
            assertThat(exports("t.kfl")).isEqualTo(undisturbed);
            forget("t.kf");
        }
        assertThat(exports("whole.kfl")).isEqualTo(undisturbed);
    }
}

package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.fail;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What the world may do to a run, done to the built program: each fault is named, and what was sound before it is kept. */
class FaultIT {
    @TempDir
    private static Path folder;

    private static final String PLAN =
            """
            keenfold: 1
            data: [{file: swarm.csv, target: swarmed, positive: yes}]
            splits: {folds: 5, repeats: 12}
            seed: 5
            metrics: [auc, accuracy]
            candidates:
              guess: {classifier: majority}
              logit: {classifier: logistic, strength: {vary: [1, 30]}}
              woods: {classifier: forest, trees: 20}
            evidence: {draws: 100}
            """;

    private static final List<Process> STARTED = new ArrayList<>();

    private static String undisturbed;

    @BeforeAll
    static void runUndisturbed() throws Exception {
        Files.copy(Program.DEMO.resolve("swarm.csv"), folder.resolve("swarm.csv"));
        Files.writeString(folder.resolve("plan.yaml"), PLAN);
        // Fits enough that a run is still at it when something happens to it.
        Files.writeString(folder.resolve("long.yaml"), PLAN.replace("repeats: 12", "repeats: 400"));
        program().run("run", "plan.yaml", "-o", "whole.kfl").expect(0);
        undisturbed = exports("whole.kfl");
    }

    private static Program program() {
        return new Program(folder);
    }

    private static String exports(String ledger) throws Exception {
        return new Program(folder).exports(ledger);
    }

    /** What a command that runs by itself has said so far, in one line. */
    private static String said() throws IOException {
        return Files.readString(folder.resolve("err")).replaceAll("\\s+", " ");
    }

    private static Process started(Program program, String... args) throws IOException {
        Process process = program.start(folder.resolve("out"), folder.resolve("err"), args);
        STARTED.add(process);
        return process;
    }

    /** Of a test that failed, too, nothing goes on. */
    @AfterEach
    void endAll() {
        STARTED.forEach(Process::destroyForcibly);
        STARTED.clear();
    }

    private static int ended(Process process) throws InterruptedException {
        assertThat(Until.ended(process)).as("ended").isTrue();
        return process.exitValue();
    }

    private static int number(String ledger, String query) {
        if (!Files.exists(folder.resolve(ledger))) {
            return 0;
        }
        try (Connection connection = DriverManager.getConnection("jdbc:sqlite:" + folder.resolve(ledger));
                Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            return row.getInt(1);
        } catch (SQLException e) {
            // Not laid out yet.
            return 0;
        }
    }

    private static void awaitFits(String ledger, int least) throws IOException, InterruptedException {
        Until.holds("fits of " + ledger, () -> number(ledger, "SELECT count(*) FROM fit") >= least);
    }

    private static List<String> namesLike(String prefix) throws IOException {
        try (Stream<Path> files = Files.list(folder)) {
            return files.map(f -> f.getFileName().toString())
                    .filter(n -> n.startsWith(prefix))
                    .sorted()
                    .toList();
        }
    }

    // The disk.

    @Test
    void aRunThatReachesALimitOfItsFileKeepsWhatItWrote() throws Exception {
        assumeTrue(Program.has("bash"), "no bash to set a limit");
        Program limited = program().under("bash", "-c", "ulimit -f 400; exec \"$@\"", "limited");
        Program.Outcome full =
                limited.run("run", "long.yaml", "-o", "limit.kfl").expect(3);
        assertThat(full.said()).contains("limit.kfl: the disk", "what was written before is kept");
        int kept = number("limit.kfl", "SELECT count(*) FROM fit");
        assertThat(kept).isBetween(1, 7999);
        // Without the limit the same command goes on; until it is told to stop, as there is enough to do.
        Process on = started(program(), "run", "long.yaml", "-o", "limit.kfl");
        awaitFits("limit.kfl", kept + 20);
        assertThat(said()).doesNotContain("damaged");
        on.destroy();
        assertThat(ended(on)).isEqualTo(143);
        assertThat(said()).contains("finished fits are kept in limit.kfl");
        Program tight = program().under("bash", "-c", "ulimit -f 40; exec \"$@\"", "limited");
        assertThat(tight.run("merge", "whole.kfl", "-o", "joined.kfl").expect(3).said())
                .contains("joined.kfl")
                .doesNotContain("whole.kfl is damaged");
        assertThat(namesLike("joined.kfl")).isEmpty();
        assertThat(tight.run("export", "whole.kfl", "--what", "predictions", "-o", "p.csv")
                        .expect(3)
                        .said())
                .contains("p.csv: cannot be written: the limit on the size of files (ulimit -f) is reached");
        assertThat(namesLike("p.csv")).isEmpty();
    }

    /** A small disk in memory, for as long as a test needs it. */
    private static final class SmallDisk implements AutoCloseable {
        private final Path at;

        SmallDisk(String name, String options) throws Exception {
            at = Files.createDirectory(folder.resolve(name));
            boolean mounted = Program.has("mount") && did("mount", "-t", "tmpfs", "-o", options, "none", at.toString());
            if (!mounted && System.getenv().getOrDefault("KEENFOLD_REQUIRE", "").contains("tmpfs")) {
                fail("no disk in memory can be mounted, and KEENFOLD_REQUIRE asks for it");
            }
            assumeTrue(mounted, "no disk in memory can be mounted (that needs root): left out");
        }

        void remount(String options) throws Exception {
            assertThat(did("mount", "-o", "remount," + options, at.toString())).isTrue();
        }

        private static boolean did(String... command) throws Exception {
            return new ProcessBuilder(command)
                            .redirectErrorStream(true)
                            .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                            .start()
                            .waitFor()
                    == 0;
        }

        @Override
        public void close() throws Exception {
            did("umount", at.toString());
        }
    }

    @Test
    void aFullDiskLosesNothingThatWasThere() throws Exception {
        try (SmallDisk disk = new SmallDisk("full", "size=220k")) {
            for (String[] command : new String[][] {
                {"run", "plan.yaml", "-o", "full/a.kfl"},
                {"run", "plan.yaml", "--shard", "1/1", "-o", "full/s.kfl"},
                {"merge", "whole.kfl", "-o", "full/m.kfl"}
            }) {
                Files.write(folder.resolve("full/ballast"), new byte[130_000]);
                assertThat(program().run(command).expect(3).said())
                        .contains("full/", ".kfl: the disk is full")
                        .doesNotContain("whole.kfl is damaged");
                assertThat(folder.resolve("full")).isDirectoryNotContaining("glob:**m.kfl*");
                Files.delete(folder.resolve("full/ballast"));
                Program.Outcome on = program().run(command);
                if (command[0].equals("merge")) {
                    assertThat(exports("full/m.kfl")).isEqualTo(undisturbed);
                    Files.delete(folder.resolve("full/m.kfl"));
                    continue;
                }
                disk.remount("size=20m");
                program().run(command).expect(0);
                assertThat(on.code()).isIn(0, 3);
                assertThat(exports(command[command.length - 1])).isEqualTo(undisturbed);
                try (Stream<Path> files = Files.list(folder.resolve("full"))) {
                    for (Path file : files.toList()) {
                        Files.delete(file);
                    }
                }
                disk.remount("size=220k");
            }
        }
    }

    @Test
    void whatCannotBeWrittenWholeLeavesTheOldFile() throws Exception {
        program()
                .run("train", "whole.kfl", "--candidate", "woods", "-o", "w.kfm")
                .expect(0);
        try (SmallDisk disk = new SmallDisk("tight", "size=40k")) {
            Files.writeString(folder.resolve("tight/old"), "old");
            Files.write(folder.resolve("tight/ballast"), new byte[36_000]);
            for (String[] command : new String[][] {
                {"export", "whole.kfl", "--what", "predictions", "-o", "tight/old", "--force"},
                {"export", "w.kfm", "--what", "pmml", "-o", "tight/old", "--force"},
                {"train", "whole.kfl", "--candidate", "woods", "-o", "tight/old", "--force"},
                {"predict", "w.kfm", "swarm.csv", "-o", "tight/old", "--force"},
                {"folds", "plan.yaml", "-o", "tight/old", "--force"}
            }) {
                assertThat(program().run(command).expect(3).said())
                        .contains("tight/old: cannot be written: the disk is full; make room");
                assertThat(Files.readString(folder.resolve("tight/old")))
                        .as(command[0])
                        .isEqualTo("old");
                assertThat(folder.resolve("tight").toFile().list()).containsOnly("old", "ballast");
            }
            disk.remount("ro");
            assertThat(program()
                            .run("export", "whole.kfl", "--what", "plan", "-o", "tight/new")
                            .expect(3)
                            .said())
                    .contains("tight/new: cannot be written: the disk is read-only");
            Program piped = program().under("bash", "-c", "exec \"$@\" > /dev/full", "piped");
            assertThat(piped.run("export", "whole.kfl", "--what", "predictions")
                            .expect(3)
                            .said())
                    .contains("standard output: cannot be written: the disk is full");
        }
    }

    /** SQLite takes a wrong page for the end of its journal, and says nothing: here it is said, with what is missing. */
    @Test
    void aBitThatTurnedInTheJournalOfAKilledRunIsSaid() throws Exception {
        Process torn = started(program(), "run", "long.yaml", "-o", "bit.kfl");
        // Several times something was written, so that something is left when the last of it does not count.
        for (int i = 0; i < 4; i++) {
            awaitFits("bit.kfl", number("bit.kfl", "SELECT count(*) FROM fit") + 10);
        }
        torn.destroyForcibly().waitFor();
        Path journal = folder.resolve("bit.kfl-wal");
        byte[] bytes = Files.readAllBytes(journal);
        assertThat(program().run("scores", "bit.kfl").expect(0).said()).doesNotContain("damaged");
        // In the page before the last one: at least one behind it is lost.
        bytes[bytes.length - (24 + 4096) - 100] ^= 4;
        Files.write(journal, bytes);
        for (String[] command : new String[][] {
            {"scores", "bit.kfl"}, {"export", "bit.kfl", "--what", "fits", "-o", "bit.csv"}, {"contrast", "bit.kfl"}
        }) {
            assertThat(program().run(command).expect(0).said())
                    .as(command[0])
                    .contains("bit.kfl-wal, the journal that an interrupted writer left, is damaged in the middle")
                    .containsPattern("bit.kfl holds [0-9]+ of [0-9]+ fits of its plan");
        }
    }

    @Test
    void aLibraryThatCannotBeLoadedIsNoDamage() throws Exception {
        try (SmallDisk disk = new SmallDisk("bare", "size=10m,noexec")) {
            String java =
                    Path.of(System.getProperty("java.home"), "bin", "java").toString();
            Program bare = program()
                    .with(java, List.of("-XX:+UseSerialGC", "-Djava.io.tmpdir=" + folder.resolve("bare")))
                    .under("env", "XDG_CACHE_HOME=" + folder.resolve("bare"));
            assertThat(bare.run("scores", "whole.kfl").expect(3).said())
                    .contains("SQLite's native library: cannot be loaded", "XDG_CACHE_HOME=FOLDER")
                    .doesNotContain("damaged");
            // With another folder for temporary files it is loaded from there, and nothing stays.
            Path temporary = Files.createDirectory(folder.resolve("spare"));
            Program spare = program()
                    .with(java, List.of("-XX:+UseSerialGC", "-Djava.io.tmpdir=" + temporary))
                    .under("env", "XDG_CACHE_HOME=" + folder.resolve("bare"));
            spare.run("scores", "whole.kfl").expect(0);
            assertThat(temporary.toFile().list()).noneMatch(name -> name.startsWith("keenfold"));
            disk.remount("ro");
            spare.run("scores", "whole.kfl").expect(0);
        }
    }

    @Test
    void aReadOnlyFolderIsReadAndNamed() throws Exception {
        try (SmallDisk disk = new SmallDisk("fixed", "size=20m")) {
            Files.copy(folder.resolve("whole.kfl"), folder.resolve("fixed/whole.kfl"));
            // As a killed run leaves it: what was written last stands in the log alone.
            Process torn = started(program(), "run", "long.yaml", "-o", "fixed/torn.kfl");
            awaitFits("fixed/torn.kfl", 20);
            torn.destroyForcibly().waitFor();
            Files.delete(folder.resolve("fixed/torn.kfl-shm"));
            // And one whose last writer used a log, which is gone.
            Files.copy(folder.resolve("whole.kfl"), folder.resolve("fixed/logged.kfl"));
            try (Connection db = DriverManager.getConnection("jdbc:sqlite:" + folder.resolve("fixed/logged.kfl"));
                    Statement sql = db.createStatement()) {
                sql.execute("PRAGMA journal_mode=WAL");
                sql.execute("UPDATE fit SET crc = crc");
            }
            disk.remount("ro");
            assertThat(program()
                            .run("run", "plan.yaml", "-o", "fixed/new.kfl")
                            .expect(3)
                            .said())
                    .contains("fixed/new.kfl: cannot be written: the disk is read-only");
            assertThat(program()
                            .run("run", "plan.yaml", "-o", "fixed/whole.kfl")
                            .expect(3)
                            .said())
                    .contains("fixed/whole.kfl: cannot be written");
            assertThat(exports("fixed/whole.kfl")).isEqualTo(undisturbed);
            assertThat(exports("fixed/logged.kfl")).isEqualTo(undisturbed);
            assertThat(program().run("scores", "fixed/torn.kfl").expect(3).said())
                    .contains("its last writer was interrupted, and to settle that its folder must be writable");
            program().run("merge", "fixed/whole.kfl", "-o", "copied.kfl").expect(0);
            assertThat(exports("copied.kfl")).isEqualTo(undisturbed);
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
                Process running = started(program(), command);
                if (shard.isEmpty()) {
                    awaitFits(name, 20);
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
                assertThat(ended(running)).as(name).isEqualTo(3);
                assertThat(said())
                        .contains(
                                replaced ? "was replaced by another file" : "was deleted",
                                "while it was written; all that was done is in ",
                                name + ".rescued: move that to where it was, and run again");
                if (replaced) {
                    assertThat(Files.readAllBytes(folder.resolve(name)))
                            .isEqualTo(Files.readAllBytes(folder.resolve("whole.kfl")));
                }
                int kept = number(name + ".rescued", "SELECT count(*) FROM fit");
                assertThat(kept).isGreaterThan(10);
                Files.move(
                        folder.resolve(name + ".rescued"), folder.resolve(name), StandardCopyOption.REPLACE_EXISTING);
                assertThat(program()
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
                Program.Outcome outcome = program().run("export", "hurt.kfl", "--what", what);
                assertThat(outcome.code()).as("damage %d: %s", k, outcome.err()).isIn(0, 3);
                said |= outcome.code() == 3;
                all.append(outcome.out());
            }
            if (!said) {
                assertThat(all.toString()).as("damage %d", k).isEqualTo(undisturbed);
                continue;
            }
            found++;
            Program.Outcome run = program().run("run", "plan.yaml", "-o", "hurt.kfl");
            assertThat(run.code()).as(run.err()).isIn(0, 3);
            Program.Outcome merged = program().run("merge", "hurt.kfl", "-o", "mended.kfl");
            assertThat(merged.code()).as(merged.err()).isIn(0, 3, 4);
            if (merged.code() != 3) {
                program().run("run", "plan.yaml", "-o", "mended.kfl").expect(0);
                assertThat(exports("mended.kfl")).as("damage %d", k).isEqualTo(undisturbed);
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
        Files.writeString(folder.resolve("later/plan.yaml"), PLAN);
        List<String> lines = csv.lines().toList();
        for (String[] change : new String[][] {
            {lines.get(4), lines.get(4).replaceAll("no$", "yes"), "row 4 was \"no\", and is \"yes\" now"},
            {lines.get(7) + "\n", "", "96 rows then, 95 now"},
            {lines.get(9), "1" + lines.get(9), "rows and classes are the same; values of columns"}
        }) {
            Files.writeString(folder.resolve("later/swarm.csv"), csv.replaceFirst(change[0], change[1]));
            assertThat(program()
                            .run("run", "later/plan.yaml", "-o", "whole.kfl")
                            .expect(3)
                            .said())
                    .contains("data set \"swarm\" has changed since the ledger was made (" + change[2]);
        }
        assertThat(exports("whole.kfl")).isEqualTo(undisturbed);
    }

    // The processes.

    @Test
    void twoWritersAndAReaderAndThenAnInterruption() throws Exception {
        // Fits of a minute: whoever is told to stop cannot wait for them.
        Files.writeString(
                folder.resolve("slow.yaml"),
                PLAN.replace("{classifier: forest, trees: 20}", "{classifier: command, run: [sleep, \"60\"]}"));
        boolean env = Program.has("env");
        for (String signal : env ? List.of("INT", "TERM") : List.of("TERM")) {
            Files.deleteIfExists(folder.resolve("busy.kfl"));
            Program first = env ? program().under("env", "--default-signal=INT") : program();
            Process running =
                    started(first, "run", "slow.yaml", "-o", "busy.kfl", "--allow-commands", "--threads", "4");
            awaitFits("busy.kfl", 2);
            assertThat(program()
                            .run("run", "slow.yaml", "-o", "busy.kfl", "--allow-commands")
                            .expect(3)
                            .said())
                    .contains("busy.kfl: another keenfold is writing to this ledger; wait for it");
            assertThat(program()
                            .run("merge", "busy.kfl", "-o", "early.kfl")
                            .expect(3)
                            .said())
                    .contains("another keenfold is writing to this ledger");
            assertThat(program()
                            .run("export", "busy.kfl", "--what", "fits")
                            .expect(0)
                            .out())
                    .contains("guess,");
            Program.Outcome early = program().run("scores", "busy.kfl").expect(0);
            assertThat(early.out().replaceAll("\\s+", " "))
                    .contains("No se and no interval: no candidate has enough of its 60 fits to be compared.");
            assertThat(early.said()).containsPattern("busy.kfl holds \\d+ of 240 fits of its plan; go on with run");
            new ProcessBuilder("kill", "-" + signal, Long.toString(running.pid()))
                    .start()
                    .waitFor();
            assertThat(ended(running)).isEqualTo(signal.equals("INT") ? 130 : 143);
            // It did not wait for the fits under way: none of a minute's ended.
            assertThat(number(
                            "busy.kfl",
                            "SELECT count(*) FROM fit f JOIN candidate c ON c.id = f.candidate WHERE c.classifier ="
                                    + " 'command'"))
                    .isZero();
            assertThat(said())
                    .contains("interrupted; finished fits are kept in busy.kfl; go on with: keenfold run slow.yaml -o"
                            + " busy.kfl --allow-commands");
            assertThat(namesLike("busy.kfl")).containsExactly("busy.kfl");
        }
    }

    @Test
    void aClockThatIsSetBackChangesNothing() throws Exception {
        Program back = program().through(SetBack.class);
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
        assertThat(exports("spread/ledgers/1.kfl")).isEqualTo(undisturbed);
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
        Files.writeString(folder.resolve("held.yaml"), PLAN + "holdout: {share: 0.2}\n");
        program().run("run", "held.yaml", "-o", "held.kfl").expect(0);
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
        Program small = program().with(java, List.of("-XX:+UseSerialGC", "-Xmx32m"));
        assertThat(small.run("run", "many.yaml", "-o", "many.kfl").expect(4).said())
                .contains(
                        "failed 2 times: margin: out of memory",
                        "what ran out of memory may do with more",
                        "2 fits failed");
        program().run("run", "many.yaml", "-o", "calm.kfl").expect(0);
        assertThat(program()
                        .run("run", "many.yaml", "-o", "many.kfl", "--retry")
                        .expect(0)
                        .said())
                .contains("repeating 2 failed fits");
        assertThat(exports("many.kfl")).isEqualTo(exports("calm.kfl"));
    }
}

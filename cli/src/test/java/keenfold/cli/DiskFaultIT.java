package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.fail;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.Statement;
import java.util.List;
import java.util.stream.Stream;
import keenfold.io.sqlite.NativeLibrary;
import keenfold.io.sqlite.SqliteFile;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Disks that are full, limited or cannot be written: nothing that was there is lost. */
class DiskFaultIT {
    static {
        // The same copy as the program's: a process that loads two of them can end at once.
        NativeLibrary.load();
    }

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

    @Test
    void aRunThatReachesALimitOfItsFileKeepsWhatItWrote() throws Exception {
        assumeTrue(Program.has("bash"), "no bash to set a limit");
        Program limited = RUNS.program().under("bash", "-c", "ulimit -f 400; exec \"$@\"", "limited");
        Program.Outcome full =
                limited.run("run", "long.yaml", "-o", "limit.kfl").expect(3);
        assertThat(full.said()).contains("limit.kfl: the disk", "what was written before is kept");
        int kept = RUNS.number("limit.kfl", "SELECT count(*) FROM fit");
        assertThat(kept).isBetween(1, 7999);
        // Without the limit the same command goes on; until it is told to stop, as there is enough to do.
        Process on = RUNS.started(RUNS.program(), "run", "long.yaml", "-o", "limit.kfl");
        RUNS.awaitFits("limit.kfl", kept + 20);
        assertThat(RUNS.said()).doesNotContain("damaged");
        on.destroy();
        assertThat(RUNS.ended(on)).isEqualTo(143);
        assertThat(RUNS.said()).contains("finished fits are kept in limit.kfl");
        Program tight = RUNS.program().under("bash", "-c", "ulimit -f 40; exec \"$@\"", "limited");
        assertThat(tight.run("merge", "whole.kfl", "-o", "joined.kfl").expect(3).said())
                .contains("joined.kfl")
                .doesNotContain("whole.kfl is damaged");
        assertThat(RUNS.namesLike("joined.kfl")).isEmpty();
        assertThat(tight.run("export", "whole.kfl", "--what", "predictions", "-o", "p.csv")
                        .expect(3)
                        .said())
                .contains("p.csv: cannot be written: the limit on the size of files (ulimit -f) is reached");
        assertThat(RUNS.namesLike("p.csv")).isEmpty();
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
                assertThat(RUNS.program().run(command).expect(3).said())
                        .contains("full/", ".kfl: the disk is full")
                        .doesNotContain("whole.kfl is damaged");
                assertThat(folder.resolve("full")).isDirectoryNotContaining("glob:**m.kfl*");
                Files.delete(folder.resolve("full/ballast"));
                Program.Outcome on = RUNS.program().run(command);
                if (command[0].equals("merge")) {
                    assertThat(RUNS.exports("full/m.kfl")).isEqualTo(RUNS.undisturbed());
                    Files.delete(folder.resolve("full/m.kfl"));
                    continue;
                }
                disk.remount("size=20m");
                RUNS.program().run(command).expect(0);
                assertThat(on.code()).isIn(0, 3);
                assertThat(RUNS.exports(command[command.length - 1])).isEqualTo(RUNS.undisturbed());
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
        RUNS.program()
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
                assertThat(RUNS.program().run(command).expect(3).said())
                        .contains("tight/old: cannot be written: the disk is full; make room");
                assertThat(Files.readString(folder.resolve("tight/old")))
                        .as(command[0])
                        .isEqualTo("old");
                assertThat(folder.resolve("tight").toFile().list()).containsOnly("old", "ballast");
            }
            disk.remount("ro");
            assertThat(RUNS.program()
                            .run("export", "whole.kfl", "--what", "plan", "-o", "tight/new")
                            .expect(3)
                            .said())
                    .contains("tight/new: cannot be written: the disk is read-only");
            Program piped = RUNS.program().under("bash", "-c", "exec \"$@\" > /dev/full", "piped");
            assertThat(piped.run("export", "whole.kfl", "--what", "predictions")
                            .expect(3)
                            .said())
                    .contains("standard output: cannot be written: the disk is full");
        }
    }

    @Test
    void aLibraryThatCannotBeLoadedIsNoDamage() throws Exception {
        try (SmallDisk disk = new SmallDisk("bare", "size=10m,noexec")) {
            String java =
                    Path.of(System.getProperty("java.home"), "bin", "java").toString();
            Program bare = RUNS.program()
                    .with(java, List.of("-XX:+UseSerialGC", "-Djava.io.tmpdir=" + folder.resolve("bare")))
                    .under("env", "XDG_CACHE_HOME=" + folder.resolve("bare"));
            assertThat(bare.run("scores", "whole.kfl").expect(3).said())
                    .contains("SQLite's native library: cannot be loaded", "XDG_CACHE_HOME=FOLDER")
                    .doesNotContain("damaged");
            // With another folder for temporary files it is loaded from there, and nothing stays.
            Path temporary = Files.createDirectory(folder.resolve("spare"));
            Program spare = RUNS.program()
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
            Process torn = RUNS.started(RUNS.program(), "run", "long.yaml", "-o", "fixed/torn.kfl");
            RUNS.awaitFits("fixed/torn.kfl", 20);
            torn.destroyForcibly().waitFor();
            Files.delete(folder.resolve("fixed/torn.kfl-shm"));
            // And one whose last writer used a log, which is gone.
            Files.copy(folder.resolve("whole.kfl"), folder.resolve("fixed/logged.kfl"));
            try (Connection db = SqliteFile.open(folder.resolve("fixed/logged.kfl"), SqliteFile.Access.WRITE);
                    Statement sql = db.createStatement()) {
                sql.execute("PRAGMA journal_mode=WAL");
                sql.execute("UPDATE fit SET crc = crc");
            }
            disk.remount("ro");
            assertThat(RUNS.program()
                            .run("run", "plan.yaml", "-o", "fixed/new.kfl")
                            .expect(3)
                            .said())
                    .contains("fixed/new.kfl: cannot be written: the disk is read-only");
            assertThat(RUNS.program()
                            .run("run", "plan.yaml", "-o", "fixed/whole.kfl")
                            .expect(3)
                            .said())
                    .contains("fixed/whole.kfl: cannot be written");
            assertThat(RUNS.exports("fixed/whole.kfl")).isEqualTo(RUNS.undisturbed());
            assertThat(RUNS.exports("fixed/logged.kfl")).isEqualTo(RUNS.undisturbed());
            assertThat(RUNS.program().run("scores", "fixed/torn.kfl").expect(3).said())
                    .contains("its last writer was interrupted, and to settle that its folder must be writable");
            RUNS.program().run("merge", "fixed/whole.kfl", "-o", "copied.kfl").expect(0);
            assertThat(RUNS.exports("copied.kfl")).isEqualTo(RUNS.undisturbed());
        }
    }
}

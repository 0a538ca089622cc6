package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What scatter writes, done without a scheduler. */
class ScatterIT {
    @TempDir
    private static Path folder;

    static final String PLAN =
            """
            keenfold: 1
            data: [{file: data/swarm.csv, target: swarmed, positive: yes}]
            splits: {folds: 4, repeats: 2}
            seed: 5
            metrics: [auc, accuracy]
            candidates:
              guess: {classifier: majority}
              logit: {classifier: logistic, strength: {vary: [1, 30]}}
              bush: {classifier: tree, depth: 3}
            evidence: {draws: 200}
            """;

    @BeforeAll
    static void write() throws Exception {
        Files.createDirectories(folder.resolve("plans/data"));
        Files.copy(Program.DEMO.resolve("swarm.csv"), folder.resolve("plans/data/swarm.csv"));
        Files.writeString(folder.resolve("plans/plan.yaml"), PLAN);
        program(folder.resolve("keenfold"));
    }

    /** The jar that was built, as a program. */
    static void program(Path file) throws Exception {
        Files.writeString(
                file,
                "#!/bin/sh\nexec '" + Path.of(System.getProperty("java.home"), "bin", "java")
                        + "' '" + String.join("' '", Program.OPTIONS) + "' $KEENFOLD_JAVA_OPTIONS -cp '"
                        + System.getProperty("keenfold.jar") + "' keenfold.cli.Main \"$@\"\n");
        assertThat(file.toFile().setExecutable(true, false)).isTrue();
    }

    private static Program program() {
        return new Program(folder);
    }

    private static String shell(int code, Map<String, String> more, String... words) throws Exception {
        Path out = Files.createTempFile(folder, "out", "");
        ProcessBuilder builder = new ProcessBuilder(words)
                .directory(folder.toFile())
                .redirectErrorStream(true)
                .redirectOutput(out.toFile());
        builder.environment().put("KEENFOLD", folder.resolve("keenfold").toString());
        builder.environment().putAll(more);
        int ended = builder.start().waitFor();
        String text = Files.readString(out);
        assertThat(ended).as(text).isEqualTo(code);
        return text;
    }

    private static JsonNode status(String of) throws Exception {
        return program()
                .run("scatter", "--status", of, "--json")
                .expect(0)
                .json()
                .get("rows");
    }

    @Test
    void theShardsOfAFolderAreDoneAndJoined() throws Exception {
        Program.Outcome written = program()
                .run("scatter", "plans/plan.yaml", "--shards", "3", "-o", "it's here/spread")
                .expect(0);
        assertThat(written.out().replaceAll("\\s+", " "))
                .contains("24 units in 3 shards", "a unit", "asked for: 5 min");
        Path to = folder.resolve("it's here/spread");
        assertThat(Files.readString(to.resolve("plan.yaml")))
                .contains("../../plans/data/swarm.csv", "effort: {guess: ");
        assertThat(Files.readString(to.resolve("slurm-array.sh")))
                .contains("#SBATCH --array=1-3\n", "#SBATCH --requeue", "#SBATCH --cpus-per-task=1");
        assertThat(Files.readString(to.resolve("kubernetes.yaml")))
                .contains("completions: 3", "name: spread", "workingDir: '/shared/it''s here/spread'");
        KubernetesManifest.requireSound(to.resolve("kubernetes.yaml"));
        assertThat(status("it's here/spread").get(0).get("state").asText()).isEqualTo("waiting");
        // As a job of an array, and as one of an indexed job, which counts from 0.
        shell(0, Map.of("SLURM_ARRAY_TASK_ID", "1"), to.resolve("shard.sh").toString());
        shell(0, Map.of("JOB_COMPLETION_INDEX", "2"), to.resolve("shard.sh").toString());
        JsonNode rows = status("it's here/spread");
        assertThat(rows.get(0).get("state").asText()).isEqualTo("done");
        assertThat(rows.get(0).get("done").asInt())
                .isEqualTo(rows.get(0).get("units").asInt());
        assertThat(rows.get(1).get("state").asText()).isEqualTo("waiting");
        assertThat(rows.get(2).get("state").asText()).isEqualTo("done");
        assertThat(shell(4, Map.of(), to.resolve("finish.sh").toString())).contains("fits are missing");
        // A folder may move together with its data's place; the loop does what is left, joins, and reports.
        Path moved = folder.resolve("it's here/moved");
        Files.move(to, moved);
        assertThat(shell(0, Map.of(), moved.resolve("loop.sh").toString())).contains("nothing to do");
        Files.move(moved, to);
        String loop = shell(0, Map.of(), to.resolve("loop.sh").toString());
        assertThat(loop).contains("nothing to do", "joined 3 ledgers into all.kfl: 32 of 32 fits", "wrote the report");
        assertThat(to.resolve("report/report.html")).isNotEmptyFile();
        // A shard that was started again, and had nothing to do, has done all that is its own.
        int units = 0;
        for (JsonNode row : status("it's here/spread")) {
            assertThat(row.get("done").asInt()).isEqualTo(row.get("units").asInt());
            units += row.get("units").asInt();
        }
        assertThat(units).isEqualTo(24);
        assertThat(program()
                        .run("scatter", "--status", "it's here/spread")
                        .expect(0)
                        .out())
                .contains("3 shards, 3 done", "joined: keenfold scores");
        program().run("run", "plans/plan.yaml", "-o", "whole.kfl").expect(0);
        for (String what : List.of("predictions", "folds", "scores", "contrasts")) {
            assertThat(program()
                            .run("export", "it's here/spread/all.kfl", "--what", what)
                            .expect(0)
                            .out())
                    .isEqualTo(program()
                            .run("export", "whole.kfl", "--what", what)
                            .expect(0)
                            .out());
        }
    }

    @Test
    void whatIsNotHeardOfIsSaid() throws Exception {
        program()
                .run("scatter", "plans/plan.yaml", "--shards", "2", "-o", "quiet", "--no-timing")
                .expect(0);
        assertThat(Files.readString(folder.resolve("quiet/plan.yaml"))).doesNotContain("effort");
        Instant longAgo = Instant.now().minusSeconds(600);
        Files.writeString(
                folder.resolve("quiet/ledgers/1.status"),
                "{\"shard\":\"1/2\",\"state\":\"running\",\"units\":9,\"done\":3,\"failed\":1,\"host\":\"bee\",\"seconds\":4.0,\"started\":\""
                        + longAgo.minusSeconds(60) + "\",\"updated\":\"" + longAgo + "\"}\n");
        Files.writeString(folder.resolve("quiet/ledgers/2.status"), "{\"shard\":\"2/2\",\"sta");
        Program.Outcome told = program().run("scatter", "--status", "quiet").expect(0);
        assertThat(told.out()).contains("1 silent, 1 waiting", "bee");
    }

    @Test
    void whatCannotBeScatteredIsSaid() throws Exception {
        assertThat(program()
                        .run("scatter", "plans/plan.yaml", "-o", "x")
                        .expect(2)
                        .said())
                .contains("--shards N is missing");
        assertThat(program().run("scatter").expect(2).said()).contains("name a plan");
        assertThat(program()
                        .run("scatter", "plans/plan.yaml", "--shards", "0", "-o", "x")
                        .expect(2)
                        .said())
                .contains("--shards");
        assertThat(program().run("scatter", "--status", "plans").expect(3).said())
                .contains("is no folder that scatter wrote");
        Files.createDirectories(folder.resolve("full"));
        Files.writeString(folder.resolve("full/plan.yaml"), "x");
        assertThat(program()
                        .run("scatter", "plans/plan.yaml", "--shards", "2", "-o", "full")
                        .expect(3)
                        .said())
                .contains("holds a scattered plan already");
        Files.writeString(folder.resolve("plans/in.yaml"), PLAN.replace("data/swarm.csv", "'-'"));
        assertThat(program()
                        .run("scatter", "plans/in.yaml", "--shards", "2", "-o", "y")
                        .expect(3)
                        .said())
                .contains("reads standard input, which shards do not have");
        Files.writeString(
                folder.resolve("plans/mine.yaml"),
                PLAN.replace("  bush: {classifier: tree, depth: 3}", "  mine: {classifier: command, run: [cat]}"));
        assertThat(program()
                        .run("scatter", "plans/mine.yaml", "--shards", "2", "-o", "y")
                        .expect(3)
                        .said())
                .contains("--allow-commands");
    }
}

package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A real Slurm of one controller and two nodes on this machine, of which one dies in the middle. */
class ClusterIT {
    @TempDir
    private static Path folder;

    private static final int SHARDS = 4;
    private static Path configuration;
    private static boolean started;

    private static String run(String... words) throws Exception {
        return run(folder, words);
    }

    private static String run(Path at, String... words) throws Exception {
        Path out = Files.createTempFile(folder, "out", "");
        ProcessBuilder builder = new ProcessBuilder(words)
                .directory(at.toFile())
                .redirectErrorStream(true)
                .redirectOutput(out.toFile());
        builder.environment().put("SLURM_CONF", configuration.toString());
        builder.environment().put("KEENFOLD", folder.resolve("keenfold").toString());
        int code = builder.start().waitFor();
        String text = Files.readString(out);
        assertThat(code).as(String.join(" ", words) + "\n" + text).isZero();
        return text;
    }

    private static int port() throws IOException {
        try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            return socket.getLocalPort();
        }
    }

    @BeforeAll
    static void start() throws Exception {
        boolean there = List.of("slurmctld", "slurmd", "munged", "sbatch").stream()
                        .allMatch(p -> Program.has(p) || Files.isExecutable(Path.of("/usr/sbin", p)))
                && "root".equals(System.getProperty("user.name"));
        boolean required = System.getenv().getOrDefault("KEENFOLD_REQUIRE", "").contains("slurm");
        assumeTrue(there || required, "no Slurm here, or not root: the run over two nodes is left out");
        configuration = folder.resolve("slurm.conf");
        Path key = Files.createFile(
                folder.resolve("munge.key"),
                PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
        byte[] secret = new byte[1024];
        new SecureRandom().nextBytes(secret);
        Files.write(key, secret);
        String host = run("hostname", "-s").strip();
        Files.createDirectories(folder.resolve("state"));
        Files.writeString(
                configuration,
                """
                ClusterName=bees
                SlurmctldHost=HOST(127.0.0.1)
                SlurmUser=root
                SlurmdUser=root
                AuthType=auth/munge
                AuthInfo=socket=DIR/munge.socket
                CryptoType=crypto/munge
                StateSaveLocation=DIR/state
                SlurmdSpoolDir=DIR/spool-%n
                SlurmctldPidFile=DIR/slurmctld.pid
                SlurmdPidFile=DIR/slurmd-%n.pid
                SlurmctldPort=PORT0
                SlurmctldLogFile=DIR/slurmctld.log
                SlurmdLogFile=DIR/slurmd-%n.log
                ProctrackType=proctrack/linuxproc
                TaskPlugin=task/none
                SelectType=select/cons_tres
                SelectTypeParameters=CR_CPU
                ReturnToService=2
                SlurmdTimeout=10
                KillWait=2
                MpiDefault=none
                JobRequeue=1
                SchedulerParameters=sched_interval=2,bf_interval=2
                JobAcctGatherType=jobacct_gather/none
                AccountingStorageType=accounting_storage/none
                NodeName=n1 NodeHostname=HOST NodeAddr=127.0.0.1 Port=PORT1 CPUs=1 RealMemory=16000
                NodeName=n2 NodeHostname=HOST NodeAddr=127.0.0.1 Port=PORT2 CPUs=1 RealMemory=16000
                PartitionName=all Nodes=n1,n2 Default=YES MaxTime=INFINITE State=UP
                """
                        .replace("HOST", host)
                        .replace("DIR", folder.toString())
                        .replace("PORT0", "" + port())
                        .replace("PORT1", "" + port())
                        .replace("PORT2", "" + port()));
        started = true;
        run(
                "munged",
                "--force",
                "--key-file=" + key,
                "--socket=" + folder.resolve("munge.socket"),
                "--pid-file=" + folder.resolve("munged.pid"),
                "--log-file=" + folder.resolve("munged.log"),
                "--seed-file=" + folder.resolve("munge.seed"));
        run("slurmctld", "-f", configuration.toString());
        run("slurmd", "-f", configuration.toString(), "-N", "n1");
        run("slurmd", "-f", configuration.toString(), "-N", "n2");
        Files.createDirectories(folder.resolve("bees"));
        new Program(folder).run("demo", "bees", "--files-only").expect(0);
        // Long enough for a node to die in the middle of a shard.
        Path plan = folder.resolve("bees/demo.yaml");
        String demo = Files.readString(plan);
        assertThat(demo).contains("repeats: 10", "draws: 5000");
        Files.writeString(plan, demo.replace("repeats: 10", "repeats: 3").replace("draws: 5000", "draws: 300"));
        ScatterIT.program(folder.resolve("keenfold"));
    }

    @AfterAll
    static void stop() throws Exception {
        if (started) {
            for (String pid : List.of("slurmd-n1", "slurmd-n2", "slurmctld", "munged")) {
                Path file = folder.resolve(pid + ".pid");
                if (Files.exists(file)) {
                    ProcessHandle.of(Long.parseLong(Files.readString(file).strip()))
                            .ifPresent(ProcessHandle::destroyForcibly);
                }
            }
        }
    }

    /** Something that is to become true. */
    private interface Condition {
        boolean holds() throws Exception;
    }

    private static void await(String what, int seconds, Condition condition) throws Exception {
        for (int i = 0; i < 2 * seconds; i++) {
            if (condition.holds()) {
                return;
            }
            Thread.sleep(500);
        }
        StringBuilder known = new StringBuilder(run("squeue") + run("sinfo"));
        for (Path log : List.of(folder.resolve("bees/spread/logs/finish.log"), folder.resolve("slurmctld.log"))) {
            if (Files.exists(log)) {
                known.append(log).append(":\n").append(Files.readString(log)).append('\n');
            }
        }
        throw new AssertionError(what + " did not come true within " + seconds + " s; " + known);
    }

    /** Whether the last finish found fits missing, and said how they are done. */
    private static boolean missing(Path spread) throws IOException {
        List<String> said = Files.readAllLines(spread.resolve("logs/finish.log"));
        return said.get(said.size() - 1).startsWith("some fits are missing: run ./slurm.sh");
    }

    private static JsonNode status(int shard) throws Exception {
        return new Program(folder)
                .run("scatter", "--status", "bees/spread", "--json")
                .expect(0)
                .json()
                .get("rows")
                .get(shard - 1);
    }

    /** Ends processes whose command line has a text, as a node ends that loses its power. */
    private static void kill(String text) {
        ProcessHandle.allProcesses().filter(p -> commandLine(p).contains(text)).forEach(ProcessHandle::destroyForcibly);
    }

    private static String commandLine(ProcessHandle process) {
        try {
            return Files.readString(Path.of("/proc/" + process.pid() + "/cmdline"))
                    .replace('\0', ' ');
        } catch (IOException e) {
            return "";
        }
    }

    @Test
    void aNodeDiesAndNothingIsLost() throws Exception {
        new Program(folder)
                .run("scatter", "bees/demo.yaml", "--shards", "" + SHARDS, "-o", "bees/spread")
                .expect(0);
        Path spread = folder.resolve("bees/spread");
        String handed = run(spread, "./slurm.sh");
        assertThat(handed).startsWith("array ").contains("of 4 shards, then ");
        // In the middle of a shard on the second node.
        List<String> victim = new ArrayList<>();
        await("a shard in the middle on n2", 120, () -> {
            String[] job = run("squeue", "-h", "-t", "R", "-w", "n2", "-o", "%A %K")
                    .strip()
                    .split(" ", -1);
            if (job.length != 2 || !job[1].matches("\\d+")) {
                return false;
            }
            JsonNode told = status(Integer.parseInt(job[1]));
            victim.clear();
            victim.addAll(List.of(job));
            return told.get("state").asText().equals("running")
                    && told.get("done").asInt() > 20;
        });
        int shard = Integer.parseInt(victim.get(1));
        kill("slurmd -f " + configuration + " -N n2");
        kill("slurmstepd: [" + victim.get(0) + ".");
        kill("ledgers/" + shard + ".kfl");
        JsonNode dead = status(shard);
        assertThat(dead.get("done").asInt()).isLessThan(dead.get("units").asInt());
        await("n2 is given up", 90, () -> run("sinfo", "-h", "-N", "-n", "n2", "-o", "%T")
                .contains("down"));
        run("slurmd", "-f", configuration.toString(), "-N", "n2");
        await("the job begins again", 120, () -> run("scontrol", "show", "job", victim.get(0))
                .matches("(?s).*Restarts=[1-9].*"));
        // A job that lost its node is held back for two minutes, which are of no interest here.
        if (run("squeue", "-h", "-t", "PD", "-o", "%A").lines().anyMatch(victim.get(0)::equals)) {
            run("scontrol", "update", "JobId=" + victim.get(0), "StartTime=now");
        }
        await("all jobs are done", 600, () -> run("squeue", "-h").isBlank());
        // What the controller still had to say to the dead node may end the job that has begun there again.
        for (int again = 0; again < 3 && missing(spread); again++) {
            run(spread, "./slurm.sh");
            await("all jobs are done again", 600, () -> run("squeue", "-h").isBlank());
        }
        assertThat(spread.resolve("all.kfl"))
                .as(Files.readString(spread.resolve("logs/finish.log")))
                .exists();
        await("the report is written", 120, () -> Files.exists(spread.resolve("report/report.html")));
        assertThat(spread.resolve("report/report.html"))
                .as(Files.readString(spread.resolve("logs/finish.log")))
                .isNotEmptyFile();
        Program program = new Program(folder);
        program.run("run", "bees/demo.yaml", "-o", "bees/one.kfl").expect(0);
        for (String what : List.of("plan", "predictions", "folds", "scores")) {
            String merged = program.run("export", "bees/spread/all.kfl", "--what", what)
                    .expect(0)
                    .out();
            String one = program.run("export", "bees/one.kfl", "--what", what)
                    .expect(0)
                    .out();
            if (what.equals("plan")) {
                // The scattered plan names the data from its own folder.
                merged = merged.replace("\"../", "\"")
                        .replace("file: \"", "file: ")
                        .replace(".csv\"", ".csv");
            }
            assertThat(merged).as(what).isEqualTo(one);
        }
    }
}

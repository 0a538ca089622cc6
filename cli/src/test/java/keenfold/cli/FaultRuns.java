package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import keenfold.io.sqlite.NativeLibrary;
import keenfold.io.sqlite.SqliteFile;

/** A plan that is run while something happens to it, what it gives undisturbed, and the programs that were started. */
final class FaultRuns {
    static {
        // The same copy as the program's: a process that loads two of them can end at once.
        NativeLibrary.load();
    }

    static final String PLAN =
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

    private final List<Process> running = new ArrayList<>();

    private Path folder = Path.of("");
    private String undisturbed = "";

    /** Runs the plan undisturbed, in the folder. */
    void runUndisturbed(Path to) throws Exception {
        folder = to;
        Files.copy(Program.DEMO.resolve("swarm.csv"), folder.resolve("swarm.csv"));
        Files.writeString(folder.resolve("plan.yaml"), PLAN);
        // Fits enough that a run is still at it when something happens to it.
        Files.writeString(folder.resolve("long.yaml"), PLAN.replace("repeats: 12", "repeats: 400"));
        program().run("run", "plan.yaml", "-o", "whole.kfl").expect(0);
        undisturbed = exports("whole.kfl");
    }

    Program program() {
        return new Program(folder);
    }

    String exports(String ledger) throws Exception {
        return new Program(folder).exports(ledger);
    }

    /** What a command that runs by itself has said so far, in one line. */
    String said() throws IOException {
        return Files.readString(folder.resolve("err")).replaceAll("\\s+", " ");
    }

    Process started(Program program, String... args) throws IOException {
        Process process = program.start(folder.resolve("out"), folder.resolve("err"), args);
        running.add(process);
        return process;
    }

    /** Of a test that failed, too, nothing goes on. */
    void endAll() {
        running.forEach(Process::destroyForcibly);
        running.clear();
    }

    int ended(Process process) throws InterruptedException {
        assertThat(Until.ended(process)).as("ended").isTrue();
        return process.exitValue();
    }

    int number(String ledger, String query) {
        if (!Files.exists(folder.resolve(ledger))) {
            return 0;
        }
        try (Connection connection = SqliteFile.open(folder.resolve(ledger), SqliteFile.Access.WRITE);
                Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            return row.getInt(1);
        } catch (SQLException e) {
            // Not laid out yet.
            return 0;
        }
    }

    void awaitFits(String ledger, int least) throws IOException, InterruptedException {
        Until.holds("fits of " + ledger, () -> number(ledger, "SELECT count(*) FROM fit") >= least);
    }

    List<String> namesLike(String prefix) throws IOException {
        try (Stream<Path> files = Files.list(folder)) {
            return files.map(f -> f.getFileName().toString())
                    .filter(n -> n.startsWith(prefix))
                    .sorted()
                    .toList();
        }
    }

    // The disk.

    /** The exports of a run that nothing happened to. */
    String undisturbed() {
        return undisturbed;
    }
}

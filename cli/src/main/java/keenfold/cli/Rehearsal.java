package keenfold.cli;

import java.io.OutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;

/**
 * Goes once through what commands commonly do, in one process, so that the classes they load can be archived when the jar
 * is built. Never called by a user.
 */
final class Rehearsal {
    private Rehearsal() {}

    /** Works in the folder that the first argument names. */
    public static void main(String[] args) {
        Path folder = Path.of(args[0]);
        String ledger = folder.resolve("demo.kfl").toString();
        String data = folder.resolve("swarm.csv").toString();
        play("--help");
        play("--version");
        play("run", "--help");
        // What the demo does, but for its report: drawing every figure takes longer than what it would spare later.
        DemoCommand.unpack(folder);
        play("run", folder.resolve("demo.yaml").toString(), "-o", ledger, "--quiet");
        play("scores", ledger, "--metric", "auc");
        play("contrast", ledger);
        play("pick", ledger);
        play(
                "draw",
                ledger,
                "--figure",
                "means",
                "-o",
                folder.resolve("means.svg").toString());
        play("scores", ledger, "--json", "--metric", "accuracy");
        play("contrast", ledger, "--csv");
        play("pick", ledger, "--json");
        play("export", ledger, "--what", "scores");
        play(
                "compare",
                data,
                "--target",
                "swarmed",
                "--repeats",
                "2",
                "-o",
                folder.resolve("swarm.kfl").toString());
    }

    private static void play(String... args) {
        PrintStream nowhere = new PrintStream(OutputStream.nullOutputStream(), false, StandardCharsets.UTF_8);
        Main.execute(nowhere, nowhere, args);
    }
}

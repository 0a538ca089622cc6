package keenfold.cli;

import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
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
        Path plan = folder.resolve("demo.yaml");
        shorten(plan);
        play("run", plan.toString(), "-o", ledger, "--quiet");
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
                "--folds",
                "3",
                "--draws",
                "200",
                "-o",
                folder.resolve("swarm.kfl").toString());
    }

    /** The same candidates on a tenth of the splits: what is loaded is the same. */
    private static void shorten(Path plan) {
        try {
            String text = Files.readString(plan)
                    .replace("folds: 10, repeats: 10", "folds: 3, repeats: 2")
                    .replace("draws: 5000", "draws: 200")
                    .replace("trees: 100", "trees: 5")
                    .replace("rounds: 50", "rounds: 5");
            Files.writeString(plan, text);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static void play(String... args) {
        PrintStream nowhere = new PrintStream(OutputStream.nullOutputStream(), false, StandardCharsets.UTF_8);
        Main.execute(nowhere, nowhere, args);
    }
}

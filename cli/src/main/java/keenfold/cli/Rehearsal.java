package keenfold.cli;

import java.io.File;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;

/**
 * Goes once through what commands commonly do, in one process, so that the classes they load can be archived when the jar
 * is built. Never called by a user.
 */
final class Rehearsal {
    private Rehearsal() {}

    /** Works in a folder of its own, which it removes, below the one that the first argument names. */
    public static void main(String[] args) throws IOException {
        Path folder = Files.createTempDirectory(Path.of(args[0]), "rehearsal");
        try {
            playAll(folder);
        } finally {
            try (Stream<Path> all = Files.walk(folder)) {
                all.sorted(Comparator.reverseOrder()).map(Path::toFile).forEach(File::delete);
            }
        }
    }

    private static void playAll(Path folder) {
        String ledger = folder.resolve("demo.kfl").toString();
        String data = folder.resolve("swarm.csv").toString();
        play("--help");
        play("--version");
        play("run", "--help");
        DemoCommand.unpack(folder, 2);
        Path plan = folder.resolve("demo.yaml");
        shorten(plan);
        play("survey", data, "--target", "swarmed");
        play("folds", plan.toString());
        play("run", plan.toString(), "-o", ledger, "--quiet");
        play("scores", ledger, "--metric", "auc");
        play("scores", ledger, "--confusion");
        play("contrast", ledger);
        play("pick", ledger);
        play("scores", ledger, "--json", "--metric", "accuracy");
        play("contrast", ledger, "--csv");
        play("pick", ledger, "--json");
        play("export", ledger, "--what", "scores");
        String model = folder.resolve("pick.kfm").toString();
        play("train", ledger, "--dataset", "swarm", "--candidate", "logistic/30", "-o", model);
        play("show", model);
        play("predict", model, data, "-o", folder.resolve("labelled.csv").toString());
        // A report of few candidates: drawing every figure of the demo's takes longer than what it would spare later.
        String small = folder.resolve("swarm.kfl").toString();
        List<String> compare = new ArrayList<>(List.of("compare", data, "--target", "swarmed", "-o", small));
        compare.addAll(List.of("--repeats", "2", "--folds", "3", "--try", "majority", "--try", "naive-bayes"));
        play(compare.toArray(String[]::new));
        play("report", small, "-o", folder.resolve("report").toString());
    }

    /** The same candidates on a tenth of the splits: what is loaded is the same. */
    private static void shorten(Path plan) {
        try {
            String text = Files.readString(plan)
                    .replace("folds: 10,", "folds: 3,")
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
        int code = Main.execute(nowhere, nowhere, args);
        if (code != 0) {
            throw new IllegalStateException(String.join(" ", args) + " ended with " + code);
        }
    }
}

package keenfold.bench;

import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;

/**
 * Start-up side by side: a bare JVM that prints one line, {@code --help}, and a trivial {@code run}.
 *
 * <p>Prints medians of interleaved runs and their ratios. The first argument is the launcher.
 */
public final class StartUp {
    private static final int ROUNDS = 21;

    private StartUp() {}

    /** Prints one line: the bare JVM. */
    public static final class Bare {
        private Bare() {}

        /** Prints one line. */
        public static void main(String[] args) {
            System.out.println("one line");
        }
    }

    /** Measures. */
    public static void main(String[] args) throws IOException, InterruptedException {
        Path folder = Files.createTempDirectory("keenfold");
        StringBuilder csv = new StringBuilder("x,y\n");
        for (int i = 0; i < 40; i++) {
            csv.append(i % 7).append(i % 2 == 0 ? ",a\n" : ",b\n");
        }
        Files.writeString(folder.resolve("d.csv"), csv.toString());
        Files.writeString(
                folder.resolve("p.yaml"),
                "keenfold: 1\nseed: 1\ndata: [{file: d.csv, target: y}]\nsplits: {folds: 2, repeats: 1}\n"
                        + "metrics: [accuracy]\ncandidates: {guess: {classifier: majority}}\n");
        String java = Path.of(System.getProperty("java.home"), "bin", "java").toString();
        List<List<String>> commands = List.of(
                List.of(
                        java,
                        "-XX:+UseSerialGC",
                        "-cp",
                        new File(System.getProperty("java.class.path")).getAbsolutePath(),
                        Bare.class.getName()),
                List.of(args[0], "--help"),
                List.of(args[0], "run", "p.yaml", "-o", "l.kfl", "--quiet"));
        List<List<Double>> times = List.of(new ArrayList<>(), new ArrayList<>(), new ArrayList<>());
        for (int round = -3; round < ROUNDS; round++) {
            for (int c = 0; c < commands.size(); c++) {
                Files.deleteIfExists(folder.resolve("l.kfl"));
                double seconds = seconds(commands.get(c), folder);
                if (round >= 0) {
                    times.get(c).add(seconds);
                }
            }
        }
        String[] names = {"bare JVM", "keenfold --help", "trivial run"};
        double bare = median(times.get(0));
        for (int c = 0; c < names.length; c++) {
            double median = median(times.get(c));
            System.out.printf(Locale.ROOT, "%-16s %6.1f ms  ratio %.2f%n", names[c], 1000 * median, median / bare);
        }
    }

    private static double seconds(List<String> command, Path folder) throws IOException, InterruptedException {
        long start = System.nanoTime();
        Process process = new ProcessBuilder(command)
                .directory(folder.toFile())
                .redirectOutput(new File("/dev/null"))
                .redirectErrorStream(true)
                .start();
        if (process.waitFor() != 0) {
            throw new IllegalStateException(command + " ended with " + process.exitValue());
        }
        return (System.nanoTime() - start) * 1e-9;
    }

    private static double median(List<Double> values) {
        double[] sorted = values.stream().mapToDouble(Double::doubleValue).toArray();
        Arrays.sort(sorted);
        return sorted[sorted.length / 2];
    }
}

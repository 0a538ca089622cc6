package keenfold.bench;

import java.io.IOException;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import keenfold.core.data.Seed;
import keenfold.core.run.Parallel;

/**
 * The validity study of docs/validity.md: type I error and power of every method, coverage, family-wise error, optimism and
 * regret, measured on the tool's own code with made-up data.
 *
 * <p>Usage: {@code java -cp bench.jar keenfold.bench.ValidityStudy FILE [--quick] [--threads N] [--only PART]}. Each data
 * set that is done is one line of FILE; a study that is started again goes on where it stopped. At the end (and with
 * {@code --tables}, which does nothing else) the tables are printed.
 */
public final class ValidityStudy {
    private static final Seed SEED = new Seed(20261128);
    private static final int SETS = 500;
    private static final int QUICK_SETS = 50;
    private static final int HALVES_SETS = 100;
    private static final int DRAWS = 999;
    private static final int CHUNK = 20;
    private static final int[] ROWS = {80, 200, 600};
    private static final double[] SHARES = {0.5, 0.2};
    private static final List<String> KINDS = List.of("discriminant", "correlated", "tree", "nearest");

    private final Path file;
    private final boolean quick;
    private final Parallel parallel;
    private final PrintStream out;

    private ValidityStudy(Path file, boolean quick, Parallel parallel, PrintStream out) {
        this.file = file;
        this.quick = quick;
        this.parallel = parallel;
        this.out = out;
    }

    /** Runs the study, or goes on with it. */
    public static void main(String[] args) throws IOException {
        List<String> words = List.of(args);
        if (words.isEmpty()) {
            throw new IllegalArgumentException(
                    "usage: ValidityStudy FILE [--quick] [--threads N] [--only PART] [--tables]");
        }
        int at = words.indexOf("--threads");
        int threads = at < 0 ? Runtime.getRuntime().availableProcessors() : Integer.parseInt(words.get(at + 1));
        int part = words.indexOf("--only");
        ValidityStudy study =
                new ValidityStudy(Path.of(words.get(0)), words.contains("--quick"), Parallel.of(threads), System.out);
        if (!words.contains("--tables")) {
            study.run(part < 0 ? "" : words.get(part + 1));
        }
        new StudyTables(Files.readAllLines(study.file), study.out).print();
    }

    /** The cells in the order in which they are worth having. */
    static List<StudyCell> cells(boolean quick) {
        List<StudyCell> cells = new ArrayList<>();
        if (quick) {
            cells.add(new StudyCell("null", "discriminant", 80, 0.5));
            cells.add(new StudyCell("null", "nearest", 80, 0.5));
            cells.add(new StudyCell("family", "discriminant", 80, 0.5));
            cells.add(new StudyCell("nested", "front", 80, 0.5));
            return cells;
        }
        for (String part : List.of("null", "power")) {
            for (int rows : ROWS) {
                for (String kind : KINDS) {
                    for (double share : SHARES) {
                        cells.add(new StudyCell(part, kind, rows, share));
                    }
                }
            }
        }
        for (String kind : List.of("discriminant", "tree", "nearest")) {
            for (int rows : ROWS) {
                cells.add(new StudyCell("family", kind, rows, 0.5));
            }
        }
        for (String kind : List.of("rising", "front")) {
            for (int rows : List.of(80, 200)) {
                cells.add(new StudyCell("nested", kind, rows, 0.5));
            }
        }
        cells.add(new StudyCell("halves", "discriminant", 80, 0.5));
        cells.add(new StudyCell("halves", "nearest", 80, 0.5));
        return cells;
    }

    private int sets(StudyCell cell) {
        return quick ? QUICK_SETS : cell.part().equals("halves") ? HALVES_SETS : SETS;
    }

    private void run(String only) throws IOException {
        Set<String> done = new HashSet<>();
        if (Files.exists(file)) {
            for (String line : Files.readAllLines(file)) {
                done.add(line.substring(0, line.indexOf(' ', line.indexOf(' ') + 1)));
            }
        }
        for (StudyCell cell : cells(quick)) {
            if (!only.isEmpty() && !cell.part().equals(only)) {
                continue;
            }
            long start = System.nanoTime();
            truth(cell, done);
            List<Integer> left = new ArrayList<>();
            for (int i = 0; i < sets(cell); i++) {
                if (!done.contains(cell.name() + " " + i)) {
                    left.add(i);
                }
            }
            for (int from = 0; from < left.size(); from += CHUNK) {
                List<Integer> chunk = left.subList(from, Math.min(left.size(), from + CHUNK));
                append(parallel.map(
                        chunk.size(),
                        i -> cell.name() + " " + chunk.get(i) + " " + text(cell.once(chunk.get(i), SEED, DRAWS))));
            }
            if (!left.isEmpty()) {
                out.printf("%s: %d data sets, %.0f s%n", cell.name(), left.size(), (System.nanoTime() - start) * 1e-9);
            }
        }
    }

    private void truth(StudyCell cell, Set<String> done) throws IOException {
        if (cell.part().equals("power") || cell.part().equals("halves") || done.contains(cell.name() + " truth")) {
            return;
        }
        double[][] truth = StudyTruth.of(cell, SEED, parallel);
        StringBuilder line = new StringBuilder(cell.name() + " truth ");
        for (int c = 0; c < truth.length; c++) {
            line.append(String.format(
                    java.util.Locale.ROOT,
                    "accuracy.%d=%s auc.%d=%s accuracy-se.%d=%s auc-se.%d=%s ",
                    c,
                    truth[c][0],
                    c,
                    truth[c][1],
                    c,
                    truth[c][2],
                    c,
                    truth[c][3]));
        }
        append(List.of(line.toString().stripTrailing()));
    }

    private static String text(Map<String, Double> found) {
        return found.entrySet().stream()
                .map(e -> e.getKey() + "=" + e.getValue())
                .collect(Collectors.joining(" "));
    }

    private void append(List<String> lines) throws IOException {
        Files.write(file, lines, StandardCharsets.UTF_8, StandardOpenOption.CREATE, StandardOpenOption.APPEND);
    }
}

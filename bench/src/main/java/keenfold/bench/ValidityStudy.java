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
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import keenfold.bench.StudyCell.Part;
import keenfold.core.data.Seed;
import keenfold.core.run.Parallel;

/**
 * The validity study of docs/validity.md: type I error and power, coverage, family-wise error, sets of the best, ranks,
 * optimism and regret, measured on the tool's own code and classifiers with made-up data.
 *
 * <p>Usage: {@code java -cp bench.jar keenfold.bench.ValidityStudy FILE [--quick] [--threads N] [--only PART]}. Each data
 * set that is done is one line of FILE; a study that is started again goes on where it stopped. At the end (and with
 * {@code --tables}, which does nothing else) the tables are printed.
 */
public final class ValidityStudy {
    private static final Seed SEED = new Seed(20261129);
    private static final int DRAWS = 999;
    private static final int CHUNK = 20;
    private static final int QUICK_SETS = 50;
    private static final List<String> CHEAP = List.of("linear", "near1", "near5", "near15", "tree2", "tree8");
    private static final List<String> APART = List.of("linear", "near1", "near5", "tree2", "tree8");
    private static final List<String> UNEVEN = List.of("linear", "near5", "tree2", "tree8");
    private static final List<String> DEAR = List.of("forest", "boosting", "boosting-drawn", "network", "svm");
    private static final List<String> PAIRS = List.of(
            "linear-near15",
            "linear-tree2",
            "near5-tree8",
            "tree2-tree8",
            "linear-forest",
            "linear-svm",
            "forest-boosting",
            "tree2-boosting",
            "network-svm");

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
            cells.add(cell(Part.SAME, "linear", 80));
            cells.add(cell(Part.SAME, "near1", 80));
            cells.add(cell(Part.SIX, "linear", 80));
            cells.add(cell(Part.NESTED, "front", 80));
            return cells;
        }
        for (int classes : new int[] {2, 3}) {
            for (String design : List.of("accuracy-980", "accuracy-995")) {
                APART.forEach(k -> cells.add(new StudyCell(Part.APART, k, 200, classes, 10, design)));
            }
        }
        UNEVEN.forEach(k -> cells.add(new StudyCell(Part.UNEVEN, k, 600, 2, 10, "share-03")));
        UNEVEN.forEach(k -> cells.add(new StudyCell(Part.UNEVEN, k, 400, 2, 10, "share-05")));
        UNEVEN.forEach(k -> cells.add(new StudyCell(Part.UNEVEN, k, 200, 2, 10, "share-10")));
        for (String kind : List.of("near1", "near5")) {
            cells.add(new StudyCell(Part.SIX, kind, 200, 2, 5, StudyCell.ROWS));
        }
        cells.add(new StudyCell(Part.SIX, "near5", 80, 3, 10, StudyCell.ROWS));
        for (int rows : new int[] {80, 200}) {
            CHEAP.forEach(k -> cells.add(cell(Part.SAME, k, rows)));
            PAIRS.forEach(k -> cells.add(cell(Part.MIXED, k, rows)));
        }
        for (String kind : List.of("linear", "near1", "near15", "tree2", "tree8", "boosting")) {
            cells.add(new StudyCell(Part.HALVES, kind, 80, 2, 5, StudyCell.ROWS));
        }
        for (String kind : List.of("linear", "near5", "tree2")) {
            cells.add(cell(Part.SIX, kind, 200));
            cells.add(cell(Part.TEN, kind, 200));
            cells.add(cell(Part.POWER, kind, 200));
        }
        DEAR.forEach(k -> cells.add(cell(Part.SAME, k, 80)));
        CHEAP.forEach(k -> cells.add(new StudyCell(Part.SAME, k, 200, 3, 10, StudyCell.ROWS)));
        CHEAP.forEach(k -> cells.add(new StudyCell(Part.SAME, k, 200, 2, 5, StudyCell.ROWS)));
        CHEAP.forEach(k -> cells.add(new StudyCell(Part.SAME, k, 200, 2, 10, StudyCell.GROUPS)));
        DEAR.forEach(k -> cells.add(cell(Part.SAME, k, 200)));
        for (String kind : List.of("rising", "front")) {
            cells.add(cell(Part.NESTED, kind, 80));
            cells.add(cell(Part.NESTED, kind, 200));
        }
        CHEAP.forEach(k -> cells.add(cell(Part.SAME, k, 600)));
        CHEAP.forEach(k -> cells.add(new StudyCell(Part.SAME, k, 80, 3, 10, StudyCell.ROWS)));
        CHEAP.forEach(k -> cells.add(new StudyCell(Part.SAME, k, 80, 2, 5, StudyCell.ROWS)));
        cells.add(new StudyCell(Part.HALVES, "linear", 200, 2, 10, StudyCell.ROWS));
        cells.add(new StudyCell(Part.HALVES, "near5", 200, 2, 10, StudyCell.GROUPS));
        return cells;
    }

    private static StudyCell cell(Part part, String kind, int rows) {
        return new StudyCell(part, kind, rows, 2, 10, StudyCell.ROWS);
    }

    private int sets(StudyCell cell) {
        if (quick) {
            return QUICK_SETS;
        }
        return switch (cell.part()) {
            case POWER -> 300;
            case SAME, MIXED, SIX, TEN, NESTED, HALVES, APART, UNEVEN -> 200;
        };
    }

    private void run(String only) throws IOException {
        Set<String> done = new HashSet<>();
        if (Files.exists(file)) {
            for (String line : Files.readAllLines(file)) {
                done.add(line.substring(0, line.indexOf(' ', line.indexOf(' ') + 1)));
            }
        }
        for (StudyCell cell : cells(quick)) {
            if (!only.isEmpty() && !cell.part().name().toLowerCase(Locale.ROOT).equals(only)) {
                continue;
            }
            long start = System.nanoTime();
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

    private static String text(Map<String, Double> found) {
        return found.entrySet().stream()
                .map(e -> e.getKey() + "=" + e.getValue())
                .collect(Collectors.joining(" "));
    }

    private void append(List<String> lines) throws IOException {
        Files.write(file, lines, StandardCharsets.UTF_8, StandardOpenOption.CREATE, StandardOpenOption.APPEND);
    }
}

package keenfold.bench;

import java.io.BufferedWriter;
import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.io.sqlite.SqliteFile;

/**
 * What a run costs as it grows, measured on the built program: {@code Scaling LAUNCHER PART...} prints a Markdown table for
 * each part (rows, columns, folds, repeats, candidates, threads, memory, ledger, merge).
 *
 * <p>Of single fits and of merging the exponent from the line before stands beside the figure: the logarithm of the cost's
 * ratio over that of the size's, 1 where cost grows as size does. Of whole runs, which begin with a start, it is what each
 * further fold, repeat or candidate costs.
 */
public final class Scaling {
    private static final int COLUMNS = 10;
    private static final long NEVER = -1;

    private final String launcher;
    private final Path folder;

    private Scaling(String launcher, Path folder) {
        this.launcher = launcher;
        this.folder = folder;
    }

    /** Measures the parts that are named. */
    public static void main(String[] args) throws IOException, InterruptedException, SQLException {
        Scaling scaling = new Scaling(new File(args[0]).getAbsolutePath(), Files.createTempDirectory("keenfold"));
        for (String part : List.of(args).subList(1, args.length)) {
            System.out.println("\n### " + part + "\n");
            switch (part) {
                case "rows" -> scaling.rows();
                case "columns" -> scaling.columns();
                case "folds" -> scaling.folds();
                case "repeats" -> scaling.repeats();
                case "candidates" -> scaling.candidates();
                case "threads" -> scaling.threads();
                case "memory" -> scaling.memory();
                case "ledger" -> scaling.ledger();
                case "merge" -> scaling.merge();
                default -> throw new IllegalArgumentException(part + " is no part");
            }
        }
    }

    // What is run.

    private void table(int rows, int columns) throws IOException {
        RandomSource chance = new Seed(3).chance();
        try (BufferedWriter csv = Files.newBufferedWriter(folder.resolve("data.csv"))) {
            for (int j = 0; j < columns; j++) {
                csv.write("x" + j + ",");
            }
            csv.write("y\n");
            for (int i = 0; i < rows; i++) {
                int y = i % 3 == 0 ? 1 : 0;
                for (int j = 0; j < columns; j++) {
                    csv.write((chance.below(10_000) + (j < 5 ? 1500 * y : 0)) / 100.0 + ",");
                }
                csv.write(y == 1 ? "lost\n" : "kept\n");
            }
        }
    }

    private void plan(int folds, int repeats, String candidates) throws IOException {
        Files.writeString(
                folder.resolve("plan.yaml"),
                "keenfold: 1\nseed: 1\ndata: [{file: data.csv, target: y, positive: lost}]\n" + "splits: {folds: "
                        + folds + ", repeats: " + repeats + "}\nmetrics: [accuracy]\ncandidates: {" + candidates
                        + "}\n");
    }

    /** What a command took. */
    private record Cost(double seconds, long peak) {}

    /** Runs a command in the folder; NEVER as the peak of one that failed. */
    private Cost run(String javaOptions, String... args) throws IOException, InterruptedException {
        List<String> command = new ArrayList<>(List.of(launcher));
        command.addAll(List.of(args));
        ProcessBuilder builder = new ProcessBuilder(command)
                .directory(folder.toFile())
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("said").toFile());
        builder.environment().put("KEENFOLD_JAVA_OPTIONS", javaOptions);
        long from = System.nanoTime();
        Process process = builder.start();
        long peak = 0;
        while (process.isAlive()) {
            peak = Math.max(peak, resident(process.pid()));
            Thread.sleep(5);
        }
        double seconds = (System.nanoTime() - from) * 1e-9;
        return new Cost(seconds, process.waitFor() == 0 ? peak : NEVER);
    }

    /** The most memory that a process has held so far, in bytes, as Linux counts it. */
    private static long resident(long pid) {
        try {
            return Files.readAllLines(Path.of("/proc/" + pid + "/status")).stream()
                    .filter(l -> l.startsWith("VmHWM:"))
                    .mapToLong(l -> 1024 * Long.parseLong(l.replaceAll("\\D", "")))
                    .findFirst()
                    .orElse(0);
        } catch (IOException e) {
            return 0;
        }
    }

    private Cost fresh(String... more) throws IOException, InterruptedException {
        Files.deleteIfExists(folder.resolve("l.kfl"));
        List<String> args = new ArrayList<>(List.of("run", "plan.yaml", "-o", "l.kfl", "--quiet"));
        args.addAll(List.of(more));
        return mustRun("-Xmx8g", args.toArray(String[]::new));
    }

    private Cost mustRun(String javaOptions, String... args) throws IOException, InterruptedException {
        Cost cost = run(javaOptions, args);
        if (cost.peak() == NEVER) {
            throw new IllegalStateException(Files.readString(folder.resolve("said")));
        }
        return cost;
    }

    private double number(String query) throws SQLException {
        try (Connection connection = SqliteFile.open(folder.resolve("l.kfl"), SqliteFile.Access.WRITE);
                Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            return row.getDouble(1);
        }
    }

    /** Processor seconds of one fit of a candidate, training and prediction: the smallest, as the machine is shared. */
    private double fitSeconds(String candidate) throws SQLException {
        return number("SELECT min(train_cpu_seconds + predict_cpu_seconds) FROM fit JOIN candidate ON candidate.id ="
                + " fit.candidate WHERE name = '" + candidate + "'");
    }

    // How it is shown.

    private static String text(double seconds) {
        return seconds < 0.0995
                ? String.format(Locale.ROOT, "%.2g ms", 1000 * seconds).replaceAll("e\\+0?(\\d)", "e$1")
                : String.format(Locale.ROOT, seconds < 9.95 ? "%.2f s" : "%.0f s", seconds);
    }

    private static void line(List<String> cells) {
        System.out.println("| " + String.join(" | ", cells) + " |");
    }

    private static void title(String... cells) {
        line(List.of(cells));
        System.out.println("|" + "---|".repeat(cells.length));
    }

    private static double exponent(double before, double now, double smaller, double larger) {
        return Math.log(now / before) / Math.log(larger / smaller);
    }

    /** Seconds of one fit by candidate as something grows. */
    private void grow(String what, int[] sizes, Map<String, String> candidates, Map<String, Integer> most, Sized make)
            throws IOException, InterruptedException, SQLException {
        List<String> titles = new ArrayList<>(List.of(what));
        titles.addAll(candidates.keySet());
        title(titles.toArray(String[]::new));
        Map<String, Double> before = new LinkedHashMap<>();
        for (int s = 0; s < sizes.length; s++) {
            int size = sizes[s];
            List<String> names = candidates.keySet().stream()
                    .filter(n -> size <= most.getOrDefault(n, Integer.MAX_VALUE))
                    .toList();
            make.make(
                    size,
                    names.stream().map(n -> n + ": {" + candidates.get(n) + "}").collect(Collectors.joining(", ")));
            fresh("--threads", "1");
            List<String> cells = new ArrayList<>(List.of(String.format(Locale.ROOT, "%,d", size)));
            for (String name : candidates.keySet()) {
                if (!names.contains(name)) {
                    cells.add("-");
                    continue;
                }
                double seconds = fitSeconds(name);
                cells.add(text(seconds)
                        + (before.containsKey(name)
                                ? String.format(
                                        Locale.ROOT, " (%.2f)", exponent(before.get(name), seconds, sizes[s - 1], size))
                                : ""));
                before.put(name, seconds);
            }
            line(cells);
        }
    }

    /** Makes the data and the plan of a size. */
    private interface Sized {
        void make(int size, String candidates) throws IOException;
    }

    private static Map<String, String> kinds() {
        Map<String, String> kinds = new LinkedHashMap<>();
        kinds.put("majority", "classifier: majority");
        kinds.put("naive-bayes", "classifier: naive-bayes");
        kinds.put("logistic", "classifier: logistic");
        kinds.put("tree", "classifier: tree");
        kinds.put("forest", "classifier: forest, trees: 20");
        kinds.put("boosting", "classifier: boosting, rounds: 20");
        kinds.put("nearest", "classifier: nearest, neighbours: 9");
        kinds.put("svm", "classifier: svm");
        return kinds;
    }

    // The parts.

    private void rows() throws IOException, InterruptedException, SQLException {
        grow(
                "rows",
                new int[] {1000, 4000, 16_000, 64_000, 256_000},
                kinds(),
                Map.of("nearest", 64_000, "svm", 16_000),
                (n, candidates) -> {
                    table(n, COLUMNS);
                    plan(2, n > 10_000 ? 1 : 5, candidates);
                });
    }

    private void columns() throws IOException, InterruptedException, SQLException {
        grow("columns", new int[] {10, 20, 40, 80, 160}, kinds(), Map.of(), (p, candidates) -> {
            table(4000, p);
            plan(2, 3, candidates);
        });
    }

    /** Whole runs, as something of the plan grows: of a straight line each further one costs the same. */
    private void whole(String what, int[] sizes, Sized make) throws IOException, InterruptedException {
        title(what, "run", "each further one");
        double before = 0;
        for (int s = 0; s < sizes.length; s++) {
            make.make(sizes[s], "");
            double best = Math.min(
                    fresh("--threads", "1").seconds(), fresh("--threads", "1").seconds());
            line(List.of(
                    Integer.toString(sizes[s]),
                    text(best),
                    s == 0 ? "" : text((best - before) / (sizes[s] - sizes[s - 1]))));
            before = best;
        }
    }

    private static final String FEW =
            "majority: {classifier: majority}, tree: {classifier: tree}, nearest: {classifier: nearest}";

    private void folds() throws IOException, InterruptedException {
        table(4000, COLUMNS);
        whole("folds", new int[] {4, 16, 64, 256, 1024}, (k, c) -> plan(k, 1, FEW));
    }

    private void repeats() throws IOException, InterruptedException {
        table(4000, COLUMNS);
        whole("repeats", new int[] {1, 4, 16, 64, 256}, (r, c) -> plan(5, r, FEW));
    }

    private void candidates() throws IOException, InterruptedException {
        table(4000, COLUMNS);
        System.out.println("Candidates of their own:\n");
        whole("candidates", new int[] {1, 4, 16, 64, 256}, (m, c) -> {
            List<String> all = new ArrayList<>();
            for (int i = 0; i < m; i++) {
                all.add("t" + i + ": {classifier: tree, depth: 8}");
            }
            plan(5, 2, String.join(", ", all));
        });
        System.out.println("\nSettings of one family:\n");
        whole("settings", new int[] {1, 4, 16, 64}, (m, c) -> {
            List<String> all = new ArrayList<>();
            for (int i = 1; i <= m; i++) {
                all.add(Integer.toString(i));
            }
            plan(5, 2, "nearest: {classifier: nearest, neighbours: {vary: [" + String.join(", ", all) + "]}}");
        });
    }

    private void threads() throws IOException, InterruptedException {
        table(4000, COLUMNS);
        plan(5, 40, FEW + ", forest: {classifier: forest, trees: 20}");
        title("threads", "run", "of one");
        double one = 0;
        for (int t = 1; t <= 2 * Runtime.getRuntime().availableProcessors(); t *= 2) {
            double best = Double.POSITIVE_INFINITY;
            for (int round = 0; round < 2; round++) {
                best = Math.min(best, fresh("--threads", Integer.toString(t)).seconds());
            }
            one = t == 1 ? best : one;
            line(List.of(Integer.toString(t), text(best), String.format(Locale.ROOT, "%.2f", best / one)));
        }
    }

    /** The smallest heap that a run gets by with, to a seventh. */
    private void memory() throws IOException, InterruptedException {
        title("rows x columns", "smallest heap", "a million rows", "resident then");
        for (int[] size : new int[][] {{125_000, 10}, {250_000, 10}, {500_000, 10}, {1_000_000, 10}, {250_000, 40}}) {
            table(size[0], size[1]);
            plan(2, 1, "majority: {classifier: majority}, logistic: {classifier: logistic}, tree: {classifier: tree}");
            double low = 16;
            double high = 2048;
            long peak = 0;
            while (high / low > 1.15) {
                double middle = Math.sqrt(low * high);
                Files.deleteIfExists(folder.resolve("l.kfl"));
                Cost cost = run("-Xmx" + Math.round(middle) + "m", "run", "plan.yaml", "-o", "l.kfl", "--quiet");
                if (cost.peak() == NEVER) {
                    low = middle;
                } else {
                    high = middle;
                    peak = cost.peak();
                }
            }
            line(List.of(
                    String.format(Locale.ROOT, "%,d x %d", size[0], size[1]),
                    Math.round(high) + " MiB",
                    Math.round(high / size[0] * 1e6) + " MiB",
                    Math.round(peak / 1048576.0) + " MiB"));
        }
    }

    private void ledger() throws IOException, InterruptedException {
        table(20_000, COLUMNS);
        title("candidate", "1,000,000 predictions", "5,000,000 predictions", "each of the last 4,000,000");
        Map<String, String> kinds = kinds();
        kinds.keySet().removeAll(List.of("nearest", "svm"));
        for (Map.Entry<String, String> kind : kinds.entrySet()) {
            long[] sizes = new long[2];
            for (int i = 0; i < 2; i++) {
                plan(2, i == 0 ? 50 : 250, kind.getKey() + ": {" + kind.getValue() + "}");
                fresh();
                sizes[i] = Files.size(folder.resolve("l.kfl"));
            }
            line(List.of(
                    kind.getKey(),
                    String.format(Locale.ROOT, "%.1f MB", sizes[0] / 1e6),
                    String.format(Locale.ROOT, "%.1f MB", sizes[1] / 1e6),
                    String.format(Locale.ROOT, "%.2f bytes", (sizes[1] - sizes[0]) / 4e6)));
        }
    }

    /** Shards of many small fits, joined: on one thread, which merging has anyway. */
    private void merge() throws IOException, InterruptedException, SQLException {
        table(60, 4);
        title("fits", "of one shard", "ledger", "merge", "fits a minute", "exponent", "resident");
        double before = 0;
        int[] sizes = {125_000, 250_000, 500_000, 1_000_000};
        for (int s = 0; s < sizes.length; s++) {
            List<String> all = new ArrayList<>();
            for (int i = 1; i <= 25; i++) {
                all.add(Integer.toString(i));
            }
            plan(
                    10,
                    sizes[s] / 250,
                    "nearest: {classifier: nearest, neighbours: {vary: [" + String.join(", ", all) + "]}}");
            for (int shard = 1; shard <= 4; shard++) {
                Files.deleteIfExists(folder.resolve("s" + shard + ".kfl"));
                mustRun("-Xmx4g", "run", "plan.yaml", "--shard", shard + "/4", "-o", "s" + shard + ".kfl", "--quiet");
            }
            Files.deleteIfExists(folder.resolve("l.kfl"));
            Cost cost = mustRun("-Xmx512m", "merge", "s1.kfl", "s2.kfl", "s3.kfl", "s4.kfl", "-o", "l.kfl", "--quiet");
            double fits = number("SELECT count(*) FROM fit");
            line(List.of(
                    String.format(Locale.ROOT, "%,.0f", fits),
                    String.format(Locale.ROOT, "%,.0f MB", Files.size(folder.resolve("s1.kfl")) / 1e6),
                    String.format(Locale.ROOT, "%,.0f MB", Files.size(folder.resolve("l.kfl")) / 1e6),
                    text(cost.seconds()),
                    String.format(Locale.ROOT, "%,.0f", 60 * fits / cost.seconds()),
                    s == 0
                            ? ""
                            : String.format(
                                    Locale.ROOT, "%.2f", exponent(before, cost.seconds(), sizes[s - 1], sizes[s])),
                    Math.round(cost.peak() / 1048576.0) + " MiB"));
            before = cost.seconds();
        }
    }
}

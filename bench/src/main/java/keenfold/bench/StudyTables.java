package keenfold.bench;

import java.io.PrintStream;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.function.ToDoubleFunction;

/** The results of the validity study as Markdown tables; Monte Carlo errors stand behind ±. */
final class StudyTables {
    private static final double ALPHA = 0.05;
    private static final double NORMAL = 1.959964;
    private static final double LEAST_LEVEL = 0.03;
    private static final double MOST_LEVEL = 0.08;
    private static final List<String> METRICS =
            List.of("accuracy", "auc", "balanced-accuracy", "f1", "mcc", "log-loss");
    private static final List<String> METHODS = List.of("pivot", "cases", "corrected-t", "naive-t");

    private final PrintStream out;
    private final Map<String, List<Map<String, Double>>> cells = new LinkedHashMap<>();

    StudyTables(List<String> lines, PrintStream out) {
        this.out = out;
        for (String line : lines) {
            String[] words = line.split(" ", -1);
            Map<String, Double> values = new HashMap<>();
            for (int i = 2; i < words.length; i++) {
                int equals = words[i].lastIndexOf('=');
                if (equals > 0) {
                    values.put(words[i].substring(0, equals), Double.parseDouble(words[i].substring(equals + 1)));
                }
            }
            cells.computeIfAbsent(words[0], k -> new ArrayList<>()).add(values);
        }
    }

    void print() {
        summary();
        rejections("same", "No difference: per cent of data sets with p < 0.05", METHODS);
        rejections("apart", "No difference, classes nearly separable", METHODS.subList(0, 3));
        rejections("uneven", "No difference, a rare class", METHODS.subList(0, 3));
        rejections(
                "mixed",
                "Different classifiers on the same columns: per cent of data sets whose interval misses the average"
                        + " difference",
                List.of("pivot", "cases", "corrected-t"));
        rejections("halves", "No difference, with runs on halves", List.of("pivot", "halves", "cases", "corrected-t"));
        power();
        families();
        regrets();
    }

    private static String[] parts(String cell) {
        return cell.split("/", -1);
    }

    /** The metrics of a cell. */
    private static List<String> metrics(List<Map<String, Double>> sets) {
        return METRICS.stream()
                .filter(m -> sets.stream().anyMatch(s -> s.containsKey(m + ".mean") || s.containsKey(m + "-mean.0")))
                .toList();
    }

    /** The values of a key, of the data sets that have it. */
    private static double[] values(List<Map<String, Double>> sets, String key) {
        return sets.stream()
                .mapToDouble(s -> s.getOrDefault(key, Double.NaN))
                .filter(v -> !Double.isNaN(v))
                .toArray();
    }

    private static double mean(double[] values) {
        return Arrays.stream(values).average().orElse(Double.NaN);
    }

    private static double variance(double[] values) {
        double mean = mean(values);
        return Arrays.stream(values).map(v -> (v - mean) * (v - mean)).sum() / (values.length - 1);
    }

    private static String share(OptionalDouble of, int n) {
        return of.isEmpty()
                ? "-"
                : String.format(
                        Locale.ROOT,
                        "%.1f ± %.1f",
                        100 * of.getAsDouble(),
                        100 * Math.sqrt(of.getAsDouble() * (1 - of.getAsDouble()) / n));
    }

    /** How often a method errs: p below 0.05, or, of different classifiers, an interval that misses the average. */
    private static OptionalDouble level(String cell, List<Map<String, Double>> sets, String metric, String method) {
        if (!parts(cell)[0].equals("mixed")) {
            return Arrays.stream(values(sets, metric + "." + method))
                    .map(p -> p < ALPHA ? 1 : 0)
                    .average();
        }
        double centre = mean(values(sets, metric + ".difference"));
        return sets.stream()
                .filter(s -> s.containsKey(metric + "." + method + "-reach"))
                .mapToDouble(s -> Math.abs(s.getOrDefault(metric + ".difference", 0.0) - centre)
                                > s.getOrDefault(metric + "." + method + "-reach", 0.0)
                        ? 1
                        : 0)
                .average();
    }

    private void summary() {
        out.printf("%n### All settings together: the error rate at a nominal 5 %%%n%n");
        out.println("| settings | method | metric | middle setting, % | within 3 to 8 % | above 8 % | settings |\n"
                + "|---|---|---|---|---|---|---|");
        for (String part : List.of("same", "apart", "uneven", "mixed", "halves")) {
            for (String method : part.equals("halves") ? List.of("pivot", "halves") : METHODS.subList(0, 3)) {
                for (String metric : METRICS) {
                    double[] levels = cells.entrySet().stream()
                            .filter(e -> parts(e.getKey())[0].equals(part))
                            .map(e -> level(e.getKey(), e.getValue(), metric, method))
                            .flatMapToDouble(OptionalDouble::stream)
                            .sorted()
                            .toArray();
                    if (levels.length > 0) {
                        int n = levels.length;
                        out.printf(
                                Locale.ROOT,
                                "| %s | %s | %s | %.1f | %.0f %% | %.0f %% | %d |%n",
                                part,
                                method,
                                metric,
                                50 * (levels[(n - 1) / 2] + levels[n / 2]),
                                100
                                        * Arrays.stream(levels)
                                                .filter(l -> l >= LEAST_LEVEL && l <= MOST_LEVEL)
                                                .count()
                                        / (double) n,
                                100
                                        * Arrays.stream(levels)
                                                .filter(l -> l > MOST_LEVEL)
                                                .count()
                                        / (double) n,
                                n);
                    }
                }
            }
        }
    }

    private void rejections(String part, String title, List<String> methods) {
        boolean halves = part.equals("halves");
        out.printf(
                "%n### %s%n%n| candidates | n | classes | folds | of | metric | %s | V / true%s | mean covered | data sets |%n",
                title, String.join(" | ", methods), halves ? ", pivot | V / true, halves" : "");
        out.println("|---|---|---|---|---|---|" + "---|".repeat(methods.size() + (halves ? 4 : 3)));
        cells.forEach((cell, sets) -> {
            String[] of = parts(cell);
            if (!of[0].equals(part)) {
                return;
            }
            for (String metric : metrics(sets)) {
                StringBuilder row = new StringBuilder(
                        "| " + String.join(" | ", Arrays.asList(of).subList(1, 6)) + " | " + metric + " |");
                for (String method : methods) {
                    row.append(' ')
                            .append(share(level(cell, sets, metric, method), sets.size()))
                            .append(" |");
                }
                double truth = variance(values(sets, metric + ".difference"));
                row.append(ratio(sets, metric + ".variance", truth));
                if (halves) {
                    row.append(ratio(sets, metric + ".variance-halves", truth));
                }
                out.println(row.append(' ')
                        .append(share(covered(sets, metric), sets.size()))
                        .append(" | ")
                        .append(sets.size())
                        .append(" |"));
            }
        });
    }

    /** The variance that is reckoned with, on average, over that of the differences. */
    private static String ratio(List<Map<String, Double>> sets, String key, double truth) {
        return String.format(Locale.ROOT, " %.2f |", mean(values(sets, key)) / truth);
    }

    /** How often the interval of the first mean holds the average of that mean. */
    private static OptionalDouble covered(List<Map<String, Double>> sets, String metric) {
        double centre = mean(values(sets, metric + ".mean"));
        return sets.stream()
                .filter(s -> s.containsKey(metric + ".low"))
                .mapToDouble(s -> s.getOrDefault(metric + ".low", Double.NaN) <= centre
                                && centre <= s.getOrDefault(metric + ".high", Double.NaN)
                        ? 1
                        : 0)
                .average();
    }

    private void power() {
        out.printf(
                "%n### Power: per cent of data sets with p < 0.05 where the second candidate's columns are weaker%n%n");
        out.println("| candidates | n | metric | ideal | pivot | cases | corrected-t | pivot / cases | data sets |\n"
                + "|---|---|---|---|---|---|---|---|---|");
        cells.forEach((cell, sets) -> {
            String[] of = parts(cell);
            if (!of[0].equals("power")) {
                return;
            }
            for (String metric : metrics(sets)) {
                double[] d = values(sets, metric + ".difference");
                double sd = Math.sqrt(variance(d));
                OptionalDouble ideal = Arrays.stream(d)
                        .map(v -> Math.abs(v) > NORMAL * sd ? 1 : 0)
                        .average();
                OptionalDouble pivot = level(cell, sets, metric, "pivot");
                OptionalDouble cases = level(cell, sets, metric, "cases");
                out.printf(
                        Locale.ROOT,
                        "| %s | %s | %s | %s | %s | %s | %s | %.2f | %d |%n",
                        of[1],
                        of[2],
                        metric,
                        share(ideal, sets.size()),
                        share(pivot, sets.size()),
                        share(cases, sets.size()),
                        share(level(cell, sets, metric, "corrected-t"), sets.size()),
                        pivot.orElse(Double.NaN) / cases.orElse(Double.NaN),
                        sets.size());
            }
        });
    }

    private void families() {
        table(
                "Several candidates: any false call, per cent, and how far the best flatters",
                List.of("max-T", "Holm", "not adjusted", "expected", "best mean", "corrected for choosing"),
                (sets, m) -> List.of(
                        per(sets, m + ".any"),
                        per(sets, m + ".any-holm"),
                        per(sets, m + ".any-none"),
                        number(sets, m + ".mean", 4),
                        number(sets, m + ".best", 4),
                        number(sets, m + ".corrected", 4)));
        table(
                "Several candidates: how often the set of those that may be the best holds the best (of six equal ones, the"
                        + " first), and its size, beside what all pairs leave; how often rank intervals hold, and all at once",
                List.of("set holds", "its size", "all pairs hold", "their size", "a rank holds", "all ranks hold"),
                (sets, m) -> List.of(
                        per(sets, m + ".set-holds"),
                        number(sets, m + ".set", 2),
                        per(sets, m + ".left-holds"),
                        number(sets, m + ".left", 2),
                        per(sets, m + ".ranks"),
                        per(sets, m + ".ranks-all")));
    }

    private interface Cells {
        List<String> of(List<Map<String, Double>> sets, String metric);
    }

    private void table(String title, List<String> headings, Cells row) {
        out.printf(
                "%n### %s%n%n| candidates | classifier | n | classes | folds | metric | %s | data sets |%n|%s%n",
                title, String.join(" | ", headings), "---|".repeat(headings.size() + 7));
        cells.forEach((cell, sets) -> {
            String[] of = parts(cell);
            if (of[0].equals("six") || of[0].equals("ten")) {
                for (String metric : metrics(sets)) {
                    out.println("| " + (of[0].equals("six") ? "six equal" : "one better of ten") + " | " + of[1] + " | "
                            + of[2] + " | " + of[3] + " | " + of[4] + " | " + metric + " | "
                            + String.join(" | ", row.of(sets, metric)) + " | "
                            + sets.size() + " |");
                }
            }
        });
    }

    private static String per(List<Map<String, Double>> sets, String key) {
        return share(OptionalDouble.of(mean(values(sets, key))), sets.size());
    }

    private static String number(List<Map<String, Double>> sets, String key, int decimals) {
        double[] values = values(sets, key);
        return String.format(
                Locale.ROOT,
                "%." + decimals + "f ± %." + decimals + "f",
                mean(values),
                Math.sqrt(variance(values) / values.length));
    }

    private void regrets() {
        out.printf(
                "%n### Regret of each rule in nested families: expected score of the best member less that of the pick, in"
                        + " points (hundredths), and the mean number of columns picked%n%n");
        List<String> rules = cells.entrySet().stream()
                .filter(e -> parts(e.getKey())[0].equals("nested"))
                .limit(1)
                .flatMap(e -> e.getValue().get(0).keySet().stream())
                .filter(k -> k.startsWith("auc."))
                .map(k -> k.substring(4))
                .sorted()
                .toList();
        out.println("| family | n | metric | " + String.join(" | ", rules) + " |\n|---|---|---|"
                + "---|".repeat(rules.size()));
        cells.forEach((cell, sets) -> {
            String[] of = parts(cell);
            if (!of[0].equals("nested")) {
                return;
            }
            for (String metric : metrics(sets)) {
                double[] expected = new double[StudyCell.NESTED_COLUMNS.length];
                Arrays.setAll(expected, c -> mean(values(sets, metric + "-mean." + c)));
                double best = Arrays.stream(expected).max().orElseThrow();
                StringBuilder row =
                        new StringBuilder(String.format(Locale.ROOT, "| %s | %s | %s |", of[1], of[2], metric));
                for (String rule : rules) {
                    ToDoubleFunction<Map<String, Double>> pick = s -> s.getOrDefault(metric + "." + rule, 0.0);
                    double[] regret = sets.stream()
                            .mapToDouble(s -> 100 * (best - expected[(int) pick.applyAsDouble(s)]))
                            .toArray();
                    double columns = sets.stream()
                            .mapToInt(s -> StudyCell.NESTED_COLUMNS[(int) pick.applyAsDouble(s)])
                            .average()
                            .orElse(Double.NaN);
                    row.append(String.format(
                            Locale.ROOT,
                            " %.2f ± %.2f (%.1f) |",
                            mean(regret),
                            Math.sqrt(variance(regret) / regret.length),
                            columns));
                }
                out.println(row);
            }
        });
    }
}

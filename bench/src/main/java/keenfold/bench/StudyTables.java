package keenfold.bench;

import java.io.PrintStream;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** The results of the validity study as Markdown tables; Monte Carlo errors stand behind ±. */
final class StudyTables {
    private static final double ALPHA = 0.05;
    private static final List<String> METRICS = List.of("accuracy", "auc");
    private static final List<String> METHODS =
            List.of("pivot", "cases", "cases-bca", "corrected-t", "mcnemar", "naive-t");

    private final PrintStream out;
    private final Map<String, List<Map<String, Double>>> cells = new LinkedHashMap<>();
    private final Map<String, Map<String, Double>> truths = new HashMap<>();

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
            if (words[1].equals("truth")) {
                truths.put(words[0], values);
            } else {
                cells.computeIfAbsent(words[0], k -> new ArrayList<>()).add(values);
            }
        }
    }

    void print() {
        rejections("null", "Type I error, per cent of data sets with p < 0.05 where there is no difference");
        rejections(
                "power", "Power, per cent of data sets with p < 0.05 where the second candidate's columns are weaker");
        rejections("halves", "Type I error of halves beside the others");
        coverage();
        families();
        regrets();
    }

    private static String[] parts(String cell) {
        return cell.split("/", -1);
    }

    private static String share(double of, int n) {
        return String.format(Locale.ROOT, "%.1f ± %.1f", 100 * of, 100 * Math.sqrt(of * (1 - of) / n));
    }

    private void rejections(String part, String title) {
        List<String> methods = new ArrayList<>(METHODS);
        if (part.equals("halves")) {
            methods.add(1, "halves");
            methods.removeAll(List.of("cases", "cases-bca", "corrected-t", "mcnemar"));
        }
        out.printf(
                "%n### %s%n%n| candidates | n | positive | metric | %s | data sets |%n",
                title, String.join(" | ", methods));
        out.println("|---|---|---|---|" + "---|".repeat(methods.size() + 1));
        cells.forEach((cell, sets) -> {
            String[] of = parts(cell);
            if (!of[0].equals(part)) {
                return;
            }
            for (String metric : METRICS) {
                StringBuilder row = new StringBuilder(
                        String.format(Locale.ROOT, "| %s | %s | %s | %s |", of[1], of[2], of[3], metric));
                for (String method : methods) {
                    row.append(' ')
                            .append(rejected(sets, metric + "." + method).orElse("-"))
                            .append(" |");
                }
                out.println(row.append(' ').append(sets.size()).append(" |"));
            }
        });
    }

    private static Optional<String> rejected(List<Map<String, Double>> sets, String key) {
        double[] p = sets.stream()
                .filter(s -> s.containsKey(key))
                .mapToDouble(s -> s.getOrDefault(key, 1.0))
                .toArray();
        if (p.length == 0) {
            return Optional.empty();
        }
        double below = 0;
        for (double value : p) {
            below += value < ALPHA ? 1 : 0;
        }
        return Optional.of(share(below / p.length, p.length));
    }

    private void coverage() {
        out.printf("%n### Coverage of 95 %% intervals of a mean for the expected score, per cent%n%n");
        out.println(
                "| candidates | n | positive | accuracy | expected | auc | expected |\n|---|---|---|---|---|---|---|");
        cells.forEach((cell, sets) -> {
            String[] of = parts(cell);
            if (!of[0].equals("null") || !truths.containsKey(cell)) {
                return;
            }
            StringBuilder row = new StringBuilder(String.format(Locale.ROOT, "| %s | %s | %s |", of[1], of[2], of[3]));
            for (String metric : METRICS) {
                double truth = truths.getOrDefault(cell, Map.of()).getOrDefault(metric + ".0", Double.NaN);
                double error = truths.getOrDefault(cell, Map.of()).getOrDefault(metric + "-se.0", Double.NaN);
                double held = 0;
                for (Map<String, Double> set : sets) {
                    held += set.getOrDefault(metric + ".low", 2.0) <= truth
                                    && truth <= set.getOrDefault(metric + ".high", -2.0)
                            ? 1
                            : 0;
                }
                row.append(String.format(
                        Locale.ROOT, " %s | %.4f ± %.4f |", share(held / sets.size(), sets.size()), truth, error));
            }
            out.println(row);
        });
    }

    private void families() {
        out.printf("%n### Six equal candidates: family-wise error and optimism of the best%n%n");
        out.println("| candidates | n | metric | max-T, % | Holm, % | not adjusted, % | expected | mean of the best |"
                + " corrected for choosing |\n|---|---|---|---|---|---|---|---|---|");
        cells.forEach((cell, sets) -> {
            String[] of = parts(cell);
            if (!of[0].equals("family")) {
                return;
            }
            for (String metric : METRICS) {
                double truth = truths.getOrDefault(cell, Map.of()).getOrDefault(metric + ".0", Double.NaN);
                out.printf(
                        Locale.ROOT,
                        "| %s | %s | %s | %s | %s | %s | %.4f | %s | %s |%n",
                        of[1],
                        of[2],
                        metric,
                        share(mean(sets, metric + ".any")[0], sets.size()),
                        share(mean(sets, metric + ".any-holm")[0], sets.size()),
                        share(mean(sets, metric + ".any-none")[0], sets.size()),
                        truth,
                        number(mean(sets, metric + ".best")),
                        number(mean(sets, metric + ".corrected")));
            }
        });
    }

    private static String number(double[] mean) {
        return String.format(Locale.ROOT, "%.4f ± %.4f", mean[0], mean[1]);
    }

    /** Mean of what is there, and its standard error. */
    private static double[] mean(List<Map<String, Double>> sets, String key) {
        double[] values = sets.stream()
                .mapToDouble(s -> s.getOrDefault(key, Double.NaN))
                .filter(v -> !Double.isNaN(v))
                .toArray();
        return mean(values);
    }

    private static double[] mean(double[] values) {
        double sum = 0;
        for (double v : values) {
            sum += v;
        }
        double mean = sum / values.length;
        double squares = 0;
        for (double v : values) {
            squares += (v - mean) * (v - mean);
        }
        return new double[] {mean, Math.sqrt(squares / (values.length - 1) / values.length)};
    }

    private void regrets() {
        out.printf(
                "%n### Regret of each rule in nested families: expected score of the best member less that of the pick, in"
                        + " points (hundredths), and the mean number of columns picked%n%n");
        List<String> rules = new ArrayList<>();
        cells.forEach((cell, sets) -> {
            if (parts(cell)[0].equals("nested") && rules.isEmpty()) {
                sets.get(0).keySet().stream()
                        .filter(k -> k.startsWith("auc."))
                        .map(k -> k.substring(4))
                        .sorted()
                        .forEach(rules::add);
            }
        });
        out.println("| family | n | metric | " + String.join(" | ", rules) + " |\n|---|---|---|"
                + "---|".repeat(rules.size()));
        cells.forEach((cell, sets) -> {
            String[] of = parts(cell);
            if (!of[0].equals("nested")) {
                return;
            }
            Map<String, Double> truth = truths.getOrDefault(cell, Map.of());
            for (String metric : METRICS) {
                double best = 0;
                for (int c = 0; c < StudyCell.NESTED.length; c++) {
                    best = Math.max(best, truth.getOrDefault(metric + "." + c, 0.0));
                }
                StringBuilder row =
                        new StringBuilder(String.format(Locale.ROOT, "| %s | %s | %s |", of[1], of[2], metric));
                for (String rule : rules) {
                    String key = metric + "." + rule;
                    double most = best;
                    double[] regret = mean(sets.stream()
                            .mapToDouble(
                                    s -> 100 * (most - truth.getOrDefault(metric + "." + picked(s, key), Double.NaN)))
                            .toArray());
                    double columns = sets.stream()
                            .mapToInt(s -> StudyCell.NESTED[picked(s, key)])
                            .average()
                            .orElse(Double.NaN);
                    row.append(String.format(Locale.ROOT, " %.2f ± %.2f (%.1f) |", regret[0], regret[1], columns));
                }
                out.println(row);
            }
        });
    }

    private static int picked(Map<String, Double> set, String key) {
        return (int) Math.round(set.getOrDefault(key, 0.0));
    }
}

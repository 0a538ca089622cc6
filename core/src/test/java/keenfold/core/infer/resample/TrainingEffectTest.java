package keenfold.core.infer.resample;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import keenfold.core.metric.Outcomes;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The effect of other training rows, against values that another program computed from its definition. */
class TrainingEffectTest {
    private static List<String[]> lines(String name) throws IOException {
        try (BufferedReader in = new BufferedReader(new InputStreamReader(
                Objects.requireNonNull(TrainingEffectTest.class.getResourceAsStream(name)), StandardCharsets.UTF_8))) {
            return in.lines().map(l -> l.split(",", -1)).toList();
        }
    }

    /** The outcomes of each candidate, repeat by repeat. */
    private static Map<String, List<Outcomes>> read(String name) throws IOException {
        List<String[]> lines = lines(name);
        List<String> labels = Arrays.stream(lines.get(0))
                .filter(h -> h.startsWith("p:"))
                .map(h -> h.substring(2))
                .toList();
        Map<String, Map<Integer, List<String[]>>> all = new LinkedHashMap<>();
        for (String[] line : lines.subList(1, lines.size())) {
            all.computeIfAbsent(line[3], k -> new LinkedHashMap<>())
                    .computeIfAbsent(Integer.parseInt(line[1]), k -> new ArrayList<>())
                    .add(line);
        }
        Map<String, List<Outcomes>> parts = new LinkedHashMap<>();
        all.forEach((candidate, repeats) -> parts.put(
                candidate, repeats.values().stream().map(r -> joined(r, labels)).toList()));
        return parts;
    }

    private static Outcomes joined(List<String[]> repeat, List<String> labels) {
        int k = labels.size();
        Map<Integer, List<String[]>> byFold = new LinkedHashMap<>();
        repeat.forEach(l -> byFold.computeIfAbsent(Integer.parseInt(l[2]) - 1, f -> new ArrayList<>())
                .add(l));
        List<Outcomes> folds = new ArrayList<>();
        byFold.forEach((fold, lines) -> {
            int[] rows = new int[lines.size()];
            int[] actual = new int[rows.length];
            double[] p = new double[rows.length * k];
            for (int i = 0; i < rows.length; i++) {
                rows[i] = Integer.parseInt(lines.get(i)[0]) - 1;
                actual[i] = labels.indexOf(lines.get(i)[4]);
                for (int c = 0; c < k; c++) {
                    p[i * k + c] = Double.parseDouble(lines.get(i)[5 + c]);
                }
            }
            folds.add(Outcomes.of(k, fold, rows, actual, p));
        });
        return Outcomes.join(folds);
    }

    private record Placed(TestedRows rows, Map<String, RowStandings> standings) {
        static Placed of(Map<String, List<Outcomes>> parts, int n, int classes) {
            TestedRows rows = new TestedRows(parts.values().iterator().next(), n, classes);
            Map<String, RowStandings> standings = new LinkedHashMap<>();
            parts.forEach((c, p) -> standings.put(c, RowStandings.placements(p, rows)));
            return new Placed(rows, standings);
        }

        double[] standing(String candidate, int repeat) {
            double[] all = new double[rows.count()];
            standings.get(candidate).add(repeat, 1, all);
            return all;
        }

        /** λ₀, of the candidates' own W and v. */
        double stable(String a, String b, int folds) {
            TrainingEffect.Spread own = TrainingEffect.spread(standings.get(a), rows);
            return (b.isEmpty() ? own : own.plus(TrainingEffect.spread(standings.get(b), rows))).lambda(folds);
        }

        TrainingEffect effect(String a, String b, int folds, boolean grouped) {
            TrainingEffect.Spread own = TrainingEffect.spread(standings.get(a), rows);
            return b.isEmpty()
                    ? TrainingEffect.of(standings.get(a), Optional.empty(), rows, own, folds, grouped)
                    : TrainingEffect.of(
                            standings.get(a),
                            Optional.of(standings.get(b)),
                            rows,
                            own.plus(TrainingEffect.spread(standings.get(b), rows)),
                            folds,
                            grouped);
        }
    }

    private static int folds(Outcomes repeat) {
        return 1
                + java.util.stream.IntStream.range(0, repeat.size())
                        .map(repeat::fold)
                        .max()
                        .orElseThrow();
    }

    private static double freedom(TrainingEffect effect, int rows) {
        return 1 / (1.0 / (rows - 1) + effect.noise());
    }

    /** λ and ν of means, of pairs by themselves and of pairs in their family, as a program in numpy computed them. */
    @ParameterizedTest
    @CsvSource({"two, 2", "three, 3"})
    void itIsThatOfTheReference(String name, int classes) throws IOException {
        Map<String, List<Outcomes>> parts = read("lambda_" + name + "_classes.csv");
        Outcomes first = parts.values().iterator().next().get(0);
        int folds = folds(first);
        int n = first.size();
        Placed placed = Placed.of(parts, n, classes);
        List<String[]> expected = lines("lambda_" + name + "_classes_family.csv");
        List<TrainingEffect> pairs = new ArrayList<>();
        for (String[] e : expected.subList(1, expected.size())) {
            String what = e[0] + " " + e[1];
            TrainingEffect effect = placed.effect(e[0], e[1], folds, false);
            assertThat(effect.lambda()).as(what).isCloseTo(Double.parseDouble(e[4]), within(1e-9));
            assertThat(freedom(effect, n)).as(what).isCloseTo(Double.parseDouble(e[5]), within(1e-9));
            if (!e[1].isEmpty()) {
                pairs.add(effect);
                assertThat(placed.effect(e[1], e[0], folds, false).lambda())
                        .as("the other way round")
                        .isEqualTo(effect.lambda());
            }
        }
        assertThat(pairs).hasSize(parts.size() * (parts.size() - 1) / 2);
        List<TrainingEffect> pooled = TrainingEffect.pooled(pairs);
        for (int i = 0; i < pairs.size(); i++) {
            String[] e = expected.get(1 + i);
            assertThat(pooled.get(i).lambda()).as(e[0] + " " + e[1]).isCloseTo(Double.parseDouble(e[2]), within(1e-9));
            assertThat(freedom(pooled.get(i), n))
                    .as(e[0] + " " + e[1])
                    .isCloseTo(Double.parseDouble(e[3]), within(1e-9));
        }
    }

    /** With groups λ is at least λ₀, G is left out later, nothing is drawn together and no noise counts. */
    @Test
    void rowsInGroupsAreTreatedAsTheyWereStudied() throws IOException {
        Map<String, List<Outcomes>> parts = read("lambda_two_classes.csv");
        Outcomes first = parts.values().iterator().next().get(0);
        Placed placed = Placed.of(parts, first.size(), 2);
        List<TrainingEffect> pairs = new ArrayList<>();
        List<String> names = List.copyOf(parts.keySet());
        for (String a : names) {
            for (String b : names.subList(names.indexOf(a) + 1, names.size())) {
                TrainingEffect e = placed.effect(a, b, folds(first), true);
                assertThat(e.lambda()).isBetween(placed.stable(a, b, folds(first)), 2.0);
                assertThat(e.noise()).isZero();
                // w = 1/(1 + xk/R + 1/(4y²)), y = xk²/(k − 1): x from s² = 4.6·xk/R.
                double y = e.chance() / 4.6 * repeats(parts) / 5 * 25 / 4;
                assertThat(e.estimate()).isCloseTo(e.covariance() - e.together() / (1 + y * y), within(1e-9));
                pairs.add(e);
            }
        }
        assertThat(TrainingEffect.pooled(pairs)).isEqualTo(pairs);
    }

    private static int repeats(Map<String, List<Outcomes>> parts) {
        return parts.values().iterator().next().size();
    }

    private static TrainingEffect of(double estimate, double chance, double stable, double weight) {
        return new TrainingEffect(0, 0, 1, stable, estimate, 0, estimate, chance, weight, false);
    }

    /** A family worked out by hand, its numbers chosen so that all are fractions. */
    @Test
    void aFamilyIsDrawnTogetherAsByHand() {
        // λ₀ = 1 for all and s² = 1: the slope is the mean, 1; Q = 1 + 0 + 1 = 2 = pairs − 1, so that τ² = 0 and B = 0.
        List<TrainingEffect> alike =
                TrainingEffect.pooled(List.of(of(0, 1, 1, 0.5), of(1, 1, 1, 0.5), of(2, 1, 1, 0.5)));
        assertThat(alike).allSatisfy(e -> {
            assertThat(e.estimate()).isEqualTo(1);
            assertThat(e.lambda()).isEqualTo(1);
            // ½·w²·s²·(1/3)/(2·(1 + λ₀)²) = ½·¼/3/8
            assertThat(e.noise()).isCloseTo(1.0 / 192, within(1e-15));
        });
        // Q = 4 + 0 + 4 = 8, Σu − Σu²/Σu = 2: τ² = (8 − 2)/2 = 3, B = 3/4; X' of the last is 3 − ¼·2 = 2.5, cut to 2.
        List<TrainingEffect> apart =
                TrainingEffect.pooled(List.of(of(-1, 1, 1, 0.5), of(1, 1, 1, 0.5), of(3, 1, 1, 0.5)));
        assertThat(apart).extracting(TrainingEffect::estimate).containsExactly(-0.5, 1.0, 2.5);
        assertThat(apart).extracting(TrainingEffect::lambda).containsExactly(0.25, 1.0, 1.5);
        assertThat(apart.get(0).noise()).isCloseTo(0.75 / 64, within(1e-15));
        assertThat(apart).extracting(TrainingEffect::capped).containsExactly(false, false, true);
        // Two pairs stay as they are, and so does one whose λ is λ₀, which is not counted.
        List<TrainingEffect> two = List.of(of(0, 1, 1, 0.5), of(2, 1, 1, 0.5), TrainingEffect.NONE);
        assertThat(TrainingEffect.pooled(two)).isEqualTo(two);
    }

    private static Outcomes repeat(int[] folds, int[] actual, double[] positive) {
        List<Outcomes> all = new ArrayList<>();
        for (int f = 0; f < 2; f++) {
            int fold = f;
            int[] rows = java.util.stream.IntStream.range(0, folds.length)
                    .filter(i -> folds[i] == fold)
                    .toArray();
            double[] p = new double[2 * rows.length];
            for (int i = 0; i < rows.length; i++) {
                p[2 * i] = 1 - positive[rows[i]];
                p[2 * i + 1] = positive[rows[i]];
            }
            all.add(Outcomes.of(
                    2, f, rows, Arrays.stream(rows).map(i -> actual[i]).toArray(), p));
        }
        return Outcomes.join(all);
    }

    @Test
    void whatMovesNothingIsNotWidened() {
        int[] actual = {0, 0, 0, 1, 1, 1};
        int[] one = {0, 1, 0, 1, 0, 1};
        int[] two = {1, 1, 0, 0, 0, 1};
        double[] steady = {0.1, 0.2, 0.6, 0.5, 0.7, 0.9};
        double[] guess = {0.5, 0.5, 0.5, 0.5, 0.5, 0.5};
        double[] restless = {0.9, 0.2, 0.3, 0.8, 0.1, 0.4};
        Placed placed = Placed.of(
                Map.of(
                        "steady", List.of(repeat(one, actual, steady), repeat(two, actual, steady)),
                        "guess", List.of(repeat(one, actual, guess), repeat(two, actual, guess)),
                        "restless", List.of(repeat(one, actual, steady), repeat(two, actual, restless))),
                6,
                2);
        assertThat(placed.effect("steady", "", 2, false)).isEqualTo(TrainingEffect.NONE);
        assertThat(placed.effect("steady", "guess", 2, true)).isEqualTo(TrainingEffect.NONE);
        // By hand: of class 1 the placements 2/3, 1, 1 in both repeats, and of class 0 1, 1, 2/3.
        assertThat(placed.standing("steady", 0)[placed.rows().position(3)]).isEqualTo(2 / 3.0);
        assertThat(placed.standing("steady", 1)[placed.rows().position(2)]).isEqualTo(2 / 3.0);
        assertThat(placed.standing("guess", 0)[0]).isEqualTo(0.5);
        assertThat(placed.effect("restless", "", 2, false).instability()).isPositive();
        // Nothing but the same change in both leaves no difference to learn from: the instability of both serves.
        assertThat(placed.effect("restless", "restless", 2, false).covariance()).isNaN();
        assertThat(placed.effect("restless", "restless", 2, false).lambda()).isPositive();
    }

    /**
     * X and G as they are defined, row by row and fold by fold: of standings that are kept for all passes, and of more than
     * are kept. Some rows are not tested in each repeat.
     */
    @ParameterizedTest
    @CsvSource({"40, 7, 4", "700, 400, 5"})
    void itIsAsDefined(int n, int repeats, int folds) {
        java.util.Random random = new java.util.Random(5);
        Map<String, List<Outcomes>> parts = new LinkedHashMap<>(Map.of("a", new ArrayList<>(), "b", new ArrayList<>()));
        int[][] foldOf = new int[repeats][n];
        for (int r = 0; r < repeats; r++) {
            List<List<Outcomes>> own = List.of(new ArrayList<>(), new ArrayList<>());
            for (int i = 0; i < n; i++) {
                foldOf[r][i] = random.nextInt(20) == 0 ? -1 : random.nextInt(folds);
            }
            for (int f = 0; f < folds; f++) {
                int fold = f;
                int[] of = foldOf[r];
                int[] rows = java.util.stream.IntStream.range(0, n)
                        .filter(i -> of[i] == fold)
                        .toArray();
                int[] actual = Arrays.stream(rows).map(i -> i % 3 == 0 ? 1 : 0).toArray();
                for (List<Outcomes> one : own) {
                    double[] p = new double[2 * rows.length];
                    for (int i = 0; i < rows.length; i++) {
                        p[2 * i + 1] = 1 / (1 + Math.exp(actual[i] + 0.1 * (rows[i] % 7) + random.nextGaussian()));
                        p[2 * i] = 1 - p[2 * i + 1];
                    }
                    one.add(Outcomes.of(2, f, rows, actual, p));
                }
            }
            parts.get("a").add(Outcomes.join(own.get(0)));
            parts.get("b").add(Outcomes.join(own.get(1)));
        }
        Placed placed = Placed.of(parts, n, 2);
        TestedRows rows = placed.rows();
        // Q, and over the repeats in which a row was tested its mean and variance.
        double[][] q = new double[repeats][];
        for (int r = 0; r < repeats; r++) {
            double[] b = placed.standing("b", r);
            q[r] = placed.standing("a", r);
            for (int row = 0; row < n; row++) {
                q[r][rows.position(row)] -= b[rows.position(row)];
            }
        }
        double[] mean = new double[n];
        double[] times = new double[n];
        double[] ofClass = {n - (n + 2) / 3, (n + 2) / 3};
        double w = 0;
        double v = 0;
        for (int c = 0; c < 2; c++) {
            List<Double> means = new ArrayList<>();
            double variances = 0;
            for (int i = 0; i < n; i++) {
                if ((i % 3 == 0 ? 1 : 0) == c) {
                    List<Double> tested = new ArrayList<>();
                    for (int r = 0; r < repeats; r++) {
                        if (foldOf[r][i] >= 0) {
                            tested.add(q[r][rows.position(i)]);
                        }
                    }
                    mean[i] = average(tested);
                    times[i] = tested.size();
                    means.add(mean[i]);
                    variances += variance(tested);
                }
            }
            w += variances / ofClass[c] / ofClass[c];
            v += variance(means) / ofClass[c];
        }
        double grand = 0;
        for (int i = 0; i < n; i++) {
            grand += mean[i] / ofClass[i % 3 == 0 ? 1 : 0];
        }
        List<Double> covariances = new ArrayList<>();
        List<Double> together = new ArrayList<>();
        List<Double> apart = new ArrayList<>();
        for (int r = 0; r < repeats; r++) {
            for (int f = 0; f < folds; f++) {
                double d = 0;
                double e = 0;
                int m = 0;
                for (int i = 0; i < n; i++) {
                    if (foldOf[r][i] == f) {
                        double scale = n / ofClass[i % 3 == 0 ? 1 : 0];
                        double off = (q[r][rows.position(i)] - mean[i]) * scale * Math.sqrt(times[i] / (times[i] - 1));
                        d += mean[i] * scale - grand;
                        e += off;
                        apart.add(off * off);
                        m++;
                    }
                }
                covariances.add(-2.0 * m / (m - 1) * (d / m) * (e / m));
                together.add(e * e / m);
            }
        }
        TrainingEffect effect = placed.effect("a", "b", folds, false);
        double x = average(covariances) / v;
        double g = (average(together) - average(apart)) * folds / n / v;
        assertThat(effect.covariance()).isCloseTo(x, within(1e-9 * Math.max(1, Math.abs(x))));
        assertThat(effect.together()).isCloseTo(g, within(1e-9 * Math.max(1, Math.abs(g))));
        double y = w / v * folds * folds / (folds - 1);
        assertThat(1 / effect.weight())
                .isCloseTo(1 + w / v * folds / repeats + 1 / (4 * y * y), within(1e-9 / effect.weight()));
    }

    private static double average(List<Double> values) {
        return values.stream().mapToDouble(Double::doubleValue).average().orElseThrow();
    }

    private static double variance(List<Double> values) {
        double mean = average(values);
        return values.stream().mapToDouble(v -> (v - mean) * (v - mean)).sum() / (values.size() - 1);
    }
}

package keenfold.cli;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import org.apache.commons.statistics.distribution.ChiSquaredDistribution;

/**
 * The inference of docs/methods.md, from draws to calls, once more, from an export of predictions alone: plain loops, nothing
 * shared with the program but the generator of random numbers. Two classes, no groups, at least two repeats.
 */
final class SlowInference {
    private final String metric;
    private final int n;
    private final int repeats;
    private final int folds;
    private final int[] actual;
    private final int[][] fold;
    private final Map<String, double[][]> positive = new LinkedHashMap<>();
    private final int[][] weights;
    private final double[] uniform;

    /** One difference or mean. */
    @SuppressWarnings("ArrayRecordComponent")
    record Estimate(double value, double se, double freedom, double lambda, double[] pivot) {
        double statistic() {
            return Math.abs(value) / se;
        }
    }

    SlowInference(String csv, String dataSet, String positiveLabel, long seed, String metric, int draws) {
        this.metric = metric;
        List<String[]> lines = csv.lines()
                .skip(1)
                .map(l -> l.split(",", -1))
                .filter(l -> l[0].equals(dataSet))
                .toList();
        List<String> header = List.of(csv.lines().findFirst().orElseThrow().split(",", -1));
        int column = header.indexOf("p:" + positiveLabel);
        this.n = lines.stream().mapToInt(l -> Integer.parseInt(l[1])).max().orElseThrow();
        this.repeats =
                lines.stream().mapToInt(l -> Integer.parseInt(l[2])).max().orElseThrow();
        this.folds = lines.stream().mapToInt(l -> Integer.parseInt(l[3])).max().orElseThrow();
        this.actual = new int[n];
        this.fold = new int[repeats][n];
        for (String[] l : lines) {
            int row = Integer.parseInt(l[1]) - 1;
            int r = Integer.parseInt(l[2]) - 1;
            actual[row] = l[5].equals(positiveLabel) ? 1 : 0;
            fold[r][row] = Integer.parseInt(l[3]);
            positive.computeIfAbsent(l[4], k -> new double[repeats][n])[r][row] = Double.parseDouble(l[column]);
        }
        Seed base = new Seed(seed).with("draw");
        this.weights = new int[draws][n];
        this.uniform = new double[draws];
        for (int b = 0; b < draws; b++) {
            RandomSource chance = base.with(b).chance();
            for (int i = 0; i < n; i++) {
                weights[b][chance.below(n)]++;
            }
            uniform[b] = base.with("pivot").with(b).chance().uniform();
        }
    }

    List<String> candidates() {
        return List.copyOf(positive.keySet());
    }

    private double score(double[] p, int[] foldOf, int[] w) {
        double sum = 0;
        double total = 0;
        if (metric.equals("auc")) {
            for (int i = 0; i < n; i++) {
                for (int j = 0; j < n; j++) {
                    if (actual[i] == 1 && actual[j] == 0 && foldOf[i] == foldOf[j]) {
                        double pairs = (double) w[i] * w[j];
                        total += pairs;
                        sum += p[i] > p[j] ? pairs : p[i] == p[j] ? pairs / 2 : 0;
                    }
                }
            }
            return sum / total;
        }
        double[] cells = new double[4];
        for (int i = 0; i < n; i++) {
            // A tie goes to the first class in code point order, which is "no" here.
            boolean yes = positiveIsFirst ? p[i] >= 0.5 : p[i] > 0.5;
            cells[2 * actual[i] + (yes ? 1 : 0)] += w[i];
            double given = actual[i] == 1 ? p[i] : 1 - p[i];
            sum -= w[i] * Math.log(Math.max(1e-15, given));
            total += w[i];
        }
        return switch (metric) {
            case "accuracy" -> (cells[0] + cells[3]) / total;
            case "f1" -> 2 * cells[3] / (2 * cells[3] + cells[1] + cells[2]);
            case "log-loss" -> sum / total;
            default -> throw new IllegalArgumentException(metric);
        };
    }

    private boolean positiveIsFirst;

    SlowInference positiveFirst() {
        positiveIsFirst = true;
        return this;
    }

    private double[] repeatScores(String c, int[] w) {
        return IntStream.range(0, repeats)
                .mapToDouble(r -> score(positive.get(c)[r], fold[r], w))
                .toArray();
    }

    private double theta(String c, int[] w) {
        return mean(repeatScores(c, w));
    }

    /** The mean of a candidate, or the difference of two if {@code against} is not empty, by itself. */
    Estimate estimate(String c, String against) {
        return estimate(c, against, metric.equals("log-loss") ? Lambda.of(0) : lambda(c, against));
    }

    /** Differences as they stand in a family, whose λ are drawn together. */
    List<Estimate> family(List<String[]> pairs) {
        List<Estimate> all = new ArrayList<>();
        List<Lambda> placed = new ArrayList<>();
        List<Lambda> counted = new ArrayList<>();
        for (String[] pair : pairs) {
            boolean loss = metric.equals("log-loss");
            placed.add(loss ? Lambda.of(0) : lambda(standings(pair[0], false), Optional.of(standings(pair[1], false))));
            counted.add(
                    metric.equals("f1")
                            ? lambda(standings(pair[0], true), Optional.of(standings(pair[1], true)))
                            : Lambda.of(0));
        }
        placed = Lambda.pooled(placed);
        counted = Lambda.pooled(counted);
        for (int i = 0; i < pairs.size(); i++) {
            Lambda larger = counted.get(i).value > placed.get(i).value ? counted.get(i) : placed.get(i);
            all.add(estimate(pairs.get(i)[0], pairs.get(i)[1], larger));
        }
        return all;
    }

    /** λ with what it was made of: X′, its variance, λ₀ and w; what its noise adds to 1/ν. */
    private record Lambda(double value, double noise, double estimate, double chance, double stable, double weight) {
        static Lambda of(double fixed) {
            return new Lambda(fixed, 0, 0, 0, fixed, 0);
        }

        static Lambda of(double estimate, double chance, double stable, double weight, double kept) {
            return new Lambda(
                    Math.max(0, weight * Math.min(2, estimate) + (1 - weight) * stable),
                    weight * weight * chance * kept / 4 / ((1 + stable) * (1 + stable)),
                    estimate,
                    chance,
                    stable,
                    weight);
        }

        static List<Lambda> pooled(List<Lambda> all) {
            List<Lambda> live = all.stream().filter(l -> l.weight > 0).toList();
            if (live.size() < 3) {
                return all;
            }
            int k = live.size();
            double[] x = live.stream().mapToDouble(Lambda::estimate).toArray();
            double[] z = live.stream().mapToDouble(Lambda::stable).toArray();
            double[] s2 =
                    live.stream().mapToDouble(l -> Math.max(1e-6, l.chance)).toArray();
            double tau = 0;
            double slope = 0;
            for (int pass = 0; pass < 2; pass++) {
                double uxz = 0;
                double uzz = 0;
                double u = 0;
                double uuzz = 0;
                for (int i = 0; i < k; i++) {
                    double own = 1 / (s2[i] + tau);
                    uxz += own * x[i] * z[i];
                    uzz += own * z[i] * z[i];
                    u += own;
                    uuzz += own * own * z[i] * z[i];
                }
                slope = uxz / uzz;
                if (pass == 0) {
                    double q = 0;
                    for (int i = 0; i < k; i++) {
                        q += Math.pow(x[i] - slope * z[i], 2) / s2[i];
                    }
                    tau = Math.max(0, (q - (k - 1)) / (u - uuzz / uzz));
                }
            }
            List<Lambda> pooled = new ArrayList<>();
            for (Lambda l : all) {
                double kept = tau / (tau + Math.max(1e-6, l.chance));
                double line = slope * l.stable;
                pooled.add(
                        l.weight > 0
                                ? of(
                                        line + kept * (l.estimate - line),
                                        l.chance,
                                        l.stable,
                                        l.weight,
                                        Math.max(kept, 1.0 / k))
                                : l);
            }
            return pooled;
        }
    }

    private Estimate estimate(String c, String against, Lambda other) {
        boolean single = against.isEmpty();
        int[] ones = new int[n];
        Arrays.fill(ones, 1);
        double value = theta(c, ones) - (single ? 0 : theta(against, ones));
        double[] draws = new double[weights.length];
        for (int b = 0; b < draws.length; b++) {
            draws[b] = theta(c, weights[b]) - (single ? 0 : theta(against, weights[b]));
        }
        double raw = variance(draws);
        double cases = n / (n - 1.0) * raw;
        double[] xw = loss(c);
        double[] perRepeat = repeatScores(c, ones);
        if (!single) {
            double[] otherLoss = loss(against);
            xw = new double[] {xw[0] + otherLoss[0], xw[1] + otherLoss[1]};
            double[] otherScores = repeatScores(against, ones);
            for (int r = 0; r < repeats; r++) {
                perRepeat[r] -= otherScores[r];
            }
        }
        double lambda = metric.equals("log-loss") ? Math.min(2, Math.max(0, xw[0] / xw[1])) : other.value;
        double total = cases * (1 + lambda);
        double freedom = n - 1;
        boolean byLambda = true;
        if (metric.equals("log-loss") && single) {
            total = cases + Math.max(0, Math.min(2 * cases, xw[0]));
        }
        if (metric.equals("auc") || metric.equals("f1")) {
            freedom = satterthwaite(c, against);
            if (single) {
                double byRepeats = (folds - 1) / 3.0 * variance(perRepeat);
                byLambda = lambda * cases >= byRepeats;
                total = cases + Math.max(lambda * cases, byRepeats);
            }
        }
        freedom = byLambda ? 1 / (1 / freedom + other.noise) : freedom;
        ChiSquaredDistribution law = ChiSquaredDistribution.of(freedom);
        double centre = mean(draws);
        double[] pivot = new double[draws.length];
        for (int b = 0; b < pivot.length; b++) {
            double u = law.inverseCumulativeProbability(uniform[b]) / freedom;
            pivot[b] = Math.abs(draws[b] - centre) / Math.sqrt(raw * u);
        }
        return new Estimate(value, Math.sqrt(total), freedom, lambda, pivot);
    }

    private double satterthwaite(String c, String against) {
        double[] without = new double[n];
        for (int i = 0; i < n; i++) {
            int[] w = new int[n];
            Arrays.fill(w, 1);
            w[i] = 0;
            without[i] = theta(c, w) - (against.isEmpty() ? 0 : theta(against, w));
        }
        double centre = mean(without);
        double[] v = new double[2];
        double[] count = new double[2];
        for (int i = 0; i < n; i++) {
            v[actual[i]] += (without[i] - centre) * (without[i] - centre);
            count[actual[i]]++;
        }
        double sum = v[0] + v[1];
        if (sum == 0) {
            return n - 1;
        }
        return sum * sum / (v[0] * v[0] / (count[0] - 1) + v[1] * v[1] / (count[1] - 1));
    }

    /** By placements; of a metric made of counts, by influences if that is more. */
    private Lambda lambda(String c, String against) {
        Optional<double[][]> other = against.isEmpty() ? Optional.empty() : Optional.of(standings(against, false));
        Lambda lambda = lambda(standings(c, false), other);
        if (!metric.equals("f1")) {
            return lambda;
        }
        Optional<double[][]> counted = against.isEmpty() ? Optional.empty() : Optional.of(standings(against, true));
        Lambda byCounts = lambda(standings(c, true), counted);
        return byCounts.value > lambda.value ? byCounts : lambda;
    }

    /** Per repeat and row: its placement, or its influence times the size of its class. */
    private double[][] standings(String c, boolean influences) {
        double[][] all = new double[repeats][n];
        int[] ones = new int[n];
        Arrays.fill(ones, 1);
        for (int i = 0; i < n; i++) {
            double[] placements = placements(c, i);
            int[] without = ones.clone();
            without[i] = 0;
            for (int r = 0; r < repeats; r++) {
                double[] p = positive.get(c)[r];
                all[r][i] = influences
                        ? (score(p, fold[r], ones) - score(p, fold[r], without)) * count(actual[i])
                        : placements[r];
            }
        }
        return all;
    }

    private double count(int k) {
        return IntStream.of(actual).filter(a -> a == k).count();
    }

    private double[] spread(double[][] q) {
        double w = 0;
        double v = 0;
        for (int k = 0; k < 2; k++) {
            List<double[]> own = new ArrayList<>();
            for (int i = 0; i < n; i++) {
                if (actual[i] == k) {
                    int row = i;
                    own.add(IntStream.range(0, repeats)
                            .mapToDouble(r -> q[r][row])
                            .toArray());
                }
            }
            double size = own.size();
            w += own.stream().mapToDouble(SlowInference::variance).sum() / size / size;
            v += variance(own.stream().mapToDouble(SlowInference::mean).toArray()) / size;
        }
        return new double[] {w, v};
    }

    private Lambda lambda(double[][] a, Optional<double[][]> b) {
        double[] own = spread(a);
        double[][] q = new double[repeats][n];
        for (int r = 0; r < repeats; r++) {
            for (int i = 0; i < n; i++) {
                q[r][i] = a[r][i] - (b.isPresent() ? b.get()[r][i] : 0);
            }
        }
        if (b.isPresent()) {
            double[] other = spread(b.get());
            own = new double[] {own[0] + other[0], own[1] + other[1]};
        }
        double kk = folds * folds / (folds - 1.0);
        double stable = own[0] == 0 ? 0 : own[1] == 0 ? 2 : 2 / (2 / Math.pow(kk * own[0] / own[1], 2) + 1);
        double[] wv = spread(q);
        if (own[0] == 0 || wv[1] == 0) {
            return Lambda.of(stable);
        }
        double[] l = new double[n];
        for (int i = 0; i < n; i++) {
            for (int r = 0; r < repeats; r++) {
                l[i] += q[r][i] * n / count(actual[i]) / repeats;
            }
        }
        double x = 0;
        double together = 0;
        double squares = 0;
        for (int r = 0; r < repeats; r++) {
            for (int f = 1; f <= folds; f++) {
                double d = 0;
                double e = 0;
                double m = 0;
                for (int i = 0; i < n; i++) {
                    if (fold[r][i] == f) {
                        double moved = (q[r][i] * n / count(actual[i]) - l[i]) * Math.sqrt(repeats / (repeats - 1.0));
                        d += l[i] - mean(l);
                        e += moved;
                        squares += moved * moved / (repeats * n);
                        m++;
                    }
                }
                x += -2 * m / (m - 1) * (d / m) * (e / m) / (repeats * folds);
                together += e * e / m / (repeats * folds);
            }
        }
        double y = wv[0] / wv[1] * kk;
        double g = folds * (together - squares) / n / wv[1];
        double weight = 1 / (1 + wv[0] / wv[1] * folds / repeats + 1 / (4 * y * y));
        double noise = 4.6 * wv[0] / wv[1] * folds / repeats;
        return Lambda.of(x / wv[1] - g / (1 + 10 * y * y), noise, stable, weight, 1);
    }

    /** Whether a candidate gives all rows of each fold the same probability. */
    private boolean ranksNone(String c, int r) {
        double[] p = positive.get(c)[r];
        for (int i = 0; i < n; i++) {
            for (int j = 0; j < n; j++) {
                if (fold[r][i] == fold[r][j] && p[i] != p[j]) {
                    return false;
                }
            }
        }
        return true;
    }

    private double[] placements(String c, int i) {
        double[] placements = new double[repeats];
        for (int r = 0; r < repeats; r++) {
            if (ranksNone(c, r)) {
                placements[r] = 0.5;
                continue;
            }
            double below = 0;
            double others = 0;
            for (int j = 0; j < n; j++) {
                if (actual[j] != actual[i]) {
                    double[] p = positive.get(c)[r];
                    double own = actual[i] == 1 ? p[i] : -p[i];
                    double other = actual[i] == 1 ? p[j] : -p[j];
                    below += own > other ? 1 : own == other ? 0.5 : 0;
                    others++;
                }
            }
            placements[r] = below / others;
        }
        return placements;
    }

    private double[] loss(String c) {
        double[][] l = new double[repeats][n];
        double[] b = new double[n];
        for (int r = 0; r < repeats; r++) {
            for (int i = 0; i < n; i++) {
                double p = positive.get(c)[r][i];
                l[r][i] = -Math.log(Math.max(1e-15, actual[i] == 1 ? p : 1 - p));
                b[i] += l[r][i] / repeats;
            }
        }
        double grand = mean(b);
        double x = 0;
        for (int r = 0; r < repeats; r++) {
            for (int f = 1; f <= folds; f++) {
                double d = 0;
                double e = 0;
                double m = 0;
                for (int i = 0; i < n; i++) {
                    if (fold[r][i] == f) {
                        d += b[i] - grand;
                        e += (l[r][i] - b[i]) * Math.sqrt(repeats / (repeats - 1.0));
                        m++;
                    }
                }
                x += -2 * m / (m - 1) * d / m * e / m / (repeats * folds);
            }
        }
        double w = 0;
        for (int k = 0; k < 2; k++) {
            int wanted = k;
            double[] own = IntStream.range(0, n)
                    .filter(i -> actual[i] == wanted)
                    .mapToDouble(i -> b[i])
                    .toArray();
            w += variance(own) * (own.length - 1) / (n * (n - 1.0));
        }
        return new double[] {x, w};
    }

    static double p(double[] sizes, double statistic) {
        return (1 + Arrays.stream(sizes).filter(t -> t >= statistic).count()) / (sizes.length + 1.0);
    }

    /** Step-down max-T: for each pair in turn the maximum over it and all pairs of smaller statistics. */
    static double[] adjusted(List<Estimate> pairs) {
        List<Integer> falling = IntStream.range(0, pairs.size())
                .boxed()
                .sorted(Comparator.comparingDouble(i -> -pairs.get(i).statistic()))
                .toList();
        double[] adjusted = new double[pairs.size()];
        double running = 0;
        for (int j = 0; j < falling.size(); j++) {
            List<Integer> rest = falling.subList(j, falling.size());
            double[] most = new double[pairs.get(0).pivot().length];
            for (int b = 0; b < most.length; b++) {
                int draw = b;
                most[b] = rest.stream()
                        .mapToDouble(i -> pairs.get(i).pivot()[draw])
                        .max()
                        .orElseThrow();
            }
            running = Math.max(running, p(most, pairs.get(falling.get(j)).statistic()));
            adjusted[falling.get(j)] = running;
        }
        return adjusted;
    }

    static double mean(double[] x) {
        return Arrays.stream(x).sum() / x.length;
    }

    static double variance(double[] x) {
        double mean = mean(x);
        return Arrays.stream(x).map(v -> (v - mean) * (v - mean)).sum() / (x.length - 1);
    }
}

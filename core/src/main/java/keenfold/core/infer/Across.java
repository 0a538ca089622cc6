package keenfold.core.infer;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.infer.contrast.Adjust;
import keenfold.core.infer.distribution.SignedRank;
import keenfold.core.infer.distribution.Special;
import keenfold.core.infer.distribution.StudentisedRange;

/**
 * Candidates compared across data sets by their ranks.
 *
 * <p>Definitions, N data sets, K candidates, r_ij the rank of candidate j on set i (1 is best, ties share their mean; means
 * are rounded to 1e-12 first), R_j = mean of r_ij: Friedman χ²_F = 12N/(K(K + 1))·(Σ R_j² − K(K + 1)²/4), with K − 1 degrees
 * of freedom; corrected for ties, divided by 1 − Σ(t³ − t)/(N·K(K² − 1)) over runs of t ties. Iman and Davenport
 * F = (N − 1)χ²_F/(N(K − 1) − χ²_F), from either form of χ²_F, on K − 1 and (K − 1)(N − 1) degrees of freedom; exact by
 * enumeration where N is at most 6 and there are at most 10⁶ arrangements, and where the statistic is at its maximum. Nemenyi's critical difference
 * q_α·√(K(K + 1)/(6N)), q_α the quantile of the studentised range of K normal values over √2.
 *
 * <p>References: Friedman (1937), J. Am. Stat. Assoc. 32(200), doi:10.1080/01621459.1937.10503522; Iman and Davenport (1980),
 * Commun. Stat. A 9(6), doi:10.1080/03610928008827904; Nemenyi (1963), thesis, Princeton; Demšar (2006), J. Mach. Learn.
 * Res. 7.
 */
public final class Across {
    /** Up to so many data sets all arrangements of ranks are counted. */
    private static final int MOST_COUNTED = 6;

    private static final double GRAIN = 1e12;
    private static final double MOST_ARRANGEMENTS = 1e6;

    private final double[][] scores;
    private final double[][] ranks;

    private Across(double[][] scores) {
        this.scores = scores;
        this.ranks = Arrays.stream(scores).map(Across::ranks).toArray(double[][]::new);
    }

    /**
     * Returns the comparison of mean scores.
     *
     * @param turned by data set and candidate, turned so that higher is better; all finite
     */
    public static Across of(double[][] turned) {
        Checks.that(turned.length >= 2, "%d data set: a comparison across needs at least 2", turned.length);
        Checks.that(
                turned[0].length >= 2,
                "%d candidate has a mean on every data set: at least 2 are needed",
                turned[0].length);
        double[][] rounded = new double[turned.length][];
        for (int i = 0; i < turned.length; i++) {
            rounded[i] = Arrays.stream(turned[i])
                    .map(v -> Math.rint(v * GRAIN) / GRAIN)
                    .toArray();
        }
        return new Across(rounded);
    }

    /** Ranks of one data set, 1 for the highest score, ties by their mean rank. */
    static double[] ranks(double[] scores) {
        double[] ranks = new double[scores.length];
        for (int j = 0; j < ranks.length; j++) {
            int above = 0;
            int equal = 0;
            for (double other : scores) {
                above += other > scores[j] ? 1 : 0;
                equal += other == scores[j] ? 1 : 0;
            }
            ranks[j] = above + (equal + 1) / 2.0;
        }
        return ranks;
    }

    /** Returns N. */
    public int sets() {
        return scores.length;
    }

    private int candidates() {
        return scores[0].length;
    }

    /** Returns the average rank of each candidate. */
    public double[] averageRanks() {
        double[] average = new double[candidates()];
        for (double[] own : ranks) {
            for (int j = 0; j < average.length; j++) {
                average[j] += own[j] / ranks.length;
            }
        }
        return average;
    }

    /**
     * A test of all candidates at once.
     *
     * @param statistic its value
     * @param p its p-value
     * @param exact whether p comes from all arrangements
     */
    public record Test(double statistic, double p, boolean exact) {}

    /** Returns Friedman's test; {@code corrected} for ties. */
    public Test friedman(boolean corrected) {
        double k = candidates();
        double statistic = chiSquare(corrected);
        double nu = k - 1;
        double p = statistic <= 0 ? 1 : StrictMath.exp(Special.logGammaQ(nu / 2, statistic / 2));
        return new Test(statistic, p, false);
    }

    private double chiSquare(boolean corrected) {
        double n = sets();
        double k = candidates();
        double squares = Arrays.stream(averageRanks()).map(r -> r * r).sum();
        double plain = 12 * n / (k * (k + 1)) * (squares - k * (k + 1) * (k + 1) / 4);
        plain = Math.max(0, plain);
        double ties = 0;
        for (double[] own : scores) {
            double[] sorted = own.clone();
            Arrays.sort(sorted);
            for (int from = 0; from < sorted.length; ) {
                int to = from;
                while (to < sorted.length && sorted[to] == sorted[from]) {
                    to++;
                }
                double t = to - from;
                ties += t * t * t - t;
                from = to;
            }
        }
        double left = 1 - ties / (n * k * (k * k - 1));
        return corrected ? (left > 0 ? plain / left : 0) : plain;
    }

    /** Returns Iman and Davenport's test, from the statistic corrected for ties: the one that is gone by. */
    public Test imanDavenport() {
        return imanDavenport(true);
    }

    /** Returns Iman and Davenport's test, from Friedman's statistic in the form of {@link #friedman}. */
    public Test imanDavenport(boolean corrected) {
        double n = sets();
        double k = candidates();
        double chi = chiSquare(corrected);
        double rest = n * (k - 1) - chi;
        boolean most = rest <= 1e-9;
        double f = most ? Double.POSITIVE_INFINITY : (n - 1) * chi / rest;
        double arrangements = StrictMath.pow(factorial(candidates()), n - 1);
        if (most && arrangements > MOST_ARRANGEMENTS) {
            // All data sets agree: so would they in one arrangement of the candidates out of K! for each further set.
            double without = untied() ? StrictMath.pow(factorial(candidates()), 1 - n) : Double.NaN;
            if (!Double.isNaN(without)) {
                return new Test(f, without, true);
            }
        }
        if ((sets() <= MOST_COUNTED || most) && arrangements <= MOST_ARRANGEMENTS) {
            return new Test(f, exact(), true);
        }
        double a = k - 1;
        double b = (k - 1) * (n - 1);
        double p = most ? 0 : chi <= 0 ? 1 : Special.beta(b / 2, a / 2, b / (b + a * f));
        return new Test(f, p, false);
    }

    private boolean untied() {
        return Arrays.stream(scores)
                .allMatch(own -> Arrays.stream(own).distinct().count() == own.length);
    }

    private static double factorial(int k) {
        double product = 1;
        for (int i = 2; i <= k; i++) {
            product *= i;
        }
        return product;
    }

    /** Share of the arrangements of ranks within all sets but the first whose Σ R_j² is at least as large. */
    private double exact() {
        List<int[]> orders = new ArrayList<>();
        permutations(new int[candidates()], 0, orders);
        double[] sums = ranks[0].clone();
        double[] observed = new double[candidates()];
        for (double[] own : ranks) {
            for (int j = 0; j < observed.length; j++) {
                observed[j] += own[j];
            }
        }
        long[] counts = new long[2];
        enumerate(1, sums, orders, Arrays.stream(observed).map(s -> s * s).sum() - 1e-9, counts);
        return (double) counts[0] / counts[1];
    }

    private void enumerate(int set, double[] sums, List<int[]> orders, double observed, long[] counts) {
        if (set == ranks.length) {
            counts[1]++;
            counts[0] += Arrays.stream(sums).map(s -> s * s).sum() >= observed ? 1 : 0;
            return;
        }
        for (int[] order : orders) {
            double[] next = sums.clone();
            for (int j = 0; j < next.length; j++) {
                next[j] += ranks[set][order[j]];
            }
            enumerate(set + 1, next, orders, observed, counts);
        }
    }

    private static void permutations(int[] begun, int length, List<int[]> all) {
        if (length == begun.length) {
            all.add(begun.clone());
            return;
        }
        for (int next = 0; next < begun.length; next++) {
            boolean used = false;
            for (int i = 0; i < length; i++) {
                used |= begun[i] == next;
            }
            if (!used) {
                begun[length] = next;
                permutations(begun, length + 1, all);
            }
        }
    }

    /** Returns the difference of average ranks above which two candidates are apart at error rate {@code alpha}. */
    public double nemenyi(double alpha) {
        double k = candidates();
        return StudentisedRange.quantile(candidates(), 1 - alpha)
                / Math.sqrt(2)
                * Math.sqrt(k * (k + 1) / (6.0 * sets()));
    }

    /**
     * Two candidates across data sets.
     *
     * @param candidate position of the first
     * @param against position of the second
     * @param statistic W+, the sum of the ranks of positive differences, zeros split evenly
     * @param p two-sided
     * @param pAdjusted by Holm over all pairs
     * @param exact whether p comes from all signs
     */
    public record Pair(int candidate, int against, double statistic, double p, double pAdjusted, boolean exact) {}

    /**
     * Returns the least p-value, adjusted by Holm, that Wilcoxon's test can give any pair: 2/2^N, with as many pairs as there
     * are, when all N data sets point the same way.
     */
    public double leastAdjusted() {
        return leastAdjusted(sets(), candidates());
    }

    /** The same of any number of data sets and candidates. */
    static double leastAdjusted(int sets, int candidates) {
        return Math.min(1, candidates * (candidates - 1) / 2.0 * StrictMath.pow(2, 1 - sets));
    }

    /** Returns how many data sets it takes until a pair of these candidates can have a p-value below {@code alpha}. */
    public int setsFor(double alpha) {
        int sets = 1;
        while (leastAdjusted(sets, candidates()) >= alpha) {
            sets++;
        }
        return sets;
    }

    /** Returns Wilcoxon's signed-rank test of every pair. */
    public List<Pair> wilcoxon() {
        List<Pair> pairs = new ArrayList<>();
        for (int a = 0; a < candidates(); a++) {
            for (int b = a + 1; b < candidates(); b++) {
                int first = a;
                int second = b;
                SignedRank test = SignedRank.of(Arrays.stream(scores)
                        .mapToDouble(s -> Math.rint((s[first] - s[second]) * GRAIN) / GRAIN)
                        .toArray());
                pairs.add(new Pair(a, b, test.statistic(), test.p(), 1, test.exact()));
            }
        }
        double[] adjusted = Adjust.holm(pairs.stream().mapToDouble(Pair::p).toArray());
        List<Pair> all = new ArrayList<>();
        for (int i = 0; i < adjusted.length; i++) {
            Pair p = pairs.get(i);
            all.add(new Pair(p.candidate, p.against, p.statistic, p.p, adjusted[i], p.exact));
        }
        return all;
    }
}

package keenfold.core.infer.distribution;

import java.util.Arrays;

/**
 * Wilcoxon's signed-rank test of paired differences.
 *
 * <p>Definition: absolute differences are ranked, ties by their mean rank; W+ sums the ranks of positive ones, and half of
 * those of zeros. For at most 25 differences p is exact, P(W ≤ min(W+, W−)) over all signs of those that are not 0, twice,
 * ties or not; otherwise normal, with mean n(n + 1)/4 and variance n(n + 1)(2n + 1)/24 − Σ(t³ − t)/48 over runs of t ties among the
 * differences that are not 0, less the zeros' z(z + 1)(2z + 1)/24.
 *
 * <p>Reference: Wilcoxon (1945), Biometrics Bull. 1(6), doi:10.2307/3001968; zeros split as in Demšar (2006), J. Mach.
 * Learn. Res. 7, and Pratt (1959), J. Am. Stat. Assoc. 54(287), for the variance.
 *
 * @param statistic W+
 * @param p two-sided
 * @param exact whether p comes from all signs
 */
public record SignedRank(double statistic, double p, boolean exact) {
    private static final int MOST_EXACT = 25;

    /** Returns the test of differences, one per data set. */
    public static SignedRank of(double[] differences) {
        int n = differences.length;
        double[] size = Arrays.stream(differences).map(Math::abs).toArray();
        double[] ranks = new double[n];
        int zeros = 0;
        for (int i = 0; i < n; i++) {
            int below = 0;
            int equal = 0;
            for (double other : size) {
                below += other < size[i] ? 1 : 0;
                equal += other == size[i] ? 1 : 0;
            }
            ranks[i] = below + (equal + 1) / 2.0;
            zeros += size[i] == 0 ? 1 : 0;
        }
        double plus = 0;
        for (int i = 0; i < n; i++) {
            plus += differences[i] > 0 ? ranks[i] : differences[i] == 0 ? ranks[i] / 2 : 0;
        }
        double all = n * (n + 1) / 2.0;
        if (zeros == n) {
            return new SignedRank(plus, 1, true);
        }
        if (n <= MOST_EXACT) {
            return new SignedRank(plus, exact(differences, ranks), true);
        }
        double variance = n * (n + 1.0) * (2 * n + 1) / 24 - zeros * (zeros + 1.0) * (2 * zeros + 1) / 24;
        double[] sorted = size.clone();
        Arrays.sort(sorted);
        for (int from = zeros; from < n; ) {
            int to = from;
            while (to < n && sorted[to] == sorted[from]) {
                to++;
            }
            double t = to - from;
            variance -= (t * t * t - t) / 48;
            from = to;
        }
        double z = Math.abs(plus - all / 2) / Math.sqrt(variance);
        return new SignedRank(plus, Math.min(1, 2 * StrictMath.exp(Special.logNormalTail(-z))), false);
    }

    /** 2·P(W ≤ min(W+, W−)) over the signs of what is not 0, at most 1: sets of ranks counted by twice their sum. */
    private static double exact(double[] differences, double[] ranks) {
        int all = 0;
        int plus = 0;
        double[] sets = new double[ranks.length * (ranks.length + 1) + 1];
        sets[0] = 1;
        int signs = 0;
        for (int i = 0; i < ranks.length; i++) {
            if (differences[i] != 0) {
                int rank = (int) Math.round(2 * ranks[i]);
                all += rank;
                plus += differences[i] > 0 ? rank : 0;
                signs++;
                for (int sum = sets.length - 1; sum >= rank; sum--) {
                    sets[sum] += sets[sum - rank];
                }
            }
        }
        double below = 0;
        for (int sum = 0; sum <= Math.min(plus, all - plus); sum++) {
            below += sets[sum];
        }
        return Math.min(1, 2 * below / StrictMath.pow(2, signs));
    }
}

package keenfold.core.infer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.infer.distribution.SignedRank;
import keenfold.core.infer.distribution.StudentisedRange;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class AcrossTest {
    /**
     * Four classifiers on fourteen data sets, with the rank sums of the worked example of Demšar (2006), section 3.2.2, and
     * the signed ranks of its section 3.1.3.
     */
    private static final double[][] PUBLISHED = {
        {.763, .768, .771, .798},
        {.599, .591, .590, .569},
        {.954, .971, .968, .967},
        {.628, .661, .654, .657},
        {.882, .888, .886, .898},
        {.936, .931, .916, .931},
        {.661, .668, .609, .685},
        {.583, .583, .563, .625},
        {.775, .838, .870, .870},
        {1.000, 1.000, 1.000, 1.000},
        {.940, .962, .965, .962},
        {.619, .666, .614, .669},
        {.972, .981, .975, .975},
        {.957, .978, .946, .970}
    };

    @Test
    void thePublishedExampleComesOut() {
        Across across = Across.of(PUBLISHED);
        double[] ranks = across.averageRanks();
        assertThat(ranks[0]).isCloseTo(3.143, within(5e-4));
        assertThat(ranks[1]).isCloseTo(2.000, within(5e-4));
        assertThat(ranks[2]).isCloseTo(2.893, within(5e-4));
        assertThat(ranks[3]).isCloseTo(1.964, within(5e-4));
        assertThat(across.friedman(false).statistic()).isCloseTo(9.28, within(0.01));
        // F = 13·9.28/(14·3 − 9.28) = 3.69, of the statistic without the correction for ties.
        assertThat(across.imanDavenport(false).statistic()).isCloseTo(3.69, within(0.01));
        assertThat(across.imanDavenport().statistic()).isGreaterThan(3.7);
        assertThat(across.friedman(true).statistic())
                .isGreaterThan(across.friedman(false).statistic());
        assertThat(across.nemenyi(0.05)).isCloseTo(1.25, within(0.005));
        assertThat(across.nemenyi(0.10)).isCloseTo(1.12, within(0.005));
    }

    /** The same paper: of the first two classifiers the ranks sum to 93 and 12. */
    @Test
    void thePublishedSignedRanksComeOut() {
        SignedRank test = SignedRank.of(Arrays.stream(PUBLISHED)
                .mapToDouble(s -> Math.rint(1000 * (s[1] - s[0])))
                .toArray());
        assertThat(test.statistic()).isCloseTo(93, within(1e-12));
        assertThat(14 * 15 / 2.0 - test.statistic()).isCloseTo(12, within(1e-12));
        assertThat(test.exact()).isTrue();
        assertThat(test.p()).isBetween(0.005, 0.02);
    }

    /** Critical values of the two-tailed Nemenyi test at 0.05 and 0.10, as printed in the same paper. */
    @ParameterizedTest
    @CsvSource({"2, 1.960, 1.645", "3, 2.343, 2.052", "4, 2.569, 2.291", "5, 2.728, 2.459", "10, 3.164, 2.920"})
    void studentisedRangesAreThePrintedOnes(int k, double five, double ten) {
        assertThat(StudentisedRange.quantile(k, 0.95) / Math.sqrt(2)).isCloseTo(five, within(1e-3));
        assertThat(StudentisedRange.quantile(k, 0.90) / Math.sqrt(2)).isCloseTo(ten, within(1e-3));
    }

    /** All signs of n differences, counted one by one. */
    @Test
    void exactSignedRanksAreThoseOfAllSigns() {
        RandomSource chance = new Seed(8).chance();
        for (int n = 1; n <= 10; n++) {
            for (boolean ties : new boolean[] {false, true}) {
                double[] d = new double[n];
                int[] order = new int[n];
                Arrays.setAll(order, i -> i + 1);
                chance.shuffle(order);
                for (int i = 0; i < n; i++) {
                    // With ties, sizes 1, 1, 2, 2, …, after one that is 0.
                    d[i] = (ties ? order[i] / 2 : order[i]) * (chance.below(3) == 0 ? -1 : 1);
                }
                double[] ranks = new double[n];
                for (int i = 0; i < n; i++) {
                    double own = Math.abs(d[i]);
                    ranks[i] = Arrays.stream(d).filter(v -> Math.abs(v) < own).count()
                            + (Arrays.stream(d).filter(v -> Math.abs(v) == own).count() + 1) / 2.0;
                }
                double plus = 0;
                double minus = 0;
                for (int i = 0; i < n; i++) {
                    plus += d[i] > 0 ? ranks[i] : d[i] == 0 ? ranks[i] / 2 : 0;
                    minus += d[i] < 0 ? ranks[i] : d[i] == 0 ? ranks[i] / 2 : 0;
                }
                int atMost = 0;
                for (int signs = 0; signs < 1 << n; signs++) {
                    double sum = 0;
                    for (int i = 0; i < n; i++) {
                        sum += d[i] == 0 ? ranks[i] / 2 : (signs >> i & 1) == 1 ? ranks[i] : 0;
                    }
                    atMost += sum <= Math.min(plus, minus) ? 1 : 0;
                }
                SignedRank test = SignedRank.of(d);
                assertThat(test.exact()).isTrue();
                assertThat(test.statistic()).isEqualTo(plus);
                assertThat(test.p()).isCloseTo(Math.min(1, 2.0 * atMost / (1 << n)), within(1e-15));
            }
        }
    }

    @Test
    void zerosAreSplitAndAllZerosSayNothing() {
        // |d| 0 0 1 2: ranks 1.5 1.5 3 4; W+ = 0.75 + 0.75 + 4.
        assertThat(SignedRank.of(new double[] {0, 0, -1, 2}).statistic()).isEqualTo(5.5);
        assertThat(SignedRank.of(new double[] {0, 0, 0}).p()).isEqualTo(1);
    }

    /** Three candidates on three sets: the share of all 36 arrangements of the other two that are as far apart. */
    @Test
    void exactArrangementsAreCounted() {
        double[][] scores = {{3, 2, 1}, {3, 1, 2}, {3, 2, 1}};
        int[][] orders = {{1, 2, 3}, {1, 3, 2}, {2, 1, 3}, {2, 3, 1}, {3, 1, 2}, {3, 2, 1}};
        double observed = 9 + 49 + 64;
        int asFar = 0;
        for (int[] a : orders) {
            for (int[] b : orders) {
                double sum = 0;
                for (int j = 0; j < 3; j++) {
                    double s = j + 1 + a[j] + b[j];
                    sum += s * s;
                }
                asFar += sum >= observed ? 1 : 0;
            }
        }
        Across.Test test = Across.of(scores).imanDavenport();
        assertThat(test.exact()).isTrue();
        assertThat(test.p()).isCloseTo(asFar / 36.0, within(1e-15));
    }

    /** Seven sets that all agree: 2/2^7 for each of 21 pairs of seven candidates. */
    @Test
    void fewSetsAndManyPairsCannotBeSignificant() {
        double[][] scores = new double[7][];
        Arrays.setAll(scores, i -> new double[] {.9 + .01 * i, .8, .7, .6, .5, .4, .3});
        Across across = Across.of(scores);
        assertThat(across.leastAdjusted()).isCloseTo(21 * 2 / 128.0, within(1e-15));
        assertThat(across.wilcoxon()).allMatch(p -> p.p() == 2 / 128.0 && p.exact());
        assertThat(across.wilcoxon().get(0).pAdjusted()).isCloseTo(across.leastAdjusted(), within(1e-15));
        // 21/2^9 = 0.041.
        assertThat(across.setsFor(0.05)).isEqualTo(10);
    }

    @Test
    void fullAgreementOfManySetsIsExactToo() {
        double[][] scores = new double[12][];
        Arrays.setAll(scores, i -> new double[] {4, 3, 2, 1});
        Across.Test test = Across.of(scores).imanDavenport();
        assertThat(test.exact()).isTrue();
        assertThat(test.p()).isCloseTo(Math.pow(24, -11), within(1e-18));
    }

    @Test
    void tiesShareTheirRanksAndRoundingMakesNone() {
        assertThat(Across.ranks(new double[] {0.5, 0.7, 0.5, 0.1})).containsExactly(2.5, 1, 2.5, 4);
        assertThat(Across.of(new double[][] {{0.3, 0.1 + 0.2}, {0.3, 0.1 + 0.2}})
                        .averageRanks())
                .containsExactly(1.5, 1.5);
        assertThat(Across.of(new double[][] {{1, 1}, {1, 1}}).friedman(true).p())
                .isEqualTo(1);
        assertThatThrownBy(() -> Across.of(new double[][] {{1, 2}})).hasMessageContaining("needs at least 2");
    }
}

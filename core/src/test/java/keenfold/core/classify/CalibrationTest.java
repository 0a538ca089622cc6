package keenfold.core.classify;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.stream.IntStream;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class CalibrationTest {
    private static double[] both(double... p) {
        return Arrays.stream(p)
                .flatMap(v -> Arrays.stream(new double[] {1 - v, v}))
                .toArray();
    }

    private static double[] positive(double[] both) {
        return IntStream.range(0, both.length / 2)
                .mapToDouble(i -> both[2 * i + 1])
                .toArray();
    }

    /** Pooling by hand: 0.3 and 0.4 violate the order and share 1 of 3; 0.6 and 0.9 hold. */
    @Test
    void isotonicPoolsNeighboursThatViolateTheOrder() {
        Calibration c = Calibration.isotonic(
                both(0.1, 0.3, 0.4, 0.4, 0.6, 0.9), new int[] {0, 1, 0, 0, 1, 1}, new double[] {1, 1, 1, 1, 1, 1}, 2);
        double third = 1.0 / 3;
        assertThat(positive(c.apply(both(0, 0.1, 0.15, 0.3, 0.35, 0.4, 0.45, 0.55, 0.6, 1), 2)))
                .containsExactly(new double[] {0, 0, 0, third, third, third, third, 1, 1, 1}, within(1e-15));
        // 0.6 and 0.9 have the same share and are one step.
        assertThat(c.parameters()).isEqualTo(3);
    }

    /** Isotonic regression is the rising function of least squares: brute force over all of few levels. */
    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4})
    void isotonicIsTheRisingFunctionOfLeastSquares(long seed) {
        RandomSource chance = new Seed(seed).chance();
        double[] p =
                IntStream.range(0, 7).mapToDouble(i -> chance.below(5) / 4.0).toArray();
        int[] y = IntStream.range(0, 7).map(i -> chance.below(2)).toArray();
        double[] w = IntStream.range(0, 7).mapToDouble(i -> 1 + chance.below(3)).toArray();
        double[] fitted = positive(Calibration.isotonic(both(p), y, w, 2).apply(both(p), 2));
        double least = squares(fitted, y, w);
        // The best value of a run of levels is its mean: all rising choices among the means of runs.
        double[] levels = IntStream.range(0, 25)
                .mapToDouble(run -> mean(p, y, w, run / 5, run % 5))
                .filter(m -> !Double.isNaN(m))
                .sorted()
                .distinct()
                .toArray();
        double best = Double.POSITIVE_INFINITY;
        for (int code = 0; code < Math.pow(levels.length, 5); code++) {
            int[] at = new int[5];
            for (int k = 0, left = code; k < 5; k++, left /= levels.length) {
                at[k] = left % levels.length;
            }
            if (IntStream.range(1, 5).allMatch(k -> at[k - 1] <= at[k])) {
                best = Math.min(
                        best,
                        squares(
                                Arrays.stream(p)
                                        .map(v -> levels[at[(int) (4 * v)]])
                                        .toArray(),
                                y,
                                w));
            }
        }
        assertThat(least).isCloseTo(best, within(1e-12));
    }

    /** The weighted share of the class among rows of levels from … to; NaN if there are none. */
    private static double mean(double[] p, int[] y, double[] w, int from, int to) {
        double sum = 0;
        double all = 0;
        for (int i = 0; i < p.length; i++) {
            if (4 * p[i] >= from && 4 * p[i] <= to) {
                sum += w[i] * y[i];
                all += w[i];
            }
        }
        return sum / all;
    }

    private static double squares(double[] fitted, int[] y, double[] w) {
        return IntStream.range(0, y.length)
                .mapToDouble(i -> w[i] * (fitted[i] - y[i]) * (fitted[i] - y[i]))
                .sum();
    }

    /** At Platt's maximum both derivatives of the likelihood of his targets are 0. */
    @Test
    void plattMaximisesTheLikelihoodOfItsTargets() {
        RandomSource chance = new Seed(5).chance();
        int n = 200;
        double[] p = IntStream.range(0, n).mapToDouble(i -> chance.uniform()).toArray();
        int[] y = IntStream.range(0, n)
                .map(i -> chance.uniform() < p[i] * p[i] ? 1 : 0)
                .toArray();
        double[] w = IntStream.range(0, n).mapToDouble(i -> 1 + i % 2).toArray();
        Calibration c = Calibration.platt(both(p), y, w, 2);
        double[] fitted = positive(c.apply(both(p), 2));
        double up = IntStream.range(0, n).mapToDouble(i -> y[i] * w[i]).sum();
        double down = Arrays.stream(w).sum() - up;
        double byOne = 0;
        double byScore = 0;
        for (int i = 0; i < n; i++) {
            double off = w[i] * ((y[i] == 1 ? (up + 1) / (up + 2) : 1 / (down + 2)) - fitted[i]);
            byOne += off;
            byScore += off * Math.log(p[i] / (1 - p[i]));
        }
        assertThat(byOne).isCloseTo(0, within(1e-7));
        assertThat(byScore).isCloseTo(0, within(1e-7));
        assertThat(c.parameters()).isEqualTo(2);
        // Over-confident probabilities are drawn in.
        double[] drawn = positive(c.apply(both(0.5), 2));
        assertThat(drawn[0]).isBetween(0.1, 0.45);
    }

    @Test
    void theOrderOfRowsIsNeverTurned() {
        // The higher the probability, the fewer of the class: Platt's slope would be below 0.
        Calibration c =
                Calibration.platt(both(0.1, 0.2, 0.8, 0.9), new int[] {1, 1, 0, 0}, new double[] {1, 1, 1, 1}, 2);
        double[] p = positive(c.apply(both(0.05, 0.95), 2));
        assertThat(p[0]).isEqualTo(p[1]).isCloseTo(0.5, within(1e-9));
    }

    @Test
    void severalClassesSumToOne() {
        double[] p = {0.8, 0.1, 0.1, 0.2, 0.6, 0.2, 0.3, 0.3, 0.4, 0.5, 0.2, 0.3};
        int[] y = {0, 1, 2, 0};
        double[] w = {1, 1, 1, 1};
        for (boolean platt : new boolean[] {true, false}) {
            Calibration c = platt ? Calibration.platt(p, y, w, 3) : Calibration.isotonic(p, y, w, 3);
            double[] made = c.apply(p, 3);
            for (int i = 0; i < 12; i += 3) {
                assertThat(made[i] + made[i + 1] + made[i + 2]).isCloseTo(1, within(1e-12));
            }
        }
    }
}

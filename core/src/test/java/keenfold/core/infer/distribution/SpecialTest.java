package keenfold.core.infer.distribution;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import org.apache.commons.statistics.distribution.BetaDistribution;
import org.apache.commons.statistics.distribution.ChiSquaredDistribution;
import org.apache.commons.statistics.distribution.NormalDistribution;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Against commons-statistics, whose own last bits may differ between machines. */
class SpecialTest {
    private static final NormalDistribution NORMAL = NormalDistribution.of(0, 1);

    @ParameterizedTest
    @ValueSource(doubles = {1e-15, 1e-9, 0.001, 0.02425, 0.3, 0.5, 0.7, 0.975, 0.9999, 1 - 1e-12})
    void normalQuantile(double p) {
        assertThat(Special.normalQuantile(p)).isCloseTo(NORMAL.inverseCumulativeProbability(p), within(1e-9));
    }

    @ParameterizedTest
    @ValueSource(doubles = {1, 1.7, 2, 5, 12.3, 15.999, 16, 39, 153, 639, 5000, 62500, 1e6, 1e8})
    void chiSquareQuantileDirectAndInterpolated(double nu) {
        ChiSquaredDistribution law = ChiSquaredDistribution.of(nu);
        ScaledChiSquare scaled = new ScaledChiSquare(nu);
        for (double z = -4.2; z <= 4.2; z += 0.35) {
            double p = NORMAL.cumulativeProbability(z);
            double expected = z > 0
                    ? law.inverseSurvivalProbability(NORMAL.survivalProbability(z))
                    : law.inverseCumulativeProbability(p);
            assertThat(Special.chiSquareQuantile(nu, z) / expected).isCloseTo(1, within(1e-7));
        }
        for (double z = -6.9; z <= 6.9; z += 0.23) {
            assertThat(scaled.roots(new double[] {z})[0] / Math.sqrt(Special.chiSquareQuantile(nu, z) / nu))
                    .as("z %s", z)
                    .isCloseTo(1, within(nu < 2 ? 2e-9 : 1e-10));
        }
    }

    /** Printed tables: χ²(0.95; 1) = 3.841459, χ²(0.95; 10) = 18.307038, χ²(0.05; 10) = 3.940299. */
    @Test
    void chiSquareQuantilesOfATable() {
        double z = Special.normalQuantile(0.95);
        assertThat(Special.chiSquareQuantile(1, z)).isCloseTo(3.841459, within(1e-6));
        assertThat(Special.chiSquareQuantile(10, z)).isCloseTo(18.307038, within(1e-6));
        assertThat(Special.chiSquareQuantile(10, -z)).isCloseTo(3.940299, within(1e-6));
    }

    @ParameterizedTest
    @CsvSource({"1,1", "0.5,3", "2,30", "17.5,400.5", "1,640", "300,2"})
    void betaQuantile(double a, double b) {
        BetaDistribution law = BetaDistribution.of(a, b);
        for (double p : new double[] {0.001, 0.025, 0.5, 0.975, 0.999}) {
            assertThat(Special.betaQuantile(a, b, p)).isCloseTo(law.inverseCumulativeProbability(p), within(1e-9));
        }
    }

    @Test
    void logGammaOfWholeAndHalfNumbers() {
        assertThat(Special.logGamma(1)).isCloseTo(0, within(1e-14));
        assertThat(Special.logGamma(6)).isCloseTo(Math.log(120), within(1e-13));
        assertThat(Special.logGamma(0.5)).isCloseTo(Math.log(Math.PI) / 2, within(1e-14));
        assertThat(Special.logGamma(0.25)).isCloseTo(Math.log(3.625609908221908), within(1e-14));
    }
}

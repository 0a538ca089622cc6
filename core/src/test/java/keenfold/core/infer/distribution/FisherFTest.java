package keenfold.core.infer.distribution;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import org.apache.commons.statistics.distribution.FDistribution;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class FisherFTest {
    @ParameterizedTest
    @CsvSource({"0.035, 12, 40", "0.5, 25, 99", "1, 7, 7", "2.4, 18.5, 33.25", "9, 3, 150"})
    void itIsTwiceTheSmallerTail(double ratio, double above, double below) {
        FDistribution law = FDistribution.of(above, below);
        double smaller = Math.min(law.cumulativeProbability(ratio), law.survivalProbability(ratio));
        assertThat(FisherF.twoSided(ratio, above, below)).isCloseTo(Math.min(1, 2 * smaller), within(1e-12));
    }

    @Test
    void theInverseRatioIsAsFarOut() {
        assertThat(FisherF.twoSided(0.25, 9, 30)).isCloseTo(FisherF.twoSided(4, 30, 9), within(1e-14));
    }
}

package keenfold.core.metric;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

class CalibrationBinsTest {
    /** An end belongs to the bin that begins there, however it was computed. */
    @Test
    void endsAreTenthsAsTheyAreMeant() {
        for (int b = 0; b < CalibrationBins.COUNT; b++) {
            assertThat(CalibrationBins.of(b / 10.0)).as("%d/10", b).isEqualTo(b);
            assertThat(CalibrationBins.of(1 - (10 - b) / 10.0))
                    .as("1 - %d/10", 10 - b)
                    .isEqualTo(b);
            assertThat(CalibrationBins.of(b / 10.0 + 0.0999)).isEqualTo(b);
        }
        assertThat(1 - 0.8).as("rounding that moved it before").isLessThan(0.2);
        assertThat(CalibrationBins.of(0.2 - 1e-6)).isEqualTo(1);
        assertThat(CalibrationBins.of(1)).isEqualTo(9);
    }

    /** Two rows at 0.2, written in two ways, are one bin: |0.2 + 0.2 − 1|/2. */
    @Test
    void theMetricPutsThemTogether() {
        double other = 1 - 0.8;
        Outcomes outcomes =
                Outcomes.of(2, 0, new int[] {0, 1}, new int[] {0, 1}, new double[] {0.8, 0.2, 1 - other, other});
        double error =
                CalibrationMetric.of("calibration-error", new double[] {0, 1}).score(outcomes);
        assertThat(error).isCloseTo(0.3, org.assertj.core.api.Assertions.within(1e-12));
    }
}

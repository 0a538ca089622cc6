package keenfold.core.infer.resample;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.stream.IntStream;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import org.junit.jupiter.api.Test;

class PivotTest {
    /** Draws from a normal law: |T*| follows Student's t with ν degrees of freedom, whose quantiles are in every table. */
    @Test
    void normalDrawsGiveStudentsT() {
        int draws = 60_000;
        RandomSource chance = new Seed(9).chance();
        double[] normal = IntStream.range(0, draws)
                .mapToDouble(i -> 5 + 2 * chance.normal())
                .toArray();
        double[] z = IntStream.range(0, draws).mapToDouble(i -> chance.normal()).toArray();
        double raw = VarianceModel.sampleVariance(normal);
        Pivot pivot = Pivot.of(normal, new Variance(raw, raw, raw, 8, 0, 0), new Pivot.Roots(z, z));
        assertThat(pivot.quantile(0.95)).isCloseTo(2.306, within(0.04));
        assertThat(pivot.quantile(0.8)).isCloseTo(1.397, within(0.02));
        assertThat(pivot.p(2.306)).isCloseTo(0.05, within(0.004));
        assertThat(pivot.p(1e9)).isEqualTo(1.0 / (draws + 1));
    }

    @Test
    void quantilesAndPValuesCount() {
        double[] sizes = IntStream.rangeClosed(1, 99).mapToDouble(i -> i).toArray();
        assertThat(Pivot.quantile(sizes, 0.949)).isEqualTo(95);
        assertThat(Pivot.quantile(sizes, 0.95)).isEqualTo(96);
        assertThat(Pivot.quantile(sizes, 0.951)).isEqualTo(96);
        assertThat(Pivot.quantile(sizes, 0.999)).isInfinite();
        assertThat(Pivot.p(sizes, 95)).isEqualTo(6 / 100.0);
        assertThat(Pivot.p(sizes, 95.5)).isEqualTo(5 / 100.0);
        assertThat(Pivot.significant(0.05, 0.95, 99)).isFalse();
        assertThat(Pivot.significant(0.04, 0.95, 99)).isTrue();
    }
}

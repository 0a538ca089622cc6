package keenfold.core.data;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

class ExponentialTest {
    @Test
    void isWithinTwoUnitsOfTheLastPlace() {
        RandomSource chance = new Seed(5).chance();
        for (int i = 0; i < 200_000; i++) {
            double x = (chance.uniform() - 0.5) * (i % 3 == 0 ? 1400 : i % 3 == 1 ? 20 : 1e-3);
            double exact = StrictMath.exp(x);
            assertThat(Math.abs(Exponential.of(x) - exact)).as("e^%s", x).isLessThanOrEqualTo(2 * Math.ulp(exact));
        }
    }

    @Test
    void endsWhereNumbersEnd() {
        assertThat(Exponential.of(0)).isEqualTo(1);
        assertThat(Exponential.of(Double.NEGATIVE_INFINITY)).isZero();
        assertThat(Exponential.of(Double.POSITIVE_INFINITY)).isInfinite();
        assertThat(Exponential.of(Double.NaN)).isNaN();
        assertThat(Exponential.of(-745)).isEqualTo(StrictMath.exp(-745));
        assertThat(Exponential.of(709.7)).isEqualTo(StrictMath.exp(709.7));
    }
}

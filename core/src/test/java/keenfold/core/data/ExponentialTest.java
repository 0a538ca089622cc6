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

    @Test
    void severalAtOnceHaveTheBitsOfEach() {
        RandomSource chance = new Seed(6).chance();
        double[] x = new double[3000];
        for (int i = 0; i < x.length; i++) {
            x[i] = (chance.uniform() - 0.5) * (i % 2 == 0 ? 1600 : 3);
        }
        x[7] = Double.NaN;
        x[8] = Double.NEGATIVE_INFINITY;
        double[] all = x.clone();
        Exponential.ofAll(all, 5, 2990);
        for (int i = 0; i < x.length; i++) {
            double alone = i < 5 || i >= 2990 ? x[i] : Exponential.of(x[i]);
            assertThat(Double.compare(all[i], alone)).isZero();
        }
    }
}

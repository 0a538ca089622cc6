package keenfold.core.data;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class DecimalsTest {
    @Test
    void everyDoubleReadsBackEqual() {
        RandomSource chance = new Seed(11).chance();
        for (int i = 0; i < 20_000; i++) {
            double value = (chance.uniform() - 0.5) * StrictMath.pow(10, chance.below(40) - 20);
            assertThat(Double.parseDouble(Decimals.exact(value))).isEqualTo(value);
        }
        for (double value :
                new double[] {Double.MIN_VALUE, Double.MAX_VALUE, 0x1.fffffffffffffp-1, 9.999999999999999e22, 2e-44}) {
            assertThat(Double.parseDouble(Decimals.exact(value))).isEqualTo(value);
        }
    }

    @ParameterizedTest
    @CsvSource({
        "0.1,0.1",
        "2,2",
        "-0.0,0",
        "1e-7,1E-7",
        "123456.75,123456.75",
        "1e22,1E22",
        "0.30000000000000004,0.30000000000000004"
    })
    void shortNumbersStayShort(double value, String text) {
        assertThat(Decimals.exact(value)).isEqualTo(text);
    }

    @Test
    void whatIsNotFiniteIsRefused() {
        assertThatThrownBy(() -> Decimals.exact(Double.NaN)).hasMessageContaining("NaN has no decimal form");
    }
}

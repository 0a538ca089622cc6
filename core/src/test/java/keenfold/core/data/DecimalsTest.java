package keenfold.core.data;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
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

    /** By the definition: the exact value rounded to 15 digits, or to 16 or 17 where fewer do not read back equal. */
    @Test
    void itIsTheValueRoundedToAsFewDigitsAsReadBackEqual() {
        RandomSource chance = new Seed(12).chance();
        for (int i = 0; i < 60_000; i++) {
            double value =
                    switch (i % 6) {
                        case 0 -> Double.longBitsToDouble(chance.word());
                        case 1 -> chance.uniform();
                        case 2 -> Math.scalb(1.0, chance.below(2096) - 1073);
                        case 3 -> Math.nextDown(Math.scalb(1.0, chance.below(2044) - 1021));
                        case 4 -> chance.below(1_000_000) / 1e6;
                        default -> 1e15 + chance.below(1_000_000_000) / 8.0;
                    };
            if (Double.isFinite(value) && value != 0) {
                BigDecimal whole = new BigDecimal(value);
                int digits = 15;
                while (rounded(whole, digits).doubleValue() != value) {
                    digits++;
                }
                assertThat(new BigDecimal(Decimals.exact(value))).isEqualByComparingTo(rounded(whole, digits));
            }
        }
    }

    private static BigDecimal rounded(BigDecimal whole, int digits) {
        return whole.round(new MathContext(digits, RoundingMode.HALF_EVEN));
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

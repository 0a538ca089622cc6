package keenfold.results.table;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class NumberFormatsTest {
    @ParameterizedTest
    @CsvSource({
        "0.76543,0.0234,0.765",
        "0.76543,0.00123,0.7654",
        "0.76543,0.31,0.77",
        "12.3456,4.2,12.3",
        "123.456,42,123",
        "0.5,0,0.5000",
        "0.5,NaN,0.5000",
        "NaN,0.1,-",
        "-0.0004,0.02,0.000",
        "0.99996,0.0099,1.0000",
    })
    void meansShowTheSecondDigitOfTheirStandardError(double mean, double se, String text) {
        assertThat(NumberFormats.mean(mean, se)).isEqualTo(text);
    }

    @Test
    void signsPercentagesAndDurations() {
        assertThat(NumberFormats.signed(0.0123, 0.01)).isEqualTo("+0.012");
        assertThat(NumberFormats.signed(-0.0123, 0.01)).isEqualTo("-0.012");
        assertThat(NumberFormats.signed(0.0000001, 0.01)).isEqualTo("0.000");
        assertThat(NumberFormats.level(0.95)).isEqualTo("95 %");
        assertThat(NumberFormats.level(0.999)).isEqualTo("99.9 %");
        assertThat(NumberFormats.percent(0.126)).isEqualTo("13 %");
        assertThat(NumberFormats.seconds(0.00012)).isEqualTo("120 us");
        assertThat(NumberFormats.seconds(0.0123)).isEqualTo("12 ms");
        assertThat(NumberFormats.seconds(12.34)).isEqualTo("12 s");
        assertThat(NumberFormats.shortest(1 - 0.95)).isEqualTo("0.05");
        assertThat(NumberFormats.two(0.0995)).isEqualTo("0.10");
        assertThat(NumberFormats.significant(1234, 2)).isEqualTo("1200");
    }

    @Test
    void theLeastPossiblePIsABound() {
        assertThat(NumberFormats.p(1.0 / 5001, 5000)).isEqualTo("< 0.0002");
        assertThat(NumberFormats.p(2.0 / 5001, 5000)).isEqualTo("0.0004");
        assertThat(NumberFormats.p(1, 5000)).isEqualTo("1.0000");
        assertThat(NumberFormats.p(Double.NaN, 5000)).isEqualTo("-");
    }

    @Test
    void intervalsHaveTwoEndsOrNone() {
        assertThat(NumberFormats.interval(-0.0234, 0.0116, 0.01)).isEqualTo("-0.023 to 0.012");
        assertThat(NumberFormats.interval(Double.NaN, 1, 0.01)).isEqualTo("-");
    }
}

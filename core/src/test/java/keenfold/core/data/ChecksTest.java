package keenfold.core.data;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.api.Test;

class ChecksTest {
    @Test
    void whatIsRefusedNamesArgumentValueAndWhatWouldBeRight() {
        Checks.that(true, "never said");
        assertThatThrownBy(() -> Checks.that(false, "%s = %d", "folds", 1))
                .isInstanceOf(ValueException.class)
                .hasMessage("folds = 1");
        assertThatThrownBy(() -> Checks.share("level", 95))
                .isInstanceOf(ValueException.class)
                .hasMessage("level = 95: expected a share between 0 and 1, such as 0.95");
        assertThatThrownBy(() -> Checks.share("level", 0)).isInstanceOf(ValueException.class);
        assertThatThrownBy(() -> Checks.share("level", 1)).isInstanceOf(ValueException.class);
        assertThat(Checks.share("level", 0.5)).isEqualTo(0.5);
        assertThatThrownBy(() -> Checks.atLeast("draws", 99, 100))
                .hasMessage("draws = 99: expected a whole number of at least 100");
        assertThat(Checks.atLeast("draws", 100, 100)).isEqualTo(100);
        assertThatThrownBy(() -> Checks.atLeast("margin", -0.5, 0))
                .hasMessage("margin = -0.5: expected a number of at least 0");
        assertThatThrownBy(() -> Checks.atLeast("margin", Double.NaN, 0)).isInstanceOf(ValueException.class);
        assertThatThrownBy(() -> Checks.atLeast("margin", Double.POSITIVE_INFINITY, 0))
                .isInstanceOf(ValueException.class);
        assertThat(Checks.atLeast("margin", 0.0, 0)).isZero();
    }
}

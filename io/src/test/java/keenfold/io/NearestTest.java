package keenfold.io;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;

class NearestTest {
    @Test
    void slipsFindTheirName() {
        List<String> known = List.of("wintered", "weight", "site");
        assertThat(Nearest.to("winterd", known)).contains("wintered");
        assertThat(Nearest.to("wieght", known)).contains("weight");
        assertThat(Nearest.to("SITE", known)).contains("site");
        assertThat(Nearest.to("altitude", known)).isEmpty();
        assertThat(Nearest.hint("altitude", known)).isEqualTo("; there are wintered, weight, site");
        assertThat(Nearest.hint("x", List.of())).isEmpty();
    }
}

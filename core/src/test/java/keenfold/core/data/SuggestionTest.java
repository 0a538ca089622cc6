package keenfold.core.data;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class SuggestionTest {
    private static final List<String> KNOWN = List.of(
            "wintered",
            "weight",
            "site",
            "--separator",
            "--help",
            "-h",
            "forest",
            "log-loss",
            "colonies",
            "f1",
            "balanced-accuracy");

    @ParameterizedTest
    @CsvSource({
        "winterd, wintered",
        "wieght, weight",
        "SITE, site",
        "sit, site",
        "--seperator, --separator",
        "--sep, --separator",
        "--hlep, --help",
        "random-forest, forest",
        "log_loss, log-loss",
        "f1-score, f1",
        "balanced, balanced-accuracy",
        "colony, colonies"
    })
    void aSlipLeadsToTheNameThatWasMeant(String wanted, String meant) {
        assertThat(Suggestion.to(wanted, KNOWN)).contains(meant);
    }

    /** Names that only have some letters in common are no help. */
    @ParameterizedTest
    @CsvSource({"altitude", "hive", "--seed", "--head", "-o", "--k", "x", "lime"})
    void nothingIsMadeUp(String wanted) {
        assertThat(Suggestion.to(wanted, KNOWN)).isEmpty();
    }

    @Test
    void allAreNamedWhereTheyAreFew() {
        List<String> few = List.of("wintered", "weight", "site");
        assertThat(Suggestion.hint("altitude", few)).isEqualTo("; there are wintered, weight, site");
        assertThat(Suggestion.hint("x", List.of())).isEmpty();
        List<String> many = IntStream.range(0, 40).mapToObj(i -> "hive " + i).toList();
        assertThat(Suggestion.hint("altitude", many))
                .startsWith("; there are 40, such as hive 0, hive 1, ")
                .endsWith(", hive 19");
    }
}

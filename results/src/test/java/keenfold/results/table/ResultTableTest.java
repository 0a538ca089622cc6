package keenfold.results.table;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

class ResultTableTest {
    private record Mean(String candidate, double mean, double error, boolean tested) {}

    private static final ResultTable TABLE = ResultTable.<Mean>define()
            .name("candidate", Mean::candidate)
            .number("mean", ValueKind.MEAN, Mean::mean)
            .error("se")
            .number("se", ValueKind.DEVIATION, Mean::error)
            .interval("interval", "se", m -> m.mean() - m.error(), m -> m.mean() + m.error())
            .text("call", m -> m.tested() ? "better" : Optional.empty())
            .headed("its call")
            .text("", m -> m.tested() ? "" : "not tested")
            .people()
            .number("freedom", ValueKind.SHORT, m -> 7)
            .json()
            .of(
                    List.of(new Mean("tree", 0.81234, 0.0123, true), new Mean("guess", 0.5, Double.NaN, false)),
                    m -> m.candidate().equals("tree"));

    private static String headings(List<Column> columns) {
        return columns.stream().map(Column::heading).collect(Collectors.joining("|"));
    }

    @Test
    void eachReaderHasTheColumnsThatAreForIt() {
        assertThat(headings(TABLE.forPeople())).isEqualTo("candidate|mean|se|interval|its call|");
        assertThat(TABLE.forCsv().stream().map(Column::key))
                .containsExactly("candidate", "mean", "se", "low", "high", "call");
        assertThat(TABLE.rows().get(0).values().keySet())
                .containsExactly("candidate", "mean", "se", "low", "high", "call", "freedom");
    }

    @Test
    void numbersAreShownAsTheirErrorWarrantsAndKeptInFull() {
        ResultTable.Row tree = TABLE.rows().get(0);
        ResultTable.Row guess = TABLE.rows().get(1);
        assertThat(TABLE.forPeople().stream().map(tree::shown))
                .containsExactly("tree", "0.812", "0.012", "0.800 to 0.825", "better", "");
        assertThat(TABLE.forPeople().stream().map(guess::shown))
                .containsExactly("guess", "0.5000", "-", "-", "", "not tested");
        assertThat(tree.number("mean")).isEqualTo(0.81234);
        assertThat(guess.number("call")).isNaN();
        assertThat(tree.order(TABLE.forPeople().get(1))).isEqualTo("0.81234");
        assertThat(tree.order(TABLE.forPeople().get(3))).isEqualTo(Double.toString(0.81234 - 0.0123));
        assertThat(guess.order(TABLE.forPeople().get(2))).isEmpty();
        assertThat(tree.standsOut()).isTrue();
        assertThat(guess.standsOut()).isFalse();
        assertThatThrownBy(() -> tree.number("candidate")).hasMessage("column candidate holds no numbers");
        assertThatThrownBy(() -> tree.cell("median"))
                .hasMessageStartingWith("no column median; there are candidate, mean, se");
    }

    @Test
    void partsKeepTheirColumnsAndWhatStandsOut() {
        ResultTable guess = TABLE.where("candidate", "guess");
        assertThat(guess.size()).isEqualTo(1);
        assertThat(ResultTable.joined(List.of(guess, TABLE)).rows())
                .extracting(r -> r.text("candidate"), ResultTable.Row::standsOut)
                .containsExactly(
                        org.assertj.core.groups.Tuple.tuple("guess", false),
                        org.assertj.core.groups.Tuple.tuple("tree", true),
                        org.assertj.core.groups.Tuple.tuple("guess", false));
        assertThat(headings(TABLE.without("mean", "interval", "").forPeople())).isEqualTo("candidate|se|its call");
        assertThat(TABLE.first(1).rows().get(0).values())
                .isEqualTo(Map.of(
                        "candidate",
                        "tree",
                        "mean",
                        0.81234,
                        "se",
                        0.0123,
                        "low",
                        0.81234 - 0.0123,
                        "high",
                        0.81234 + 0.0123,
                        "call",
                        "better",
                        "freedom",
                        7.0));
        assertThatThrownBy(() -> ResultTable.of(List.of("a", "b"), List.of(List.of(1))))
                .hasMessage("1 cells for 2 columns");
    }
}

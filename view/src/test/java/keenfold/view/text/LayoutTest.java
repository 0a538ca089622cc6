package keenfold.view.text;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import keenfold.results.table.Alignment;
import org.junit.jupiter.api.Test;

class LayoutTest {
    @Test
    void numbersStandAtTheirPointsAndNamesOnTheLeft() {
        TextTable table = TextTable.empty()
                .column("name", Alignment.NAME)
                .column("value", Alignment.POINT)
                .column("p", Alignment.RIGHT);
        table.row(List.of("a", "1.25", "0.5"));
        table.row(List.of("longer", "10", "< 0.0002"));
        table.row(List.of("a/very/long/name/of/a/member/of/a/family/0.01", "-", "1"));
        assertThat(table.render(Ink.of(false)))
                .isEqualTo(
                        """
                name                          value         p
                a                              1.25       0.5
                longer                        10     < 0.0002
                a/very/long/n..a/family/0.01   -            1
                """);
    }

    @Test
    void whatStandsOutIsMarkedOnATerminalAloneAndHasNoWidth() {
        TextTable table = TextTable.empty().column("c", Alignment.LEFT);
        table.row(List.of("pick"), true);
        assertThat(table.render(Ink.of(true))).contains("\u001B[1mpick\u001B[0m");
        assertThat(table.render(Ink.of(false))).isEqualTo("c\npick\n");
        assertThat(Wrap.width(table.render(Ink.of(true)))).isEqualTo(4);
    }

    @Test
    void sentencesBreakAtSpacesWithinThePage() {
        String text = "word ".repeat(60).strip();
        String wrapped = Wrap.lines(text, 4);
        assertThat(wrapped.lines()).allMatch(l -> l.length() <= Wrap.WIDTH);
        assertThat(wrapped.lines().skip(1)).allMatch(l -> l.startsWith("    word"));
        assertThat(wrapped.replaceAll("\\s+", " ").strip()).isEqualTo(text);
        assertThat(Wrap.lines("x".repeat(130), 0)).isEqualTo("x".repeat(130) + "\n");
    }
}

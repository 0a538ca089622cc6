package keenfold.view.chart;

import static org.assertj.core.api.Assertions.assertThat;

import java.awt.Font;
import java.awt.FontMetrics;
import java.awt.Graphics2D;
import java.awt.geom.Rectangle2D;
import java.awt.image.BufferedImage;
import java.util.List;
import keenfold.view.text.Ink;
import org.junit.jupiter.api.Test;

/** Small figures, drawn sign by sign; and where values lie on axes. */
class SketchTest {
    private static Figure figure(Frame frame) {
        return new Figure(FigureKind.MEANS, "Honey", "A caption ± one.", List.of(frame), 1, FigureData.of("x"));
    }

    private static List<String> drawn(Frame frame, boolean unicode) {
        return Sketch.render(figure(frame), Ink.of(false), unicode).lines().toList();
    }

    /** Numbers from 0 to 100 on the cells of a row: each sign is where its value is. */
    @Test
    void rowsHoldIntervalsDotsAndStrips() {
        Axis x = Axis.numbers("kg").from(0).to(100);
        Frame frame = new Frame(
                "",
                x,
                Axis.names("", List.of("lime", "rape")),
                List.of(
                        new Mark.Guide(0, true, Mark.Line.DOTTED, Tone.QUIET, "none"),
                        new Mark.Reach(new Spot(25, 0), new Spot(75, 0), 3, Tone.INK, "lime", ""),
                        new Mark.Dot(new Spot(50, 0), Mark.Form.DIAMOND, Tone.PICK, "lime", ""),
                        new Mark.Strip(List.of(100.0, 100.0, 10.0), 0.3, Tone.FAINT, "lime", ""),
                        new Mark.Reach(new Spot(50, 1), new Spot(100, 1), 1, Tone.INK, "rape", ""),
                        new Mark.Dot(new Spot(100, 1), Mark.Form.RING, Tone.INK, "rape", "")));
        List<String> plain = drawn(frame, false);
        assertThat(plain.get(0)).isEqualTo("Honey");
        String lime = plain.get(2);
        assertThat(lime).startsWith("lime  |").contains("=X=");
        int from = 6;
        int cells = 100 - 4 - 2 - 2;
        assertThat(lime.indexOf('=')).isEqualTo(from + Math.round(0.25f * (cells - 1)));
        assertThat(lime.lastIndexOf('=')).isEqualTo(from + Math.round(0.75f * (cells - 1)));
        assertThat(lime.indexOf('X')).isEqualTo(from + Math.round(0.5f * (cells - 1)));
        String strip = plain.get(3);
        // Two values in a cell stand higher than one.
        assertThat(strip.charAt(from + Math.round(0.1f * (cells - 1)))).isEqualTo('+');
        assertThat(strip.charAt(from + cells - 1)).isEqualTo('#');
        assertThat(plain.get(4)).startsWith("rape  |").endsWith("O").contains("---");
        assertThat(plain.get(5).strip()).startsWith("0").endsWith("100");
        assertThat(plain.get(6).strip()).isEqualTo("kg");
        assertThat(plain).last().isEqualTo("A caption +/- one.");
        assertThat(drawn(frame, true).get(2)).contains("━◆━").contains("│");
    }

    @Test
    void barsAndWordsStandInRows() {
        Frame frame = new Frame(
                "",
                Axis.shares("share"),
                Axis.names("", List.of("a", "b")),
                List.of(
                        new Mark.Block(new Spot(0, -0.3), new Spot(1, 0.3), 1, Tone.PICK, "", "a", ""),
                        new Mark.Word(new Spot(1, 0), "100 %", Mark.Side.RIGHT, Tone.INK, true, "a"),
                        new Mark.Block(new Spot(0, 0.7), new Spot(0, 1.3), 1, Tone.FAINT, "", "b", "")));
        List<String> lines = drawn(frame, false);
        assertThat(lines.get(2)).matches("a  #{90}  100 %");
        assertThat(lines.get(3).strip()).isEqualTo("b  #");
    }

    /** A rising line on a grid of Braille dots goes from the lower left to the upper right. */
    @Test
    void curvesRise() {
        Frame frame = new Frame(
                "",
                Axis.shares("x"),
                Axis.shares("y"),
                List.of(new Mark.Trace(List.of(new Spot(0, 0), new Spot(1, 1)), Mark.Line.SOLID, 2, Tone.INK, "", "")));
        List<String> lines = drawn(frame, true);
        List<String> grid = lines.subList(3, 18);
        int last = -1;
        for (int y = 14; y >= 0; y--) {
            String row = grid.get(y);
            int at = row.length() - 1;
            assertThat(row.charAt(at)).isBetween('\u2801', '\u28FF');
            assertThat(at).isGreaterThan(last);
            last = at;
        }
        assertThat(lines.get(3).strip()).startsWith("1.00");
        assertThat(lines.get(17).strip()).startsWith("0.00");
    }

    @Test
    void matricesOfManyClassesAreLeftToFiles() {
        List<String> many =
                java.util.stream.IntStream.range(0, 30).mapToObj(i -> "k" + i).toList();
        Frame frame = new Frame("m", Axis.names("predicted", many), Axis.names("actual", many), List.of());
        assertThat(String.join("\n", drawn(frame, true))).contains("too many classes for a terminal");
    }

    private static Graphics2D graphics() {
        return new BufferedImage(10, 10, BufferedImage.TYPE_INT_RGB).createGraphics();
    }

    @Test
    void equalRatiosAreEquallyFarApart() {
        Frame frame = new Frame(
                "",
                Axis.ratios("size"),
                Axis.numbers("y"),
                List.of(
                        new Mark.Dot(new Spot(1, 0), Mark.Form.DISC, Tone.INK, "", ""),
                        new Mark.Dot(new Spot(100, 5), Mark.Form.DISC, Tone.INK, "", "")));
        Scales scales = Scales.of(frame, 11, graphics(), 400);
        Rectangle2D area = new Rectangle2D.Double(100, 50, 200, 80);
        double first = scales.x(1, area);
        double middle = scales.x(10, area);
        double last = scales.x(100, area);
        assertThat(middle - first).isCloseTo(last - middle, org.assertj.core.api.Assertions.within(1e-9));
        assertThat(first).isGreaterThan(100);
        assertThat(last).isLessThan(300);
        // Up is up, and infinity is the edge.
        assertThat(scales.y(5, area)).isLessThan(scales.y(0, area));
        assertThat(scales.x(Double.POSITIVE_INFINITY, area)).isEqualTo(300);
    }

    @Test
    void longNamesAreCutToTheirRoom() {
        Graphics2D g = graphics();
        Font font = Fonts.plain(10);
        FontMetrics metrics = g.getFontMetrics(font);
        String longName = "the colonies of the apiary behind the old mill ".repeat(8);
        String cut = Scales.shortened(longName, metrics, 120);
        assertThat(cut).endsWith("…");
        assertThat(metrics.stringWidth(cut)).isLessThanOrEqualTo(120);
        assertThat(Scales.shortened("short", metrics, 120)).isEqualTo("short");
        // Pairs of surrogates are not torn apart.
        String bees = "\uD83D\uDC1D".repeat(60);
        String few = Scales.shortened(bees, metrics, 60);
        assertThat(few.codePoints().filter(c -> c >= 0xD800 && c <= 0xDFFF)).isEmpty();
    }
}

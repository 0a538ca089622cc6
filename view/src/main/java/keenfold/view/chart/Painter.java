package keenfold.view.chart;

import java.awt.Color;
import java.awt.Font;
import java.awt.FontMetrics;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.geom.Rectangle2D;
import java.util.ArrayList;
import java.util.List;
import org.jfree.chart.ChartRenderingInfo;
import org.jfree.chart.plot.PlotRenderingInfo;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.chart.text.TextUtils;
import org.jfree.chart.ui.RectangleInsets;

/**
 * Draws a figure: title, frames side by side, caption. Axes and grids are the chart library's, marks are ours; what it draws
 * on makes SVG or pixels of it.
 */
final class Painter {
    private static final double ROW = 1.9;
    /** The least width of a frame, in letters' heights. */
    private static final double LEAST_FRAME = 18;

    private static final double GAP = 10;

    private final Figure figure;
    private final Look look;
    private final Graphics2D g;
    private final double font;
    private final int across;
    private final List<Double> heights = new ArrayList<>();
    private final double words;
    private final double caption;

    static {
        // Turned labels as text: the library's way round an old fault makes outlines of them.
        TextUtils.setUseDrawRotatedStringWorkaround(false);
    }

    Painter(Figure figure, Look look, Graphics2D g) {
        this.figure = figure;
        this.look = look;
        this.g = g;
        this.font = look.fontSize();
        // In a narrow figure frames stand below each other: their axes need room.
        this.across = Math.max(1, Math.min(figure.across(), (int) (look.width() / (LEAST_FRAME * font))));
        g.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
        g.setRenderingHint(RenderingHints.KEY_TEXT_ANTIALIASING, RenderingHints.VALUE_TEXT_ANTIALIAS_ON);
        g.setRenderingHint(RenderingHints.KEY_FRACTIONALMETRICS, RenderingHints.VALUE_FRACTIONALMETRICS_ON);
        g.setRenderingHint(RenderingHints.KEY_STROKE_CONTROL, RenderingHints.VALUE_STROKE_PURE);
        for (int from = 0; from < figure.frames().size(); from += across) {
            double most = 0;
            for (Frame f :
                    figure.frames().subList(from, Math.min(figure.frames().size(), from + across))) {
                most = Math.max(most, wanted(f));
            }
            heights.add(most);
        }
        // Whole points, so that strokes stay as sharp without it.
        words = look.words() ? Math.ceil(paragraph(title(), titleFont(), Tone.INK, -1) + GAP / 2) : 0;
        caption = look.words() ? paragraph(figure.caption(), captionFont(), Tone.QUIET, -1) + GAP / 2 : 0;
        double natural = heights.stream().mapToDouble(Double::doubleValue).sum();
        double room = look.height().orElse(natural + words + caption + 2 * GAP) - words - caption - 2 * GAP;
        for (int i = 0; i < heights.size(); i++) {
            heights.set(i, Math.max(60, heights.get(i) * room / natural));
        }
    }

    private String title() {
        return look.title().orElse(figure.title());
    }

    private Font titleFont() {
        return Fonts.strong(font * 1.15);
    }

    private Font captionFont() {
        return Fonts.plain(font * 0.85);
    }

    private double frameWidth() {
        return (look.width() - 2 * GAP) / across;
    }

    private double wanted(Frame f) {
        double title = f.title().isEmpty() ? 0 : font * 1.8;
        double axis = font * (f.x().label().isEmpty() ? 2.4 : 3.9);
        if (f.y().named()) {
            double names = f.x().named() ? font * 3 : 0;
            double labelled = f.marks().stream()
                            .anyMatch(m -> m instanceof Mark.Guide guide
                                    && guide.upright()
                                    && !guide.label().isEmpty())
                    ? ROW * font
                    : 0;
            double row = f.x().named() ? Math.max(ROW * font, square(f)) : ROW * font;
            return title + axis + names + labelled + row * f.y().names().size() + GAP;
        }
        double share =
                switch (figure.kind()) {
                    case ROC, PRECISION_RECALL, CALIBRATION -> 1.0;
                    default -> across == 1 ? 0.55 : 0.72;
                };
        return title + frameWidth() * share;
    }

    /** The height of a cell of a matrix. */
    private double square(Frame f) {
        return Math.min(4.2 * font, 0.45 * frameWidth() / f.x().names().size());
    }

    double height() {
        return look.height()
                .orElseGet(
                        () -> heights.stream().mapToDouble(Double::doubleValue).sum() + words + caption + 2 * GAP);
    }

    /** How much of the height the title takes. */
    double wordsAbove() {
        return words;
    }

    /** The height without title and caption. */
    double bareHeight() {
        return height() - words - caption;
    }

    void paint() {
        g.setPaint(Color.WHITE);
        g.fill(new Rectangle2D.Double(0, 0, look.width(), height()));
        double top = GAP;
        if (look.words()) {
            words(title(), titleFont(), Tone.INK, top);
            top += words;
        }
        int row = 0;
        for (int i = 0; i < figure.frames().size(); i++) {
            double left = GAP + i % across * frameWidth();
            frame(figure.frames().get(i), left, top, frameWidth(), heights.get(row));
            if ((i + 1) % across == 0) {
                top += heights.get(row++);
            }
        }
        if (look.words()) {
            words(figure.caption(), captionFont(), Tone.QUIET, height() - caption);
        }
    }

    /** Draws a title or a caption, which a page shows beside the figure. */
    private void words(String text, Font plain, Tone tone, double top) {
        if (g instanceof MarkedSvg svg) {
            svg.begin();
        }
        paragraph(text, plain, tone, top);
        if (g instanceof MarkedSvg svg) {
            svg.endWords();
        }
    }

    /** Draws wrapped text from a height on, or only measures it at −1; returns how high it is. */
    private double paragraph(String text, Font plain, Tone tone, double top) {
        if (text.isEmpty()) {
            return 0;
        }
        Font shown = Fonts.showing(plain, text);
        FontMetrics metrics = g.getFontMetrics(shown);
        double room = look.width() - 2 * GAP;
        List<String> lines = new ArrayList<>();
        StringBuilder line = new StringBuilder();
        for (String word : text.split(" ", -1)) {
            String longer = line.isEmpty() ? word : line + " " + word;
            if (metrics.stringWidth(longer) > room && !line.isEmpty()) {
                lines.add(line.toString());
                line.setLength(0);
                longer = word;
            }
            line.setLength(0);
            line.append(Scales.shortened(longer, metrics, room));
        }
        lines.add(line.toString());
        double high = metrics.getHeight() * 1.05;
        if (top >= 0) {
            g.setFont(shown);
            g.setPaint(tone.color());
            for (int i = 0; i < lines.size(); i++) {
                g.drawString(lines.get(i), (float) GAP, (float) (top + i * high + metrics.getAscent()));
            }
        }
        return lines.size() * high;
    }

    private void frame(Frame f, double left, double top, double width, double height) {
        double title = 0;
        if (!f.title().isEmpty()) {
            title = font * 1.8;
            Font shown = Fonts.showing(Fonts.strong(font * 0.95), f.title());
            g.setFont(shown);
            g.setPaint(Tone.INK.color());
            g.drawString(
                    Scales.shortened(f.title(), g.getFontMetrics(shown), width - 2 * GAP),
                    (float) (left + GAP / 2),
                    (float) (top + font * 1.2));
        }
        Scales scales = Scales.of(f, font, g, width);
        // Without a renderer there are no grid lines, although it has nothing to render.
        XYPlot plot = new XYPlot(null, scales.x(), scales.y(), new XYLineAndShapeRenderer());
        plot.setBackgroundPaint(null);
        plot.setOutlineVisible(false);
        plot.setInsets(new RectangleInsets(4, 2, 2, 8 + room(f)));
        plot.setDomainGridlinesVisible(!f.x().named());
        plot.setRangeGridlinesVisible(!f.y().named());
        plot.setDomainGridlinePaint(Tone.WASH.color());
        plot.setRangeGridlinePaint(Tone.WASH.color());
        plot.setDomainGridlineStroke(Scales.stroke(0.8, Mark.Line.SOLID));
        plot.setRangeGridlineStroke(Scales.stroke(0.8, Mark.Line.SOLID));
        if (figure.kind() == FigureKind.TREE) {
            // Its places say nothing by themselves.
            plot.setDomainGridlinesVisible(false);
            scales.x().setVisible(false);
            scales.y().setVisible(false);
        }
        PlotRenderingInfo info = new ChartRenderingInfo().getPlotInfo();
        plot.draw(g, new Rectangle2D.Double(left, top + title, width, height - title), null, null, info);
        g.setClip(null);
        new MarkPainter(g, scales, info.getDataArea(), font).paint(f.marks());
    }

    /** Room right of the axes for the words that stand there. */
    private double room(Frame f) {
        FontMetrics metrics = g.getFontMetrics(Fonts.plain(font * 0.9));
        return f.marks().stream()
                .filter(m -> m instanceof Mark.Word word
                        && word.side() == Mark.Side.RIGHT
                        && (Double.isInfinite(word.at().x()) || word.at().x() >= f.x().high()))
                .mapToDouble(m -> metrics.stringWidth(((Mark.Word) m).text()) + 8)
                .max()
                .orElse(0);
    }
}

package keenfold.view.chart;

import java.awt.Color;
import java.awt.Font;
import java.awt.FontMetrics;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.Shape;
import java.awt.geom.Ellipse2D;
import java.awt.geom.Line2D;
import java.awt.geom.Path2D;
import java.awt.geom.Rectangle2D;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.DoubleStream;
import java.util.stream.IntStream;
import org.jfree.chart.ChartRenderingInfo;
import org.jfree.chart.plot.PlotRenderingInfo;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.chart.text.TextUtils;
import org.jfree.chart.ui.RectangleEdge;
import org.jfree.chart.ui.RectangleInsets;

/**
 * Draws a figure: title, frames side by side, caption. Axes and grids are the chart library's, marks are ours; what it draws
 * on makes SVG or pixels of it.
 */
final class Painter {
    private static final double ROW = 1.9;
    private static final double GAP = 10;
    private static final int MOST_STROKES = 400;

    /** Surfaces of less luminance, of 255, bear white letters. */
    private static final double DARK = 125;

    private final Figure figure;
    private final Look look;
    private final Graphics2D g;
    private final double font;
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
        g.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
        g.setRenderingHint(RenderingHints.KEY_TEXT_ANTIALIASING, RenderingHints.VALUE_TEXT_ANTIALIAS_ON);
        g.setRenderingHint(RenderingHints.KEY_FRACTIONALMETRICS, RenderingHints.VALUE_FRACTIONALMETRICS_ON);
        g.setRenderingHint(RenderingHints.KEY_STROKE_CONTROL, RenderingHints.VALUE_STROKE_PURE);
        for (int from = 0; from < figure.frames().size(); from += figure.across()) {
            double most = 0;
            for (Frame f :
                    figure.frames().subList(from, Math.min(figure.frames().size(), from + figure.across()))) {
                most = Math.max(most, wanted(f));
            }
            heights.add(most);
        }
        words = look.words() ? paragraph(title(), titleFont(), Tone.INK, -1) + GAP / 2 : 0;
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
        return (look.width() - 2 * GAP) / figure.across();
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
                    default -> figure.across() == 1 ? 0.55 : 0.72;
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

    void paint() {
        g.setPaint(Color.WHITE);
        g.fill(new Rectangle2D.Double(0, 0, look.width(), height()));
        double top = GAP;
        if (look.words()) {
            paragraph(title(), titleFont(), Tone.INK, top);
            top += words;
        }
        int row = 0;
        for (int i = 0; i < figure.frames().size(); i++) {
            double left = GAP + i % figure.across() * frameWidth();
            frame(figure.frames().get(i), left, top, frameWidth(), heights.get(row));
            if ((i + 1) % figure.across() == 0) {
                top += heights.get(row++);
            }
        }
        if (look.words()) {
            paragraph(figure.caption(), captionFont(), Tone.QUIET, height() - caption);
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

    /** Draws marks within the area of one frame. */
    private static final class MarkPainter {
        private final Graphics2D g;
        private final Scales scales;
        private final Rectangle2D area;
        private final double font;
        private final List<Rectangle2D> taken = new ArrayList<>();
        private final List<Rectangle2D> crossed = new ArrayList<>();
        private Optional<Mark> last = Optional.empty();

        MarkPainter(Graphics2D g, Scales scales, Rectangle2D area, double font) {
            this.g = g;
            this.scales = scales;
            this.area = area;
            this.font = font;
        }

        void paint(List<Mark> marks) {
            List<Mark.Word> near = new ArrayList<>();
            marks.forEach(this::obstruct);
            for (Mark mark : spread(marks)) {
                if (mark instanceof Mark.Word word && word.side() == Mark.Side.NEAR) {
                    near.add(word);
                } else {
                    one(mark);
                }
            }
            // Those that matter first, as long as there is room.
            near.stream().filter(Mark.Word::strong).forEach(this::one);
            near.stream().filter(w -> !w.strong()).forEach(this::one);
            end();
        }

        /** Draws a mark; in a document, marks in turn that say the same of the same candidate are one element. */
        private void one(Mark mark) {
            boolean same = last.filter(
                            l -> l.about().equals(mark.about()) && l.tip().equals(mark.tip()))
                    .isPresent();
            if (!same) {
                end();
                if (g instanceof MarkedSvg svg) {
                    svg.begin();
                }
            }
            last = Optional.of(mark);
            draw(mark);
        }

        private void end() {
            if (g instanceof MarkedSvg svg) {
                last.ifPresent(l -> svg.end(l.about(), l.tip()));
            }
            last = Optional.empty();
        }

        /** The marks, of which the words right of all others are moved apart so that none covers another. */
        private List<Mark> spread(List<Mark> marks) {
            List<Mark> moved = new ArrayList<>(marks);
            List<Integer> ends = IntStream.range(0, marks.size())
                    .filter(i -> marks.get(i) instanceof Mark.Word word && word.side() == Mark.Side.RIGHT)
                    .boxed()
                    .sorted(Comparator.comparingDouble(i -> y(((Mark.Word) marks.get(i)).at())))
                    .toList();
            double high = font * 1.1;
            double last = Double.NEGATIVE_INFINITY;
            for (int i : ends) {
                Mark.Word word = (Mark.Word) marks.get(i);
                double at = Math.max(y(word.at()), last + high);
                last = at;
                if (at > y(word.at())) {
                    double value = scales.y().java2DToValue(at, area, RectangleEdge.LEFT);
                    moved.set(
                            i,
                            new Mark.Word(
                                    new Spot(word.at().x(), value),
                                    word.text(),
                                    word.side(),
                                    word.tone(),
                                    word.strong(),
                                    word.about()));
                }
            }
            return moved;
        }

        /** Notes where words cannot stand. */
        private void obstruct(Mark mark) {
            if (mark instanceof Mark.Dot dot) {
                take(x(dot.at()), y(dot.at()), font * 0.45);
            } else if (mark instanceof Mark.Reach reach && finite(reach.from()) && finite(reach.to())) {
                along(reach.from(), reach.to());
            } else if (mark instanceof Mark.Trace trace) {
                for (int i = 1; i < trace.spots().size(); i++) {
                    if (finite(trace.spots().get(i - 1)) && finite(trace.spots().get(i))) {
                        along(trace.spots().get(i - 1), trace.spots().get(i));
                    }
                }
            }
        }

        private void along(Spot from, Spot to) {
            double dx = x(to) - x(from);
            double dy = y(to) - y(from);
            int steps = (int) Math.ceil(Math.max(Math.abs(dx), Math.abs(dy)) / 4);
            for (int i = 0; i <= steps; i++) {
                double share = steps == 0 ? 0 : (double) i / steps;
                crossed.add(new Rectangle2D.Double(x(from) + share * dx - 1, y(from) + share * dy - 1, 2, 2));
            }
        }

        private void take(double x, double y, double around) {
            if (Double.isFinite(x) && Double.isFinite(y)) {
                taken.add(new Rectangle2D.Double(x - around, y - around, 2 * around, 2 * around));
            }
        }

        private void draw(Mark mark) {
            if (mark instanceof Mark.Dot dot) {
                dot(dot);
            } else if (mark instanceof Mark.Reach reach) {
                reach(reach);
            } else if (mark instanceof Mark.Strip strip) {
                strip(strip);
            } else if (mark instanceof Mark.Trace trace) {
                g.setPaint(trace.tone().color());
                g.setStroke(Scales.stroke(trace.weight(), trace.line()));
                g.draw(path(trace.spots(), false));
            } else if (mark instanceof Mark.Band band) {
                List<Spot> around = new ArrayList<>(band.lower());
                for (int i = band.upper().size() - 1; i >= 0; i--) {
                    around.add(band.upper().get(i));
                }
                g.setPaint(mixed(band.tone().color(), 0.22));
                g.fill(path(around, true));
            } else if (mark instanceof Mark.Block block) {
                block(block);
            } else if (mark instanceof Mark.Guide guide) {
                guide(guide);
            } else if (mark instanceof Mark.Word word) {
                word(word);
            }
        }

        private double x(Spot spot) {
            return scales.x(spot.x(), area);
        }

        private double y(Spot spot) {
            return scales.y(spot.y(), area);
        }

        private void dot(Mark.Dot dot) {
            double x = x(dot.at());
            double y = y(dot.at());
            if (!Double.isFinite(x) || !Double.isFinite(y)) {
                return;
            }
            double r = font * 0.36;
            Shape shape =
                    switch (dot.form()) {
                        case DISC, RING -> new Ellipse2D.Double(x - r, y - r, 2 * r, 2 * r);
                        case SQUARE -> new Rectangle2D.Double(x - r, y - r, 2 * r, 2 * r);
                        case DIAMOND -> {
                            double d = r * 1.45;
                            Path2D diamond = new Path2D.Double();
                            diamond.moveTo(x, y - d);
                            diamond.lineTo(x + d, y);
                            diamond.lineTo(x, y + d);
                            diamond.lineTo(x - d, y);
                            diamond.closePath();
                            yield diamond;
                        }
                    };
            g.setPaint(dot.form() == Mark.Form.RING ? Color.WHITE : dot.tone().color());
            g.fill(shape);
            g.setPaint(dot.form() == Mark.Form.RING ? dot.tone().color() : Color.WHITE);
            g.setStroke(Scales.stroke(dot.form() == Mark.Form.RING ? 1.3 : 0.7, Mark.Line.SOLID));
            g.draw(shape);
        }

        private void reach(Mark.Reach reach) {
            if (!finite(reach.from()) || !finite(reach.to())) {
                return;
            }
            g.setPaint(reach.tone().color());
            g.setStroke(Scales.stroke(reach.weight(), Mark.Line.SOLID));
            g.draw(new Line2D.Double(x(reach.from()), y(reach.from()), x(reach.to()), y(reach.to())));
        }

        private static boolean finite(Spot spot) {
            return Double.isFinite(spot.x()) && Double.isFinite(spot.y());
        }

        private void strip(Mark.Strip strip) {
            List<Double> values = strip.values();
            Path2D strokes = new Path2D.Double();
            double half = font * 0.26;
            int shown = Math.min(values.size(), MOST_STROKES);
            List<Double> sorted = values.stream().sorted().toList();
            for (int i = 0; i < shown; i++) {
                // Of very many, evenly spaced ones by rank, the least and the greatest among them.
                double value = sorted.get(shown < 2 ? 0 : (int) Math.round(i * (sorted.size() - 1.0) / (shown - 1)));
                double at = scales.y(strip.at(), area);
                strokes.moveTo(scales.x(value, area), at - half);
                strokes.lineTo(scales.x(value, area), at + half);
            }
            g.setPaint(strip.tone().color());
            g.setStroke(Scales.stroke(0.9, Mark.Line.SOLID));
            g.draw(strokes);
        }

        private Path2D path(List<Spot> spots, boolean closed) {
            Path2D path = new Path2D.Double();
            double lastX = Double.NaN;
            double lastY = Double.NaN;
            boolean drawing = false;
            for (int i = 0; i < spots.size(); i++) {
                double x = x(spots.get(i));
                double y = y(spots.get(i));
                if (!Double.isFinite(x) || !Double.isFinite(y)) {
                    drawing = false;
                    continue;
                }
                boolean ends = i == 0 || i == spots.size() - 1;
                if (drawing && !ends && Math.abs(x - lastX) < 0.5 && Math.abs(y - lastY) < 0.5) {
                    continue;
                }
                if (drawing) {
                    path.lineTo(x, y);
                } else {
                    path.moveTo(x, y);
                }
                drawing = true;
                lastX = x;
                lastY = y;
            }
            if (closed && path.getCurrentPoint() != null) {
                path.closePath();
            }
            return path;
        }

        private void block(Mark.Block block) {
            double x1 = Math.min(x(block.from()), x(block.to()));
            double x2 = Math.max(x(block.from()), x(block.to()));
            double y1 = Math.min(y(block.from()), y(block.to()));
            double y2 = Math.max(y(block.from()), y(block.to()));
            Rectangle2D cell = new Rectangle2D.Double(x1, y1, x2 - x1, y2 - y1).createIntersection(area);
            Color color = mixed(block.tone().color(), block.shade());
            g.setPaint(color);
            g.fill(cell);
            if (!block.text().isEmpty()) {
                String[] lines = block.text().split("\n", -1);
                g.setFont(Fonts.plain(font * 0.9));
                FontMetrics metrics = g.getFontMetrics();
                double high = metrics.getHeight();
                int fit = (int) Math.min(lines.length, (y2 - y1) / (high * 0.95));
                double luminance = 0.3 * color.getRed() + 0.59 * color.getGreen() + 0.11 * color.getBlue();
                g.setPaint(luminance < DARK ? Color.WHITE : Tone.INK.color());
                for (int i = 0; i < fit; i++) {
                    double wide = metrics.stringWidth(lines[i]);
                    if (wide < x2 - x1) {
                        double at = (y1 + y2) / 2 + (i - (fit - 1) / 2.0) * high + metrics.getAscent() * 0.4;
                        g.drawString(lines[i], (float) ((x1 + x2 - wide) / 2), (float) at);
                    }
                }
            }
        }

        private void guide(Mark.Guide guide) {
            g.setPaint(guide.tone().color());
            g.setStroke(Scales.stroke(1, guide.line()));
            g.setFont(Fonts.plain(font * 0.85));
            FontMetrics metrics = g.getFontMetrics();
            double wide = metrics.stringWidth(guide.label());
            if (guide.upright()) {
                double x = scales.x(guide.at(), area);
                if (!Double.isFinite(x) || x < area.getMinX() - 0.5 || x > area.getMaxX() + 0.5) {
                    return;
                }
                g.draw(new Line2D.Double(x, area.getMinY(), x, area.getMaxY()));
                double left = x + 4 + wide > area.getMaxX() + 8 ? x - 4 - wide : x + 4;
                label(guide.label(), left, area.getMinY() + metrics.getAscent(), guide.tone());
            } else {
                double y = scales.y(guide.at(), area);
                if (!Double.isFinite(y) || y < area.getMinY() - 0.5 || y > area.getMaxY() + 0.5) {
                    return;
                }
                g.draw(new Line2D.Double(area.getMinX(), y, area.getMaxX(), y));
                double right = area.getMaxX() - wide - 2;
                double middle = (area.getMinX() + right) / 2;
                double left = area.getMinX() + 4;
                double free = DoubleStream.of(right, left, middle)
                        .filter(at ->
                                free(new Rectangle2D.Double(at, y - metrics.getAscent(), wide, metrics.getHeight())))
                        .findFirst()
                        .orElse(right);
                label(guide.label(), free, y - 3, guide.tone());
            }
        }

        private void label(String text, double left, double base, Tone tone) {
            if (text.isEmpty()) {
                return;
            }
            FontMetrics metrics = g.getFontMetrics();
            taken.add(new Rectangle2D.Double(
                    left, base - metrics.getAscent(), metrics.stringWidth(text), metrics.getHeight()));
            g.setPaint(tone.color());
            g.drawString(text, (float) left, (float) base);
        }

        private void word(Mark.Word word) {
            Font plain = word.strong() ? Fonts.strong(font * 0.9) : Fonts.plain(font * 0.9);
            Font shown = Fonts.showing(plain, word.text());
            g.setFont(shown);
            FontMetrics metrics = g.getFontMetrics();
            boolean near = word.side() == Mark.Side.NEAR;
            String text = near ? Scales.shortened(word.text(), metrics, area.getWidth() * 0.3) : word.text();
            double wide = metrics.stringWidth(text);
            double x = x(word.at());
            double y = y(word.at());
            double middle = metrics.getAscent() * 0.38;
            double off = font * 0.6;
            double[][] places =
                    switch (word.side()) {
                        case RIGHT -> new double[][] {{x + off, y + middle}};
                        case ON -> new double[][] {{x - wide / 2, y + middle}};
                        case NEAR ->
                            new double[][] {
                                {x + off, y + middle},
                                {x - off - wide, y + middle},
                                {x + off * 0.7, y - off * 0.7},
                                {x - wide - off * 0.7, y - off * 0.7},
                                {x + off * 0.7, y + off * 0.7 + 2 * middle},
                                {x - wide - off * 0.7, y + off * 0.7 + 2 * middle},
                                {x - wide / 2, y - off * 1.1},
                                {x - wide / 2, y + off * 1.1 + 2 * middle}
                            };
                    };
            double up = metrics.getAscent();
            List<Rectangle2D> boxes = Arrays.stream(places)
                    .map(p -> (Rectangle2D) new Rectangle2D.Double(p[0] - 1, p[1] - up * 0.9, wide + 2, up * 1.1))
                    .toList();
            // Clear of everything; or, on a white ground, across lines; or, if it matters, anywhere.
            Optional<Rectangle2D> clear = near
                    ? boxes.stream().filter(b -> free(b) && apart(b, crossed)).findFirst()
                    : Optional.of(boxes.get(0));
            Optional<Rectangle2D> box = clear.or(
                            () -> boxes.stream().filter(this::free).findFirst())
                    .or(() -> word.strong() ? Optional.of(boxes.get(0)) : Optional.empty());
            if (box.isPresent()) {
                double[] at = places[boxes.indexOf(box.get())];
                taken.add(box.get());
                if (clear.isEmpty()) {
                    g.setPaint(Color.WHITE);
                    g.fill(box.get());
                }
                g.setPaint(word.tone().color());
                g.drawString(text, (float) at[0], (float) at[1]);
            }
        }

        private static boolean apart(Rectangle2D box, List<Rectangle2D> others) {
            return others.stream().noneMatch(o -> o.intersects(box));
        }

        private boolean free(Rectangle2D box) {
            return box.getMinX() >= area.getMinX()
                    && box.getMaxX() <= area.getMaxX() + 6
                    && box.getMinY() >= area.getMinY() - 4
                    && box.getMaxY() <= area.getMaxY() + 2
                    && apart(box, taken);
        }

        private static Color mixed(Color color, double share) {
            double s = Math.max(0, Math.min(1, share));
            return new Color(
                    (int) Math.round(255 + (color.getRed() - 255) * s),
                    (int) Math.round(255 + (color.getGreen() - 255) * s),
                    (int) Math.round(255 + (color.getBlue() - 255) * s));
        }
    }
}

package keenfold.view.chart;

import java.awt.Color;
import java.awt.Font;
import java.awt.FontMetrics;
import java.awt.Graphics2D;
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
import org.jfree.chart.ui.RectangleEdge;

/** Draws marks within the area of one frame. */
final class MarkPainter {
    private static final int MOST_STROKES = 400;
    /** Surfaces of less luminance, of 255, bear white letters. */
    private static final double DARK = 125;

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
                    .filter(at -> free(new Rectangle2D.Double(at, y - metrics.getAscent(), wide, metrics.getHeight())))
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
        Optional<Rectangle2D> clear =
                near ? boxes.stream().filter(b -> free(b) && apart(b, crossed)).findFirst() : Optional.of(boxes.get(0));
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

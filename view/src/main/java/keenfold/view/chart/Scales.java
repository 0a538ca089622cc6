package keenfold.view.chart;

import java.awt.BasicStroke;
import java.awt.Font;
import java.awt.FontMetrics;
import java.awt.Graphics2D;
import java.awt.geom.Rectangle2D;
import java.text.DecimalFormat;
import java.text.DecimalFormatSymbols;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.axis.NumberTick;
import org.jfree.chart.axis.NumberTickUnit;
import org.jfree.chart.axis.SymbolAxis;
import org.jfree.chart.axis.TickType;
import org.jfree.chart.ui.RectangleEdge;
import org.jfree.chart.ui.RectangleInsets;
import org.jfree.chart.ui.TextAnchor;

/** The two axes of a frame as the chart library knows them, and where values lie on them. */
final class Scales {
    private static final double PADDING = 0.04;

    /** Below this room for names, in points, a frame is small. */
    private static final double SMALL = 120;

    private static final DecimalFormat SHARE = new DecimalFormat("0.0", DecimalFormatSymbols.getInstance(Locale.ROOT));

    private final Frame frame;
    private final NumberAxis x;
    private final NumberAxis y;

    private Scales(Frame frame, NumberAxis x, NumberAxis y) {
        this.frame = frame;
        this.x = x;
        this.y = y;
    }

    static Scales of(Frame frame, double fontSize, Graphics2D g, double width) {
        Font font = Fonts.plain(fontSize * 0.9);
        FontMetrics metrics = g.getFontMetrics(font);
        NumberAxis x = axis(frame.x(), frame, false, font, metrics, width * 0.3);
        NumberAxis y = axis(frame.y(), frame, true, font, metrics, width * 0.36);
        y.setInverted(frame.y().named());
        int widest = frame.x().names().stream()
                .mapToInt(n -> metrics.stringWidth(shortened(n, metrics, width * 0.3)))
                .max()
                .orElse(0);
        x.setVerticalTickLabels(
                frame.x().named() && widest > 0.6 * width / frame.x().names().size());
        return new Scales(frame, x, y);
    }

    private static NumberAxis axis(
            Axis axis, Frame frame, boolean upright, Font font, FontMetrics metrics, double room) {
        NumberAxis made = axis.log()
                ? new Ratios()
                : axis.named()
                        ? new SymbolAxis(
                                null,
                                axis.names().stream()
                                        .map(n -> shortened(n, metrics, room))
                                        .toArray(String[]::new))
                        : new NumberAxis();
        if (made instanceof SymbolAxis symbols) {
            symbols.setGridBandsVisible(false);
        } else if (!axis.log()) {
            made.setStandardTickUnits(NumberAxis.createStandardTickUnits(Locale.ROOT));
        }
        made.setLabel(axis.label().isEmpty() ? null : axis.label());
        made.setLabelFont(Fonts.showing(font, axis.label()));
        made.setLabelPaint(Tone.QUIET.color());
        made.setTickLabelFont(Fonts.showing(font, String.join("", axis.names())));
        made.setTickLabelPaint(Tone.INK.color());
        made.setTickMarkPaint(Tone.QUIET.color());
        made.setAxisLinePaint(Tone.QUIET.color());
        made.setTickMarksVisible(!axis.named());
        made.setAxisLineVisible(!axis.named());
        made.setTickLabelInsets(new RectangleInsets(2, 4, 2, 4));
        double low = axis.low();
        double high = axis.high();
        if (Double.isNaN(low) || Double.isNaN(high)) {
            double[] seen = frame.marks().stream()
                    .flatMap(Mark::extent)
                    .mapToDouble(upright ? Spot::y : Spot::x)
                    .filter(Double::isFinite)
                    .map(v -> axis.log() ? StrictMath.log10(v) : v)
                    .filter(Double::isFinite)
                    .toArray();
            double least = java.util.Arrays.stream(seen).min().orElse(0);
            double most = java.util.Arrays.stream(seen).max().orElse(1);
            double around = most > least ? PADDING * (most - least) : Math.max(1e-3, Math.abs(most) * 0.05);
            low = Double.isNaN(low) ? least - around : axis.log() ? StrictMath.log10(low) : low;
            high = Double.isNaN(high) ? most + around : axis.log() ? StrictMath.log10(high) : high;
        }
        boolean labelled = upright
                && axis.named()
                && frame.marks().stream()
                        .anyMatch(m -> m instanceof Mark.Guide guide
                                && guide.upright()
                                && !guide.label().isEmpty());
        // A little more than 1 is room for what stands beside a bar.
        if (axis.low() == 0 && axis.high() >= 1 && axis.high() < 1.1 && !axis.named()) {
            made.setTickUnit(new NumberTickUnit(room < SMALL ? 0.2 : 0.1, SHARE), false, true);
        }
        if (!axis.named() && !axis.log() && axis.low() == 1) {
            made.setStandardTickUnits(NumberAxis.createIntegerTickUnits(Locale.ROOT));
        }
        made.setRange(labelled ? low - 0.7 : low, high > low ? high : low + 1);
        return made;
    }

    /** A name cut to what there is room for. */
    static String shortened(String name, FontMetrics metrics, double room) {
        if (metrics.stringWidth(name) <= room) {
            return name;
        }
        int[] points = name.codePoints().toArray();
        int keep = points.length;
        while (keep > 1 && metrics.stringWidth(new String(points, 0, keep) + "…") > room) {
            keep -= Math.max(1, keep / 8);
        }
        return new String(points, 0, keep) + "…";
    }

    NumberAxis x() {
        return x;
    }

    NumberAxis y() {
        return y;
    }

    double x(double value, Rectangle2D area) {
        if (Double.isInfinite(value)) {
            return value > 0 ? area.getMaxX() : area.getMinX();
        }
        return x.valueToJava2D(frame.x().log() ? StrictMath.log10(value) : value, area, RectangleEdge.BOTTOM);
    }

    double y(double value, Rectangle2D area) {
        if (Double.isInfinite(value)) {
            return value > 0 ? area.getMinY() : area.getMaxY();
        }
        return y.valueToJava2D(frame.y().log() ? StrictMath.log10(value) : value, area, RectangleEdge.LEFT);
    }

    /** An axis of logarithms to base 10 whose ticks are round values. */
    private static final class Ratios extends NumberAxis {
        private static final int FEW_DECADES = 3;

        @Override
        @SuppressWarnings("rawtypes")
        public List refreshTicks(
                Graphics2D g2, org.jfree.chart.axis.AxisState state, Rectangle2D dataArea, RectangleEdge edge) {
            double low = getRange().getLowerBound();
            double high = getRange().getUpperBound();
            List<NumberTick> ticks = new ArrayList<>();
            double[] steps = high - low < 1 ? new double[] {1, 1.5, 2, 3, 5, 7} : new double[] {1, 2, 5};
            if (high - low > FEW_DECADES) {
                steps = new double[] {1};
            }
            DecimalFormat format = new DecimalFormat("0.######", DecimalFormatSymbols.getInstance(Locale.ROOT));
            boolean upright = edge.equals(RectangleEdge.LEFT);
            FontMetrics metrics = g2.getFontMetrics(getTickLabelFont());
            List<double[]> labelled = new ArrayList<>();
            // Whole powers of ten first: others are labelled where there is room between them.
            for (double step : steps) {
                for (int decade = (int) Math.floor(low); decade <= (int) Math.ceil(high); decade++) {
                    double at = decade + StrictMath.log10(step);
                    if (at < low || at > high) {
                        continue;
                    }
                    String label = format.format(step * StrictMath.pow(10, decade));
                    double place = valueToJava2D(at, dataArea, edge);
                    double half = upright ? metrics.getHeight() / 2.0 : metrics.stringWidth(label) / 2.0 + 3;
                    boolean room = labelled.stream().allMatch(l -> Math.abs(l[0] - place) >= l[1] + half);
                    if (room) {
                        labelled.add(new double[] {place, half});
                    }
                    ticks.add(new NumberTick(
                            TickType.MAJOR,
                            at,
                            room ? label : "",
                            upright ? TextAnchor.CENTER_RIGHT : TextAnchor.TOP_CENTER,
                            TextAnchor.CENTER,
                            0));
                }
            }
            return ticks;
        }

        @Override
        protected void selectAutoTickUnit(Graphics2D g2, Rectangle2D dataArea, RectangleEdge edge) {
            setTickUnit(new NumberTickUnit(1), false, false);
        }
    }

    static BasicStroke stroke(double weight, Mark.Line line) {
        float[] pattern =
                switch (line) {
                    case SOLID -> new float[0];
                    case DASHED -> new float[] {6, 3};
                    case DOTTED -> new float[] {1.5f, 3};
                    case MIXED -> new float[] {7, 3, 1.5f, 3};
                };
        return pattern.length == 0
                ? new BasicStroke((float) weight, BasicStroke.CAP_BUTT, BasicStroke.JOIN_ROUND)
                : new BasicStroke((float) weight, BasicStroke.CAP_BUTT, BasicStroke.JOIN_ROUND, 10, pattern, 0);
    }
}

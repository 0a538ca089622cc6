package keenfold.view.chart;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import keenfold.view.text.Ink;
import keenfold.view.text.Wrap;

/** Figures in characters, for a terminal: at most {@link Wrap#WIDTH} columns wide. */
public final class Sketch {
    private static final int NAME = 22;
    private static final int MOST_FRAMES = 6;
    private static final int CANVAS_ROWS = 15;

    private final Ink ink;
    private final Signs signs;

    private Sketch(Ink ink, boolean unicode) {
        this.ink = ink;
        this.signs = unicode ? Signs.UNICODE : Signs.ASCII;
    }

    /** The characters that marks are made of. */
    record Signs(
            String dots,
            char thick,
            char thin,
            char guide,
            char level,
            char bar,
            char wash,
            String density,
            boolean fine) {
        /** Dots are disc, ring, diamond, square. */
        static final Signs UNICODE = new Signs("●○◆■", '━', '─', '│', '┄', '█', '░', "▁▂▃▄▅▆▇█", true);

        static final Signs ASCII = new Signs("oOX#", '=', '-', '|', '.', '#', ':', ".:+*#", false);

        char dot(Mark.Form form) {
            return switch (form) {
                case DISC -> dots.charAt(0);
                case RING -> dots.charAt(1);
                case DIAMOND -> dots.charAt(2);
                case SQUARE -> dots.charAt(3);
            };
        }
    }

    /**
     * Returns a figure as lines.
     *
     * @param unicode whether the terminal shows more than ASCII
     */
    public static String render(Figure figure, Ink ink, boolean unicode) {
        return new Sketch(ink, unicode).figure(figure);
    }

    private String figure(Figure figure) {
        StringBuilder text =
                new StringBuilder(ink.strong(Wrap.lines(figure.title(), 0).stripTrailing()) + "\n");
        List<Frame> shown =
                figure.frames().subList(0, Math.min(MOST_FRAMES, figure.frames().size()));
        List<List<String>> waiting = new ArrayList<>();
        for (Frame frame : shown) {
            boolean wide = frame.y().named() || figure.frames().size() == 1;
            List<String> lines = frame.y().named() && frame.x().named()
                    ? matrix(frame)
                    : frame.y().named() ? rows(frame) : canvas(frame, wide ? Wrap.WIDTH : Wrap.WIDTH / 2 - 1);
            if (wide) {
                text.append('\n');
                lines.forEach(l -> text.append(l.stripTrailing()).append('\n'));
            } else {
                waiting.add(lines);
            }
        }
        for (int i = 0; i < waiting.size(); i += 2) {
            text.append('\n').append(beside(waiting.subList(i, Math.min(waiting.size(), i + 2))));
        }
        if (figure.frames().size() > shown.size()) {
            text.append('\n')
                    .append(figure.frames().size() - shown.size())
                    .append(" more frames: name fewer candidates, or draw into a file with -o\n");
        }
        return text.append('\n')
                .append(ink.quiet(Wrap.lines(signs(figure.caption()), 0).stripTrailing()))
                .append('\n')
                .toString();
    }

    /** What captions say of strokes, in the words of this medium. */
    private String signs(String caption) {
        String plain = signs.fine ? caption : caption.replace("±", "+/-");
        return plain.replace("Diamond: ", signs.dot(Mark.Form.DIAMOND) + " ")
                .replace("square: ", signs.dot(Mark.Form.SQUARE) + " ");
    }

    private static String beside(List<List<String>> frames) {
        StringBuilder text = new StringBuilder();
        int most = frames.stream().mapToInt(List::size).max().orElse(0);
        for (int i = 0; i < most; i++) {
            StringBuilder line = new StringBuilder();
            for (List<String> frame : frames) {
                line.append(line.isEmpty() ? "" : "  ");
                String part = i < frame.size() ? frame.get(i) : "";
                line.append(part).append(" ".repeat(Math.max(0, Wrap.WIDTH / 2 - 1 - part.length())));
            }
            text.append(line.toString().stripTrailing()).append('\n');
        }
        return text.toString();
    }

    static String cut(String name, int room) {
        String shown = Wrap.visible(name);
        return shown.length() <= room ? shown : shown.substring(0, room - 1) + "~";
    }

    /** The range of an axis: its own, or that of the marks. */
    private static double[] range(Axis axis, Frame frame, boolean upright) {
        double[] seen = frame.marks().stream()
                .flatMap(Mark::extent)
                .mapToDouble(s -> upright ? s.y() : s.x())
                .filter(Double::isFinite)
                .toArray();
        double low =
                Double.isNaN(axis.low()) ? java.util.Arrays.stream(seen).min().orElse(0) : axis.low();
        double high =
                Double.isNaN(axis.high()) ? java.util.Arrays.stream(seen).max().orElse(1) : axis.high();
        return new double[] {low, high > low ? high : low + 1};
    }

    static int place(double value, double[] range, boolean log, int cells) {
        double share = log
                ? StrictMath.log(value / range[0]) / StrictMath.log(range[1] / range[0])
                : (value - range[0]) / (range[1] - range[0]);
        return Double.isInfinite(value)
                ? value > 0 ? cells - 1 : 0
                : (int) Math.round(Math.max(0, Math.min(1, share)) * (cells - 1));
    }

    /** A line or two for each name. */
    private List<String> rows(Frame frame) {
        int name = Math.min(
                NAME, frame.y().names().stream().mapToInt(String::length).max().orElse(1));
        int right = frame.marks().stream()
                .filter(m -> m instanceof Mark.Word)
                .mapToInt(m -> ((Mark.Word) m).text().length() + 2)
                .max()
                .orElse(2);
        int cells = Wrap.WIDTH - name - 2 - right;
        double[] range = range(frame.x(), frame, false);
        List<String> lines = new ArrayList<>();
        if (!frame.title().isEmpty()) {
            lines.add(Wrap.visible(frame.title()));
        }
        for (int i = 0; i < frame.y().names().size(); i++) {
            char[] line = blank(frame, range, cells, i);
            char[] below = blank(frame, range, cells, i);
            boolean strips = false;
            String word = "";
            for (Mark mark : frame.marks()) {
                if (mark instanceof Mark.Reach reach && Math.abs(reach.from().y() - i) < 0.1) {
                    draw(line, reach, range, frame.x().log());
                } else if (mark instanceof Mark.Dot dot && dot.at().y() == i) {
                    line[place(dot.at().x(), range, frame.x().log(), cells)] = signs.dot(dot.form());
                } else if (mark instanceof Mark.Strip strip && Math.abs(strip.at() - i) < 0.5) {
                    strips |= strip(below, strip.values(), range);
                } else if (mark instanceof Mark.Block block && bar(block, i)) {
                    int to = place(block.to().x(), range, frame.x().log(), cells);
                    for (int x = place(block.from().x(), range, frame.x().log(), cells); x <= to; x++) {
                        line[x] = signs.bar;
                    }
                } else if (mark instanceof Mark.Word own && own.at().y() == i) {
                    word = own.text();
                }
            }
            String left = cut(frame.y().names().get(i), name);
            lines.add(left + " ".repeat(name - left.length()) + "  " + new String(line) + "  " + word);
            if (strips) {
                lines.add(" ".repeat(name + 2) + new String(below));
            }
        }
        lines.add(" ".repeat(name + 2) + axis(range, frame.x().log(), cells));
        lines.add(" ".repeat(name + 2) + Wrap.visible(frame.x().label()));
        return lines;
    }

    private static boolean bar(Mark.Block block, int row) {
        return block.to().y() - block.from().y() < 1
                && Math.abs((block.from().y() + block.to().y()) / 2 - row) < 0.1;
    }

    /** An empty line of a row, with the guides and surfaces that cross it. */
    private char[] blank(Frame frame, double[] range, int cells, int row) {
        char[] line = " ".repeat(cells).toCharArray();
        for (Mark mark : frame.marks()) {
            if (mark instanceof Mark.Block block
                    && block.to().y() - block.from().y() > 1
                    && block.from().y() < row) {
                int to = place(block.to().x(), range, frame.x().log(), cells);
                for (int x = place(block.from().x(), range, frame.x().log(), cells); x <= to; x++) {
                    line[x] = signs.wash;
                }
            } else if (mark instanceof Mark.Guide guide && guide.upright()) {
                line[place(guide.at(), range, frame.x().log(), cells)] = signs.guide;
            } else if (mark instanceof Mark.Reach reach
                    && reach.from().x() == reach.to().x()
                    && reach.from().y() <= row
                    && reach.to().y() >= row) {
                line[place(reach.from().x(), range, frame.x().log(), cells)] = signs.guide;
            }
        }
        return line;
    }

    private void draw(char[] line, Mark.Reach reach, double[] range, boolean log) {
        if (!Double.isFinite(reach.from().x()) || !Double.isFinite(reach.to().x())) {
            return;
        }
        int from = place(Math.min(reach.from().x(), reach.to().x()), range, log, line.length);
        int to = place(Math.max(reach.from().x(), reach.to().x()), range, log, line.length);
        for (int x = from; x <= to; x++) {
            line[x] = reach.weight() > 2 ? signs.thick : signs.thin;
        }
    }

    private boolean strip(char[] line, List<Double> values, double[] range) {
        int[] counts = new int[line.length];
        int most = 1;
        for (double v : values) {
            int x = place(v, range, false, line.length);
            most = Math.max(most, ++counts[x]);
        }
        for (int x = 0; x < counts.length; x++) {
            if (counts[x] > 0) {
                int height = (counts[x] * signs.density.length() + most - 1) / most - 1;
                line[x] = signs.density.charAt(height);
            }
        }
        return !values.isEmpty();
    }

    /** Numbers below a line of cells, each under its place. */
    private static String axis(double[] range, boolean log, int cells) {
        int ticks = Math.max(2, Math.min(6, cells / 12));
        StringBuilder line = new StringBuilder();
        for (int t = 0; t < ticks; t++) {
            double share = (double) t / (ticks - 1);
            double value = log
                    ? range[0] * StrictMath.pow(range[1] / range[0], share)
                    : range[0] + share * (range[1] - range[0]);
            String text = number(value, range[1] - range[0], log);
            int at = (int) Math.round(share * (cells - 1));
            int start = t == 0 ? 0 : t == ticks - 1 ? cells - text.length() : at - text.length() / 2;
            line.append(" ".repeat(Math.max(line.isEmpty() ? 0 : 1, start - line.length())))
                    .append(text);
        }
        return line.toString();
    }

    private static String number(double value, double span, boolean log) {
        if (log) {
            return keenfold.results.table.NumberFormats.shortest(value);
        }
        int decimals = Math.max(0, Math.min(6, 2 - (int) Math.floor(StrictMath.log10(span))));
        String text = String.format(Locale.ROOT, "%." + decimals + "f", value);
        return text.matches("-0(\\.0*)?") ? text.substring(1) : text;
    }

    /** Curves and dots on a grid of cells; where signs are fine, each cell has two by four places. */
    private List<String> canvas(Frame frame, int width) {
        double[] xs = range(frame.x(), frame, false);
        double[] ys = range(frame.y(), frame, true);
        int margin = 8;
        int cells = width - margin - 1;
        char[][] grid = new char[CANVAS_ROWS][];
        for (int y = 0; y < CANVAS_ROWS; y++) {
            grid[y] = " ".repeat(cells).toCharArray();
        }
        Canvas canvas = new Canvas(frame, grid, xs, ys, signs);
        canvas.paint();
        List<String> lines = new ArrayList<>();
        if (!frame.title().isEmpty()) {
            lines.add(cut(frame.title(), width));
        }
        lines.add(cut(frame.y().label(), width));
        for (int y = 0; y < CANVAS_ROWS; y++) {
            boolean tick = y == 0 || y == CANVAS_ROWS - 1 || y == CANVAS_ROWS / 2;
            double value = ys[1] - (ys[1] - ys[0]) * y / (CANVAS_ROWS - 1);
            String label = tick ? number(value, ys[1] - ys[0], false) : "";
            lines.add(" ".repeat(Math.max(0, margin - 1 - label.length())) + label + signs.guide + new String(grid[y]));
        }
        if (frame.x().named()) {
            StringBuilder names = new StringBuilder();
            for (int i = 0; i < frame.x().names().size(); i++) {
                int at = place(i, xs, false, cells);
                names.append(" ".repeat(Math.max(names.isEmpty() ? 0 : 1, at - names.length())))
                        .append(cut(frame.x().names().get(i), 12));
            }
            lines.add(" ".repeat(margin) + names);
        } else {
            lines.add(" ".repeat(margin) + axis(xs, frame.x().log(), cells));
        }
        lines.add(" ".repeat(margin) + cut(frame.x().label(), cells));
        return lines;
    }

    private List<String> matrix(Frame frame) {
        int k = frame.x().names().size();
        int name = Math.min(
                NAME, frame.y().names().stream().mapToInt(String::length).max().orElse(1));
        int cell = Math.min(14, (Wrap.WIDTH - name) / k);
        List<String> lines = new ArrayList<>();
        lines.add(Wrap.visible(frame.title()) + ": " + frame.y().label() + " down, "
                + frame.x().label() + " across");
        if (cell < 5) {
            lines.add("too many classes for a terminal; draw into a file with -o, or see scores --confusion");
            return lines;
        }
        StringBuilder head = new StringBuilder(" ".repeat(name));
        frame.x().names().forEach(n -> head.append(right(cut(n, cell - 1), cell)));
        lines.add(head.toString());
        for (int a = 0; a < k; a++) {
            String left = cut(frame.y().names().get(a), name);
            StringBuilder line = new StringBuilder(left + " ".repeat(name - left.length()));
            for (Mark mark : frame.marks()) {
                if (mark instanceof Mark.Block block && Math.round(block.from().y() + 0.48) == a) {
                    String[] parts = block.text().split("\n", -1);
                    String both = parts.length > 1 && cell >= 13 ? parts[0] + "  " + parts[1] : parts[0];
                    line.append(right(both, cell));
                }
            }
            lines.add(line.toString());
        }
        return lines;
    }

    private static String right(String text, int cells) {
        return " ".repeat(Math.max(0, cells - text.length())) + text;
    }
}

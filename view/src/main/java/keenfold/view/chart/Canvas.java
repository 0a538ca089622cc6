package keenfold.view.chart;

import java.util.List;

/** A grid of cells that marks are set into. */
final class Canvas {
    private final Frame frame;
    private final char[][] grid;
    private final double[] xs;
    private final double[] ys;
    private final Sketch.Signs signs;
    private final int cells;
    private final int[][] dots;

    Canvas(Frame frame, char[][] grid, double[] xs, double[] ys, Sketch.Signs signs) {
        this.frame = frame;
        this.grid = grid;
        this.xs = xs;
        this.ys = ys;
        this.signs = signs;
        this.cells = grid[0].length;
        this.dots = new int[grid.length][cells];
    }

    private int column(double x) {
        return Sketch.place(x, xs, frame.x().log(), cells);
    }

    private int row(double y) {
        return grid.length - 1 - Sketch.place(y, ys, frame.y().log(), grid.length);
    }

    void paint() {
        for (Mark mark : frame.marks()) {
            if (mark instanceof Mark.Guide guide && !guide.upright()) {
                java.util.Arrays.fill(grid[row(guide.at())], signs.level());
            } else if (mark instanceof Mark.Guide guide) {
                for (char[] line : grid) {
                    line[column(guide.at())] = signs.guide();
                }
            } else if (mark instanceof Mark.Trace trace && trace.weight() >= 1) {
                trace(trace);
            }
        }
        for (int y = 0; y < grid.length; y++) {
            for (int x = 0; x < cells; x++) {
                if (dots[y][x] != 0) {
                    grid[y][x] = signs.fine() ? (char) (0x2800 + dots[y][x]) : '.';
                }
            }
        }
        for (Mark mark : frame.marks()) {
            if (mark instanceof Mark.Reach reach
                    && reach.from().x() == reach.to().x()) {
                int to = row(Math.min(reach.from().y(), reach.to().y()));
                for (int y = row(Math.max(reach.from().y(), reach.to().y())); y <= to; y++) {
                    grid[y][column(reach.from().x())] = signs.guide();
                }
            }
        }
        for (Mark mark : frame.marks()) {
            if (mark instanceof Mark.Dot dot && Double.isFinite(dot.at().y())) {
                grid[row(dot.at().y())][column(dot.at().x())] = signs.dot(dot.form());
            }
        }
        for (Mark mark : frame.marks()) {
            if (mark instanceof Mark.Guide guide && !guide.upright()) {
                set(grid[row(guide.at())], 1, guide.label());
            }
        }
        frame.marks().stream()
                .filter(m -> m instanceof Mark.Word word && word.strong())
                .forEach(m -> word((Mark.Word) m));
        frame.marks().stream()
                .filter(m -> m instanceof Mark.Word word && !word.strong())
                .forEach(m -> word((Mark.Word) m));
    }

    private void word(Mark.Word word) {
        String text = Sketch.cut(word.text(), 16);
        int x = column(word.at().x());
        int y = row(word.at().y());
        int[][] places = {{x + 2, y}, {x - 1 - text.length(), y}, {x - text.length() / 2, y - 1}, {x + 1, y + 1}};
        for (int[] at : places) {
            if (at[1] >= 0 && at[1] < grid.length && free(grid[at[1]], at[0], text.length())) {
                set(grid[at[1]], at[0], text);
                return;
            }
        }
    }

    private static boolean free(char[] line, int from, int length) {
        if (from < 0 || from + length > line.length) {
            return false;
        }
        for (int x = Math.max(0, from - 1); x < Math.min(line.length, from + length + 1); x++) {
            if ((line[x] != ' ' && x >= from && x < from + length) || Character.isLetterOrDigit(line[x])) {
                return false;
            }
        }
        return true;
    }

    private static void set(char[] line, int from, String text) {
        for (int i = 0; i < text.length(); i++) {
            if (from + i >= 0 && from + i < line.length) {
                line[from + i] = text.charAt(i);
            }
        }
    }

    /** Sets every place that a line touches; Braille patterns number their dots by column. */
    private void trace(Mark.Trace trace) {
        int[][] bits = {{0x01, 0x02, 0x04, 0x40}, {0x08, 0x10, 0x20, 0x80}};
        List<Spot> spots = trace.spots();
        for (int i = 1; i < spots.size(); i++) {
            double x0 = fine(spots.get(i - 1).x(), xs, frame.x().log(), cells * 2);
            double x1 = fine(spots.get(i).x(), xs, frame.x().log(), cells * 2);
            double y0 = fine(spots.get(i - 1).y(), ys, frame.y().log(), grid.length * 4);
            double y1 = fine(spots.get(i).y(), ys, frame.y().log(), grid.length * 4);
            if (!Double.isFinite(x0 + x1 + y0 + y1)) {
                continue;
            }
            int steps = (int) Math.max(1, Math.max(Math.abs(x1 - x0), Math.abs(y1 - y0)));
            for (int s = 0; s <= steps; s++) {
                if (trace.line() != Mark.Line.SOLID && s / 2 % 2 == 1) {
                    continue;
                }
                int x = (int) Math.round(x0 + (x1 - x0) * s / steps);
                int y = grid.length * 4 - 1 - (int) Math.round(y0 + (y1 - y0) * s / steps);
                dots[Math.max(0, Math.min(grid.length - 1, y / 4))][Math.max(0, Math.min(cells - 1, x / 2))] |=
                        bits[x % 2][Math.floorMod(y, 4)];
            }
        }
    }

    private static double fine(double value, double[] range, boolean log, int places) {
        double share = log
                ? StrictMath.log(value / range[0]) / StrictMath.log(range[1] / range[0])
                : (value - range[0]) / (range[1] - range[0]);
        return Math.max(0, Math.min(1, share)) * (places - 1);
    }
}

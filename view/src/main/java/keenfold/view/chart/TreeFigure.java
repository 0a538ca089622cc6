package keenfold.view.chart;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Deque;
import java.util.List;
import keenfold.results.table.NumberFormats;
import keenfold.view.model.TreeRule;
import keenfold.view.text.Wrap;

/** A tree drawn from its root on the left to its leaves on the right, one below the other. */
public final class TreeFigure {
    private static final double BAR = 0.8;
    private static final double THICKEST = 5;
    private static final double POINTS_A_LEVEL = 135;
    private static final double POINTS_BESIDE = 330;

    private final List<TreeRule> rules;
    private final List<String> labels;
    private final List<Mark> marks = new ArrayList<>();
    private final double[] heights;
    private final int deepest;

    private TreeFigure(List<TreeRule> rules, List<String> labels) {
        this.rules = rules;
        this.labels = labels.stream().map(Wrap::visible).toList();
        this.heights = new double[rules.size()];
        this.deepest = rules.stream().mapToInt(TreeRule::depth).max().orElse(0);
    }

    /** Returns a width in points at which conditions find room between the levels. */
    public static double width(List<TreeRule> rules) {
        int deepest = rules.stream().mapToInt(TreeRule::depth).max().orElse(0);
        return Math.min(10_000, Math.max(Look.DEFAULT.width(), deepest * POINTS_A_LEVEL + POINTS_BESIDE));
    }

    /**
     * Draws a tree.
     *
     * @param rules its nodes, each before those below it
     * @param labels of the classes
     * @param title what it is of
     * @param positive the class that bars show in the tone of the pick
     */
    public static Figure of(List<TreeRule> rules, List<String> labels, String title, int positive) {
        return new TreeFigure(rules, labels).figure(title, positive);
    }

    private Figure figure(String title, int positive) {
        List<String> columns = new ArrayList<>(List.of("depth", "condition", "rows", "leaf"));
        labels.forEach(l -> columns.add("share:" + l));
        FigureData data = FigureData.of(columns.toArray(new String[0]));
        for (TreeRule r : rules) {
            List<Object> row = new ArrayList<>(List.of(r.depth(), r.condition(), r.weight(), r.leaf()));
            row.addAll(r.shares());
            data.row(row.toArray());
        }
        place();
        lines();
        int leaves = rules.get(rules.size() - 1).leaf();
        for (int i = 0; i < rules.size(); i++) {
            TreeRule r = rules.get(i);
            if (r.leaf() > 0) {
                leaf(r, heights[i], positive);
            }
        }
        Axis x = new Axis("", List.of(), -0.15, deepest + BAR + 0.1, false);
        Axis y = Axis.names("", Collections.nCopies(leaves, " "));
        String caption =
                "Lines are as thick as the share of the training rows that they carry. Bars: class shares of the"
                        + " leaf's training rows, " + labels.get(positive)
                        + " in brown; beside them its class, that class's share"
                        + ", and its rows.";
        return new Figure(FigureKind.TREE, whole(title), caption, List.of(new Frame("", x, y, marks)), 1, data);
    }

    /** Leaves one below the other, each node midway between its two sides. */
    private void place() {
        for (int i = rules.size() - 1; i >= 0; i--) {
            TreeRule r = rules.get(i);
            if (r.leaf() > 0) {
                heights[i] = r.leaf() - 1.0;
            } else {
                heights[i] = (heights[i + 1] + heights[other(i)]) / 2;
            }
        }
    }

    /** The right side of a node: the second that stands one deeper below it. */
    private int other(int node) {
        int at = node + 2;
        while (rules.get(at).depth() != rules.get(node).depth() + 1) {
            at++;
        }
        return at;
    }

    private void lines() {
        double all = rules.get(0).weight();
        Deque<Integer> open = new ArrayDeque<>();
        for (int i = 0; i < rules.size(); i++) {
            TreeRule r = rules.get(i);
            while (open.size() > r.depth()) {
                open.pop();
            }
            String tip = r.condition() + "\n" + rows(r) + ", " + said(r);
            double thick = Math.max(0.8, THICKEST * r.weight() / all);
            if (i > 0) {
                double above = heights[open.element()];
                double from = r.depth() - 1;
                marks.add(
                        new Mark.Reach(new Spot(from, above), new Spot(from, heights[i]), thick, Tone.FAINT, "", tip));
                marks.add(new Mark.Reach(
                        new Spot(from, heights[i]), new Spot(from + 1, heights[i]), thick, Tone.FAINT, "", tip));
                marks.add(new Mark.Word(
                        new Spot(from + 0.5, heights[i] - 0.42),
                        Wrap.visible(r.condition()),
                        Mark.Side.ON,
                        Tone.INK,
                        false,
                        ""));
            }
            if (r.leaf() > 0 && r.depth() < deepest) {
                marks.add(new Mark.Reach(
                        new Spot(r.depth(), heights[i]), new Spot(deepest, heights[i]), 0.6, Tone.WASH, "", tip));
            }
            open.push(i);
        }
    }

    private String whole(String title) {
        TreeRule root = rules.get(0);
        return title + ": " + rules.get(rules.size() - 1).leaf() + " leaves, " + rows(root) + ", " + said(root);
    }

    private static String rows(TreeRule r) {
        return (r.weight() == Math.rint(r.weight())
                        ? Integer.toString((int) r.weight())
                        : "weight " + NumberFormats.significant(r.weight(), 3))
                + (r.weight() == 1 ? " row" : r.weight() == Math.rint(r.weight()) ? " rows" : "");
    }

    private String said(TreeRule r) {
        return labels.get(r.most()) + " " + NumberFormats.percent(r.shares().get(r.most()));
    }

    private void leaf(TreeRule r, double height, int positive) {
        double from = deepest;
        String tip = "leaf " + r.leaf() + ": " + said(r) + "\n" + rows(r);
        for (int c = 0; c < labels.size(); c++) {
            double to = from + BAR * r.shares().get(c);
            Tone tone = c == positive ? Tone.PICK : Tone.BEST;
            // Beyond two classes, those that are not positive in steps of one tone.
            double shade = c == positive ? 0.9 : 0.75 - 0.55 * c / Math.max(1, labels.size() - 1);
            if (to > from) {
                marks.add(new Mark.Block(
                        new Spot(from, height - 0.28), new Spot(to, height + 0.28), shade, tone, "", "", tip));
            }
            from = to;
        }
        marks.add(new Mark.Word(
                new Spot(Double.POSITIVE_INFINITY, height),
                said(r) + ", " + rows(r),
                Mark.Side.RIGHT,
                Tone.INK,
                false,
                ""));
    }
}

package keenfold.view.chart;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.infer.Across;
import keenfold.core.infer.AcrossSets;
import keenfold.core.infer.Confusions;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.Spread;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.run.Importance;
import keenfold.results.table.NumberFormats;
import keenfold.view.text.Wrap;

/** Figures of confusion matrices, of ranks over data sets, and of columns. */
final class TableFigures {
    private static final int MOST_COLUMNS = 20;

    private TableFigures() {}

    static Figure confusion(FigureContext s) {
        FigureData data =
                FigureData.of("dataset", "candidate", "actual", "predicted", "count", "of_actual", "of_predicted");
        List<String> labels = s.panel().task().data().classes().labels().stream()
                .map(Wrap::visible)
                .toList();
        int k = labels.size();
        List<Frame> frames = new ArrayList<>();
        for (int c : s.candidates()) {
            Confusions all = Confusions.of(s.panel(), c);
            List<Mark> marks = new ArrayList<>();
            for (int a = 0; a < k; a++) {
                for (int p = 0; p < k; p++) {
                    double rows = all.count(a, p);
                    double share = all.ofActual(a, p);
                    data.row(s.data(), s.name(c), labels.get(a), labels.get(p), rows, share, all.ofPredicted(a, p));
                    String tip = s.name(c) + "\nactual " + labels.get(a) + ", predicted " + labels.get(p) + "\n"
                            + NumberFormats.fixed(rows, 1) + " rows, " + NumberFormats.percent(share)
                            + " of the actual, "
                            + NumberFormats.percent(all.ofPredicted(a, p)) + " of the predicted";
                    marks.add(new Mark.Block(
                            new Spot(p - 0.48, a - 0.48),
                            new Spot(p + 0.48, a + 0.48),
                            Double.isNaN(share) ? 0 : 0.06 + 0.84 * share,
                            a == p ? Tone.BEST : Tone.PICK,
                            rows == 0 && a != p && k > 6
                                    ? ""
                                    : NumberFormats.fixed(rows, k > 12 || rows >= 100 ? 0 : 1) + "\n"
                                            + NumberFormats.percent(share),
                            s.name(c),
                            tip));
                }
            }
            Axis x = new Axis("predicted", labels, -0.5, k - 0.5, false);
            frames.add(new Frame(s.name(c), x, new Axis("actual", labels, -0.5, k - 0.5, false), marks));
        }
        String caption = s.place()
                + " In each cell: rows, averaged over the repeats, and their share of the actual class, by which it is"
                + " shaded; blue on the diagonal is right, brown beside it is wrong.";
        int across = k > 8 ? 1 : CurveFigures.across(frames.size());
        return new Figure(
                FigureKind.CONFUSION,
                (s.candidates().size() == 1
                                ? s.data() + ", " + s.name(s.candidates().get(0))
                                : s.data()) + ": confusion matrices",
                caption,
                frames,
                across,
                data);
    }

    static Figure columns(FigureContext s, List<String> columns, List<Importance.Drops> all) {
        FigureData data =
                FigureData.of("dataset", "candidate", "metric", "column", "drop", "sd", "splits", "own_weight");
        List<Frame> frames = new ArrayList<>();
        for (Importance.Drops d : all) {
            int c = d.candidate();
            for (int j = 0; j < columns.size(); j++) {
                data.row(
                        s.data(),
                        s.name(c),
                        s.metricName(),
                        columns.get(j),
                        Spread.mean(drops(d, j)),
                        Spread.sd(drops(d, j)),
                        drops(d, j).length,
                        d.own().isEmpty() ? Double.NaN : d.own().getOrDefault(columns.get(j), 0.0));
            }
            List<Integer> order = IntStream.range(0, columns.size())
                    .boxed()
                    .sorted(Comparator.comparingDouble(j -> -Spread.mean(drops(d, j))))
                    .limit(MOST_COLUMNS)
                    .toList();
            List<Mark> marks = new ArrayList<>();
            marks.add(new Mark.Guide(0, true, Mark.Line.SOLID, Tone.QUIET, ""));
            for (int i = 0; i < order.size(); i++) {
                double[] drops = drops(d, order.get(i));
                double mean = Spread.mean(drops);
                double sd = Spread.sd(drops);
                String tip = s.name(c) + "\n" + Wrap.visible(columns.get(order.get(i))) + "\ndrop "
                        + NumberFormats.fixed(mean, 4) + ", sd over splits " + NumberFormats.two(sd);
                marks.add(new Mark.Strip(
                        java.util.Arrays.stream(drops).boxed().toList(), i + 0.3, Tone.FAINT, s.name(c), tip));
                marks.add(new Mark.Reach(new Spot(0, i), new Spot(mean, i), 2.6, s.tone(c), s.name(c), tip));
                marks.add(new Mark.Dot(new Spot(mean, i), s.form(c), s.tone(c), s.name(c), tip));
            }
            frames.add(new Frame(
                    s.name(c),
                    Axis.numbers(s.metricName() + " lost when shuffled"),
                    Axis.names(
                            "",
                            order.stream()
                                    .map(j -> Wrap.visible(columns.get(j)))
                                    .toList()),
                    marks));
        }
        int splits = all.isEmpty() ? 0 : all.get(0).score().size();
        String caption = s.place()
                + " Mean loss on test rows when a column is shuffled among them; strokes: each of the "
                + splits
                + " splits. It says what the fitted models rely on: of columns with the same information, each looks unimportant."
                + (columns.size() > MOST_COLUMNS
                        ? " The first " + MOST_COLUMNS + " of " + columns.size() + " columns."
                        : "");
        return new Figure(
                FigureKind.COLUMNS,
                s.data() + ": what columns are worth",
                caption,
                frames,
                Math.min(2, frames.size()),
                data);
    }

    private static double[] drops(Importance.Drops d, int column) {
        return d.drops().get(column).stream().mapToDouble(Double::doubleValue).toArray();
    }

    /** Mean ranks over data sets. */
    static Figure ranks(AcrossSets sets, List<MetricInference> each, double level) {
        Across across = sets.across();
        AlignedPredictions panel = each.get(0).panel();
        String metric = each.get(0).metric().name();
        FigureData data = FigureData.of("candidate", "metric", "rank", "group");
        double[] ranks = across.averageRanks();
        List<Integer> order = IntStream.range(0, ranks.length)
                .boxed()
                .sorted(Comparator.comparingDouble(j -> ranks[j]))
                .toList();
        boolean significant = across.imanDavenport().p() < 1 - level;
        double apart = significant ? across.nemenyi(1 - level) : Double.POSITIVE_INFINITY;
        List<String> names = order.stream()
                .map(j -> panel.candidates().get(sets.candidates().get(j)).name())
                .toList();
        List<int[]> groups = groups(order.stream().mapToDouble(j -> ranks[j]).toArray(), apart);
        List<Mark> marks = new ArrayList<>();
        for (int i = 0; i < order.size(); i++) {
            double rank = ranks[order.get(i)];
            List<String> of = new ArrayList<>();
            for (int g = 0; g < groups.size(); g++) {
                if (groups.get(g)[0] <= i && i <= groups.get(g)[1]) {
                    of.add(Integer.toString(g + 1));
                }
            }
            data.row(names.get(i), metric, rank, String.join(" ", of));
            String tip = names.get(i) + "\nmean rank " + NumberFormats.fixed(rank, 2);
            marks.add(new Mark.Dot(new Spot(rank, i), Mark.Form.DISC, Tone.INK, names.get(i), tip));
            marks.add(new Mark.Word(
                    new Spot(rank, i), NumberFormats.fixed(rank, 2), Mark.Side.RIGHT, Tone.QUIET, false, names.get(i)));
        }
        double most = ranks.length;
        double step = most * 0.035;
        for (int g = 0; g < groups.size(); g++) {
            double x = most + step * (g + 3);
            marks.add(new Mark.Reach(
                    new Spot(x, groups.get(g)[0] - 0.25),
                    new Spot(x, groups.get(g)[1] + 0.25),
                    3,
                    Tone.QUIET,
                    "",
                    "not told apart: " + names.get(groups.get(g)[0]) + " to " + names.get(groups.get(g)[1])));
        }
        String caption = across.sets() + " data sets, " + ranks.length + " candidates; 1 is best. "
                + (significant
                        ? "Bars at the right join candidates whose mean ranks differ by less than Nemenyi's critical"
                                + " difference at " + NumberFormats.level(level) + ", " + NumberFormats.fixed(apart, 2)
                                + ": a description; pairs are tested by contrast --across."
                        : "The candidates are not shown to differ (Iman-Davenport, p "
                                + NumberFormats.fixed(across.imanDavenport().p(), 3)
                                + "): the bar at the right joins them all.");
        Frame frame = new Frame(
                "",
                Axis.numbers("mean rank by " + metric).from(0.8).to(most + step * (groups.size() + 4)),
                Axis.names("", names),
                marks);
        return new Figure(
                FigureKind.RANKS,
                "Mean ranks by " + metric + " over " + across.sets() + " data sets",
                caption,
                List.of(frame),
                1,
                data);
    }

    /** First and last of each longest run of rising ranks that lie no further apart than {@code apart}; of two or more. */
    static List<int[]> groups(double[] rising, double apart) {
        List<int[]> groups = new ArrayList<>();
        int reached = -1;
        for (int from = 0; from < rising.length; from++) {
            int to = from;
            while (to + 1 < rising.length && rising[to + 1] - rising[from] < apart) {
                to++;
            }
            if (to > from && to > reached) {
                groups.add(new int[] {from, to});
                reached = to;
            }
        }
        return groups;
    }
}

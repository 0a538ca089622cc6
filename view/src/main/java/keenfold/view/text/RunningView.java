package keenfold.view.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.IntStream;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.resample.RunningMean;

/** How means settle as repeats are added. */
public final class RunningView {
    private static final int A_TABLE = 4;
    private static final int MOST_LINES = 20;

    private RunningView() {}

    /** Returns tables of running means and their standard errors, a few candidates each. */
    public static String render(Inference inference, MetricInference metric, Ink ink) {
        boolean joined = inference.panel().task().splits().joined();
        String unit = joined ? "repeat" : "split";
        List<Integer> compared = metric.compared();
        if (compared.isEmpty()) {
            return "no candidate has a mean of " + metric.metric().name() + " over all " + unit + "s\n";
        }
        List<List<RunningMean>> running = compared.stream().map(metric::running).toList();
        StringBuilder text = new StringBuilder(
                ink.strong(metric.metric().name()) + ", mean over the first " + unit + "s, with its se\n");
        int[] lines = lines(running.get(0).size());
        for (int from = 0; from < compared.size(); from += A_TABLE) {
            int to = Math.min(compared.size(), from + A_TABLE);
            TextTable table = TextTable.empty().column(unit + "s", TextTable.Align.RIGHT);
            for (int c = from; c < to; c++) {
                table.column(inference.panel().candidates().get(compared.get(c)).name(), TextTable.Align.POINT)
                        .column("se", TextTable.Align.POINT);
            }
            for (int line : lines) {
                List<String> cells = new ArrayList<>(List.of(Integer.toString(line + 1)));
                for (int c = from; c < to; c++) {
                    RunningMean one = running.get(c).get(line);
                    cells.add(NumberFormats.mean(one.mean(), one.standardError()));
                    cells.add(NumberFormats.two(one.standardError()));
                }
                table.row(cells);
            }
            text.append(table.render(ink)).append('\n');
        }
        return text.append(closing(inference, compared, running, unit, ink)).toString();
    }

    private static String closing(
            Inference inference, List<Integer> compared, List<List<RunningMean>> running, String unit, Ink ink) {
        int worst = IntStream.range(0, compared.size())
                .reduce((a, b) ->
                        last(running.get(b)).between() > last(running.get(a)).between() ? b : a)
                .orElse(0);
        RunningMean last = last(running.get(worst));
        String name = inference.panel().candidates().get(compared.get(worst)).name();
        if (Double.isNaN(last.between())) {
            return ink.quiet("with one " + unit + " nothing can be said of what more would change") + "\n";
        }
        boolean settled = last.between() < last.standardError() / 4;
        return ink.quiet(Wrap.lines(
                                String.format(
                                        Locale.ROOT,
                                        "se: uncertainty of the mean for new rows; more %ss cannot bring it below what the rows"
                                                + " allow. Endlessly many %ss would still move the mean that moves most (%s) by"
                                                + " about %s, %s.",
                                        unit,
                                        unit,
                                        name,
                                        NumberFormats.two(last.between()),
                                        settled
                                                ? "which is little beside its se: more are not needed"
                                                : "which is much beside its se: more are worth their time"),
                                0)
                        .stripTrailing())
                + "\n";
    }

    private static RunningMean last(List<RunningMean> running) {
        return running.get(running.size() - 1);
    }

    /** All, or some of many, the last one among them. */
    private static int[] lines(int count) {
        return count <= MOST_LINES
                ? IntStream.range(0, count).toArray()
                : IntStream.rangeClosed(1, MOST_LINES)
                        .map(i -> (int) ((long) i * count / MOST_LINES) - 1)
                        .toArray();
    }
}

package keenfold.view.text;

import java.util.List;
import java.util.Locale;
import java.util.stream.IntStream;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.resample.RunningMean;
import keenfold.results.Evaluation;
import keenfold.results.Settling;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;

/** How means settle as repeats are added. */
public final class RunningView {
    private static final int A_TABLE = 4;
    private static final int MOST_LINES = 20;

    private RunningView() {}

    /** Returns running means data set by data set. */
    public static String render(Settling settling, Ink ink) {
        StringBuilder text = new StringBuilder();
        for (Inference inference : settling.evaluation().inferences()) {
            text.append(Heading.of(inference.panel(), settling.evaluation().scheme(), ink))
                    .append('\n');
            ResultTable own = settling.table().where("dataset", Evaluation.name(inference));
            settling.metrics().forEach(m -> text.append(metric(settling, inference, m, own.where("metric", m), ink))
                    .append('\n'));
        }
        return text.toString();
    }

    private static String metric(Settling settling, Inference inference, String name, ResultTable rows, Ink ink) {
        MetricInference metric = inference.metric(name);
        String unit = inference.panel().task().splits().joined() ? "repeat" : "split";
        List<Integer> compared = settling.shown(metric);
        if (compared.isEmpty()) {
            return "no candidate has a mean of " + metric.metric().name() + " over all " + unit + "s\n";
        }
        SideBySide wide = new SideBySide(rows, List.of("repeats"), "candidate", List.of("running_mean", "running_se"));
        List<List<Object>> shown = IntStream.of(lines(wide.lines().size()))
                .mapToObj(wide.lines()::get)
                .toList();
        List<List<RunningMean>> running = compared.stream().map(metric::running).toList();
        return ink.strong(metric.metric().name()) + ", mean over the first " + unit + "s, with its se\n"
                + wide.render(shown, A_TABLE, List.of(), ink)
                + closing(inference, compared, running, unit, ink);
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

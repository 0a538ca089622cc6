package keenfold.view.text;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.IntStream;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.infer.resample.VarianceForm;
import keenfold.core.metric.MetricKind;
import keenfold.core.run.candidate.Family;
import keenfold.results.Scores;
import keenfold.results.table.Alignment;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;

/** Means and spreads as tables, one per metric. */
public final class ScoresView {
    private static final int MOST_CHOICES = 6;

    private final Scores scores;
    private final Inference inference;
    private final AlignedPredictions panel;
    private final Ink ink;

    private ScoresView(Scores scores, Inference inference, Ink ink) {
        this.scores = scores;
        this.inference = inference;
        this.panel = inference.panel();
        this.ink = ink;
    }

    /** Returns scores data set by data set: the tables of the metrics, then sizes and times. */
    public static String render(Scores scores, Ink ink) {
        StringBuilder text = new StringBuilder();
        scores.evaluation().note().ifPresent(n -> text.append(Wrap.visible(n)).append('\n'));
        for (Inference inference : scores.evaluation().inferences()) {
            text.append(Heading.of(inference.panel(), scores.evaluation().scheme(), ink))
                    .append('\n')
                    .append(new ScoresView(scores, inference, ink).ofSet())
                    .append('\n');
        }
        return text.toString();
    }

    private String ofSet() {
        StringBuilder text = new StringBuilder();
        scores.metrics().forEach(m -> text.append(metric(inference.metric(m))).append('\n'));
        boolean known =
                panel.candidates().stream().anyMatch(c -> !c.kind().name().equals("adopted"));
        return text.append(known ? costs() + '\n' : "")
                .append(legend(inference.metric(scores.metrics().get(0))))
                .toString();
    }

    private String metric(MetricInference metric) {
        String name = metric.metric().name();
        String head = Wrap.lines(Wrap.visible(name) + " (" + kind(metric) + ")", 2);
        return ink.strong(Wrap.visible(name))
                + head.substring(Wrap.visible(name).length())
                + means(scores.ranked(inference, metric))
                + standings(metric);
    }

    /** Without the extremes where they leave no room for remarks; {@code --spread} has them. */
    private String means(ResultTable means) {
        String table = TextTable.of(means).render(ink);
        return Wrap.width(table) <= Wrap.WIDTH
                ? table
                : TextTable.of(means.without("min", "max")).render(ink);
    }

    private String standings(MetricInference metric) {
        ResultTable standings = scores.standings(inference, metric);
        return standings.rows().isEmpty()
                ? ""
                : "\n" + ink.strong(Wrap.visible(metric.metric().name()) + ": which may be the best") + "\n"
                        + TextTable.of(standings).render(ink);
    }

    /**
     * Which way is better, and, of a score that is not an average of fold scores, that the mean joins the folds of a repeat: it may
     * lie outside of what single folds show.
     */
    public static String kind(MetricInference metric) {
        String direction = metric.metric().higherIsBetter() ? "higher is better" : "lower is better";
        boolean outside = metric.means().stream().anyMatch(m -> m.mean() < m.min() || m.mean() > m.max());
        boolean joined = metric.panel().task().splits().joined()
                && !metric.panel().scoresOnly()
                && metric.panel().task().splits().mostFolds() > 1;
        return joined && (outside || metric.metric().kind() == MetricKind.COUNTS)
                ? direction + "; mean of repeats, folds joined; sd, min, max of folds"
                : direction;
    }

    private String costs() {
        boolean shared = IntStream.range(0, panel.candidates().size()).anyMatch(panel::shared);
        return ink.strong("cost of one fit") + " (means; size is the median effective number of parameters)\n"
                + TextTable.of(Scores.costs(panel)).render(ink)
                + (shared
                        ? ink.quiet("shared: done once for the family; the time of the whole stands in each") + "\n"
                        : "")
                + chosen()
                + steps();
    }

    /** The steps before the classifier, said once for all candidates that have the same. */
    private String steps() {
        Map<String, List<String>> users = new LinkedHashMap<>();
        for (Family family : Family.of(panel.candidates())) {
            List<String> texts = family.members().stream().map(Scores::steps).toList();
            boolean alike = texts.stream().distinct().count() == 1;
            for (int m = 0; m < (alike ? 1 : texts.size()); m++) {
                users.computeIfAbsent(texts.get(m), k -> new ArrayList<>())
                        .add(alike ? family.name() : family.members().get(m).name());
            }
        }
        StringBuilder text =
                new StringBuilder("\n" + ink.strong("steps before the classifier; what it is wrapped in") + "\n");
        users.forEach(
                (steps, names) -> text.append(Wrap.lines(Wrap.visible(String.join(", ", names) + ": " + steps), 4)));
        return text.toString();
    }

    /** What tuning chose, candidate by candidate; nothing where nothing was tuned. */
    private String chosen() {
        TextTable table = TextTable.empty()
                .column("candidate", Alignment.NAME)
                .column("chosen", Alignment.LEFT)
                .column("fits", Alignment.RIGHT)
                .column("share", Alignment.RIGHT);
        boolean any = false;
        for (int c = 0; c < panel.candidates().size(); c++) {
            Map<String, Integer> counts = panel.chosen(c);
            int all = counts.values().stream().mapToInt(Integer::intValue).sum();
            int shown = 0;
            for (Map.Entry<String, Integer> one : counts.entrySet()) {
                if (shown++ < MOST_CHOICES) {
                    any = true;
                    table.row(List.of(
                            panel.candidates().get(c).name(),
                            one.getKey(),
                            Integer.toString(one.getValue()),
                            NumberFormats.percent((double) one.getValue() / all)));
                }
            }
            if (shown > MOST_CHOICES) {
                table.row(List.of(
                        panel.candidates().get(c).name(),
                        (shown - MOST_CHOICES) + " more choices, see export --what fits",
                        "",
                        ""));
            }
        }
        return any ? "\n" + ink.strong("what tuning chose inside the training sides") + "\n" + table.render(ink) : "";
    }

    /** Returns where standard errors come from. */
    public static String origin(MetricInference metric, int splits, String unit) {
        String draws = metric.draws() + " draws of " + unit + ", ";
        return switch (metric.form()) {
            case WIDENED -> draws + "widened for what other training rows would have changed, as seen between repeats";
            case INFLATED ->
                draws + "inflated by test rows per training row, since one partition alone cannot show more";
            case RESAMPLED -> "the spread of the " + splits + " splits, widened for the rows that they share";
            case CASES -> draws + "for these fitted models only";
        };
    }

    /** What an interval stands for that is not made of the standard error before it. */
    private String exactIntervals() {
        boolean any = scores.metrics().stream()
                .flatMap(m -> inference.metric(m).means().stream())
                .anyMatch(m -> m.interval() == MeanScore.Interval.CLOPPER_PEARSON);
        return any
                ? "Clopper-Pearson: with fewer than 5 errors, or right ones, the interval is exact for the rows as they were"
                        + " predicted, and not made of se, which allows for other training rows too. "
                : "";
    }

    private String legend(MetricInference metric) {
        String unit = panel.task().data().groups().isPresent() ? "groups" : "rows";
        if (metric.compared().isEmpty()) {
            return ink.quiet(Wrap.lines(
                                    "sd: spread of the fold scores that are there. No se and no interval: no candidate has"
                                            + " enough of its " + panel.common() + " fits to be compared.",
                                    0)
                            .stripTrailing())
                    + "\n";
        }
        if (panel.scoresOnly() && panel.common() == 1) {
            return ink.quiet("One score each: its uncertainty is not known.") + "\n";
        }
        return ink.quiet(Wrap.lines(
                                String.format(
                                        Locale.ROOT,
                                        "sd: spread of the %d fold scores. se: uncertainty of the mean, from %s. %sIntervals are"
                                                + " for one mean; overlap of two says nothing about their difference: see"
                                                + " contrast.",
                                        panel.common(),
                                        origin(metric, panel.common(), unit),
                                        exactIntervals()
                                                + (metric.form() == VarianceForm.WIDENED
                                                        ? "instability: how much other training rows change the ranking of"
                                                                + " rows; above 0.3 it is a lot, however accurate. "
                                                        : "")),
                                0)
                        .stripTrailing())
                + "\n";
    }
}

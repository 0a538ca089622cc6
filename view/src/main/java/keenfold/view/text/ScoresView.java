package keenfold.view.text;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.data.Plural;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.metric.MetricKind;
import keenfold.core.pick.Simplicity;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Family;
import keenfold.core.run.result.Fit;

/** Means and spreads as tables, one per metric. */
public final class ScoresView {
    private static final int MOST_CHOICES = 6;

    private final Inference inference;
    private final AlignedPredictions panel;
    private final boolean trainScores;
    private final Ink ink;

    private ScoresView(Inference inference, boolean trainScores, Ink ink) {
        this.inference = inference;
        this.panel = inference.panel();
        this.trainScores = trainScores;
        this.ink = ink;
    }

    /**
     * Returns the tables of one data set: those of the metrics, then sizes and times.
     *
     * @param trainScores whether scores on the training rows stand beside
     */
    public static String render(Inference inference, List<String> metrics, boolean trainScores, Ink ink) {
        ScoresView view = new ScoresView(inference, trainScores, ink);
        StringBuilder text = new StringBuilder();
        metrics.forEach(m -> text.append(view.metric(inference.metric(m))).append('\n'));
        boolean known =
                view.panel.candidates().stream().anyMatch(c -> !c.kind().name().equals("adopted"));
        return text.append(known ? view.costs() + '\n' : "")
                .append(view.legend(inference.metric(metrics.get(0))))
                .toString();
    }

    /** Returns candidates by falling worth, those without a mean last. */
    public static List<MeanScore> ranked(MetricInference metric) {
        return metric.means().stream()
                .sorted(Comparator.comparing((MeanScore m) -> Double.isNaN(m.mean()))
                        .thenComparing(m -> -metric.metric().turned(m.mean())))
                .toList();
    }

    private String metric(MetricInference metric) {
        TextTable table =
                TextTable.empty().column("candidate", TextTable.Align.NAME).column("mean", TextTable.Align.POINT);
        if (trainScores) {
            table.column("training", TextTable.Align.POINT);
        }
        table.column("sd", TextTable.Align.POINT)
                .column("se", TextTable.Align.POINT)
                .column(NumberFormats.level(inference.evidence().level()) + " interval", TextTable.Align.RIGHT)
                .column("min", TextTable.Align.POINT)
                .column("max", TextTable.Align.POINT)
                .column("", TextTable.Align.LEFT);
        for (MeanScore m : ranked(metric)) {
            double se = m.standardError();
            List<String> cells = new ArrayList<>(
                    List.of(panel.candidates().get(m.candidate()).name(), NumberFormats.mean(m.mean(), se)));
            if (trainScores) {
                cells.add(NumberFormats.fixed(m.train(), 3));
            }
            cells.addAll(List.of(
                    NumberFormats.two(m.sd()),
                    NumberFormats.two(se),
                    NumberFormats.interval(m.low(), m.high(), se),
                    NumberFormats.fixed(m.min(), 3),
                    NumberFormats.fixed(m.max(), 3),
                    remark(metric, m)));
            table.row(cells);
        }
        String name = metric.metric().name();
        String head = Wrap.lines(Wrap.visible(name) + " (" + kind(metric) + ")", 2);
        return ink.strong(Wrap.visible(name))
                + head.substring(Wrap.visible(name).length())
                + table.render(ink);
    }

    /**
     * Which way is better, and, of a score that is no average of fold scores, that the mean joins the folds of a repeat: it may
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

    private String remark(MetricInference metric, MeanScore m) {
        List<String> remarks = new ArrayList<>();
        int failed = panel.failedCount(m.candidate());
        if (failed > 0) {
            remarks.add(failed + " failed");
        }
        if (m.undefined() > 0) {
            remarks.add("undefined in " + Plural.of(m.undefined(), "fold"));
        }
        if (!metric.compared().contains(m.candidate())) {
            remarks.add("not compared");
        } else if (m.interval() == MeanScore.Interval.NONE) {
            remarks.add("no interval");
        } else if (m.interval() == MeanScore.Interval.CLOPPER_PEARSON) {
            remarks.add("Clopper-Pearson");
        } else if (m.interval() == MeanScore.Interval.LIMIT) {
            remarks.add("one-sided, no spread was seen");
        }
        return String.join(", ", remarks);
    }

    private String costs() {
        Simplicity sizes = Simplicity.of(panel);
        TextTable table = TextTable.empty()
                .column("candidate", TextTable.Align.NAME)
                .column("size", TextTable.Align.POINT)
                .column("train", TextTable.Align.RIGHT)
                .column("predict", TextTable.Align.RIGHT)
                .column("", TextTable.Align.LEFT);
        for (int c = 0; c < panel.candidates().size(); c++) {
            List<Fit> fits = panel.fitsOf(c);
            table.row(List.of(
                    panel.candidates().get(c).name(),
                    NumberFormats.significant(sizes.size(c), 3),
                    NumberFormats.seconds(seconds(fits, true)),
                    NumberFormats.seconds(seconds(fits, false)),
                    panel.shared(c) ? "shared" : ""));
        }
        boolean shared = IntStream.range(0, panel.candidates().size()).anyMatch(panel::shared);
        return ink.strong("cost of one fit") + " (means; size is the median effective number of parameters)\n"
                + table.render(ink)
                + (shared
                        ? ink.quiet("shared: done once for the family; the time of the whole stands in each") + "\n"
                        : "")
                + chosen()
                + steps();
    }

    /** Returns the steps before a classifier and what it is wrapped in, in words. */
    public static String steps(Candidate candidate) {
        List<String> steps = candidate.stepTexts();
        List<String> wrappers = candidate.wrapperTexts();
        List<String> first = candidate.recipe().members().isEmpty()
                ? steps
                : List.of("predictions of "
                        + candidate.recipe().members().stream()
                                .map(Candidate::name)
                                .collect(Collectors.joining(" and "))
                        + (steps.isEmpty() ? "" : ", " + String.join(", ", steps)));
        return (first.isEmpty() ? "none" : String.join(", ", first))
                + (wrappers.isEmpty() ? "" : "; " + String.join(", ", wrappers));
    }

    /** The steps before the classifier, said once for all candidates that have the same. */
    private String steps() {
        Map<String, List<String>> users = new LinkedHashMap<>();
        for (Family family : Family.of(panel.candidates())) {
            List<String> texts =
                    family.members().stream().map(ScoresView::steps).toList();
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
                .column("candidate", TextTable.Align.NAME)
                .column("chosen", TextTable.Align.LEFT)
                .column("fits", TextTable.Align.RIGHT)
                .column("share", TextTable.Align.RIGHT);
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

    /** Returns the mean seconds, by the clock, of fits: of training, or of prediction. */
    public static double seconds(List<Fit> fits, boolean train) {
        return fits.stream()
                .mapToDouble(f -> train ? f.times().trainWall() : f.times().predictWall())
                .average()
                .orElse(Double.NaN);
    }

    /** Returns where standard errors come from. */
    static String origin(MetricInference metric, int splits, String unit) {
        String draws = metric.draws() + " draws of " + unit + ", ";
        return switch (metric.form()) {
            case WIDENED -> draws + "widened for what other training rows would have changed, as seen between repeats";
            case INFLATED ->
                draws + "inflated by test rows per training row, since one partition alone cannot show more";
            case RESAMPLED -> "the spread of the " + splits + " splits, widened for the rows that they share";
            case CASES -> draws + "for these fitted models only";
        };
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
                                        "sd: spread of the %d fold scores. se: uncertainty of the mean, from %s. Intervals are"
                                                + " for one mean; overlap of two says nothing about their difference: see"
                                                + " contrast.",
                                        panel.common(),
                                        origin(metric, panel.common(), unit)),
                                0)
                        .stripTrailing())
                + "\n";
    }
}

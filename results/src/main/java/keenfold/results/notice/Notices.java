package keenfold.results.notice;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.data.Notice;
import keenfold.core.data.Plural;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Call;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.Method;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.metric.MetricKind;
import keenfold.core.metric.catalog.Measures;
import keenfold.core.split.Splits;
import keenfold.results.table.NumberFormats;

/** Warnings about results: what was seen and what to do, one sentence each. */
public final class Notices {
    private static final double IMBALANCED = 0.75;
    private static final double UNSTABLE = 0.3;
    private static final String UNSTABLE_RANKING = "unstable-ranking";
    private static final int FEW_REPEATS = 3;
    private static final int FEW_ROWS = 80;
    private static final int FEW_OF_CLASS = 20;
    private static final int MOST_NAMED = 6;

    private Notices() {}

    /** Returns what is to be said about the fits of a data set, whatever is asked of them. */
    public static List<Notice> ofFits(AlignedPredictions panel) {
        List<Notice> cautions = new ArrayList<>();
        DataSet data = panel.task().data();
        for (int c = 0; c < panel.candidates().size(); c++) {
            int failed = panel.failedCount(c);
            if (failed > 0) {
                Map.Entry<String, Integer> first =
                        panel.failures(c).entrySet().iterator().next();
                cautions.add(Notice.of(
                                "failed-fits",
                                "%d of %s of %s failed (%s); %s",
                                failed,
                                Plural.of(panel.fitCount(c), "fit"),
                                panel.candidates().get(c).name(),
                                first.getKey(),
                                panel.admitted().contains(c)
                                        ? "all are compared on the splits where none failed"
                                        : "too many to be compared")
                        .about(data.name())
                        .with("candidate", panel.candidates().get(c).name())
                        .with("failed", failed)
                        .with("fits", panel.fitCount(c))
                        .with("compared", panel.admitted().contains(c)));
            }
        }
        for (List<Integer> same : panel.identical()) {
            cautions.add(Notice.of(
                            "identical-predictions",
                            "%s predict exactly the same: what tells them apart changes nothing here",
                            same.stream()
                                    .map(c -> panel.candidates().get(c).name())
                                    .collect(Collectors.joining(", ")))
                    .about(data.name())
                    .with(
                            "candidates",
                            same.stream()
                                    .map(c -> panel.candidates().get(c).name())
                                    .toList()));
        }
        if (panel.scoresOnly()) {
            return cautions;
        }
        Splits splits = panel.task().splits();
        int units = data.groups().map(g -> g.levels().size()).orElse(data.rows());
        if (splits.joined() && splits.repeats() < FEW_REPEATS && splits.mostFolds() < units) {
            cautions.add(Notice.of(
                            "few-repeats",
                            "%s little of how other training rows would change the models; 10 repeats are advised",
                            Plural.of(splits.repeats(), "repeat shows", "repeats show"))
                    .about(data.name())
                    .with("repeats", splits.repeats()));
        }
        return cautions;
    }

    /** Returns that adopted data sets have the same classes, row by row, and may be the same rows. */
    public static List<Notice> ofEqualRows(List<Inference> inferences) {
        List<AlignedPredictions> adopted = inferences.stream()
                .map(Inference::panel)
                .filter(p -> !p.scoresOnly()
                        && p.candidates().stream().allMatch(c -> c.kind().name().equals("adopted")))
                .toList();
        List<Notice> cautions = new ArrayList<>();
        for (int a = 0; a < adopted.size(); a++) {
            for (int b = a + 1; b < adopted.size(); b++) {
                DataSet one = adopted.get(a).task().data();
                DataSet other = adopted.get(b).task().data();
                if (Arrays.equals(one.sourceRows(), other.sourceRows())
                        && Arrays.equals(one.targets(), other.targets())
                        && one.classes().labels().equals(other.classes().labels())) {
                    cautions.add(Notice.of(
                                    "equal-data-sets",
                                    "%s and %s have the same classes row by row; if they are the same rows, they count twice"
                                            + " across data sets",
                                    one.name(),
                                    other.name())
                            .with("datasets", List.of(one.name(), other.name())));
                }
            }
        }
        return cautions;
    }

    /** Returns what is to be said about data and splits, before anything is read from scores. */
    public static List<Notice> ofData(DataSet data, Splits splits) {
        List<Notice> cautions = new ArrayList<>();
        int[] counts = data.classCounts();
        int rarest = IntStream.range(0, counts.length)
                .reduce((a, b) -> counts[b] < counts[a] ? b : a)
                .orElse(0);
        int folds = splits.mostFolds();
        int units = data.groups().map(g -> g.levels().size()).orElse(data.rows());
        boolean each = splits.joined() && folds == units;
        if (splits.joined() && !each && counts[rarest] < folds) {
            cautions.add(Notice.of(
                            "class-below-folds",
                            "class \"%s\" has %s for %d folds, so that some folds test none of it; %sjoin classes",
                            data.classes().labels().get(rarest),
                            Plural.of(counts[rarest], "row"),
                            folds,
                            counts[rarest] < 2 ? "" : "ask for at most " + counts[rarest] + " folds, or ")
                    .about(data.name())
                    .with("class", data.classes().labels().get(rarest))
                    .with("rows", counts[rarest])
                    .with("folds", folds));
        } else if (!each) {
            lacking(data, splits, true).ifPresent(cautions::add);
        }
        lacking(data, splits, false).ifPresent(cautions::add);
        if (counts[rarest] < FEW_OF_CLASS) {
            cautions.add(Notice.of(
                            "rare-class",
                            "class \"%s\" has only %s; its scores are imprecise",
                            data.classes().labels().get(rarest),
                            Plural.of(counts[rarest], "row"))
                    .about(data.name())
                    .with("class", data.classes().labels().get(rarest))
                    .with("rows", counts[rarest]));
        }
        if (data.rows() < FEW_ROWS) {
            cautions.add(
                    Notice.of("few-rows", "with %d rows only large differences can be told from chance", data.rows())
                            .about(data.name())
                            .with("rows", data.rows()));
        }
        return cautions;
    }

    /** Splits of which one side has no row of some class. */
    private static Optional<Notice> lacking(DataSet data, Splits splits, boolean tested) {
        int[] targets = data.targets();
        int lacking = 0;
        int named = -1;
        for (int r = 0; r < splits.repeats(); r++) {
            for (int f = 0; f < splits.folds(r); f++) {
                int[] sides = splits.countsOf(r, f);
                boolean[] seen = new boolean[data.classes().count()];
                for (int i = 0; i < sides.length; i++) {
                    seen[targets[i]] |= tested ? sides[i] == 0 : sides[i] > 0;
                }
                for (int c = seen.length - 1; c >= 0; c--) {
                    named = seen[c] ? named : c;
                }
                lacking += IntStream.range(0, seen.length).allMatch(c -> seen[c]) ? 0 : 1;
            }
        }
        return lacking == 0
                ? Optional.empty()
                : Optional.of(Notice.of(
                                "splits-lacking-class",
                                "%d of %s %s no row of some class, such as \"%s\"; keenfold folds shows which; %s",
                                lacking,
                                Plural.of(splits.count(), "split"),
                                (tested ? "test" : "train") + (lacking == 1 ? "s" : "") + (tested ? "" : " on"),
                                data.classes().labels().get(named),
                                tested
                                        ? "fewer folds, or larger test sides, would have some"
                                        : "join classes, or train on more rows")
                        .about(data.name())
                        .with("splits", lacking)
                        .with("class", data.classes().labels().get(named))
                        .with("side", tested ? "test" : "train"));
    }

    /** Returns what is to be said about scores under one metric. */
    public static List<Notice> ofScores(AlignedPredictions panel, MetricInference metric) {
        List<Notice> cautions = new ArrayList<>(metric.notices());
        DataSet data = panel.task().data();
        if (metric.dropped() > 0 && !metric.compared().isEmpty()) {
            cautions.add(Notice.of(
                            "undefined-draws",
                            "undefined in some draws, for want of rows of a class; they are left out for all candidates"
                                    + " (--json counts them)")
                    .about(data.name(), metric.metric().name())
                    .with("draws", metric.dropped()));
        }
        if (panel.scoresOnly()) {
            return cautions;
        }
        double most = (double) Arrays.stream(data.classCounts()).max().orElse(0) / data.rows();
        if (metric.metric().kind() == MetricKind.ROW_MEAN && metric.metric().byLabels() && most >= IMBALANCED) {
            cautions.add(Notice.of(
                            "class-imbalance",
                            "%s of rows are of one class, so that always guessing it has an accuracy of %.3f; read"
                                    + " balanced-accuracy or auc beside it",
                            NumberFormats.percent(most),
                            most)
                    .about(data.name(), metric.metric().name())
                    .with("share", most));
        }
        if (!Measures.hasStudiedErrors(metric.metric().name())) {
            cautions.add(Notice.of(
                            "errors-not-studied",
                            "how good standard errors of calibration-error are was not studied; take them as rough")
                    .about(data.name()));
        }
        List<String> byHeart = metric.means().stream()
                .filter(m -> farAbove(metric, m))
                .map(m -> String.format(
                        Locale.ROOT,
                        "%s (%s against %s)",
                        panel.candidates().get(m.candidate()).name(),
                        NumberFormats.fixed(m.train(), 3),
                        NumberFormats.fixed(m.mean(), 3)))
                .toList();
        if (!byHeart.isEmpty()) {
            cautions.add(Notice.of(
                            "learned-by-heart",
                            "far better on training rows than on test rows for %s; they have memorised their training rows; judge them by the test score, and try simpler settings too",
                            some(byHeart))
                    .about(data.name(), metric.metric().name())
                    .with("candidates", byHeart));
        }
        unstable(panel, List.of(metric), metric.metric().name()).ifPresent(cautions::add);
        cautions.addAll(NumberChecks.ofMeans(panel, metric));
        return cautions;
    }

    /** Returns what is to be said about the scores of each class under several metrics: of instability once. */
    public static List<Notice> ofClassScores(
            AlignedPredictions panel, List<MetricInference> metrics, List<String> measures) {
        List<Notice> cautions = new ArrayList<>();
        metrics.forEach(m -> ofScores(panel, m).stream()
                .filter(n -> !n.code().equals(UNSTABLE_RANKING))
                .forEach(cautions::add));
        unstable(panel, metrics, String.join(", ", measures) + " by class").ifPresent(cautions::add);
        return cautions;
    }

    /** That other training rows change the ranking of rows a lot for some candidates, under any of the metrics. */
    private static Optional<Notice> unstable(
            AlignedPredictions panel, List<MetricInference> metrics, String metricNames) {
        List<String> unstable = metrics.stream()
                .flatMap(metric -> metric.means().stream())
                .filter(m -> m.variance().map(v -> v.instability() > UNSTABLE).orElse(false))
                .map(MeanScore::candidate)
                .distinct()
                .sorted()
                .map(c -> panel.candidates().get(c).name())
                .toList();
        return unstable.isEmpty()
                ? Optional.empty()
                : Optional.of(Notice.of(
                                UNSTABLE_RANKING,
                                "with other training rows the ranking of rows changes a lot for %s (instability above %s);"
                                        + " the standard errors allow for it",
                                some(unstable),
                                UNSTABLE)
                        .about(panel.task().data().name(), metricNames)
                        .with("candidates", unstable));
    }

    /**
     * Whether the training rows' score is better by more than chance between folds and by a tenth of the metric's range,
     * or, of a loss of probabilities, by half of the test score.
     */
    private static boolean farAbove(MetricInference metric, MeanScore score) {
        double gap = metric.metric().turned(score.train()) - metric.metric().turned(score.mean());
        double range = metric.metric().most() - metric.metric().least();
        double far = metric.metric().kind() == MetricKind.LOSS ? score.mean() / 2 : range / 10;
        return gap > far && gap > score.sd();
    }

    /** Returns what is to be said about calls that other draws could have turned. */
    public static List<Notice> ofContrasts(AlignedPredictions panel, MetricInference metric, double level) {
        List<String> close = new ArrayList<>();
        boolean drawn = metric.method() == Method.PIVOT
                || metric.method() == Method.CASES
                || metric.method() == Method.CASES_BCA;
        for (Contrast c : drawn && metric.draws() > 0 ? metric.contrasts() : List.<Contrast>of()) {
            double p = c.pAdjusted();
            double error = Math.sqrt(p * (1 - p) / metric.draws());
            if (c.call() != Call.NONE && Math.abs(p - (1 - level)) <= 2 * error) {
                close.add(names(panel, c));
            }
        }
        List<Notice> cautions = new ArrayList<>();
        List<String> unmoved = metric.contrasts().stream()
                .filter(c ->
                        c.note().equals(Contrast.NO_SPREAD) && c.standardError() > 0 && metric.method() == Method.PIVOT)
                .map(c -> names(panel, c))
                .toList();
        if (!unmoved.isEmpty()) {
            cautions.add(Notice.of(
                            "no-spread-seen",
                            "the difference of %s is the same in every draw, so that no spread was seen; its standard error is"
                                    + " what one %s of the smallest class would have changed",
                            some(unmoved),
                            panel.task().data().groups().isPresent() ? "group" : "row")
                    .about(panel.task().data().name())
                    .with("pairs", unmoved));
        }
        if (!close.isEmpty()) {
            cautions.add(Notice.of(
                            "more-draws-needed",
                            "p adjusted of %s is within its Monte Carlo error of %s; ask for more draws, such as --draws"
                                    + " %d, before relying on the call",
                            some(close),
                            NumberFormats.shortest(1 - level),
                            10 * metric.draws())
                    .about(panel.task().data().name())
                    .with("pairs", close)
                    .with("draws", 10 * metric.draws()));
        }
        cautions.addAll(NumberChecks.ofContrasts(panel, metric));
        return cautions;
    }

    /** The two candidates of a contrast. */
    static String names(AlignedPredictions panel, Contrast c) {
        return panel.candidates().get(c.candidate()).name() + " and "
                + panel.candidates().get(c.against()).name();
    }

    /** Returns that no call can come of so few draws, if so: to be said before the table. */
    public static List<Notice> ofFewDraws(AlignedPredictions panel, MetricInference metric, double level) {
        double least = metric.leastAdjusted();
        if (least < 1 - level - 1e-12 || metric.compared().size() < 2 || !metric.calls()) {
            return List.of();
        }
        long needed = (long) Math.floor(least * (metric.draws() + 1) / (1 - level) + 1e-9);
        return List.of(Notice.of(
                        "too-few-draws",
                        "with %d draws no p adjusted can be below %s, so that nothing can be called better or worse; ask for"
                                + " --draws %d or more",
                        metric.draws(),
                        NumberFormats.two(least),
                        needed)
                .about(panel.task().data().name(), metric.metric().name())
                .with("least_p_adjusted", least)
                .with("draws", needed));
    }

    /** Returns what a method of testing leaves out, of other methods than the preset one. */
    public static List<Notice> ofMethod(AlignedPredictions panel, MetricInference metric) {
        String name = panel.task().data().name();
        return switch (metric.method()) {
            case PIVOT -> List.of();
            case CASES, CASES_BCA ->
                List.of(Notice.of(
                                "fitted-models-only",
                                "intervals and p-values hold for these fitted models only; other training rows would"
                                        + " have given others, and for single trees or nearest neighbour differences are found that are"
                                        + " not there in 10 to 30 %% of cases at a nominal 5 %%")
                        .about(name));
            case CORRECTED_T ->
                List.of(Notice.of(
                                "liberal-test",
                                "corrected-t finds differences that are not there too often for unstable classifiers,"
                                        + " such as single trees and few neighbours")
                        .about(name));
            case MCNEMAR ->
                List.of(Notice.of(
                                "first-repeat-only",
                                "mcnemar looks at the labels of the first repeat alone, for these fitted models only")
                        .about(name));
            case HALVES -> HalvesNotices.of(panel, metric);
        };
    }

    /** The first few of some names. */
    static String some(List<String> names) {
        return names.size() <= MOST_NAMED
                ? String.join(", ", names)
                : String.join(", ", names.subList(0, MOST_NAMED)) + " and " + (names.size() - MOST_NAMED) + " more";
    }

    static Optional<Integer> guess(AlignedPredictions panel) {
        return IntStream.range(0, panel.candidates().size())
                .filter(c -> panel.candidates().get(c).kind().name().equals("majority"))
                .boxed()
                .findFirst();
    }
}

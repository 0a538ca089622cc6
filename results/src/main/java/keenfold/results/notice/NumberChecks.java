package keenfold.results.notice;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.IntStream;
import keenfold.core.data.Notice;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.McNemar;
import keenfold.core.infer.contrast.Method;
import keenfold.core.infer.distribution.Special;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.infer.resample.Variance;
import keenfold.core.infer.resample.VarianceForm;

/**
 * What contradicts itself, or is cut off, among the numbers that are about to be printed: said where it occurs, rather than
 * printed as if it were known.
 */
public final class NumberChecks {
    /** Codes of what is found. */
    public static final List<String> CODES =
            List.of("error-wider-than-interval", "lambda-at-its-cap", "interval-beyond-range", "exact-test-disagrees");

    /** λ is never above this (docs/methods.md, variance). */
    private static final double CAP = 2;

    private static final double ROUNDING = 1e-9;

    /** By how much the variance of the tested cases can be widened, as a standard deviation: √(1 + λ). */
    private static final double WIDEST = Math.sqrt(1 + CAP);

    /** A pair that an exact test still tells apart at this level, its z divided by the widest, is told apart plainly. */
    private static final double PLAIN = 0.001;

    /** A pair whose exact p is at least this in every repeat is plainly not told apart. */
    private static final double NOTHING = 0.5;

    private NumberChecks() {}

    /** Returns what contradicts itself among the means under one metric. */
    public static List<Notice> ofMeans(AlignedPredictions panel, MetricInference metric) {
        List<Notice> found = new ArrayList<>();
        say(
                found,
                panel,
                metric,
                "error-wider-than-interval",
                names(panel, metric, NumberChecks::errorIsWider),
                "of %s the standard error is wider than the interval, so that one of them is wrong; rely on the wider one");
        say(
                found,
                panel,
                metric,
                "lambda-at-its-cap",
                names(panel, metric, m -> m.variance()
                        .filter(NumberChecks::atCap)
                        .isPresent()),
                "of %s the allowance for other training rows is at its cap: the standard error may be too small");
        return found;
    }

    private static List<String> names(AlignedPredictions panel, MetricInference metric, Predicate<MeanScore> wanted) {
        return metric.means().stream()
                .filter(wanted)
                .map(m -> panel.candidates().get(m.candidate()).name())
                .toList();
    }

    static boolean errorIsWider(MeanScore m) {
        double reach = Math.max(m.mean() - m.low(), m.high() - m.mean());
        return m.interval() != MeanScore.Interval.NONE && m.standardError() > reach * (1 + ROUNDING) + ROUNDING;
    }

    private static boolean atCap(Variance variance) {
        return variance.lambda() >= CAP * (1 - ROUNDING);
    }

    /** Returns what contradicts itself among the differences under one metric. */
    public static List<Notice> ofContrasts(AlignedPredictions panel, MetricInference metric) {
        List<Contrast> contrasts = metric.contrasts();
        List<Notice> found = new ArrayList<>();
        say(
                found,
                panel,
                metric,
                "lambda-at-its-cap",
                pairs(panel, contrasts, c -> atCap(c.variance()) || atCap(c.familyVariance())),
                "of the difference of %s the allowance for other training rows is at its cap: its standard error may be too"
                        + " small");
        double range = metric.metric().most() - metric.metric().least();
        say(
                found,
                panel,
                metric,
                "interval-beyond-range",
                pairs(
                        panel,
                        contrasts,
                        c -> c.lowAll() < -range || c.highAll() > range || c.low() < -range || c.high() > range),
                "the interval of the difference of %s reaches beyond what the metric can give");
        say(
                found,
                panel,
                metric,
                "exact-test-disagrees",
                exact(panel, metric)
                        .map(test -> pairs(panel, contrasts, c -> test.contradicts(c, contrasts.size())))
                        .orElse(List.of()),
                "what is said of the difference of %s is contradicted plainly by the exact test of the same rows"
                        + " (contrast --method mcnemar)");
        return found;
    }

    /** Whether the exact test of the same rows contradicts what is said of a contrast. */
    static boolean contradicts(MetricInference metric, Contrast contrast) {
        return exact(metric.panel(), metric)
                .filter(test -> test.contradicts(contrast, metric.contrasts().size()))
                .isPresent();
    }

    private static List<String> pairs(AlignedPredictions panel, List<Contrast> contrasts, Predicate<Contrast> wanted) {
        return contrasts.stream()
                .filter(wanted)
                .map(c -> Notices.names(panel, c))
                .toList();
    }

    private static void say(
            List<Notice> found,
            AlignedPredictions panel,
            MetricInference metric,
            String code,
            List<String> names,
            String text) {
        if (!names.isEmpty()) {
            found.add(Notice.of(code, text, Notices.some(names))
                    .about(panel.task().data().name(), metric.metric().name())
                    .with("names", names));
        }
    }

    /** The exact test, where it looks at what the metric looks at and the variance is that of cases, widened. */
    private static Optional<Exact> exact(AlignedPredictions panel, MetricInference metric) {
        String name = metric.metric().name();
        boolean rightOrWrong = name.equals("accuracy") || name.equals("error");
        boolean rows = !panel.scoresOnly() && panel.task().data().groups().isEmpty();
        boolean widenedCases = metric.method() == Method.PIVOT && metric.form() != VarianceForm.RESAMPLED;
        return rightOrWrong && rows && metric.calls() && widenedCases
                ? Optional.of(new Exact(panel, metric))
                : Optional.empty();
    }

    /** McNemar's test of each repeat. */
    private record Exact(AlignedPredictions panel, MetricInference metric) {
        boolean contradicts(Contrast c, int family) {
            double[] byRepeat = IntStream.range(0, panel.parts(c.candidate()).size())
                    .mapToDouble(r -> McNemar.p(panel, c.candidate(), c.against(), r))
                    .sorted()
                    .toArray();
            if (c.significant()) {
                return byRepeat[0] >= NOTHING;
            }
            double most = Math.max(byRepeat[byRepeat.length - 1], Double.MIN_NORMAL);
            double z = most >= 1 ? 0 : -Special.normalQuantile(most / 2);
            double widened = 2 * StrictMath.exp(Special.logNormalTail(-z / WIDEST));
            return c.note().isEmpty() && widened * family < PLAIN;
        }
    }
}

package keenfold.results.notice;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import keenfold.core.data.Notice;
import keenfold.core.data.Plural;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.HalvesTester;
import keenfold.core.infer.distribution.FisherF;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.HalvesVariance;
import keenfold.results.table.NumberFormats;

/** What a reader must know of differences that are tested by runs on halves of the rows. */
final class HalvesNotices {
    /** Two variances of a pair differ by more than chance where p times the number of pairs is below this. */
    private static final double SIGNIFICANT = 0.05;

    private HalvesNotices() {}

    static List<Notice> of(AlignedPredictions panel, MetricInference metric) {
        String data = panel.task().data().name();
        String name = metric.metric().name();
        List<Notice> notices = new ArrayList<>();
        if (!metric.calls()) {
            notices.add(Notice.of(
                            "few-halves",
                            "rows were divided into halves in fewer than %d ways, so that nothing is called better or"
                                    + " worse; ask for more with evidence: {halves: 25}",
                            HalvesTester.FEWEST_SPLITS)
                    .about(data));
        }
        List<Contrast> tested = metric.contrasts().stream()
                .filter(c -> c.variance().halves().isPresent())
                .toList();
        List<TwoVariances> pairs = tested.stream()
                .map(TwoVariances::of)
                .filter(b -> Double.isFinite(b.ratio) && b.ratio > 0)
                .toList();
        if (!pairs.isEmpty()) {
            notices.add(againstPreset(panel, pairs).about(data, name));
        }
        long few = tested.stream()
                .filter(c -> c.variance().freedom() < HalvesTester.FEW_FREEDOM)
                .count();
        if (few > 0) {
            notices.add(Notice.of(
                            "halves-by-chance",
                            "in %s the chance of the fits outweighs what the halves tell (fewer than %d degrees of"
                                    + " freedom); more repeats in each half help most: evidence: {halves: {splits: 25,"
                                    + " repeats: 5}}",
                            Plural.of(few, "pair"),
                            (int) HalvesTester.FEW_FREEDOM)
                    .about(data, name)
                    .with("pairs", few));
        }
        return notices;
    }

    /**
     * The two variances of one pair.
     *
     * @param ratio V by halves over V by the preset method
     * @param p two-sided, of so unequal a ratio if both estimate the same variance: F with the degrees of freedom of both
     */
    private record TwoVariances(Contrast contrast, double ratio, double p) {
        static TwoVariances of(Contrast c) {
            HalvesVariance halves = c.variance().halves().orElseThrow();
            double ratio = c.variance().total() / halves.preset();
            return new TwoVariances(
                    c, ratio, FisherF.twoSided(ratio, c.variance().freedom(), halves.presetFreedom()));
        }

        String words(AlignedPredictions panel) {
            return Notices.names(panel, contrast) + " (" + NumberFormats.two(ratio) + " times)";
        }
    }

    private static Notice againstPreset(AlignedPredictions panel, List<TwoVariances> pairs) {
        int n = pairs.size();
        double[] ratios =
                pairs.stream().mapToDouble(TwoVariances::ratio).sorted().toArray();
        double median = (ratios[(n - 1) / 2] + ratios[n / 2]) / 2;
        List<TwoVariances> beyond = pairs.stream()
                .filter(b -> b.p * n < SIGNIFICANT)
                .sorted(Comparator.comparingDouble(TwoVariances::p))
                .toList();
        String judged = beyond.isEmpty()
                ? n == 1 ? "the two agree within chance" : "in each pair the two agree within chance"
                : "by more than chance they differ in " + Plural.of(beyond.size(), "pair") + ": "
                        + Notices.some(beyond.stream().map(b -> b.words(panel)).toList());
        return Notice.of(
                        "halves-beside-pivot",
                        "by halves the variance of a difference is %s times what method pivot takes (%s); %s",
                        NumberFormats.two(median),
                        n == 1
                                ? "one pair"
                                : "median of " + n + " pairs, " + NumberFormats.two(ratios[0]) + " to "
                                        + NumberFormats.two(ratios[n - 1]),
                        judged)
                .with("ratio", median)
                .with("least_ratio", ratios[0])
                .with("most_ratio", ratios[n - 1])
                .with("pairs", n)
                .with(
                        "beyond_chance",
                        beyond.stream()
                                .map(b -> Notices.names(panel, b.contrast))
                                .toList());
    }
}

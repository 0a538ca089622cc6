package keenfold.results.notice;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import keenfold.core.data.Notice;
import keenfold.core.data.Plural;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.HalvesTester;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.results.table.NumberFormats;

/** What a reader must know of differences that are tested by runs on halves of the rows. */
final class HalvesNotices {
    /** Between 1/FAR and FAR the median ratio of two variances may be chance alone. */
    private static final double FAR = 1.5;

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
        double[] ratios = tested.stream()
                .mapToDouble(c -> c.variance().total()
                        / c.variance().halves().orElseThrow().preset())
                .filter(Double::isFinite)
                .sorted()
                .toArray();
        if (ratios.length > 0) {
            notices.add(besidePreset(ratios).about(data, name));
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

    /** @param ratios V by halves over V by the preset method, rising */
    private static Notice besidePreset(double[] ratios) {
        int n = ratios.length;
        double median = (ratios[(n - 1) / 2] + ratios[n / 2]) / 2;
        double least = ratios[0];
        double most = Arrays.stream(ratios).max().orElseThrow();
        String judged = median > FAR
                ? "pivot is too bold here"
                : median < 1 / FAR ? "pivot is cautious here" : "the two agree within chance";
        return Notice.of(
                        "halves-beside-pivot",
                        "by halves the variance of a difference is %s times what method pivot takes (%s): %s",
                        NumberFormats.two(median),
                        n == 1
                                ? "one pair"
                                : "median of " + n + " pairs, " + NumberFormats.two(least) + " to "
                                        + NumberFormats.two(most),
                        judged)
                .with("ratio", median)
                .with("least_ratio", least)
                .with("most_ratio", most)
                .with("pairs", n);
    }
}

package keenfold.results.notice;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import keenfold.core.data.DataSet;
import keenfold.core.data.Notice;
import keenfold.core.data.RandomSource;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Call;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.metric.MetricKind;
import keenfold.core.pick.Picker;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Rule;
import keenfold.core.pick.Simplicity;
import keenfold.core.split.KFold;
import keenfold.results.MadePredictions;
import keenfold.results.MadePredictions.Guess;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestFactory;

/** No numbers contradict each other, on tables of every awkward kind. */
class NumberChecksTest {
    private static final InferenceSettings EVIDENCE = InferenceSettings.DEFAULT.withDraws(399);

    /** Right with a probability, of which a part is drawn for each repeat, the rest for the row. */
    private static Guess right(int classes, double share, double unstable, int levels) {
        return (actual, row, repeat) -> {
            boolean own = row.uniform() < unstable;
            RandomSource chance = own ? repeat : row;
            int said = chance.uniform() < share ? actual : chance.below(classes);
            double sure = 1.0 / classes + (1 - 1.0 / classes) * chance.uniform();
            sure = levels == 0 ? sure : Math.max(1, Math.rint(sure * levels)) / levels;
            double[] p = new double[classes];
            java.util.Arrays.fill(p, (1 - sure) / (classes - 1));
            p[said] = sure;
            return p;
        };
    }

    private static Guess shares(int[] counts) {
        double all = java.util.Arrays.stream(counts).sum();
        double[] p = java.util.Arrays.stream(counts).mapToDouble(n -> n / all).toArray();
        return (actual, row, repeat) -> p;
    }

    private static Guess perfect(int classes) {
        return (actual, row, repeat) -> {
            double[] p = new double[classes];
            p[actual] = 1;
            return p;
        };
    }

    private static Map<String, Guess> candidates(int[] counts, double share, double unstable, int levels) {
        int k = counts.length;
        Map<String, Guess> all = new LinkedHashMap<>();
        all.put("guess", shares(counts));
        all.put("simple", right(k, share, unstable / 4, levels));
        all.put("woods", right(k, share + (1 - share) / 3, unstable, levels));
        all.put("grove", right(k, share, unstable, levels));
        all.put("oracle", perfect(k));
        all.put("coin", right(k, 0, 1, levels));
        return all;
    }

    /** A table with its candidates. */
    private record Case(String name, DataSet data, KFold scheme, Map<String, Guess> candidates) {}

    private static List<Case> cases() {
        List<Case> all = new ArrayList<>();
        int[][] counts = {{60, 60}, {100, 12}, {40, 2}, {30, 30, 30}, {50, 9, 3}};
        for (int[] own : counts) {
            for (double share : new double[] {0, 0.5, 0.97, 0.995}) {
                for (int levels : new int[] {0, 2}) {
                    all.add(new Case(
                            java.util.Arrays.toString(own) + " right " + share + " levels " + levels,
                            MadePredictions.data(own, 1),
                            new KFold(own[own.length - 1] < 3 ? 2 : 5, 4, true),
                            candidates(own, share, 0.5, levels)));
                }
            }
            all.add(new Case(
                    java.util.Arrays.toString(own) + " in groups",
                    MadePredictions.data(own, 3),
                    new KFold(2, 3, true),
                    candidates(own, 0.9, 0.5, 0)));
            all.add(new Case(
                    java.util.Arrays.toString(own) + " once",
                    MadePredictions.data(own, 1),
                    new KFold(2, 1, true),
                    candidates(own, 0.9, 1, 0)));
        }
        return all;
    }

    @TestFactory
    Stream<DynamicTest> nothingContradictsItself() {
        return cases().stream()
                .map(c -> DynamicTest.dynamicTest(c.name, () -> {
                    List<String> names = List.of(
                            "accuracy", "auc", "balanced-accuracy", "f1", "mcc", "log-loss", "calibration-error");
                    Inference inference = MadePredictions.inference(
                            MadePredictions.results(c.data, c.scheme, 3, names, c.candidates), EVIDENCE);
                    int compared = 0;
                    for (String name : names) {
                        MetricInference metric = inference.metric(name);
                        compared += metric.compared().size();
                        requireSound(inference.panel(), metric);
                    }
                    assertThat(compared).isPositive();
                }));
    }

    private static void requireSound(AlignedPredictions panel, MetricInference metric) {
        List<Notice> found = new ArrayList<>(NumberChecks.ofMeans(panel, metric));
        found.addAll(NumberChecks.ofContrasts(panel, metric));
        // For losses λ is not drawn towards λ₀: in few repeats that of candidates that know nothing may come out at the
        // cap.
        // Then it is said.
        if (metric.metric().kind() == MetricKind.LOSS) {
            found.removeIf(n -> n.code().equals("lambda-at-its-cap"));
        }
        assertThat(found).as(metric.metric().name()).isEmpty();
        double range = metric.metric().most() - metric.metric().least();
        for (Contrast c : metric.contrasts()) {
            assertThat(c.pAdjusted()).isGreaterThanOrEqualTo(c.p());
            if (!Double.isNaN(c.low())) {
                assertThat(c.difference()).isBetween(c.low(), c.high());
                assertThat(c.low()).isBetween(Math.max(c.lowAll(), -range), c.high());
                assertThat(c.high()).isLessThanOrEqualTo(Math.min(c.highAll(), range));
            }
        }
        Picker.pick(metric, Simplicity.of(panel), Rule.ONE_SE).ifPresent(p -> assertThat(
                        PickNotices.shownWorse(panel, metric, p).isPresent())
                .isEqualTo(isCalledWorse(metric, p)));
    }

    private static boolean isCalledWorse(MetricInference metric, Picks picks) {
        return metric.contrasts().stream()
                .anyMatch(c -> c.candidate() == picks.pick() && c.against() == picks.best() && c.call() == Call.WORSE
                        || c.against() == picks.pick() && c.candidate() == picks.best() && c.call() == Call.BETTER);
    }

    private static MetricInference accuracy(Map<String, Guess> candidates) {
        return MadePredictions.inference(
                        MadePredictions.results(
                                MadePredictions.data(new int[] {80, 80}, 1),
                                new KFold(5, 3, true),
                                3,
                                List.of("accuracy"),
                                candidates),
                        EVIDENCE)
                .metric("accuracy");
    }

    /** A mean with a wide standard error and a narrow interval is said, as is what an exact test contradicts. */
    @Test
    void whatContradictsItselfIsSaid() {
        Map<String, Guess> two = new LinkedHashMap<>();
        two.put("woods", right(2, 0.9, 0.2, 0));
        two.put("grove", right(2, 0.2, 0.2, 0));
        MetricInference metric = accuracy(two);
        MeanScore mean = metric.means().get(0);
        MeanScore narrow = new MeanScore(
                0,
                mean.mean(),
                mean.sd(),
                mean.min(),
                mean.max(),
                0,
                mean.variance(),
                mean.mean() - 1e-4,
                mean.mean() + 1e-4,
                MeanScore.Interval.CLOPPER_PEARSON,
                Double.NaN);
        assertThat(NumberChecks.errorIsWider(narrow)).isTrue();
        assertThat(NumberChecks.errorIsWider(mean)).isFalse();
        Contrast c = metric.contrasts().get(0);
        assertThat(c.significant()).isTrue();
        assertThat(NumberChecks.contradicts(metric, c)).isFalse();
        Contrast undecided = new Contrast(
                c.candidate(),
                c.against(),
                c.difference(),
                c.variance(),
                c.familyVariance(),
                c.low(),
                c.high(),
                c.lowAll(),
                c.highAll(),
                c.reach(),
                0.4,
                0.4,
                false,
                Call.UNDECIDED,
                "");
        assertThat(NumberChecks.contradicts(metric, undecided)).isTrue();
    }

    /** A pick that is within one standard error of the best mean, and shown to be worse by the paired difference. */
    @Test
    void aPickThatIsShownToBeWorseIsSaidFirst() {
        Map<String, Guess> two = new LinkedHashMap<>();
        // The simple one is wrong on about one row in seven, the same in each repeat; the other on one in fifty, which
        // differ.
        two.put("simple", (actual, row, repeat) -> row.uniform() < 0.15 ? wrong(actual) : wrong(1 - actual));
        two.put("woods", (actual, row, repeat) -> repeat.uniform() < 0.02 ? wrong(actual) : wrong(1 - actual));
        MetricInference metric = accuracy(two);
        Picks best = Picker.pick(metric, Simplicity.of(metric.panel()), Rule.BEST_MEAN)
                .orElseThrow();
        assertThat(best.shownWorse()).isEmpty();
        Picks generous = Picker.pick(metric, Simplicity.of(metric.panel()), Rule.parse("m-se=60"))
                .orElseThrow();
        assertThat(generous.pick()).isEqualTo(0);
        assertThat(generous.best()).isEqualTo(1);
        assertThat(generous.shownWorse().orElseThrow().difference()).isNegative();
        assertThat(PickNotices.of(metric.panel(), metric, generous).get(0).code())
                .isEqualTo("pick-is-worse");
        assertThat(PickNotices.shownWorse(metric.panel(), metric, generous)
                        .orElseThrow()
                        .text())
                .startsWith(
                        "the pick, simple, is shown to be worse than woods, which has the best mean accuracy (difference -0.085, p adjusted 0.0075)");
    }

    private static double[] wrong(int actual) {
        return new double[] {actual == 0 ? 0.2 : 0.8, actual == 0 ? 0.8 : 0.2};
    }
}

package keenfold.core.infer.contrast;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.PairedDraws;
import keenfold.core.infer.resample.Pivot;
import keenfold.core.infer.resample.Variance;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Trials;
import keenfold.core.run.result.Results;
import keenfold.core.split.KFold;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What is said of a family of pairs, recomputed from the draws by its definitions. */
class ContrastFamilyTest {
    private static final int DRAWS = 999;
    private static final double LEVEL = 0.95;
    private static final Results RESULTS = Trials.results(new Comparison(
            List.of(Trials.task(
                    Trials.data("d", 3, 120, 1.6, 0), new KFold(5, 3, true), "auc", "accuracy", "balanced-accuracy")),
            List.of(
                    Trials.candidate("guess", "majority"),
                    Trials.candidate("logit", "logistic"),
                    Trials.candidate("near", "nearest", "neighbours=1"),
                    Trials.candidate("tree", "tree", "depth=2"),
                    Trials.candidate("deep", "tree", "depth=6")),
            4));

    private static MetricInference inference(String metric, double margin, Adjust adjust) {
        InferenceSettings evidence = new InferenceSettings(DRAWS, LEVEL, margin, Optional.empty())
                .withMethod(Method.PIVOT, Optional.of(adjust));
        return Inference.of(AlignedPredictions.of(RESULTS, 0), evidence, Parallel.of(2))
                .metric(metric);
    }

    /** |T*_b| of a contrast, by a variance. */
    private static double[] sizes(MetricInference metric, Contrast c, Variance variance) {
        PairedDraws paired = metric.pairedDraws();
        Pivot pivot = Pivot.of(paired.differences(c.candidate(), c.against()), variance, paired.roots());
        return IntStream.range(0, DRAWS).mapToDouble(pivot::size).toArray();
    }

    private static double p(double[] sizes, double statistic) {
        return (1 + Arrays.stream(sizes).filter(t -> t >= statistic).count()) / (DRAWS + 1.0);
    }

    private static double[] largest(List<double[]> all) {
        double[] most = new double[DRAWS];
        Arrays.setAll(most, b -> all.stream().mapToDouble(s -> s[b]).max().orElseThrow());
        return most;
    }

    /** The (⌊share·(B + 1)⌋ + 1)-th smallest. */
    private static double quantile(double[] values, double share) {
        double[] sorted = values.clone();
        Arrays.sort(sorted);
        return sorted[(int) Math.floor(share * (DRAWS + 1) + 1e-9)];
    }

    private static double statistic(Contrast c) {
        return Math.abs(c.difference()) / c.familyVariance().standardError();
    }

    @ParameterizedTest
    @ValueSource(strings = {"auc", "accuracy", "balanced-accuracy"})
    void aPairIsTestedByItselfAndTheFamilyByWhatIsDrawnTogether(String name) {
        MetricInference metric = inference(name, 0, Adjust.MAX_T);
        List<Contrast> falling = new ArrayList<>(metric.contrasts());
        falling.sort(Comparator.comparingDouble(c -> -statistic(c)));
        List<double[]> sizes =
                falling.stream().map(c -> sizes(metric, c, c.familyVariance())).toList();
        double reach = quantile(largest(sizes), LEVEL);
        double running = 0;
        boolean differs = false;
        for (int j = 0; j < falling.size(); j++) {
            Contrast c = falling.get(j);
            double[] alone = sizes(metric, c, c.variance());
            assertThat(c.p()).isEqualTo(p(alone, Math.abs(c.difference()) / c.standardError()));
            double own = quantile(alone, LEVEL) * c.standardError();
            assertThat(c.low()).isCloseTo(c.difference() - own, within(1e-12));
            assertThat(c.high()).isCloseTo(c.difference() + own, within(1e-12));
            double step = p(largest(sizes.subList(j, sizes.size())), statistic(c));
            running = Math.max(running, step);
            assertThat(c.pAdjusted()).isEqualTo(Math.max(c.p(), running));
            double all = Math.max(own, reach * c.familyVariance().standardError());
            assertThat(c.lowAll()).isCloseTo(c.difference() - all, within(1e-12));
            assertThat(c.highAll()).isCloseTo(c.difference() + all, within(1e-12));
            assertThat(c.significant()).isEqualTo(Math.round(c.pAdjusted() * 1000) < 50);
            assertThat(c.detectable()).isCloseTo(all + 0.84 * c.familyVariance().standardError(), within(1e-12));
            differs |= c.variance().lambda() != c.familyVariance().lambda();
            assertThat(c.familyVariance().cases()).isEqualTo(c.variance().cases());
        }
        assertThat(differs).as("λ of a pair and of its family").isTrue();
        assertThat(metric.contrasts()).extracting(Contrast::significant).contains(false);
        assertThat(name.equals("auc")).isEqualTo(metric.contrasts().stream().anyMatch(Contrast::significant));
    }

    @Test
    void holmAdjustsWhatTheFamilySays() {
        MetricInference metric = inference("auc", 0, Adjust.HOLM);
        List<Contrast> all = metric.contrasts();
        double[] ps = all.stream()
                .mapToDouble(c -> p(sizes(metric, c, c.familyVariance()), statistic(c)))
                .toArray();
        Integer[] rising = IntStream.range(0, ps.length)
                .boxed()
                .sorted(Comparator.comparingDouble(i -> ps[i]))
                .toArray(Integer[]::new);
        double running = 0;
        for (int j = 0; j < rising.length; j++) {
            Contrast c = all.get(rising[j]);
            running = Math.max(running, Math.min(1, (rising.length - j) * ps[rising[j]]));
            assertThat(c.pAdjusted()).isEqualTo(Math.max(c.p(), running));
            // Two-sided at level 1 − 0.05/10 for each of ten.
            double reach = quantile(sizes(metric, c, c.familyVariance()), 1 - (1 - LEVEL) / all.size())
                    * c.familyVariance().standardError();
            assertThat(c.highAll()).isCloseTo(Math.max(c.high(), c.difference() + reach), within(1e-12));
            assertThat(c.lowAll()).isCloseTo(Math.min(c.low(), c.difference() - reach), within(1e-12));
        }
    }

    @Test
    void withoutAdjustmentEachPairStandsByItself() {
        MetricInference metric = inference("auc", 0, Adjust.NONE);
        assertThat(metric.contrasts()).allSatisfy(c -> {
            assertThat(c.pAdjusted()).isEqualTo(c.p());
            assertThat(c.lowAll()).isEqualTo(c.low());
            assertThat(c.highAll()).isEqualTo(c.high());
            assertThat(c.familyVariance()).isEqualTo(c.variance());
        });
        assertThat(metric.contrasts()).isNotEmpty();
        // Who may be the best is said of the family all the same.
        assertThat(metric.standings().orElseThrow().all())
                .isEqualTo(inference("auc", 0, Adjust.MAX_T)
                        .standings()
                        .orElseThrow()
                        .all());
    }

    /** Both ends of the interval at 2·level − 1 lie inside the margin, of whichever sign the difference is. */
    @ParameterizedTest
    @EnumSource(
            value = Adjust.class,
            names = {"MAX_T", "NONE"})
    void equivalentIsWhatLiesInsideTheMarginAtBothEnds(Adjust adjust) {
        MetricInference plain = inference("auc", 0, adjust);
        List<double[]> sizes = plain.contrasts().stream()
                .map(c -> sizes(plain, c, c.familyVariance()))
                .toList();
        double reach = quantile(largest(sizes), 2 * LEVEL - 1);
        int equivalent = 0;
        int outsideBelow = 0;
        int outsideAbove = 0;
        for (double margin = 0.01; margin < 0.5; margin += 0.01) {
            List<Contrast> contrasts = inference("auc", margin, adjust).contrasts();
            for (Contrast c : contrasts) {
                double own = quantile(sizes(plain, c, c.variance()), 2 * LEVEL - 1) * c.standardError();
                double all = adjust == Adjust.NONE
                        ? own
                        : Math.max(own, reach * c.familyVariance().standardError());
                boolean above = c.difference() - all > -margin;
                boolean below = c.difference() + all < margin;
                assertThat(c.call() == Call.EQUIVALENT).as(c + " at " + margin).isEqualTo(above && below);
                assertThat(c.significant()).isEqualTo(Math.round(c.pAdjusted() * 1000) < 50);
                equivalent += above && below ? 1 : 0;
                outsideBelow += !above && below ? 1 : 0;
                outsideAbove += above && !below ? 1 : 0;
            }
        }
        assertThat(equivalent).isPositive();
        assertThat(outsideBelow).isPositive();
        assertThat(outsideAbove).isPositive();
    }
}

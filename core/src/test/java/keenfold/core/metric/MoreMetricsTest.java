package keenfold.core.metric;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.stream.IntStream;
import keenfold.core.data.Classes;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.metric.catalog.MetricName;
import org.junit.jupiter.api.Test;

class MoreMetricsTest {
    private static final Classes TWO = new Classes(List.of("a", "b"), 1);
    private static final Classes THREE = new Classes(List.of("a", "b", "c"), 2);

    private static Metric metric(String name, Classes classes, int... counts) {
        return MetricName.parse(name).bind(classes, counts);
    }

    private static Outcomes outcomes(int classes, int fold, int[] actual, double... p) {
        return Outcomes.of(classes, fold, IntStream.range(0, actual.length).toArray(), actual, p);
    }

    private static Outcomes two(int[] actual, double... b) {
        double[] p = new double[2 * b.length];
        for (int i = 0; i < b.length; i++) {
            p[2 * i] = 1 - b[i];
            p[2 * i + 1] = b[i];
        }
        return outcomes(2, 0, actual, p);
    }

    /** The ROC curve of 2 positives, 4 negatives: (0, ½), (¼, ½), (¼, 1), (1, 1). Worked by hand. */
    @Test
    void partialAreaOfACurveDrawnByHand() {
        Outcomes o = two(new int[] {1, 0, 1, 0, 0, 0}, 0.9, 0.8, 0.7, 0.3, 0.2, 0.1);
        assertThat(metric("partial-auc=0.25", TWO, 4, 2).score(o)).isCloseTo(0.5, within(1e-15));
        assertThat(metric("partial-auc=0.5", TWO, 4, 2).score(o)).isCloseTo((0.5 + 1) / 2, within(1e-15));
        assertThat(metric("partial-auc=1", TWO, 4, 2).score(o))
                .isCloseTo(metric("auc", TWO, 4, 2).score(o), within(1e-15));
        // All tied: the straight line of a guess.
        Outcomes tied = two(new int[] {1, 0, 1, 0}, 0.5, 0.5, 0.5, 0.5);
        assertThat(metric("partial-auc=0.2", TWO, 2, 2).score(tied)).isCloseTo(0.1, within(1e-15));
    }

    /** Numeric integration of the empirical curve of each fold, at many thresholds between ties. */
    @Test
    void partialAreaAgreesWithIntegratingTheCurve() {
        RandomSource chance = new Seed(4).chance();
        for (int trial = 0; trial < 20; trial++) {
            int n = 14;
            int[] actual = new int[n];
            double[] b = new double[n];
            for (int i = 0; i < n; i++) {
                actual[i] = i < 2 ? i : chance.below(2);
                b[i] = chance.below(6) / 6.0;
            }
            double most = 0.1 + 0.8 * chance.uniform();
            double positives = IntStream.of(actual).sum();
            int steps = 200_000;
            double sum = 0;
            for (int s = 0; s < steps; s++) {
                sum += rate(actual, b, most * (s + 0.5) / steps, positives) / steps;
            }
            assertThat(metric("partial-auc=" + most, TWO, 7, 7).score(two(actual, b)))
                    .isCloseTo(sum, within(2e-5));
        }
    }

    /** The true positive rate at a false positive rate, straight between thresholds. */
    private static double rate(int[] actual, double[] b, double falseRate, double positives) {
        double wanted = falseRate * (actual.length - positives);
        double called = 0;
        double found = 0;
        for (int level = 6; level >= 0; level--) {
            double own = 0;
            double other = 0;
            for (int i = 0; i < b.length; i++) {
                if (Math.abs(b[i] - level / 6.0) < 1e-9) {
                    own += actual[i];
                    other += 1 - actual[i];
                }
            }
            if (called + other > wanted) {
                return (found + own * (wanted - called) / other) / positives;
            }
            called += other;
            found += own;
        }
        return 1;
    }

    /** Three rows, one of each class; A(i|j) counted pair by pair from the definition. */
    @Test
    void aucOfPairsByHand() {
        Outcomes o = outcomes(3, 0, new int[] {0, 1, 2}, 0.5, 0.3, 0.2, 0.5, 0.4, 0.1, 0.2, 0.2, 0.6);
        // A(0|1): .5 against .5, a half; A(1|0): .4 over .3. A(0|2): .5 over .2; A(2|0): .6 over .2. A(1|2), A(2|1): 1,
        // 1.
        assertThat(metric("auc-pairs", THREE, 1, 1, 1).score(o)).isCloseTo((0.75 + 1 + 1) / 3, within(1e-15));
    }

    @Test
    void aucOfPairsOfTwoClassesIsTheAuc() {
        Outcomes o = two(new int[] {1, 0, 1, 0, 0, 1}, 0.9, 0.8, 0.7, 0.7, 0.2, 0.1);
        assertThat(metric("auc-pairs", TWO, 3, 3).score(o))
                .isEqualTo(metric("auc", TWO, 3, 3).score(o));
    }

    @Test
    void skillComparesWithTheClassShares() {
        Outcomes o = two(new int[] {1, 0, 0, 0}, 0.8, 0.1, 0.1, 0.2);
        double brier = (0.04 + 0.01 + 0.01 + 0.04) / 4;
        assertThat(metric("brier-skill", TWO, 3, 1).score(o)).isCloseTo(1 - brier / (0.25 * 0.75), within(1e-15));
        Outcomes shares = two(new int[] {1, 0, 0, 0}, 0.25, 0.25, 0.25, 0.25);
        assertThat(metric("brier-skill", TWO, 3, 1).score(shares)).isCloseTo(0, within(1e-15));
        assertThatThrownBy(() -> metric("brier-skill", TWO, 4, 0)).hasMessageContaining("all rows are of one class");
    }

    @Test
    void calibrationErrorByHand() {
        // Bins 1 (.15, .15), 9 (.95, 1): |.3 - 1| + |1.95 - 1|, of 4 rows.
        Outcomes o = two(new int[] {1, 0, 1, 0}, 0.15, 0.15, 0.95, 1);
        Metric error = metric("calibration-error", TWO, 2, 2);
        assertThat(error.score(o)).isCloseTo((0.7 + 0.95) / 4, within(1e-15));
        assertThat(error.higherIsBetter()).isFalse();
        assertThat(error.byLabels()).isFalse();
    }

    @Test
    void costsAreAveragedOverRows() {
        Costs costs = new Costs(Map.of("b", Map.of("a", 5.0), "a", Map.of("b", 1.0, "a", -0.5)));
        Metric cost = MetricName.parse("cost").withCosts(costs).bind(TWO, new int[] {2, 2});
        // Predicted b, a, a, b of actual b, b, a, a.
        Outcomes o = two(new int[] {1, 1, 0, 0}, 0.9, 0.2, 0.1, 0.8);
        assertThat(cost.score(o)).isCloseTo((0 + 5 - 0.5 + 1) / 4, within(1e-15));
        assertThat(cost.least()).isEqualTo(-0.5);
        assertThat(cost.most()).isEqualTo(5);
        assertThatThrownBy(() -> metric("cost", TWO, 2, 2)).hasMessageContaining("metric cost needs costs");
        assertThatThrownBy(() -> MetricName.parse("cost")
                        .withCosts(new Costs(Map.of("x", Map.of("a", 1.0))))
                        .bind(TWO, new int[] {2, 2}))
                .hasMessageContaining("costs name the class \"x\"");
        // A mistake that nobody named would be free.
        assertThatThrownBy(() -> MetricName.parse("cost")
                        .withCosts(new Costs(Map.of("b", Map.of("a", 5.0))))
                        .bind(TWO, new int[] {2, 2}))
                .hasMessageContaining("a mistake (actual:predicted) costs: a:b; name it");
        Metric others = MetricName.parse("cost")
                .withCosts(new Costs(Map.of("b", Map.of("a", 5.0)), OptionalDouble.of(2)))
                .bind(TWO, new int[] {2, 2});
        assertThat(others.score(o)).isCloseTo((0 + 5 + 0 + 2) / 4.0, within(1e-15));
    }

    @Test
    void countsOfRightAndWrong() {
        Outcomes o = two(new int[] {1, 1, 0, 0, 0}, 0.9, 0.2, 0.1, 0.8, 0.3);
        assertThat(List.of("true-positives", "false-negatives", "false-positives", "true-negatives").stream()
                        .map(n -> metric(n, TWO, 3, 2).score(o)))
                .containsExactly(1.0, 1.0, 1.0, 2.0);
    }
}

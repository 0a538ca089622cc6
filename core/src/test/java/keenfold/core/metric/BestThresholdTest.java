package keenfold.core.metric;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.Trials;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class BestThresholdTest {
    private static final int ROWS = 120;

    /** No threshold is better, of all that are labelled anew and scored: with ties, bounds and rows that count twice. */
    @ParameterizedTest
    @ValueSource(strings = {"f1", "balanced-accuracy", "accuracy", "mcc", "precision", "error"})
    void noOtherThresholdIsBetter(String name) {
        DataSet data = Trials.data("d", 3, ROWS, 1, 0);
        Metric metric = MetricName.parse(name).bind(data.classes(), data.classCounts());
        Metric bounded = MetricName.parse("specificity").bind(data.classes(), data.classCounts());
        assertThat(metric).isInstanceOf(CountMetric.class);
        RandomSource chance = new Seed(4).chance();
        for (int trial = 0; trial < 60; trial++) {
            int positive = trial % 2;
            int steps = trial % 3 == 0 ? 7 : 1_000_000;
            int[] target = IntStream.range(0, ROWS).map(i -> chance.below(2)).toArray();
            double[] probability = new double[2 * ROWS];
            for (int i = 0; i < ROWS; i++) {
                double p = chance.below(steps + 1) / (double) steps;
                probability[2 * i + positive] = target[i] == positive ? Math.sqrt(p) : p;
                probability[2 * i + 1 - positive] = 1 - probability[2 * i + positive];
            }
            double[] weight = new double[ROWS];
            Arrays.setAll(weight, i -> chance.below(4) == 0 ? 2 : 1);
            for (Optional<Double> bound : List.of(Optional.<Double>empty(), Optional.of(0.8), Optional.of(1.1))) {
                double counted = BestThreshold.of(
                        metric,
                        bound.map(b -> new BestThreshold.Condition(bounded, true, b)),
                        probability,
                        target,
                        weight,
                        positive);
                Outcomes rows = repeated(target, weight, probability);
                double[] scores = outcome(metric, bounded, bound, rows, positive, counted);
                double[] sorted = probabilities(probability, positive);
                for (int i = -1; i < sorted.length; i++) {
                    double below = i < 0 ? 0 : sorted[i];
                    double above = i + 1 < sorted.length ? sorted[i + 1] : 1;
                    double other = below < 0.5 && above > 0.5 ? 0.5 : below + (above - below) / 2;
                    if (above > below) {
                        double[] others = outcome(metric, bounded, bound, rows, positive, other);
                        boolean equal =
                                Math.abs(others[0] - scores[0]) < 1e-12 && Math.abs(others[1] - scores[1]) < 1e-12;
                        assertThat(equal
                                        || Double.isNaN(others[1])
                                        || others[0] > scores[0] + 1e-13
                                        || others[1] < scores[1])
                                .as("trial %d, bound %s: %s is no better than %s", trial, bound, other, counted)
                                .isTrue();
                        assertThat(!equal || Math.abs(other - 0.5) >= Math.abs(counted - 0.5))
                                .isTrue();
                    }
                }
            }
        }
    }

    /** By how much a bound is missed at a threshold, and what the metric is there: every row is labelled anew. */
    private static double[] outcome(
            Metric metric, Metric bounded, Optional<Double> bound, Outcomes rows, int positive, double threshold) {
        Outcomes moved = rows.withThreshold(positive, threshold);
        double kept = bounded.score(moved);
        double missed =
                bound.map(b -> Double.isNaN(kept) ? 1e9 : Math.max(0, b - kept)).orElse(0.0);
        return new double[] {missed, metric.turned(metric.score(moved))};
    }

    private static double[] probabilities(double[] both, int positive) {
        return IntStream.range(0, ROWS)
                .mapToDouble(i -> both[2 * i + positive])
                .sorted()
                .toArray();
    }

    /** Each row as often as its weight says. */
    private static Outcomes repeated(int[] target, double[] weight, double[] both) {
        int[] rows = IntStream.range(0, ROWS)
                .flatMap(i -> IntStream.range(0, (int) weight[i]).map(t -> i))
                .toArray();
        return Outcomes.of(
                2,
                0,
                IntStream.range(0, rows.length).toArray(),
                IntStream.of(rows).map(i -> target[i]).toArray(),
                IntStream.of(rows)
                        .boxed()
                        .flatMapToDouble(i -> java.util.stream.DoubleStream.of(both[2 * i], both[2 * i + 1]))
                        .toArray());
    }
}

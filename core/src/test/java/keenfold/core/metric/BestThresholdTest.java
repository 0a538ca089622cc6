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

    /** A metric that is known by its scores alone. */
    private record Opaque(Metric inner) implements Metric {
        @Override
        public String name() {
            return inner.name();
        }

        @Override
        public MetricKind kind() {
            return inner.kind();
        }

        @Override
        public boolean higherIsBetter() {
            return inner.higherIsBetter();
        }

        @Override
        public Scorer scorer(Outcomes outcomes) {
            return inner.scorer(outcomes);
        }
    }

    /** Counting as the threshold rises finds what labelling every row anew for each threshold finds: ties, gaps and rows that count twice. */
    @ParameterizedTest
    @ValueSource(strings = {"f1", "balanced-accuracy", "accuracy", "mcc", "precision", "error"})
    void countingAgreesWithLabellingAnew(String name) {
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
                double labelled = BestThreshold.of(
                        new Opaque(metric),
                        bound.map(b -> new BestThreshold.Condition(new Opaque(bounded), true, b)),
                        probability,
                        target,
                        weight,
                        positive);
                assertThat(counted).as("trial %d, bound %s", trial, bound).isEqualTo(labelled);
            }
        }
    }
}

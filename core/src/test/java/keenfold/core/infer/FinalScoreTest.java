package keenfold.core.infer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.Parallel;
import keenfold.core.run.Trials;
import org.junit.jupiter.api.Test;

class FinalScoreTest {
    private static final List<MetricName> METRICS = Arrays.stream(
                    new String[] {"accuracy", "error", "auc", "log-loss", "f1"})
            .map(MetricName::parse)
            .toList();

    private static List<FinalScore> of(DataSet rows, double[] positive, InferenceSettings evidence) {
        int n = rows.rows();
        double[] p = new double[2 * n];
        for (int i = 0; i < n; i++) {
            p[2 * i + 1] = positive[i];
            p[2 * i] = 1 - positive[i];
        }
        Outcomes outcomes = Outcomes.of(2, 0, IntStream.range(0, n).toArray(), rows.targets(), p);
        return FinalScore.of(rows, METRICS, Trials.candidate("c", "majority"), outcomes, evidence, 5, Parallel.of(2));
    }

    private static double[] scores(DataSet rows, double shift) {
        RandomSource chance = new Seed(3).chance();
        return IntStream.range(0, rows.rows())
                .mapToDouble(i -> 1 / (1 + StrictMath.exp(-chance.normal() - shift * (rows.target(i) - 0.5))))
                .toArray();
    }

    /** Newcombe (1998), Stat. Med. 17, table I: 81 of 263, 15 of 148, 0 of 20, 1 of 29, Wilson without correction. */
    @Test
    void wilsonsIntervalsAreThosePublished() {
        double[][] published = {
            {81, 263, 0.2553, 0.3662}, {15, 148, 0.0624, 0.1605}, {0, 20, 0, 0.1611}, {1, 29, 0.0061, 0.1718}
        };
        for (double[] one : published) {
            double[] ends = FinalScore.wilson(one[0], one[1], 0.95);
            assertThat(ends[0]).isCloseTo(one[2], within(5e-5));
            assertThat(ends[1]).isCloseTo(one[3], within(5e-5));
        }
    }

    @Test
    void sharesOfRowsHaveWilsonsIntervalOthersStudents() {
        DataSet rows = Trials.data("d", 4, 80, 0, 0);
        double[] p = scores(rows, 2);
        InferenceSettings evidence = new InferenceSettings(2000, 0.9, 0, Optional.empty());
        List<FinalScore> all = of(rows, p, evidence);
        double right = IntStream.range(0, 80)
                .filter(i -> (p[i] > 0.5 ? 1 : 0) == rows.target(i))
                .count();
        double[] ends = FinalScore.wilson(right, 80, 0.9);
        assertThat(all.get(0)).isEqualTo(new FinalScore("accuracy", right / 80, ends[0], ends[1], 80));
        assertThat(all.get(1).value()).isCloseTo(1 - right / 80, within(1e-12));
        assertThat(all.get(1).low()).isCloseTo(1 - ends[1], within(1e-12));
        // Log-loss is a mean over rows: its variance is known without drawing.
        double[] losses = IntStream.range(0, 80)
                .mapToDouble(i -> -StrictMath.log(rows.target(i) == 1 ? p[i] : 1 - p[i]))
                .toArray();
        double mean = Arrays.stream(losses).average().orElseThrow();
        double variance =
                Arrays.stream(losses).map(l -> (l - mean) * (l - mean)).sum() / 79 / 80;
        FinalScore loss = all.get(3);
        assertThat(loss.value()).isCloseTo(mean, within(1e-12));
        // t with 79 degrees of freedom: 1.6644 at 90 %.
        assertThat((loss.high() - loss.low()) / 2)
                .isCloseTo(1.6644 * Math.sqrt(variance), within(0.06 * Math.sqrt(variance)));
        assertThat(all.get(2).low()).isLessThan(all.get(2).value());
        assertThat(all.get(2).high()).isBetween(all.get(2).value(), 1.0);
    }

    @Test
    void groupsCountAsGroups() {
        DataSet rows = Trials.data("d", 4, 80, 0, 8);
        FinalScore accuracy = of(rows, scores(rows, 2), InferenceSettings.DEFAULT.withDraws(500))
                .get(0);
        assertThat(accuracy.units()).isEqualTo(8);
        double[] wilson = FinalScore.wilson(accuracy.value() * 80, 80, 0.95);
        assertThat(accuracy.low()).isNotCloseTo(wilson[0], within(1e-6));
    }

    /** Rows of one class alone cannot be ranked; accuracy can be had all the same. */
    @Test
    void whatTheRowsDoNotTellIsUndefined() {
        DataSet rows = Trials.data("d", 4, 80, 0, 0);
        int[] ofOne = IntStream.range(0, 80).filter(i -> rows.target(i) == 0).toArray();
        DataSet one = rows.select(ofOne);
        List<FinalScore> all = of(one, scores(one, 1), InferenceSettings.DEFAULT.withDraws(200));
        assertThat(all.get(0).value()).isBetween(0.0, 1.0);
        assertThat(all.get(2).value()).isNaN();
        assertThat(all.get(2).low()).isNaN();
        DataSet single = rows.select(new int[] {0});
        assertThatThrownBy(() -> of(single, new double[] {0.5}, InferenceSettings.DEFAULT))
                .hasMessage("a score needs two rows or more: there are 1");
    }
}

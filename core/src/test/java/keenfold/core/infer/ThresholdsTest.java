package keenfold.core.infer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Trials;
import keenfold.core.run.result.Results;
import keenfold.core.split.KFold;
import org.junit.jupiter.api.Test;

class ThresholdsTest {
    private static final Results RESULTS = Trials.results(new Comparison(
            List.of(Trials.task(
                    Trials.data("d", 3, 100, 1.2, 0),
                    new KFold(4, 2, true),
                    "accuracy",
                    "balanced-accuracy",
                    "f1",
                    "auc")),
            List.of(Trials.candidate("logit", "logistic"), Trials.candidate("near", "nearest", "neighbours=5")),
            4));
    private static final AlignedPredictions PANEL = AlignedPredictions.of(RESULTS, 0);

    private static Metric metric(int index) {
        return PANEL.task().metrics().get(index);
    }

    /** The rates of one threshold, counted row by row. */
    @Test
    void ratesAreCounted() {
        Thresholds.Point point = Thresholds.of(PANEL, 0).points(metric(0)).get(5);
        assertThat(point.threshold()).isCloseTo(0.3, within(1e-15));
        double[] sums = new double[3];
        for (Outcomes part : PANEL.parts(0)) {
            double called = 0;
            double found = 0;
            double positives = 0;
            for (int i = 0; i < part.size(); i++) {
                boolean yes = part.probability(i, 1) >= 0.3;
                called += yes ? 1 : 0;
                positives += part.actual(i);
                found += yes ? part.actual(i) : 0;
            }
            sums[0] += called / part.size() / 2;
            sums[1] += found / positives / 2;
            sums[2] += found / called / 2;
        }
        assertThat(point.called()).isCloseTo(sums[0], within(1e-12));
        assertThat(point.recall()).isCloseTo(sums[1], within(1e-12));
        assertThat(point.precision()).isCloseTo(sums[2], within(1e-12));
    }

    /** Each fold's threshold tried out on the other folds' rows, at every place between two probabilities. */
    @Test
    void theBestThresholdOfAFoldIsFoundOnTheOthers() {
        for (int candidate = 0; candidate < 2; candidate++) {
            for (int m = 1; m < 3; m++) {
                Metric metric = metric(m);
                double sum = 0;
                for (Outcomes part : PANEL.parts(candidate)) {
                    double[] byFold = new double[4];
                    for (int f = 0; f < 4; f++) {
                        byFold[f] = best(metric, part, f);
                    }
                    sum += metric.score(part.withThresholds(1, byFold)) / 2;
                }
                Thresholds.Best best =
                        Thresholds.of(PANEL, candidate).best(metric).orElseThrow();
                assertThat(best.honest().score()).isCloseTo(sum, within(1e-12));
                assertThat(best.apparent().score())
                        .isGreaterThanOrEqualTo(best.honest().score());
                assertThat(best.least()).isLessThanOrEqualTo(best.median());
            }
        }
        assertThatThrownBy(() -> Thresholds.of(PANEL, 0).best(metric(3)))
                .hasMessageContaining("auc does not depend on a threshold");
    }

    private static double best(Metric metric, Outcomes part, int held) {
        double[] p = IntStream.range(0, part.size())
                .filter(i -> part.fold(i) != held)
                .mapToDouble(i -> part.probability(i, 1))
                .distinct()
                .sorted()
                .toArray();
        List<Double> tried = new ArrayList<>();
        for (int i = -1; i < p.length; i++) {
            double below = i < 0 ? 0 : p[i];
            double above = i + 1 < p.length ? p[i + 1] : 1;
            if (above > below) {
                tried.add(below < 0.5 && above > 0.5 ? 0.5 : below + (above - below) / 2);
            }
        }
        double most = Double.NEGATIVE_INFINITY;
        double best = 0.5;
        for (double t : tried) {
            double score = scoreOf(metric, part, held, t);
            boolean nearer = Math.abs(t - 0.5) < Math.abs(best - 0.5);
            if (score > most + 1e-12 || (score > most - 1e-12 && nearer)) {
                most = Math.max(score, most);
                best = t;
            }
        }
        return best;
    }

    private static double scoreOf(Metric metric, Outcomes part, int held, double threshold) {
        int[] kept = IntStream.range(0, part.size())
                .filter(i -> part.fold(i) != held)
                .toArray();
        double[] p = new double[2 * kept.length];
        int[] actual = Arrays.stream(kept).map(part::actual).toArray();
        for (int i = 0; i < kept.length; i++) {
            p[2 * i] = part.probability(kept[i], 0);
            p[2 * i + 1] = part.probability(kept[i], 1);
        }
        int[] rows = IntStream.range(0, kept.length).toArray();
        return metric.score(Outcomes.of(2, 0, rows, actual, p).withThreshold(1, threshold));
    }

    @Test
    void confusionsAddUpAndSpreadsAreNamed() {
        Confusions all = Confusions.of(PANEL, 1);
        assertThat(all.count(0, 0) + all.count(0, 1)).isEqualTo(all.actual(0));
        assertThat(all.ofActual(1, 0) + all.ofActual(1, 1)).isCloseTo(1, within(1e-12));
        assertThat(all.ofPredicted(0, 1) + all.ofPredicted(1, 1)).isCloseTo(1, within(1e-12));
        assertThat(all.actual(0) + all.actual(1)).isEqualTo(100);
        MetricInference accuracy = Inference.of(PANEL, InferenceSettings.DEFAULT.withDraws(200), Parallel.of(1))
                .metric("accuracy");
        Spread spread = Spread.of(accuracy, 0);
        double[] folds = RESULTS.fits().stream()
                .filter(f -> f.candidate() == 0)
                .mapToDouble(f -> f.result().orElseThrow().score(0))
                .sorted()
                .toArray();
        assertThat(spread.median()).isCloseTo((folds[3] + folds[4]) / 2, within(1e-15));
        assertThat(spread.quarter()).isCloseTo(folds[1] + 0.75 * (folds[2] - folds[1]), within(1e-15));
        assertThat(spread.foldSd()).isCloseTo(accuracy.means().get(0).sd(), within(1e-15));
        double sum = 0;
        for (int r = 0; r < 2; r++) {
            int repeat = r;
            double[] own = RESULTS.fits().stream()
                    .filter(f -> f.candidate() == 0 && f.repeat() == repeat)
                    .mapToDouble(f -> f.result().orElseThrow().score(0))
                    .toArray();
            sum += Spread.sd(own) / Math.sqrt(4) / 2;
        }
        assertThat(spread.foldStandardError()).isCloseTo(sum, within(1e-15));
    }
}

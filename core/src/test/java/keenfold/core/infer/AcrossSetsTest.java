package keenfold.core.infer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.infer.contrast.Call;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Trials;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Rescored;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import org.junit.jupiter.api.Test;

class AcrossSetsTest {
    private static final List<Candidate> CANDIDATES = List.of(
            Trials.candidate("guess", "majority"),
            Trials.candidate("logit", "logistic"),
            Trials.candidate("near", "nearest", "neighbours=3"));

    private static Results results() {
        List<Task> tasks = new ArrayList<>();
        for (int t = 0; t < 3; t++) {
            tasks.add(Trials.task(Trials.data("d" + t, t, 100, 2.5, 0), new KFold(5, 2, true), "log-loss", "auc"));
        }
        return Trials.results(new Comparison(tasks, CANDIDATES, 5));
    }

    private static List<MetricInference> metrics(Results results, String name) {
        return IntStream.range(0, results.tasks().size())
                .mapToObj(t -> Inference.of(
                                AlignedPredictions.of(results, t),
                                InferenceSettings.DEFAULT.withDraws(300),
                                Parallel.of(1))
                        .metric(name))
                .toList();
    }

    /** Lower losses are better: ranks follow the metric's direction, and calls are counted set by set. */
    @Test
    void ranksAndCallsFollowTheMetric() {
        Results results = results();
        for (String name : List.of("log-loss", "auc")) {
            List<MetricInference> each = metrics(results, name);
            AcrossSets sets = AcrossSets.of(each);
            double[] expected = new double[3];
            for (MetricInference metric : each) {
                for (int a = 0; a < 3; a++) {
                    for (int b = 0; b < 3; b++) {
                        double x = metric.means().get(a).mean();
                        double y = metric.means().get(b).mean();
                        boolean worse = name.equals("auc") ? x < y : x > y;
                        expected[a] += a == b ? 1 / 3.0 : worse ? 1 / 3.0 : 0;
                    }
                }
            }
            for (int c = 0; c < 3; c++) {
                assertThat(sets.across().averageRanks()[c]).isCloseTo(expected[c], within(1e-12));
            }
            assertThat(sets.candidates()).containsExactly(0, 1, 2);
            AcrossSets.Tally first = sets.tallies().get(0);
            long losses = each.stream()
                    .filter(m -> m.contrast(0, 1).orElseThrow().call() == Call.WORSE)
                    .count();
            assertThat(first.losses()).isEqualTo((int) losses).isPositive();
            assertThat(first.wins() + first.draws() + first.losses()).isEqualTo(3);
        }
    }

    @Test
    void oneSetOrOneCandidateIsNothingToCompareAcross() {
        Results results = results();
        assertThatThrownBy(() -> AcrossSets.of(metrics(results.only(1), "auc")))
                .hasMessageContaining("1 data set: a comparison across needs at least 2");
        Results precision = Rescored.of(results, List.of(MetricName.parse("precision")));
        // The guess predicts no positive row, so that its precision is undefined everywhere.
        assertThat(AcrossSets.of(metrics(precision, "precision")).candidates()).containsExactly(1, 2);
    }

    @Test
    void resultsOfOneSetAreThoseOfThatSet() {
        Results results = results();
        MetricInference whole = metrics(results, "auc").get(2);
        MetricInference alone = metrics(results.only(2), "auc").get(0);
        assertThat(alone.contrasts()).isEqualTo(whole.contrasts());
    }
}

package keenfold.core.pick;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import keenfold.core.infer.Evidence;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MeanScore;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.Panel;
import keenfold.core.run.Candidate;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Results;
import keenfold.core.run.Trials;
import keenfold.core.split.KFold;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class PickerTest {
    private static final List<Candidate> CANDIDATES = List.of(
            Trials.candidate("guess", "majority"),
            Trials.candidate("near/3", "nearest", "neighbours=3"),
            Trials.candidate("near/15", "nearest", "neighbours=15"),
            Trials.candidate("near/25", "nearest", "neighbours=25"),
            Trials.candidate("logit", "logistic"));
    private static final Panel PANEL = Panel.of(
            Trials.results(new Comparison(
                    List.of(Trials.task(
                            Trials.data("d", 8, 150, 1.3, 0), new KFold(5, 4, true), "auc", "log-loss", "accuracy")),
                    CANDIDATES,
                    2)),
            0);

    private static MetricInference metric(String name) {
        return Inference.of(PANEL, Evidence.DEFAULT.withDraws(500), Parallel.of(2))
                .metric(name);
    }

    /** The rule recomputed from the means alone, for metrics of either direction. */
    @ParameterizedTest
    @ValueSource(strings = {"auc", "log-loss", "accuracy"})
    void oneSeTakesTheSimplestWithinReach(String name) {
        MetricInference metric = metric(name);
        Simplicity simplicity = Simplicity.of(PANEL);
        Picks picks = Picker.pick(metric, simplicity, Rule.ONE_SE).orElseThrow();
        List<MeanScore> means = metric.means();
        double sign = metric.metric().higherIsBetter() ? 1 : -1;
        int best = 0;
        for (int c = 1; c < means.size(); c++) {
            best = sign * means.get(c).mean() > sign * means.get(best).mean() ? c : best;
        }
        assertThat(picks.best()).isEqualTo(best);
        double limit = sign * means.get(best).mean() - means.get(best).standardError();
        assertThat(picks.threshold()).isCloseTo(sign * limit, within(1e-15));
        int pick = best;
        for (int c = 0; c < means.size(); c++) {
            if (sign * means.get(c).mean() >= limit
                    && Simplicity.rounded(simplicity.size(c)) < Simplicity.rounded(simplicity.size(pick))) {
                pick = c;
            }
        }
        assertThat(picks.pick()).isEqualTo(pick);
        assertThat(picks.eligible().get(0)).isEqualTo(pick);
        assertThat(picks.frequency().values().stream()
                        .mapToDouble(Double::doubleValue)
                        .sum())
                .isCloseTo(1, within(1e-12));
        for (Picks.Choice choice : picks.choices()) {
            if (choice.pick() == best) {
                assertThat(choice.price()).isEmpty();
            } else {
                assertThat(choice.price().orElseThrow().difference())
                        .isEqualTo(means.get(choice.pick()).mean()
                                - means.get(best).mean());
            }
        }
    }

    @Test
    void bestMeanTakesTheBest() {
        Picks picks =
                Picker.pick(metric("auc"), Simplicity.of(PANEL), Rule.BEST_MEAN).orElseThrow();
        assertThat(picks.pick()).isEqualTo(picks.best());
        assertThat(picks.threshold()).isNaN();
    }

    @Test
    void sizesAreComparedToTwoDigitsThenByTheDirectionOfTheSetting() {
        assertThat(Simplicity.rounded(49.6)).isEqualTo(50);
        assertThat(Simplicity.rounded(0.0123)).isEqualTo(0.012);
        assertThat(Simplicity.rounded(1049)).isEqualTo(1000);
        assertThat(Simplicity.rounded(Double.NaN)).isInfinite();
        Results two = Trials.results(new Comparison(
                List.of(Trials.task(Trials.data("d", 8, 90, 1, 0), new KFold(3, 2, true), "auc")),
                List.of(
                        Trials.candidate("tree/2", "tree", "depth=1", "pruning=9"),
                        Trials.candidate("tree/1", "tree", "depth=2", "pruning=9")),
                2));
        // Both are cut back to one leaf: the shallower setting is the simpler, whatever the mean and the order.
        assertThat(Simplicity.of(Panel.of(two, 0)).compare(0, 1, c -> c)).isNegative();
        assertThat(Simplicity.of(Panel.of(two, 0)).compare(1, 0, c -> c)).isPositive();
    }
}

package keenfold.results;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Call;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.Method;
import keenfold.core.split.KFold;
import keenfold.results.MadePredictions.Guess;
import org.junit.jupiter.api.Test;

class ContrastsTest {
    private static MetricInference metric(String name, double margin, Map<String, Guess> candidates) {
        return MadePredictions.inference(
                        MadePredictions.results(
                                MadePredictions.data(new int[] {40, 40}, 1),
                                new KFold(5, 3, true),
                                3,
                                List.of("auc", "accuracy", "log-loss"),
                                candidates),
                        InferenceSettings.DEFAULT.withDraws(199).withMargin(margin))
                .metric(name);
    }

    /** Probabilities of one candidate, and the same but for their last bit. */
    private static Map<String, Guess> butForRounding() {
        Guess one = (actual, row, repeat) -> {
            double p = 0.1 + 0.2 * row.below(4) + 0.1 * actual;
            return new double[] {1 - p, p};
        };
        Map<String, Guess> two = new LinkedHashMap<>();
        two.put("woods", (actual, row, repeat) -> one.of(actual, shared(row), repeat));
        two.put("grove", (actual, row, repeat) -> {
            double[] p = one.of(actual, shared(row), repeat);
            return new double[] {Math.nextDown(p[0]), Math.nextUp(p[1])};
        });
        return two;
    }

    /** Both candidates are to have the same numbers: their own source is not asked. */
    private static keenfold.core.data.RandomSource shared(keenfold.core.data.RandomSource own) {
        return new keenfold.core.data.Seed(5).chance();
    }

    @Test
    void whatDiffersByRoundingAloneIsEquivalentWhereAMarginIsSet() {
        for (String name : List.of("auc", "log-loss")) {
            for (Method method : List.of(Method.PIVOT, Method.CASES, Method.CORRECTED_T)) {
                Contrast with = metric(name, 0.01, butForRounding())
                        .by(method, java.util.Optional.empty())
                        .contrasts()
                        .get(0);
                assertThat(with.call()).as(name + " " + method).isEqualTo(Call.EQUIVALENT);
                assertThat(with.note()).isEqualTo(Contrast.SAME_SCORES);
                assertThat(with.low()).isEqualTo(with.high()).isEqualTo(with.difference());
                assertThat(with.p()).isEqualTo(1);
                Contrast without = metric(name, 0, butForRounding())
                        .by(method, java.util.Optional.empty())
                        .contrasts()
                        .get(0);
                assertThat(without.call()).isEqualTo(Call.UNDECIDED);
            }
        }
    }

    /** A pair that stays out of what is adjusted has its interval by Holm's method too. */
    @Test
    void aPairThatIsNotTestedHasItsIntervalByHolm() {
        Map<String, Guess> three = new LinkedHashMap<>();
        three.put("woods", (actual, row, repeat) -> row.uniform() < 0.8 ? own(actual) : own(1 - actual));
        three.put("grove", (actual, row, repeat) -> own(actual));
        // As grove but for a few rows.
        three.put("copse", (actual, row, repeat) -> row.uniform() < 0.03 ? own(1 - actual) : own(actual));
        List<Contrast> all = metric("accuracy", 0, three)
                .by(Method.PIVOT, java.util.Optional.of(keenfold.core.infer.contrast.Adjust.HOLM))
                .contrasts();
        Contrast near = all.stream()
                .filter(c -> c.note().contains("predictions differ on"))
                .findFirst()
                .orElseThrow();
        assertThat(near.pAdjusted()).isEqualTo(1);
        assertThat(near.lowAll()).isLessThanOrEqualTo(near.low());
        assertThat(near.highAll()).isGreaterThanOrEqualTo(near.high());
    }

    /** The exact test is of the first repeat, has no interval, and its tables say and show no other. */
    @Test
    void tablesOfTheExactTestSayWhichRepeatAndShowNoEmptyColumns() {
        Map<String, Guess> two = new LinkedHashMap<>();
        two.put("woods", (actual, row, repeat) -> row.uniform() < 0.8 ? own(actual) : own(1 - actual));
        two.put("grove", (actual, row, repeat) -> row.uniform() < 0.6 ? own(actual) : own(1 - actual));
        MetricInference plain = metric("accuracy", 0, two);
        MetricInference exact = plain.by(Method.MCNEMAR, java.util.Optional.empty());
        assertThat(Contrasts.repeat(plain)).isEmpty();
        assertThat(Contrasts.repeat(exact)).isEqualTo(" in the first of 3 repeats");
        var inference = MadePredictions.inference(
                MadePredictions.results(
                        MadePredictions.data(new int[] {40, 40}, 1),
                        new KFold(5, 3, true),
                        3,
                        List.of("accuracy"),
                        two),
                InferenceSettings.DEFAULT.withDraws(199));
        assertThat(Contrasts.table(inference, exact, exact.contrasts()).forPeople())
                .extracting(c -> c.heading())
                .doesNotContain("could be seen")
                .noneMatch(h -> h.contains("95 %"));
        assertThat(Contrasts.table(inference, plain, plain.contrasts()).forPeople())
                .extracting(c -> c.heading())
                .contains("could be seen")
                .anyMatch(h -> h.contains("95 %"));
    }

    private static double[] own(int said) {
        return new double[] {said == 0 ? 0.9 : 0.1, said == 0 ? 0.1 : 0.9};
    }
}

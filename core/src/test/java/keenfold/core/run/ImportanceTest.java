package keenfold.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import org.junit.jupiter.api.Test;

class ImportanceTest {
    private static final Task TASK =
            Trials.task(Trials.data("d", 2, 240, 3, 0), new KFold(5, 2, true), "auc", "log-loss");
    private static final Comparison COMPARISON = new Comparison(
            List.of(TASK),
            List.of(
                    Trials.candidate("guess", "majority"),
                    Trials.candidate("logit", "logistic"),
                    Trials.candidate("tree", "tree", "depth=1"),
                    Trials.candidate("twin", "logistic")),
            6);

    private static double mean(List<Double> values) {
        return values.stream().mapToDouble(Double::doubleValue).average().orElseThrow();
    }

    /** Only the first of three columns tells the classes apart. */
    @Test
    void theColumnThatMattersIsMissed() {
        for (int m = 0; m < 2; m++) {
            List<Importance.Drops> all = Importance.of(
                    COMPARISON, 0, List.of(0, 1, 2), TASK.metrics().get(m), 1, Parallel.of(2));
            assertThat(all.get(0).drops()).allSatisfy(d -> assertThat(d).allMatch(v -> v == 0));
            for (int c = 1; c < 3; c++) {
                assertThat(mean(all.get(c).drops().get(0))).isGreaterThan(0.2);
                assertThat(mean(all.get(c).drops().get(1))).isCloseTo(0, within(0.05));
                assertThat(all.get(c).own().get("a")).isGreaterThan(0.7);
                assertThat(all.get(c).own().values().stream()
                                .mapToDouble(v -> v)
                                .sum())
                        .isCloseTo(1, within(1e-12));
            }
        }
    }

    @Test
    void scoresAreThoseOfTheRunAndShufflesServeAllAlike() {
        List<Importance.Drops> all =
                Importance.of(COMPARISON, 0, List.of(1, 3), TASK.metrics().get(0), 2, Parallel.of(1));
        List<Fit> fits = Trials.fits(COMPARISON, 1);
        for (int i = 0; i < 10; i++) {
            int split = i;
            double expected = fits.stream()
                    .filter(f -> f.candidate() == 1 && f.repeat() * 5 + f.fold() == split)
                    .findFirst()
                    .orElseThrow()
                    .result()
                    .orElseThrow()
                    .score(0);
            assertThat(all.get(0).score().get(i)).isCloseTo(expected, within(1e-9));
        }
        assertThat(all.get(1).drops()).isEqualTo(all.get(0).drops());
    }
}

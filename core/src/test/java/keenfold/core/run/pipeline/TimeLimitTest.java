package keenfold.core.run.pipeline;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.stream.Stream;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.learned.FitFailure;
import keenfold.core.prepare.Settings;
import keenfold.core.run.Comparison;
import keenfold.core.run.Trials;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Recipe;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Fits that take too long are given up, and leave nothing behind on their thread. */
class TimeLimitTest {
    private static final OptionalDouble SHORT = OptionalDouble.of(0.02);

    private static String forever() {
        while (true) {
            FitFailure.ifInterrupted();
        }
    }

    @Test
    void whatTakesTooLongFailsAndTheThreadGoesOn() {
        assertThatThrownBy(() -> TimeLimit.within(SHORT, TimeLimitTest::forever))
                .isInstanceOf(FitFailure.class)
                .hasMessage("took longer than its time-limit of 0.02s");
        assertThat(Thread.currentThread().isInterrupted()).isFalse();
        assertThat(TimeLimit.within(OptionalDouble.of(60), () -> "in time")).isEqualTo("in time");
        assertThat(TimeLimit.within(OptionalDouble.empty(), () -> "any time")).isEqualTo("any time");
    }

    @Test
    void ofNestedLimitsTheOneThatIsOverSpeaks() {
        assertThatThrownBy(() ->
                        TimeLimit.within(SHORT, () -> TimeLimit.within(OptionalDouble.of(60), TimeLimitTest::forever)))
                .hasMessageContaining("0.02s");
        assertThatThrownBy(() ->
                        TimeLimit.within(OptionalDouble.of(60), () -> TimeLimit.within(SHORT, TimeLimitTest::forever)))
                .hasMessageContaining("0.02s");
        assertThat(Thread.currentThread().isInterrupted()).isFalse();
    }

    @Test
    void anotherFailureKeepsItsReason() {
        assertThatThrownBy(() -> TimeLimit.within(OptionalDouble.of(60), () -> {
                    throw new FitFailure("something else");
                }))
                .hasMessage("something else");
    }

    static Stream<Settings> endless() {
        Settings none = Settings.none();
        return Stream.of(
                none.with("classifier", "forest").with("trees", "1000000"),
                none.with("classifier", "boosting").with("rounds", "1000000"));
    }

    @ParameterizedTest
    @MethodSource("endless")
    void aClassifierThatWouldTakeHoursIsOneFailedFitInAFamilyToo(Settings all) {
        ClassifierKind kind = ClassifierKinds.of(all.values().get("classifier")).orElseThrow();
        String count = all.values().containsKey("trees") ? "trees" : "rounds";
        Task task = Trials.task(Trials.data("d", 5, 60, 1, 0), new KFold(2, 1, true), "accuracy");
        List<Candidate> members = Stream.of("1", all.values().get(count))
                .map(v -> new Candidate(
                        "f/" + v,
                        "f",
                        Recipe.of(kind),
                        Settings.none().with(count, v),
                        Map.of(count, List.of("1", all.values().get(count))),
                        Optional.empty(),
                        Optional.empty(),
                        OptionalDouble.of(0.3),
                        java.util.OptionalInt.empty(),
                        "f"))
                .toList();
        List<Fit> fits = Trials.fits(new Comparison(List.of(task), members, 1), 1);
        assertThat(fits).filteredOn(f -> f.candidate() == 0).noneMatch(Fit::failed);
        assertThat(fits).filteredOn(f -> f.candidate() == 1).allMatch(f -> f.message()
                .equals("took longer than its time-limit of 0.3s"));
    }
}

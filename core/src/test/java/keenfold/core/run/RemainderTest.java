package keenfold.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.prepare.Settings;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Recipe;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What is left of a comparison gives the fits that the whole gives. */
class RemainderTest {
    private static List<Candidate> family(String kind, String setting, List<String> values) {
        ClassifierKind of = ClassifierKinds.of(kind).orElseThrow();
        return values.stream()
                .map(v -> new Candidate(
                        kind + "/" + v,
                        kind,
                        Recipe.of(of),
                        Settings.none().with(setting, v),
                        Map.of(setting, values),
                        Optional.empty(),
                        Optional.empty()))
                .toList();
    }

    private static List<Fit> run(Comparison comparison, List<Unit> units, Remainder left) {
        List<Fit> fits = new ArrayList<>();
        Runner.on(Parallel.of(1)).run(comparison, units, left.sink((unit, made) -> fits.addAll(made)));
        return fits;
    }

    /** Each family of a kind that shares work, or draws at random: a further member is the same without the others. */
    @ParameterizedTest
    @CsvSource({
        "nearest, neighbours, 1, 5, 9",
        "logistic, strength, 0.5, 3, 20",
        "tree, depth, 1, 3, 5",
        "forest, trees, 3, 7, 12",
        "boosting, rounds, 4, 9, 20",
        "svm, strength, 0.5, 2, 5",
        "network, units, 2, 3, 5"
    })
    void aFurtherMemberIsTheSameWithoutTheOthers(String kind, String setting, String one, String two, String three) {
        Task task = Trials.task(Trials.data("d", 5, 60, 1, 0), new KFold(2, 2, true), "accuracy", "log-loss");
        Comparison whole = new Comparison(List.of(task), family(kind, setting, List.of(one, two, three)), 3);
        List<Fit> all = new ArrayList<>();
        Runner.on(Parallel.of(1)).run(whole, whole.units(), (unit, fits) -> all.addAll(fits));
        for (Set<Integer> done : List.of(Set.of(0, 2), Set.of(1))) {
            Remainder left = new Remainder(whole, done);
            List<Fit> made = run(left.comparison(), left.units(whole.units()), left);
            assertThat(made).hasSize(4 * (3 - done.size()));
            for (Fit fit : made) {
                assertThat(done).doesNotContain(fit.candidate());
                Fit same = all.stream()
                        .filter(f -> f.candidate() == fit.candidate()
                                && f.repeat() == fit.repeat()
                                && f.fold() == fit.fold())
                        .findFirst()
                        .orElseThrow();
                assertThat(fit.failed()).isEqualTo(same.failed()).isFalse();
                assertThat(fit.result().orElseThrow().scores())
                        .containsExactly(same.result().orElseThrow().scores());
                assertThat(fit.result()
                                .orElseThrow()
                                .outcomes()
                                .predictsAs(same.result().orElseThrow().outcomes()))
                        .isTrue();
                assertThat(fit.size()).isEqualTo(same.size());
            }
        }
    }

    @Test
    void unitsKeepTheirPlacesAndOtherFamilies() {
        Task task = Trials.task(Trials.data("d", 5, 60, 1, 0), new KFold(2, 2, true), "accuracy");
        List<Candidate> candidates = new ArrayList<>(family("tree", "depth", List.of("1")));
        candidates.addAll(family("nearest", "neighbours", List.of("1", "3")));
        Comparison whole = new Comparison(List.of(task), candidates, 3);
        Remainder left = new Remainder(whole, Set.of(0, 1));
        List<Unit> missing = whole.units().stream()
                .filter(u -> u.family() == 1 && u.repeat() == 1)
                .toList();
        assertThat(left.units(missing))
                .extracting(Unit::repeat, Unit::fold, Unit::family)
                .containsExactly(tuple(1, 0, 0), tuple(1, 1, 0));
        assertThat(run(left.comparison(), left.units(missing), left))
                .extracting(Fit::candidate)
                .containsExactly(2, 2);
    }
}

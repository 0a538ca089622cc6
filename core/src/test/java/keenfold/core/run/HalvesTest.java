package keenfold.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class HalvesTest {
    private static final KFold FOLDS = new KFold(4, 3, true);
    private static final Halving HALVING = new Halving(5, 2);
    private static final List<Candidate> ONE = List.of(Trials.candidate("near", "nearest", "neighbours=3"));

    private static Comparison comparison(int groups) {
        DataSet data = Trials.data("d", 5, 61, 1, groups);
        return new Comparison(List.of(Trials.task(data, FOLDS, "accuracy")), ONE, 9);
    }

    /** The two halves of a split share no row and no group, and together have every row. */
    @ParameterizedTest
    @ValueSource(ints = {0, 25})
    void twoHalvesDivideTheRows(int groups) {
        Comparison comparison = comparison(groups);
        DataSet data = comparison.tasks().get(0).data();
        Halves halves = new Halves(comparison, FOLDS, HALVING);
        Set<String> divisions = new HashSet<>();
        for (int s = 0; s < 5; s++) {
            DataSet one = halves.half(2 * s).tasks().get(0).data();
            DataSet other = halves.half(2 * s + 1).tasks().get(0).data();
            int[] rows = IntStream.concat(Arrays.stream(one.sourceRows()), Arrays.stream(other.sourceRows()))
                    .sorted()
                    .toArray();
            assertThat(rows).isEqualTo(data.sourceRows());
            divisions.add(Arrays.toString(one.sourceRows()));
            if (groups == 0) {
                for (int c = 0; c < 2; c++) {
                    assertThat(Math.abs(one.classCounts()[c] - other.classCounts()[c]))
                            .isLessThanOrEqualTo(1);
                }
            } else {
                assertThat(levels(one)).doesNotContainAnyElementsOf(levels(other));
            }
        }
        assertThat(divisions).as("each split is another one").hasSize(5);
    }

    private static Set<String> levels(DataSet data) {
        Set<String> levels = new HashSet<>();
        for (int i = 0; i < data.rows(); i++) {
            levels.add(data.groups()
                    .orElseThrow()
                    .levels()
                    .get(data.groups().orElseThrow().code(i)));
        }
        return levels;
    }

    /** As many folds as in the plan, H times, new ones each time; the same whenever it is asked for. */
    @Test
    void eachHalfHasFoldsOfItsOwn() {
        Halves halves = new Halves(comparison(0), FOLDS, HALVING);
        Task half = halves.half(3).tasks().get(0);
        assertThat(half.splits().repeats()).isEqualTo(2);
        assertThat(half.splits().folds(0)).isEqualTo(4);
        assertThat(half.splits().distinctPartitions()).isEqualTo(2);
        assertThat(halves.half(3).tasks().get(0).splits()).isEqualTo(half.splits());
        assertThat(halves.half(3).seed()).isNotEqualTo(halves.half(2).seed());
    }

    /** What a ledger computes without the feature columns is what the run was tested on. */
    @ParameterizedTest
    @ValueSource(ints = {0, 25})
    void rowsAreFoundAgain(int groups) {
        Comparison comparison = comparison(groups);
        Halves halves = new Halves(comparison, FOLDS, HALVING);
        Task task = comparison.tasks().get(0);
        int[][][] test = Halves.testRows(task, FOLDS, 2, comparison.seed(), 7);
        for (Fit fit : Trials.fits(halves.half(7), 1)) {
            Outcomes outcomes =
                    halves.ofWhole(7, fit).fit().result().orElseThrow().outcomes();
            int[] rows = IntStream.range(0, outcomes.size()).map(outcomes::row).toArray();
            assertThat(rows).isEqualTo(test[fit.repeat()][fit.fold()]);
            for (int i = 0; i < rows.length; i++) {
                assertThat(outcomes.actual(i)).isEqualTo(task.data().target(rows[i]));
            }
        }
    }

    @Test
    void whatCannotBeHalvedIsRefused() {
        assertThatThrownBy(() -> new Halves(comparison(0), new KFold(4, 1, true), HALVING))
                .hasMessageContaining("ask for at least 2 repeats, not 1");
        assertThatThrownBy(() -> new Halves(comparison(0), new KFold(40, 2, true), HALVING))
                .hasMessageContaining("that takes 80; ask for fewer folds");
        // 25 rows of a class, but in six groups.
        assertThatThrownBy(() -> new Halves(comparison(6), FOLDS, HALVING))
                .hasMessageContaining("groups")
                .hasMessageContaining("that takes 8");
        DataSet data = Trials.data("d", 5, 60, 1, 0);
        Task bound = new Task(
                data,
                FOLDS.divide(data, true, 1),
                Trials.task(data, FOLDS, "accuracy").metrics());
        assertThatThrownBy(() -> new Halves(new Comparison(List.of(bound), ONE, 9), FOLDS, HALVING))
                .hasMessageContaining("give them a group column");
    }
}

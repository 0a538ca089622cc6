package keenfold.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class ResamplesTest {
    private static final KFold FOLDS = new KFold(4, 2, true);
    private static final List<Candidate> ONE = List.of(Trials.candidate("guess", "majority"));

    private static Resamples resamples(int groups) {
        DataSet data = Trials.data("d", 5, 60, 1, groups);
        return new Resamples(new Comparison(List.of(Trials.task(data, FOLDS, "accuracy")), ONE, 9), FOLDS);
    }

    /** A copy on the other side would be learned by heart: all copies of a row, or group, are tested together. */
    @ParameterizedTest
    @ValueSource(ints = {0, 15})
    void copiesStayTogether(int groups) {
        DataSet original = Trials.data("d", 5, 60, 1, groups);
        for (int n = 0; n < 20; n++) {
            Task task = resamples(groups).resample(n).tasks().get(0);
            assertThat(task.splits().repeats()).isEqualTo(1);
            Map<String, Integer> foldOfUnit = new HashMap<>();
            for (int i = 0; i < task.data().rows(); i++) {
                int row = task.data().sourceRow(i) - 1;
                String unit = groups == 0
                        ? "" + row
                        : original.groups()
                                .orElseThrow()
                                .levels()
                                .get(original.groups().orElseThrow().code(row));
                int fold = task.splits().foldOf(0, i);
                assertThat(foldOfUnit.computeIfAbsent(unit, k -> fold)).isEqualTo(fold);
            }
            assertThat(foldOfUnit.size()).isLessThan(groups == 0 ? 60 : 15 + 1);
        }
    }

    @Test
    void rowsAreDrawnWithReplacementAndWholeGroupsTogether() {
        Task plain = resamples(0).resample(3).tasks().get(0);
        assertThat(plain.data().rows()).isEqualTo(60);
        // About 1/e of the rows are left out; 60 rows all different would be a miracle.
        assertThat(Arrays.stream(plain.data().sourceRows()).distinct().count()).isBetween(28L, 50L);
        DataSet original = Trials.data("d", 5, 60, 1, 15);
        Task grouped = resamples(15).resample(3).tasks().get(0);
        int[] drawn = new int[60];
        Arrays.stream(grouped.data().sourceRows()).forEach(r -> drawn[r - 1]++);
        for (int i = 0; i < 60; i++) {
            int row = i;
            int[] mates = IntStream.range(0, 60)
                    .filter(j -> original.groups().orElseThrow().code(j)
                            == original.groups().orElseThrow().code(row))
                    .toArray();
            assertThat(IntStream.of(mates).allMatch(j -> drawn[j] == drawn[row]))
                    .isTrue();
        }
    }

    @Test
    void eachNumberHasItsOwnRowsAndAlwaysTheSame() {
        int[] first = resamples(0).resample(0).tasks().get(0).data().sourceRows();
        assertThat(resamples(0).resample(0).tasks().get(0).data().sourceRows()).isEqualTo(first);
        assertThat(resamples(0).resample(1).tasks().get(0).data().sourceRows()).isNotEqualTo(first);
        assertThat(resamples(0).resample(0).seed())
                .isNotEqualTo(resamples(0).resample(1).seed());
    }

    @Test
    void boundEqualRowsAreRefused() {
        DataSet data = Trials.data("d", 5, 60, 1, 0);
        Task bound = new Task(
                data,
                FOLDS.divide(data, true, 1),
                Trials.task(data, FOLDS, "accuracy").metrics());
        assertThatThrownBy(() -> new Resamples(new Comparison(List.of(bound), ONE, 9), FOLDS))
                .hasMessageContaining("leave out bind-equal or refit");
    }
}

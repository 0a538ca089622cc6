package keenfold.core.infer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.Comparison;
import keenfold.core.run.Trials;
import keenfold.core.split.KFold;
import org.junit.jupiter.api.Test;

class HardRowTest {
    @Test
    void rowsAreCountedOneByOne() {
        AlignedPredictions panel = AlignedPredictions.of(
                Trials.results(new Comparison(
                        List.of(Trials.task(Trials.data("d", 3, 60, 0.8, 0), new KFold(4, 3, true), "accuracy")),
                        List.of(
                                Trials.candidate("logit", "logistic"),
                                Trials.candidate("near", "nearest", "neighbours=3")),
                        4)),
                0);
        List<HardRow> rows = HardRow.of(panel, List.of(0, 1), true);
        assertThat(rows).hasSize(60);
        for (HardRow hard : rows) {
            double wrong = 0;
            double probability = 0;
            int by = 0;
            for (int c = 0; c < 2; c++) {
                int own = 0;
                for (Outcomes part : panel.parts(c)) {
                    for (int i = 0; i < part.size(); i++) {
                        if (part.row(i) == hard.row()) {
                            own += part.predicted(i) == part.actual(i) ? 0 : 1;
                            probability += part.probability(i, part.actual(i)) / 6;
                        }
                    }
                }
                wrong += own / 6.0;
                by += own >= 2 ? 1 : 0;
            }
            assertThat(hard.wrong()).isCloseTo(wrong, within(1e-12));
            assertThat(hard.probability()).isCloseTo(probability, within(1e-12));
            assertThat(hard.candidates()).isEqualTo(by);
            int other = 1 - panel.task().data().target(hard.row());
            assertThat(hard.takenFor()).isEqualTo(wrong == 0 ? -1 : other);
        }
        for (int i = 1; i < rows.size(); i++) {
            assertThat(rows.get(i - 1).wrong())
                    .isGreaterThanOrEqualTo(rows.get(i).wrong());
        }
    }

    @Test
    void nearRowsByHand() {
        DataSet data = DataSet.of(
                "d",
                new Table(
                        4,
                        List.of(
                                Numbers.of("x", 0, 5, 10, Double.NaN),
                                Categories.of("c", "a", "a", "b", "a"),
                                Numbers.of("gap", Double.NaN, 1, 2, 3))),
                new Classes(List.of("n", "y"), 1),
                new int[] {0, 0, 1, 1});
        // Row 0 has no gap value. Row 1: (5/10 + 0)/2; row 2: (1 + 1)/2; row 3 shares the level alone.
        assertThat(HardRow.nearest(data, 0, 9))
                .containsExactly(new HardRow.Near(3, 0), new HardRow.Near(1, 0.25), new HardRow.Near(2, 1));
        assertThat(HardRow.nearest(data, 0, 1)).hasSize(1);
    }
}

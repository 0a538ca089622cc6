package keenfold.core.data;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class DataSetTest {
    private static final Classes CLASSES = new Classes(List.of("no", "yes"), 0);

    @Test
    void refusesWhatDoesNotFit() {
        Table table = new Table(2, List.of(Numbers.of("x", 1, 2)));
        assertThatThrownBy(() -> DataSet.of("d", table, CLASSES, new int[] {0})).hasMessage("1 labels for 2 rows");
        assertThatThrownBy(() -> DataSet.of("d", table, CLASSES, new int[] {0, 2}))
                .hasMessage("class index 2: there are 2 classes");
        assertThatThrownBy(() -> DataSet.of(
                        "d", table, CLASSES, new int[] {0, 1}, Optional.of(Categories.of("g", "a", null)), new int[] {
                            1, 2
                        }))
                .hasMessage("column \"g\": a group is missing");
        assertThatThrownBy(() -> new Table(2, List.of(Numbers.of("x", 1))))
                .hasMessageContaining("has 1 rows: expected 2");
        assertThatThrownBy(() -> new Table(1, List.of(Numbers.of("x", 1), Numbers.of("x", 2))))
                .hasMessageContaining("is there twice");
        assertThatThrownBy(() -> new Classes(List.of("b", "a"), 0)).hasMessageContaining("\"b\" stands before \"a\"");
        assertThatThrownBy(() -> Numbers.of("x", 1 / 0.0))
                .hasMessage("column \"x\", row 1: Infinity is not a finite number");
        assertThatThrownBy(() -> Rows.of(new int[] {1}, new int[] {0})).hasMessageContaining("case count = 0");
    }

    @Test
    void theRarerClassIsPositiveAndOfEqualOnesTheLater() {
        assertThat(Classes.rarest(new int[] {5, 3})).isEqualTo(1);
        assertThat(Classes.rarest(new int[] {3, 5})).isZero();
        assertThat(Classes.rarest(new int[] {4, 4})).isEqualTo(1);
    }
}

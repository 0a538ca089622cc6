package keenfold.core.data;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.Comparator;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class OrderTest {
    @ParameterizedTest
    @ValueSource(ints = {0, 1, 2, 23, 24, 25, 49, 1000})
    void orderIsTheStableOrderWithoutMissingValues(int n) {
        RandomSource chance = new Seed(n).chance();
        double[] values = IntStream.range(0, n)
                .mapToDouble(i -> chance.below(10) == 0 ? Double.NaN : chance.below(n / 3 + 1))
                .toArray();
        Integer[] expected = IntStream.range(0, n)
                .filter(i -> !Double.isNaN(values[i]))
                .boxed()
                .sorted(Comparator.comparingDouble(i -> values[i]))
                .toArray(Integer[]::new);
        assertThat(WeightedSort.order(values)).containsExactly(expected);
    }

    /** Neighbouring doubles differ in their lowest bits alone, and both zeros are equal. */
    @ParameterizedTest
    @ValueSource(doubles = {0, 1, -1, 0.3})
    void orderTellsTheClosestValuesApart(double about) {
        RandomSource chance = new Seed(5).chance();
        double[] values = IntStream.range(0, 300)
                .mapToDouble(i -> chance.below(4) == 0 ? -about : close(about, chance.below(60)))
                .toArray();
        Integer[] expected = IntStream.range(0, values.length)
                .boxed()
                .sorted((a, b) -> values[a] < values[b] ? -1 : values[a] > values[b] ? 1 : Integer.compare(a, b))
                .toArray(Integer[]::new);
        assertThat(WeightedSort.order(values)).containsExactly(expected);
    }

    private static double close(double value, int steps) {
        double close = value;
        for (int i = 0; i < steps; i++) {
            close = Math.nextUp(close);
        }
        return close;
    }

    @Test
    void medianOfCases() {
        assertThat(WeightedSort.median(new double[] {5, 1, 3}, new double[] {1, 1, 1}))
                .isEqualTo(3);
        assertThat(WeightedSort.median(new double[] {4, 1}, new double[] {1, 1}))
                .isEqualTo(2.5);
        // 1, 9, 9, 9
        assertThat(WeightedSort.median(new double[] {1, 9}, new double[] {1, 3}))
                .isEqualTo(9);
        assertThat(WeightedSort.median(new double[] {Double.NaN, 2}, new double[] {5, 1}))
                .isEqualTo(2);
        assertThat(WeightedSort.median(new double[] {Double.NaN}, new double[] {1}))
                .isNaN();
    }

    @Test
    void selectionAgreesWithSorting() {
        RandomSource chance = new Seed(3).chance();
        for (int round = 0; round < 200; round++) {
            int n = 1 + chance.below(60);
            double[] values =
                    IntStream.range(0, n).mapToDouble(i -> chance.below(20)).toArray();
            double[] sorted = values.clone();
            Arrays.sort(sorted);
            int position = chance.below(n);
            assertThat(Selection.smallest(values.clone(), position)).isEqualTo(sorted[position]);
        }
    }

    @Test
    void labelsAreOrderedByCodePointNotByCodeUnit() {
        // U+1F41D (a bee) is a surrogate pair in UTF-16, and so stands before U+FF21 there.
        Categories column = Categories.of("c", "\uFF21", "\uD83D\uDC1D", "b", null, "B");
        assertThat(column.levels()).containsExactly("B", "b", "\uFF21", "\uD83D\uDC1D");
        assertThat(column.code(0)).isEqualTo(2);
        assertThat(column.missing(3)).isTrue();
        assertThat(column.counts()).containsExactly(1, 1, 1, 1);
    }
}

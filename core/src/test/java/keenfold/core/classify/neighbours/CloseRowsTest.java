package keenfold.core.classify.neighbours;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class CloseRowsTest {
    private static double[] exact(double[][] x, double[] row, int rows) {
        double[] squared = new double[rows];
        for (int c = 0; c < x.length; c++) {
            for (int j = 0; j < rows; j++) {
                double off = x[c][j] - row[c];
                squared[j] += off * off;
            }
        }
        return squared;
    }

    /** Rows are normal, or on a coarse grid where distances tie, times a scale, some of them written twice. */
    @ParameterizedTest
    @CsvSource({
        "3, 1, 0, false",
        "30, 1, 0, false",
        "5, 1, 0, true",
        "4, 1e-30, 0, false",
        "4, 1e-43, 0, true",
        "6, 1e13, 0, false",
        "7, 1, 1e6, false",
        "2, 1e-3, 1e9, true",
        "9, 1e-19, 0, false"
    })
    void noneOfTheNearestIsMissed(int columns, double scale, double center, boolean grid) {
        int rows = 2_500;
        RandomSource chance = new Seed(columns).chance();
        double[][] x = new double[columns][rows];
        for (int c = 0; c < columns; c++) {
            for (int j = 0; j < rows; j++) {
                double value = grid ? chance.below(5) : chance.normal();
                x[c][j] = j % 7 == 3 ? x[c][j - 1] : center + scale * value;
            }
        }
        CloseRows close = CloseRows.of(x, rows).orElseThrow();
        for (int t = 0; t < 40; t++) {
            double[] row = new double[columns];
            int like = chance.below(rows);
            for (int c = 0; c < columns; c++) {
                row[c] = t % 3 == 0 ? x[c][like] : center + scale * chance.normal();
            }
            double[] squared = exact(x, row, rows);
            for (int k : new int[] {1, 2, 5, 60, 600}) {
                double[] sorted = squared.clone();
                Arrays.sort(sorted);
                int[] near = IntStream.range(0, rows)
                        .filter(j -> squared[j] <= sorted[k - 1])
                        .toArray();
                int[] found = close.near(new double[][] {row}, k).get(0).orElseThrow();
                assertThat(found).isSorted();
                assertThat(IntStream.of(near).allMatch(j -> Arrays.binarySearch(found, j) >= 0))
                        .isTrue();
                if (scale == 1 && center == 0) {
                    // Rough, but not so rough that everything is measured again.
                    assertThat(found.length).isLessThanOrEqualTo(near.length + 3);
                }
            }
        }
    }

    @Test
    void whatSinglePrecisionCannotHoldIsLeftToDouble() {
        assertThat(CloseRows.of(new double[][] {{1, 1e16}}, 2)).isEmpty();
        assertThat(CloseRows.of(new double[][] {{1, Double.NaN}}, 2)).isEmpty();
        assertThat(CloseRows.of(new double[][] {{1, 2}}, 2).orElseThrow().near(new double[][] {{1e300}, {2}}, 1))
                .element(0)
                .isEqualTo(Optional.empty());
    }
}

package keenfold.core.classify.discriminant;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.stream.IntStream;
import keenfold.core.classify.Model;
import keenfold.core.classify.Samples;
import keenfold.core.learned.FitFailure;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class DiscriminantTest {
    private static final double[][] X = {
        {1, 2, 4, 2, 7, 8, 6, 9, 5},
        {3, 1, 2, 5, 4, 8, 6, 7, 9}
    };
    private static final int[] Y = {0, 0, 0, 0, 1, 1, 1, 1, 1};

    /** One column: ln odds = (m₁ − m₀)/s²·(x − (m₀ + m₁)/2) + ln(n₁/n₀). */
    @Test
    void linearOfOneColumnInClosedForm() {
        Training t = Samples.training(new double[][] {X[0]}, Y, 2);
        // Means 2.25 and 7; squares about them 4.75 and 10, over 9 − 2.
        double slope = (7 - 2.25) / (14.75 / 7);
        double[] p =
                new Discriminant(1, 0).fit(t, Samples.chance()).probabilities(Samples.table(new double[] {4, 5.5}));
        for (int i = 0; i < 2; i++) {
            double x = i == 0 ? 4 : 5.5;
            double odds = Math.exp(slope * (x - 4.625) + Math.log(5.0 / 4));
            assertThat(p[2 * i + 1]).isCloseTo(odds / (1 + odds), within(1e-12));
        }
    }

    /** Two columns with the covariance mixed, shrunk and inverted by hand. */
    @ParameterizedTest
    @CsvSource({"1,0", "0,0", "0.3,0", "0.3,0.4", "1,1", "0,1"})
    void densitiesOfTwoColumnsByHand(double pooled, double diagonal) {
        Training t = Samples.training(X, Y, 2);
        double[] at = {4.5, 6};
        double[] log = new double[2];
        double[][][] sums = new double[2][2][2];
        double[][] mean = new double[2][2];
        int[] n = {4, 5};
        for (int c = 0; c < 2; c++) {
            for (int j = 0; j < 2; j++) {
                for (int i = 0; i < 9; i++) {
                    mean[c][j] += Y[i] == c ? X[j][i] / n[c] : 0;
                }
            }
            for (int i = 0; i < 9; i++) {
                for (int a = 0; a < 2 && Y[i] == c; a++) {
                    for (int b = 0; b < 2; b++) {
                        sums[c][a][b] += (X[a][i] - mean[c][a]) * (X[b][i] - mean[c][b]);
                    }
                }
            }
        }
        for (int c = 0; c < 2; c++) {
            double[] v = new double[3];
            for (int k = 0; k < 3; k++) {
                int a = k == 2 ? 1 : 0;
                int b = k == 0 ? 0 : 1;
                double all = sums[0][a][b] + sums[1][a][b];
                v[k] = ((1 - pooled) * sums[c][a][b] + pooled * all) / ((1 - pooled) * (n[c] - 1) + pooled * 7);
            }
            v[1] *= 1 - diagonal;
            double determinant = v[0] * v[2] - v[1] * v[1];
            double dx = at[0] - mean[c][0];
            double dy = at[1] - mean[c][1];
            double distance = (v[2] * dx * dx - 2 * v[1] * dx * dy + v[0] * dy * dy) / determinant;
            log[c] = Math.log(n[c] / 9.0) - Math.log(determinant) / 2 - distance / 2;
        }
        Model model = new Discriminant(pooled, diagonal).fit(t, Samples.chance());
        double[] p = model.probabilities(Samples.table(new double[] {at[0]}, new double[] {at[1]}));
        assertThat(p[1]).isCloseTo(1 / (1 + Math.exp(log[0] - log[1])), within(1e-12));
        assertThat(model.size()).isCloseTo(3 + (1 - pooled) * (2 + (1 - diagonal)), within(1e-12));
    }

    @Test
    void columnsThatOthersDetermineAndConstantOnesAreLeftOut() {
        double[] sum = IntStream.range(0, 9)
                .mapToDouble(i -> 2 * X[0][i] - X[1][i] + 3)
                .toArray();
        double[] same = new double[9];
        Arrays.fill(same, 4);
        Training more = Samples.training(new double[][] {same, X[0], X[1], sum}, Y, 2);
        Training plain = Samples.training(X, Y, 2);
        for (double pooled : new double[] {1, 0.5, 0}) {
            Model model = new Discriminant(pooled, 0).fit(more, Samples.chance());
            Model expected = new Discriminant(pooled, 0).fit(plain, Samples.chance());
            assertThat(model.probabilities(more.table()))
                    .containsExactly(expected.probabilities(plain.table()), within(1e-9));
            assertThat(model.size()).isEqualTo(expected.size());
        }
    }

    @Test
    void aClassWithTooFewRowsForItsOwnCovarianceIsSaid() {
        Training few =
                Samples.training(new double[][] {{1, 2, 3, 4, 9}, {2, 1, 4, 3, 9}}, new int[] {0, 0, 0, 0, 1}, 2);
        assertThatThrownBy(() -> new Discriminant(0, 0).fit(few, Samples.chance()))
                .isInstanceOf(FitFailure.class)
                .hasMessageContaining("raise pooled or diagonal");
        Training each = Samples.training(new double[][] {{1, 2}}, new int[] {0, 1}, 2);
        assertThatThrownBy(() -> new Discriminant(1, 0).fit(each, Samples.chance()))
                .hasMessageContaining("needs more training rows than classes");
    }
}

package keenfold.core.classify;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class SpdTest {
    /** Sums of products written out plainly, few and many columns and rows; and with them the trace of an inverse. */
    @ParameterizedTest
    @CsvSource({"1,5", "4,7", "31,300", "32,257", "45,1030"})
    void productsAndTracesAreThoseOfTheirDefinitions(int p, int n) {
        RandomSource chance = new Seed(p).chance();
        double[][] x = new double[p][n];
        double[] w = new double[n];
        double[][] r = new double[2][n];
        for (int i = 0; i < n; i++) {
            w[i] = chance.uniform();
            r[0][i] = chance.normal();
            r[1][i] = chance.normal();
            for (int j = 0; j < p; j++) {
                x[j][i] = chance.normal();
            }
        }
        double[] square = new double[p * p];
        Products.add(x, w, square);
        Products.mirror(square, p);
        double[] sums = new Products.Columns(x).sums(r);
        double[] diagonal = new double[p];
        for (int a = 0; a < p; a++) {
            for (int b = 0; b < p; b++) {
                double sum = 0;
                for (int i = 0; i < n; i++) {
                    sum += w[i] * x[a][i] * x[b][i];
                }
                assertThat(square[a * p + b]).isCloseTo(sum, within(1e-9));
            }
            for (int c = 0; c < 2; c++) {
                double sum = 0;
                for (int i = 0; i < n; i++) {
                    sum += r[c][i] * x[a][i];
                }
                assertThat(sums[c * p + a]).isCloseTo(sum, within(1e-9));
            }
            diagonal[a] = a % 3 == 0 ? 0 : a;
            square[a * p + a] += 1;
        }
        double[] combined = Products.combination(x, diagonal, 0, n);
        double one = 0;
        for (int j = 0; j < p; j++) {
            one += diagonal[j] * x[j][n - 1];
        }
        assertThat(combined[n - 1]).isCloseTo(one, within(1e-9));
        Spd factored = Spd.factor(square, p);
        double trace = 0;
        for (int j = 0; j < p; j++) {
            double[] unit = new double[p];
            Arrays.fill(unit, 0);
            unit[j] = 1;
            trace += factored.solve(unit)[j] * diagonal[j];
        }
        assertThat(factored.traceOfInverseTimes(diagonal)).isCloseTo(trace, within(1e-9 * (1 + trace)));
    }
}

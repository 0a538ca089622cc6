package keenfold.core.classify;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Comparator;
import java.util.stream.IntStream;
import keenfold.core.data.Chance;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class NearestTest {
    /** Whole numbers in few values: distances tie all the time. */
    private static double[][] grid(Chance chance, int rows) {
        double[][] x = new double[2][rows];
        for (int i = 0; i < rows; i++) {
            x[0][i] = chance.below(4);
            x[1][i] = chance.below(3);
        }
        return x;
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2, 3, 7, 20, 50})
    void agreesWithSortingAllDistances(int k) {
        Chance chance = new Seed(k).chance();
        double[][] x = grid(chance, 40);
        int[] y = IntStream.range(0, 40).map(i -> chance.below(3)).toArray();
        double[][] test = grid(chance, 15);
        Model model = new Nearest(k).fit(Samples.training(x, y, 3), Samples.chance());
        double[] p = model.probabilities(Samples.table(test));
        for (int t = 0; t < 15; t++) {
            double[] d = new double[40];
            for (int i = 0; i < 40; i++) {
                d[i] = sq(x[0][i] - test[0][t]) + sq(x[1][i] - test[1][t]);
            }
            double[] votes = plainVotes(d, y, Math.min(k, 40));
            for (int c = 0; c < 3; c++) {
                assertThat(p[3 * t + c]).isCloseTo(votes[c], within(1e-12));
            }
        }
        assertThat(model.size()).isCloseTo(2 * 40.0 / Math.min(k, 40), within(1e-12));
    }

    /** Those strictly nearer than the k-th vote whole; those as far as it share the places that are left. */
    private static double[] plainVotes(double[] d, int[] y, int k) {
        double limit = IntStream.range(0, d.length)
                .boxed()
                .sorted(Comparator.comparingDouble(i -> d[i]))
                .skip(k - 1)
                .mapToDouble(i -> d[i])
                .findFirst()
                .orElseThrow();
        long nearer = IntStream.range(0, d.length).filter(i -> d[i] < limit).count();
        long tied = IntStream.range(0, d.length).filter(i -> d[i] == limit).count();
        double[] votes = new double[3];
        for (int i = 0; i < d.length; i++) {
            votes[y[i]] += d[i] < limit ? 1.0 / k : d[i] == limit ? (k - nearer) / (double) tied / k : 0;
        }
        return votes;
    }

    private static double sq(double v) {
        return v * v;
    }

    @Test
    void oneNeighbourRemembersItsTrainingRows() {
        Training t = Samples.normal(40, 30, 2, 2);
        Table same = t.table();
        double[] p = new Nearest(1).fit(t, Samples.chance()).probabilities(same);
        assertThat(IntStream.range(0, 30)).allMatch(i -> p[2 * i + t.target(i)] == 1);
    }
}

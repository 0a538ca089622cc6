package keenfold.core.classify.neighbours;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.classify.Model;
import keenfold.core.classify.Samples;
import keenfold.core.data.Categories;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.NearestRows.Distance;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class NearestNeighboursTest {
    /** Whole numbers in few values: distances tie all the time. */
    private static double[][] grid(RandomSource chance, int rows) {
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
        RandomSource chance = new Seed(k).chance();
        double[][] x = grid(chance, 40);
        int[] y = IntStream.range(0, 40).map(i -> chance.below(3)).toArray();
        double[][] test = grid(chance, 15);
        Model model =
                new NearestNeighbours(k, Distance.EUCLIDEAN, false).fit(Samples.training(x, y, 3), Samples.chance());
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

    @ParameterizedTest
    @ValueSource(ints = {1, 5, 40})
    void theRoughSearchFindsWhatMeasuringAllExactlyFinds(int k) {
        Training training = Samples.normal(k, 1_300, 9, 3);
        double[][] x = Training.columns(training.table());
        double[][] test = Training.columns(Samples.normal(k + 1L, 60, 9, 3).table());
        test[3][7] = 1e200;
        Model model = new NearestNeighbours(k, Distance.EUCLIDEAN, true).fit(training, Samples.chance());
        // More neighbours than a fourth of the rows are searched among all distances, by the same rules.
        Model all = NearestNeighbours.joint(
                        List.of(
                                new NearestNeighbours(k, Distance.EUCLIDEAN, true),
                                new NearestNeighbours(1_000, Distance.EUCLIDEAN, true)),
                        training)
                .get(0);
        assertThat(model.probabilities(Samples.table(test))).containsExactly(all.probabilities(Samples.table(test)));
        assertThat(model.probabilities(Samples.table(x))).containsExactly(all.probabilities(Samples.table(x)));
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
        double[] p = new NearestNeighbours(1, Distance.EUCLIDEAN, false)
                .fit(t, Samples.chance())
                .probabilities(same);
        assertThat(IntStream.range(0, 30)).allMatch(i -> p[2 * i + t.target(i)] == 1);
    }

    /** Three training rows at distances that are worked out by hand, one vote each or by 1/distance. */
    @ParameterizedTest
    @CsvSource({"EUCLIDEAN,5,13,10", "MANHATTAN,7,17,14", "CHEBYSHEV,4,12,8"})
    void votesCountByDistance(Distance distance, double a, double b, double c) {
        Training t = Samples.training(new double[][] {{3, 5, 6}, {4, 12, 8}}, new int[] {0, 1, 0}, 2);
        double[] p = new NearestNeighbours(3, distance, true)
                .fit(t, Samples.chance())
                .probabilities(Samples.table(new double[] {0}, new double[] {0}));
        assertThat(p[1]).isCloseTo(1 / b / (1 / a + 1 / b + 1 / c), within(1e-14));
        // At a training row itself, that row votes alone.
        double[] at = new NearestNeighbours(3, distance, true)
                .fit(t, Samples.chance())
                .probabilities(Samples.table(new double[] {5}, new double[] {12}));
        assertThat(at[1]).isEqualTo(1);
    }

    /** Gower by hand: number range 4, one gap, one category. */
    @Test
    void mixedDistancesTakeCategoriesAndGaps() {
        Table rows = new Table(
                3,
                List.of(
                        Numbers.of("x", 1, 5, Double.NaN),
                        Categories.of("c", "p", "q", "p"),
                        Numbers.of("same", 2, 2, 2)));
        Training t = Training.of(rows, new int[] {0, 1, 2}, Samples.ones(3), 3);
        // (2, q): to row 0 (1/4 + 1)/2, to row 1 (3/4 + 0)/2, to row 2 1/1.
        Table test = new Table(
                2,
                List.of(
                        Numbers.of("x", 2, Double.NaN),
                        Categories.of("c", "q", null, "p").select(new int[] {0, 1}),
                        Numbers.of("same", 9, 9)));
        double[] p = new NearestNeighbours(3, Distance.MIXED, true)
                .fit(t, Samples.chance())
                .probabilities(test);
        double all = 1 / 0.625 + 1 / 0.375 + 1;
        assertThat(p[0]).isCloseTo(1 / 0.625 / all, within(1e-14));
        assertThat(p[1]).isCloseTo(1 / 0.375 / all, within(1e-14));
        // Nothing in common: all are as far.
        assertThat(p[3]).isCloseTo(1.0 / 3, within(1e-14));
    }
}

package keenfold.core.classify.bayes;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.classify.Model;
import keenfold.core.classify.Samples;
import keenfold.core.data.Categories;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class NaiveBayesTest {
    private static double normal(double x, double mean, double variance) {
        return Math.exp(-(x - mean) * (x - mean) / (2 * variance)) / Math.sqrt(2 * Math.PI * variance);
    }

    @Test
    void oneNumberAndOneCategoryByHand() {
        // Class 0: x 1, 3; c u, u. Class 1: x 4, 6, 8; c u, v, v. Levels of c: u, v.
        Table table =
                new Table(5, List.of(Numbers.of("x", 1, 3, 4, 6, 8), Categories.of("c", "u", "u", "u", "v", "v")));
        Training t = Training.of(table, new int[] {0, 0, 1, 1, 1}, Samples.ones(5), 2);
        Model model = new NaiveBayes(1, false, 1e-3).fit(t, Samples.chance());
        Table rows = new Table(3, List.of(Numbers.of("x", 3.5, Double.NaN, 5), Categories.of("c", "u", "v", null)));
        double[] p = model.probabilities(rows);
        // Means 2 and 6, variances 1 and 8/3 (divisor n); P(u|0) = 3/4, P(u|1) = 2/5, P(v|0) = 1/4, P(v|1) = 3/5.
        double a = 0.4 * normal(3.5, 2, 1) * 0.75;
        double b = 0.6 * normal(3.5, 6, 8.0 / 3) * 0.4;
        assertThat(p[0]).isCloseTo(a / (a + b), within(1e-8));
        assertThat(p[2]).isCloseTo(0.4 * 0.25 / (0.4 * 0.25 + 0.6 * 0.6), within(1e-12));
        double d = 0.4 * normal(5, 2, 1);
        double e = 0.6 * normal(5, 6, 8.0 / 3);
        assertThat(p[4]).isCloseTo(d / (d + e), within(1e-8));
        assertThat(model.size()).isEqualTo(1 + 2 + 1);
    }

    /** Class 2 has no value of either column: it is given those of all classes, and does not win by saying nothing. */
    @ParameterizedTest
    @CsvSource({"1, false", "0, false", "1, true"})
    void aClassWithoutValuesHasThoseOfAllClasses(double pseudoCount, boolean kernel) {
        Numbers x = Numbers.of("x", 0, 2, 8, 10, Double.NaN, Double.NaN);
        Categories c = Categories.of("c", "u", "v", "u", "v", null, null);
        int[] y = {0, 0, 1, 1, 2, 2};
        NaiveBayes bayes = new NaiveBayes(pseudoCount, kernel, 1e-3);
        Training numbers = Training.of(new Table(6, List.of(x)), y, Samples.ones(6), 3);
        double[] p = bayes.fit(numbers, Samples.chance())
                .probabilities(new Table(2, List.of(Numbers.of("x", 5, Double.NaN))));
        // Mean 5, variance (25 + 9 + 9 + 25)/4 = 17 over all classes; classes 0 and 1 are alike at 5, of variance 1 at
        // distance 4, or two kernels of width 0.9·min(1, 2/1.34)·2^(-1/5).
        double h = 0.9 * Math.pow(2, -0.2);
        double own = kernel ? (normal(5, 0, h * h) + normal(5, 2, h * h)) / 2 : normal(5, 1, 1);
        double all = normal(5, 5, 17);
        assertThat(p[2]).isCloseTo(all / (all + 2 * own), within(1e-12));
        assertThat(Arrays.copyOfRange(p, 3, 6))
                .containsExactly(new double[] {1 / 3.0, 1 / 3.0, 1 / 3.0}, within(1e-15));
        Training levels = Training.of(new Table(6, List.of(c)), y, Samples.ones(6), 3);
        // One of two levels everywhere: nothing tells the classes apart.
        double[] q = bayes.fit(levels, Samples.chance()).probabilities(levels.table());
        assertThat(q[0]).isCloseTo(1 / 3.0, within(1e-15));
        assertThat(q[2]).isCloseTo(1 / 3.0, within(1e-15));
    }

    @Test
    void aClassHasAtLeastAShareOfTheColumnsVariance() {
        // Class 0 is 5 and 5; class 1 is 1 and 9: mean 5, variance 16; the column's variance is 8.
        double[] x = {5, 5, 1, 9};
        Training t = Samples.training(new double[][] {x}, new int[] {0, 0, 1, 1}, 2);
        for (double share : new double[] {1e-3, 0.1, 1}) {
            double[] p = new NaiveBayes(1, false, share)
                    .fit(t, Samples.chance())
                    .probabilities(Samples.table(new double[] {6}));
            double a = normal(6, 5, share * 8);
            double b = normal(6, 5, 16);
            assertThat(p[0]).isCloseTo(a / (a + b), within(1e-12));
            double[] k = new NaiveBayes(1, true, share)
                    .fit(t, Samples.chance())
                    .probabilities(Samples.table(new double[] {6}));
            double h = Math.max(0.9 * 4 * Math.pow(2, -0.2), Math.sqrt(8 * share));
            double kernels = (normal(6, 1, h * h) + normal(6, 9, h * h)) / 2;
            assertThat(k[0]).isCloseTo(a / (a + kernels), within(1e-12));
        }
    }

    @Test
    void levelsUnseenInTrainingSayNothing() {
        Categories all = Categories.of("c", "u", "v", "u", "w");
        Training t = Training.of(
                new Table(3, List.of(all.select(new int[] {0, 1, 2}))), new int[] {0, 1, 1}, Samples.ones(3), 2);
        Model model = new NaiveBayes(1, false, 1e-3).fit(t, Samples.chance());
        double[] p = model.probabilities(new Table(1, List.of(all.select(new int[] {3}))));
        assertThat(p[0]).isCloseTo(1.0 / 3, within(1e-12));
        assertThat(model.size()).isEqualTo(2);
    }

    @Test
    void withoutPseudoCountsARowRuledOutByAllClassesFallsBackOnShares() {
        Table table =
                new Table(4, List.of(Categories.of("c", "u", "u", "v", "v"), Categories.of("d", "k", "k", "l", "l")));
        Training t = Training.of(table, new int[] {0, 0, 1, 1}, Samples.ones(4), 2);
        Model model = new NaiveBayes(0, false, 1e-3).fit(t, Samples.chance());
        // Level u was only seen in class 0, level l only in class 1.
        double[] p = model.probabilities(new Table(
                1,
                List.of(
                        table.columns().get(0).select(new int[] {0}),
                        table.columns().get(1).select(new int[] {2}))));
        assertThat(p).containsExactly(0.5, 0.5);
    }

    /** Silverman's width and the sum of kernels, written out. */
    @Test
    void kernelDensitiesByHand() {
        double[] x = {1, 2, 2, 4, 7, 11, 12, 15};
        int[] y = {0, 0, 0, 0, 0, 1, 1, 1};
        Training t = Samples.training(new double[][] {x}, y, 2);
        double[] log = new double[2];
        for (int c = 0; c < 2; c++) {
            int wanted = c;
            double[] own = IntStream.range(0, 8)
                    .filter(i -> y[i] == wanted)
                    .mapToDouble(i -> x[i])
                    .toArray();
            double mean = Arrays.stream(own).average().orElseThrow();
            double sd = Math.sqrt(Arrays.stream(own)
                    .map(v -> (v - mean) * (v - mean))
                    .average()
                    .orElseThrow());
            // Quartiles: of five values the second and the fourth, of three the first and the third.
            double quartiles = c == 0 ? 4 - 2 : 15 - 11;
            double h = 0.9 * Math.min(sd, quartiles / 1.34) * Math.pow(own.length, -0.2);
            double density = Arrays.stream(own)
                            .map(v -> Math.exp(-(6 - v) * (6 - v) / (2 * h * h)) / Math.sqrt(2 * Math.PI))
                            .sum()
                    / own.length
                    / h;
            log[c] = Math.log(own.length / 8.0) + Math.log(density);
        }
        Model model = new NaiveBayes(1, true, 1e-3).fit(t, Samples.chance());
        double[] p = model.probabilities(Samples.table(new double[] {6}));
        assertThat(p[1]).isCloseTo(1 / (1 + Math.exp(log[0] - log[1])), within(1e-10));
        // Between one kernel in all and one for each value.
        assertThat(model.size()).isBetween(2.0, 1 + 4.0);
        // Far from all values the nearer class has it, without underflow.
        double[] far = model.probabilities(Samples.table(new double[] {1e6}));
        assertThat(far[0] + far[1]).isCloseTo(1, within(1e-12));
    }

    /** A trait of two humps is told from a single one between them only by its form. */
    @Test
    void kernelsSeeWhatANormalDensityCannot() {
        double[] x = IntStream.range(0, 120)
                .mapToDouble(i -> i % 2 == 0 ? (i % 4 == 0 ? -3 : 3) + 0.01 * i % 1 : 0.03 * (i % 20) - 0.3)
                .toArray();
        int[] y = IntStream.range(0, 120).map(i -> i % 2).toArray();
        Training t = Samples.training(new double[][] {x}, y, 2);
        double[] kernel = new NaiveBayes(1, true, 1e-3).fit(t, Samples.chance()).probabilities(t.table());
        assertThat(IntStream.range(0, 120)).allMatch(i -> kernel[2 * i + y[i]] > 0.9);
    }
}

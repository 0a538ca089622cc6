package keenfold.core.classify.boosting;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.classify.Model;
import keenfold.core.classify.Samples;
import keenfold.core.classify.WatchedRows;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class BoostingTest {
    private static final int ANY = Integer.MAX_VALUE;

    private static Boosting boosting(int rounds, int depth, int leaves, double leafRows) {
        return new Boosting(rounds, new Growth(depth, leaves, leafRows, 1, 0.3), 1, 1, 0, 0.2, 256);
    }

    /** Two rounds of stumps: p = 1/2 first, so that g = ±1/2 and h = 1/4 a row. */
    @Test
    void twoRoundsOfStumpsByHand() {
        Training t = Samples.training(new double[][] {{1, 2, 3, 4}}, new int[] {0, 0, 1, 1}, 2);
        double first = 0.3 * 1 / (0.5 + 1);
        double[] one = boosting(1, 1, ANY, 1).fit(t, Samples.chance()).probabilities(t.table());
        assertThat(one[1]).isCloseTo(logistic(-first), within(1e-11));
        assertThat(one[7]).isCloseTo(logistic(first), within(1e-11));
        double p = logistic(first);
        double second = first + 0.3 * 2 * (1 - p) / (2 * p * (1 - p) + 1);
        Model two = boosting(2, 1, ANY, 1).fit(t, Samples.chance());
        assertThat(two.probabilities(t.table())[7]).isCloseTo(logistic(second), within(1e-11));
        assertThat(two.size()).isCloseTo(0.3 * 4, within(1e-12));
    }

    private static double logistic(double f) {
        return 1 / (1 + Math.exp(-f));
    }

    /** The definition once more: doubles, every threshold of every column tried on plain row lists. */
    private static final class Slow {
        private final double[][] x;
        private final int depth;
        private final double leafRows;

        Slow(double[][] x, int depth, double leafRows) {
            this.x = x;
            this.depth = depth;
            this.leafRows = leafRows;
        }

        void step(double[] g, double[] h, int[] rows, int depthLeft, double[] f) {
            double sumG = IntStream.of(rows).mapToDouble(i -> g[i]).sum();
            double sumH = IntStream.of(rows).mapToDouble(i -> h[i]).sum();
            double best = 1e-9;
            int[] bestLeft = new int[0];
            for (double[] column : x) {
                for (double cut : IntStream.of(rows)
                        .mapToDouble(i -> column[i])
                        .sorted()
                        .distinct()
                        .toArray()) {
                    int[] left =
                            IntStream.of(rows).filter(i -> column[i] <= cut).toArray();
                    double g1 = IntStream.of(left).mapToDouble(i -> g[i]).sum();
                    double h1 = IntStream.of(left).mapToDouble(i -> h[i]).sum();
                    double gain =
                            g1 * g1 / (h1 + 1) + (sumG - g1) * (sumG - g1) / (sumH - h1 + 1) - sumG * sumG / (sumH + 1);
                    if (left.length >= leafRows && rows.length - left.length >= leafRows && gain > best + 1e-9) {
                        best = gain;
                        bestLeft = left;
                    }
                }
            }
            if (depthLeft == 0 || bestLeft.length == 0) {
                IntStream.of(rows).forEach(i -> f[i] -= 0.3 * sumG / (sumH + 1));
                return;
            }
            int[] left = bestLeft;
            step(g, h, left, depthLeft - 1, f);
            int[] right = IntStream.of(rows)
                    .filter(i -> IntStream.of(left).noneMatch(k -> k == i))
                    .toArray();
            step(g, h, right, depthLeft - 1, f);
        }

        double[] run(int[] y, int classes, int rounds) {
            int n = y.length;
            double[][] f = new double[classes][n];
            for (int k = 0; k < classes; k++) {
                int c = k;
                Arrays.fill(f[k], Math.log((double)
                        IntStream.of(y).filter(v -> v == c).count()));
            }
            double[] p = new double[n * classes];
            for (int r = 0; r <= rounds; r++) {
                for (int i = 0; i < n; i++) {
                    double sum = 0;
                    for (int k = 0; k < classes; k++) {
                        p[i * classes + k] = Math.exp(f[k][i]);
                        sum += p[i * classes + k];
                    }
                    for (int k = 0; k < classes; k++) {
                        p[i * classes + k] /= sum;
                    }
                }
                // Of two classes one tree a round moves the log-odds.
                for (int k = classes == 2 ? 1 : 0; r < rounds && k < classes; k++) {
                    double[] g = new double[n];
                    double[] h = new double[n];
                    for (int i = 0; i < n; i++) {
                        g[i] = p[i * classes + k] - (y[i] == k ? 1 : 0);
                        h[i] = p[i * classes + k] * (1 - p[i * classes + k]);
                    }
                    step(g, h, IntStream.range(0, n).toArray(), depth, f[k]);
                }
            }
            return p;
        }
    }

    @ParameterizedTest
    @CsvSource({"1,2,3,1,120", "2,3,2,4,120", "3,2,4,2,700", "4,4,2,1,100"})
    void theDefinitionWithPlainLoopsGivesTheSame(long seed, int classes, int depth, int leafRows, int rows) {
        RandomSource chance = new Seed(seed).chance();
        double[][] x = new double[3][rows];
        int[] y = new int[rows];
        for (int i = 0; i < rows; i++) {
            for (int j = 0; j < 3; j++) {
                x[j][i] = chance.below(j == 2 ? 200 : 15);
            }
            y[i] = i < classes
                    ? i
                    : (int) Math.min(classes - 1, (x[0][i] + x[2][i] / 20 + chance.below(9)) / 34 * classes);
        }
        Training t = Samples.training(x, y, classes);
        double[] fast =
                boosting(4, depth, ANY, leafRows).fit(t, Samples.chance()).probabilities(t.table());
        assertThat(fast).containsExactly(new Slow(x, depth, leafRows).run(y, classes, 4), within(1e-9));
    }

    @Test
    void leavesAreSplitWhereItGainsMost() {
        // Column 0 splits off two clear groups; a third split must go to the side that is still mixed.
        double[] x = {1, 2, 3, 4, 5, 6, 7, 8};
        int[] y = {0, 0, 0, 0, 1, 1, 0, 0};
        Training t = Samples.training(new double[][] {x}, y, 2);
        double[] p = boosting(1, 9, 3, 1).fit(t, Samples.chance()).probabilities(t.table());
        // Leaves 1–4, 5–6 and 7–8: three values.
        assertThat(IntStream.range(0, 8).mapToDouble(i -> p[2 * i + 1]).distinct())
                .hasSize(3);
        assertThat(p[9]).isEqualTo(p[11]).isGreaterThan(p[13]);
    }

    /** Exact sums: rows may stand in any order, and a weight is so many rows, to the last bit. */
    @Test
    void weightsAndOrderMatterToNoBit() {
        Training once = Samples.normal(4, 300, 3, 3);
        double[] weights = IntStream.range(0, 300).mapToDouble(i -> 1 + i % 3).toArray();
        Training weighted = Training.of(once.table(), Samples.targets(once), weights, 3);
        int[] repeated = IntStream.range(0, 300)
                .flatMap(i -> IntStream.generate(() -> i).limit((long) weights[i]))
                .toArray();
        new Seed(3).chance().shuffle(repeated);
        Table test = Samples.normal(5, 25, 3, 3).table();
        Boosting boosting = boosting(20, 4, ANY, 3);
        assertThat(boosting.fit(weighted, Samples.chance()).probabilities(test))
                .containsExactly(boosting.fit(Samples.select(once, repeated), Samples.chance())
                        .probabilities(test));
    }

    @Test
    void patienceStopsBeforeNoiseIsLearned() {
        // Labels are pure noise: any round makes the watched rows worse sooner or later.
        RandomSource chance = new Seed(9).chance();
        Training noise = Samples.training(
                new double[][] {
                    IntStream.range(0, 200).mapToDouble(i -> chance.normal()).toArray(),
                    IntStream.range(0, 200).mapToDouble(i -> chance.normal()).toArray()
                },
                IntStream.range(0, 200).map(i -> i < 2 ? i : chance.below(2)).toArray(),
                2);
        Growth growth = new Growth(4, ANY, 2, 1, 0.3);
        Model stopped = new Boosting(300, growth, 1, 1, 5, 0.3, 256).fit(noise, Samples.chance());
        Model whole = new Boosting(300, growth, 1, 1, 0, 0.3, 256).fit(noise, Samples.chance());
        assertThat(stopped.size()).isLessThan(whole.size() / 10);
    }

    @Test
    void watchedRowsAreWholeGroupsOrAShareOfEachClass() {
        Training t = Samples.normal(2, 100, 2, 3);
        int[] rows = WatchedRows.draw(t, 0.2, Samples.chance());
        double[] all = t.classWeights();
        double[] watched = t.select(rows).classWeights();
        for (int c = 0; c < 3; c++) {
            assertThat(watched[c]).isEqualTo(Math.rint(0.2 * all[c]));
        }
        int[] groups = IntStream.range(0, 100).map(i -> i / 7).toArray();
        int[] whole = WatchedRows.draw(t.inGroups(groups), 0.2, Samples.chance());
        List<Integer> taken =
                IntStream.of(whole).map(i -> groups[i]).distinct().boxed().toList();
        assertThat(taken).hasSize(3);
        assertThat(whole)
                .hasSize((int) IntStream.of(groups).filter(taken::contains).count());
        Training few = Samples.training(new double[][] {{1, 2}}, new int[] {0, 1}, 2);
        assertThat(WatchedRows.draw(few.inGroups(new int[] {0, 1}), 0.5, Samples.chance()))
                .isEmpty();
    }
}

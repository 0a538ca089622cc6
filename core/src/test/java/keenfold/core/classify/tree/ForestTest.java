package keenfold.core.classify.tree;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.stream.IntStream;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.Model;
import keenfold.core.classify.Samples;
import keenfold.core.classify.baseline.Majority;
import keenfold.core.classify.tree.Tree.Impurity;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.WeightedSort;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class ForestTest {
    private static final int ANY = Integer.MAX_VALUE;

    private static Forest forest(int trees, double columns, boolean bagged, boolean drawn) {
        return new Forest(trees, columns, ANY, 1, Impurity.GINI, bagged, drawn, 256);
    }

    @Test
    void anUnbaggedTreeThatLooksAtAllColumnsIsTheTree() {
        Training t = Samples.normal(1, 200, 4, 3);
        double[] tree =
                new Tree(Impurity.GINI, 100, 1, 0, 256).fit(t, Samples.chance()).probabilities(t.table());
        assertThat(forest(1, 4, false, false).fit(t, Samples.chance()).probabilities(t.table()))
                .containsExactly(tree);
    }

    @Test
    void aBaggedTreeIsTheTreeOfItsDrawnRows() {
        // Fully grown, a row that was drawn is told without fail where all values differ; one left out need not be.
        Training t = Samples.normal(2, 400, 3, 2);
        double[] p = forest(1, 3, true, false).fit(t, Samples.chance()).probabilities(t.table());
        long right =
                IntStream.range(0, 400).filter(i -> p[2 * i + t.target(i)] == 1).count();
        // A row is drawn with probability 1 − 1/e; of the others the better part is right too.
        assertThat(right).isBetween(270L, 399L);
    }

    @Test
    void theMeanOfManyTreesIsSmootherAndBetterThanOne() {
        Training t = Samples.normal(3, 300, 5, 2);
        Training other = Samples.normal(4, 2000, 5, 2);
        assertThat(loss(forest(100, 0, true, false), t, other))
                .isLessThan(0.6 * loss(forest(1, 0, true, false), t, other));
        assertThat(loss(forest(100, 0, false, true), t, other))
                .isLessThan(0.6 * loss(forest(1, 0, false, true), t, other));
        assertThat(loss(forest(100, 0, true, false), t, other)).isLessThan(loss(new Majority(), t, other));
    }

    private static double loss(Classifier classifier, Training training, Training other) {
        double[] p = classifier.fit(training, Samples.chance()).probabilities(other.table());
        return IntStream.range(0, other.rows())
                .mapToDouble(i -> Math.pow(1 - p[2 * i + other.target(i)], 2))
                .average()
                .orElseThrow();
    }

    @Test
    void drawnThresholdsLieEvenlyBetweenTheLeastAndTheGreatestValue() {
        // One column, classes apart at 3: the drawn threshold is uniform on 0 … 10 at the root.
        Training t = Samples.training(new double[][] {{0, 1, 2, 4, 9, 10}}, new int[] {0, 0, 0, 1, 1, 1}, 2);
        Binned binned = Binned.of(t, 256);
        ClassGrower.Growth growth = new ClassGrower.Growth(Impurity.GINI, 1, 1, 1, true);
        double[] drawn = new double[2000];
        RandomSource chance = new Seed(5).chance();
        Arrays.setAll(drawn, i -> new ClassGrower(binned, t.targets(), t.weights(), 2, growth, chance)
                .grow()
                .threshold());
        Arrays.sort(drawn);
        assertThat(drawn[0]).isGreaterThanOrEqualTo(0);
        for (int q = 1; q < 10; q++) {
            assertThat(drawn[200 * q]).isCloseTo(q, within(0.35));
        }
    }

    @Test
    void moreRowsThanBinsAreSplitAtQuantiles() {
        double[] x = IntStream.range(0, 5000).mapToDouble(i -> Math.pow(i, 1.5)).toArray();
        Training t = Samples.training(
                new double[][] {x}, IntStream.range(0, 5000).map(i -> i % 2).toArray(), 2);
        Binned binned = Binned.of(t, 50);
        assertThat(binned.bins(0)).isEqualTo(50);
        int[] counts = new int[50];
        for (int i = 0; i < 5000; i++) {
            int bin = binned.codes(0)[i] & 0xFF;
            counts[bin]++;
            assertThat(x[i]).isBetween(binned.low(0, bin), binned.high(0, bin));
        }
        assertThat(counts).containsOnly(100);
        // One value in three quarters of the rows takes three quarters of the edges, and leaves the others.
        double[] tied =
                IntStream.range(0, 4000).mapToDouble(i -> i < 3000 ? 7 : i).toArray();
        Binned few = Binned.of(Samples.training(new double[][] {tied}, new int[4000], 2), 100);
        assertThat(few.bins(0)).isEqualTo(26);
        assertThat(few.high(0, 0)).isEqualTo(7);
        Binned exact = Binned.of(Samples.training(new double[][] {{3, 1, 3, 2}}, new int[4], 2), 3);
        assertThat(exact.codes(0)).containsExactly(2, 0, 2, 1);
        assertThat(exact.threshold(0, 0, 2)).isEqualTo(2);
    }

    /** Sums of a parent less those of a sister are the sums of the other: kept or not, the tree is the same. */
    @Test
    void keptSumsChangeNothing() {
        Training t = Samples.normal(6, 5000, 4, 3);
        Training doubled = Samples.select(
                t, IntStream.range(0, 5000).filter(i -> i % 5 > 0).toArray());
        double[] large = new Tree(Impurity.ENTROPY, 7, 3, 0, 256)
                .fit(doubled, Samples.chance())
                .probabilities(t.table());
        // A forest that looks at all columns but draws their order never keeps sums.
        double[] loose = new Forest(1, 3.999, 7, 3, Impurity.ENTROPY, false, false, 256)
                .fit(doubled, Samples.chance())
                .probabilities(t.table());
        assertThat(loose).containsExactly(large);
    }

    /** Edges found by cells are those of the definition, whatever the spread of the values. */
    @ParameterizedTest
    @ValueSource(strings = {"normal", "far", "tied", "span", "weighted"})
    void quantileEdgesAreThoseOfTheDefinition(String kind) {
        RandomSource chance = new Seed(kind.length()).with(kind).chance();
        int n = 3000;
        double[] x = new double[n];
        double[] w = new double[n];
        for (int i = 0; i < n; i++) {
            double z = chance.normal();
            x[i] = switch (kind) {
                case "far" -> i == 7 ? 1e12 : z;
                case "tied" -> Math.rint(z * 40) / 10 * (chance.below(3) == 0 ? 0 : 1) + (i % 2 == 0 ? 0 : 1e-3 * z);
                case "span" -> i == 0 ? Double.MAX_VALUE : i == 1 ? -Double.MAX_VALUE : z;
                default -> z;
            };
            w[i] = kind.equals("weighted") ? 1 + chance.below(4) : 1;
        }
        Training t = Training.of(Samples.table(x), new int[n], w, 2);
        Binned binned = Binned.of(t, 40);
        // The definition, on sorted rows: an edge where the weight so far first reaches the next quantile.
        int[] order = WeightedSort.order(x);
        double total = Arrays.stream(w).sum();
        double sum = 0;
        int next = 1;
        int bin = 0;
        for (int k = 0; k < n; k++) {
            assertThat(binned.codes(0)[order[k]] & 0xFF).isEqualTo(bin);
            sum += w[order[k]];
            boolean last = k + 1 < n && x[order[k + 1]] > x[order[k]];
            if (last && next < 40 && sum >= total * next / 40) {
                bin++;
                while (next < 40 && sum >= total * next / 40) {
                    next++;
                }
            }
        }
        assertThat(binned.bins(0)).isEqualTo(bin + 1);
    }

    /** Whole weights of two classes are summed in another way than others: of half the weights the trees are the same. */
    @ParameterizedTest
    @CsvSource({"4,false", "16,false", "256,false", "4,true", "256,true"})
    void bothWaysOfSummingGrowTheSameTrees(int bins, boolean drawn) {
        Training whole = Samples.normal(81, 600, 5, 2);
        double[] halves = new double[600];
        Arrays.fill(halves, 0.5);
        Training half = Training.of(whole.table(), whole.targets(), halves, 2);
        Model of = new Forest(9, 3, 30, 2, Impurity.GINI, false, drawn, bins).fit(whole, Samples.chance());
        Model ofHalves = new Forest(9, 3, 30, 1, Impurity.GINI, false, drawn, bins).fit(half, Samples.chance());
        assertThat(ofHalves.size()).isEqualTo(of.size()).isGreaterThan(20);
        assertThat(ofHalves.probabilities(whole.table()))
                .containsExactly(of.probabilities(whole.table()), within(1e-12));
    }
}

package keenfold.core.classify.tree;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.IdentityHashMap;
import java.util.Map;
import java.util.stream.IntStream;
import keenfold.core.classify.Model;
import keenfold.core.classify.Samples;
import keenfold.core.classify.tree.Tree.Impurity;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.prepare.InnerFolds;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class TreeTest {
    private static Node grow(Tree tree, Training training) {
        return tree.grow(Binned.of(training, tree.bins()), training, training.weights());
    }

    /** Breiman's weather-like table by hand: the split at 2.5 leaves 3 + 0 and 1 + 4. */
    @Test
    void stumpByHand() {
        double[] x = {1, 2, 2, 3, 4, 5, 6, 7};
        int[] y = {0, 0, 0, 1, 0, 1, 1, 1};
        Node root = grow(new Tree(Impurity.GINI, 1, 1, 0, 256), Samples.training(new double[][] {x}, y, 2));
        assertThat(root.threshold()).isEqualTo(2.5);
        assertThat(root.left().shares()).containsExactly(1, 0);
        assertThat(root.right().shares()).containsExactly(0.2, 0.8);
        assertThat(root.leaves()).isEqualTo(2);
    }

    /** Weights that are not whole, as balanced classes have them: each leaf has the shares that its rows have, none below 0. */
    @ParameterizedTest
    @CsvSource({"200, GINI", "200, ENTROPY", "3000, GINI"})
    void leavesHaveTheSharesOfTheirRows(int rows, Impurity impurity) {
        RandomSource chance = new Seed(rows).chance();
        double[] third = {1 / 3.0, 0.7, 1.1, 0.1};
        double[][] x = new double[4][rows];
        int[] y = new int[rows];
        double[] weights = new double[rows];
        for (int i = 0; i < rows; i++) {
            y[i] = chance.below(4);
            weights[i] = third[y[i]];
            for (double[] column : x) {
                column[i] = chance.below(50) + 9.0 * y[i];
            }
        }
        Training training = Samples.training(x, y, 4).withWeights(weights);
        Node root = grow(new Tree(impurity, 30, 1, 0, 256), training);
        Map<Node, double[]> sums = new IdentityHashMap<>();
        for (int i = 0; i < rows; i++) {
            Node leaf = root;
            while (!leaf.leaf()) {
                leaf = x[leaf.column()][i] <= leaf.threshold() ? leaf.left() : leaf.right();
            }
            sums.computeIfAbsent(leaf, l -> new double[4])[y[i]] += weights[i];
        }
        assertThat(sums).hasSize(root.leaves()).hasSizeGreaterThan(10);
        sums.forEach((leaf, own) -> {
            double all = Arrays.stream(own).sum();
            for (int c = 0; c < 4; c++) {
                assertThat(leaf.shares()[c]).isBetween(0.0, 1.0).isCloseTo(own[c] / all, within(1e-12));
            }
        });
    }

    /** Every node's split is the best of all splits of its rows, found by trying each. */
    @ParameterizedTest
    @CsvSource({"GINI,1,1", "ENTROPY,2,1", "GINI,3,4", "ENTROPY,4,3", "GINI,5,2"})
    void eachSplitIsTheBestOfAll(Impurity impurity, long seed, int leafRows) {
        RandomSource chance = new Seed(seed).chance();
        double[][] x = new double[3][60];
        int[] y = new int[60];
        for (int i = 0; i < 60; i++) {
            for (int j = 0; j < 3; j++) {
                x[j][i] = chance.below(12);
            }
            y[i] = x[1][i] + chance.below(8) > 9 ? chance.below(2) : 2;
        }
        Tree tree = new Tree(impurity, 4, leafRows, 0, 256);
        check(
                grow(tree, Samples.training(x, y, 3)),
                x,
                y,
                IntStream.range(0, 60).toArray(),
                tree,
                4);
    }

    private static void check(Node node, double[][] x, int[] y, int[] rows, Tree tree, int depth) {
        double best = impurity(tree, y, rows);
        int column = -1;
        double threshold = 0;
        for (int j = 0; depth > 0 && j < x.length; j++) {
            double[] values = IntStream.of(rows).mapToDouble(i -> 0).toArray();
            for (int r = 0; r < rows.length; r++) {
                values[r] = x[j][rows[r]];
            }
            java.util.Arrays.sort(values);
            for (int v = 1; v < values.length; v++) {
                if (values[v] == values[v - 1]) {
                    continue;
                }
                double cut = (values[v] + values[v - 1]) / 2;
                int[] left = side(x[j], rows, cut, true);
                int[] right = side(x[j], rows, cut, false);
                double sum = impurity(tree, y, left) + impurity(tree, y, right);
                if (left.length >= tree.leafRows() && right.length >= tree.leafRows() && sum < best - 1e-10) {
                    best = sum;
                    column = j;
                    threshold = cut;
                }
            }
        }
        assertThat(node.leaf()).isEqualTo(column < 0);
        if (column >= 0) {
            assertThat(node.column()).isEqualTo(column);
            assertThat(node.threshold()).isEqualTo(threshold);
            check(node.left(), x, y, side(x[column], rows, threshold, true), tree, depth - 1);
            check(node.right(), x, y, side(x[column], rows, threshold, false), tree, depth - 1);
        }
    }

    private static int[] side(double[] x, int[] rows, double cut, boolean left) {
        return IntStream.of(rows).filter(i -> x[i] <= cut == left).toArray();
    }

    private static double impurity(Tree tree, int[] y, int[] rows) {
        double sum = 0;
        for (int c = 0; c < 3; c++) {
            int wanted = c;
            double p = IntStream.of(rows).filter(i -> y[i] == wanted).count() / (double) rows.length;
            sum += tree.impurity() == Impurity.GINI ? p * p : p > 0 ? p * Math.log(p) : 0;
        }
        return rows.length * (tree.impurity() == Impurity.GINI ? 1 - sum : -sum);
    }

    /**
     * Links by hand, 8 rows. Gini times share: root 1/2, right of 2.5 (1 + 4) 0.2, of which 3.5 | 4.5 split off one pure
     * leaf each. Weakest link of the right subtree: 0.2/2 = 0.1; of the root without it: 0.5 − 0.2 = 0.3.
     */
    @Test
    void weakestLinksAreCutInTurn() {
        double[] x = {1, 2, 2, 3, 4, 5, 6, 7};
        int[] y = {0, 0, 0, 1, 0, 1, 1, 1};
        Training t = Samples.training(new double[][] {x}, y, 2);
        Node grown = grow(new Tree(Impurity.GINI, 5, 1, 0, 256), t);
        assertThat(grown.leaves()).isEqualTo(4);
        assertThat(pruned(grown, 0.09).leaves()).isEqualTo(4);
        assertThat(pruned(grown, 0.1).leaves()).isEqualTo(2);
        assertThat(pruned(grown, 0.29).leaves()).isEqualTo(2);
        assertThat(pruned(grown, 0.3).leaves()).isEqualTo(1);
    }

    private static Node pruned(Node grown, double price) {
        Node root = grown.copy(Integer.MAX_VALUE);
        root.prune(price);
        return root;
    }

    /** The pruned tree is the cheapest of all subtrees by R + price·leaves, found by trying each. */
    @Test
    void pruningIsOptimalAmongAllSubtrees() {
        for (int seed = 0; seed < 20; seed++) {
            Training t = Samples.normal(seed, 50, 2, 2);
            Tree tree = new Tree(Impurity.GINI, 5, 2, 0, 256);
            double price = 0.004 * (1 + seed % 5);
            double least = cheapest(grow(tree, t), t.table().rows(), price);
            Node root = grow(tree, t);
            root.prune(price);
            assertThat(cost(root, price)).isCloseTo(least, within(1e-12));
        }
    }

    private static double cost(Node node, double price) {
        return node.leaf() ? node.impurity() + price : cost(node.left(), price) + cost(node.right(), price);
    }

    private static double cheapest(Node node, int rows, double price) {
        double asLeaf = node.impurity() + price;
        return node.leaf()
                ? asLeaf
                : Math.min(asLeaf, cheapest(node.left(), rows, price) + cheapest(node.right(), rows, price));
    }

    /**
     * A chosen price is that of the textbook, worked out slowly: at each price that changes the whole tree, every inner tree is
     * grown, pruned and asked for the labels of its fold anew.
     */
    @ParameterizedTest
    @CsvSource({"1,1", "2,1", "3,1", "4,0", "5,0", "6,1"})
    void aChosenPriceIsThatOfInnerFolds(long seed, int errors) {
        Training t = Samples.normal(seed, 150, 3, 3)
                .withWeights(IntStream.range(0, 150)
                        .mapToDouble(i -> seed % 2 == 0 ? 1 : 1 + i % 2)
                        .toArray());
        Tree whole = new Tree(Impurity.GINI, Integer.MAX_VALUE, 2, 0, 256);
        int[] fold = InnerFolds.deal(t, 10, Samples.chance());
        double[] prices = IntStream.range(0, 4000).mapToDouble(k -> k * 1e-4).toArray();
        int changes = 0;
        int chosen = 0;
        double[] wrong = new double[prices.length];
        double least = Double.POSITIVE_INFINITY;
        double[][] columns = Training.columns(t.table());
        for (int f = 0; f < 10; f++) {
            double[] weights = t.weights();
            for (int i = 0; i < weights.length; i++) {
                weights[i] = fold[i] == f ? 0 : weights[i];
            }
            Node grown = whole.grow(Binned.of(t, 256), t, weights);
            for (int k = 0; k < prices.length; k++) {
                Node inner = pruned(grown, prices[k]);
                for (int i = 0; i < weights.length; i++) {
                    if (fold[i] == f && inner.leafOf(columns, i).label() != t.target(i)) {
                        wrong[k] += t.weight(i) / t.totalWeight();
                    }
                }
            }
        }
        // Only one price is asked for between two at which the whole tree changes: their geometric mean.
        Node root = grow(whole, t);
        int[] leaves =
                Arrays.stream(prices).mapToInt(p -> pruned(root, p).leaves()).toArray();
        double[] errorOf = new double[leaves[0] + 1];
        Arrays.fill(errorOf, Double.NaN);
        for (int from = 0, to; from < prices.length; from = to) {
            to = from;
            while (to < prices.length && leaves[to] == leaves[from]) {
                to++;
            }
            double middle = from == 0 ? 0 : to == prices.length ? prices[to - 1] : Math.sqrt(prices[from] * prices[to]);
            errorOf[leaves[from]] = wrong[(int) Math.round(middle / 1e-4)];
            least = Math.min(least, errorOf[leaves[from]]);
            changes++;
        }
        double limit = least + errors * Math.sqrt(least * (1 - least) / t.totalWeight());
        while (!(errorOf[chosen] <= limit + 1e-12)) {
            chosen++;
        }
        Model model = new Tree(
                        Impurity.GINI, Integer.MAX_VALUE, 2, errors == 1 ? Pruning.ONE_SE : Pruning.LEAST_ERROR, 0, 256)
                .fit(t, Samples.chance());
        assertThat(changes).isGreaterThan(4);
        assertThat(model.size()).isEqualTo(2.0 * chosen);
    }

    /** 3 rows of 3 and 1 of 5, two rows added: (3 + 1)/(3 + 2), (1 + 1)/(5 + 2). */
    @Test
    void smoothedSharesByHand() {
        double[] x = {1, 2, 2, 3, 4, 5, 6, 7};
        int[] y = {0, 0, 0, 2, 0, 2, 2, 2};
        Training t = Samples.training(new double[][] {x}, y, 3);
        double[] p = new Tree(Impurity.GINI, 1, 1, Pruning.at(0), 2, 256)
                .fit(t, Samples.chance())
                .probabilities(t.table());
        assertThat(Arrays.copyOf(p, 3)).containsExactly(new double[] {4 / 5.0, 0, 1 / 5.0}, within(1e-15));
        assertThat(Arrays.copyOfRange(p, 21, 24)).containsExactly(new double[] {2 / 7.0, 0, 5 / 7.0}, within(1e-15));
    }

    @Test
    void neighbouringDoublesAreStillToldApart() {
        double low = 1;
        double high = Math.nextUp(1.0);
        Training t = Samples.training(new double[][] {{low, low, high, high}}, new int[] {0, 0, 1, 1}, 2);
        double[] p =
                new Tree(Impurity.GINI, 2, 1, 0, 256).fit(t, Samples.chance()).probabilities(t.table());
        assertThat(p).containsExactly(1, 0, 1, 0, 0, 1, 0, 1);
    }
}

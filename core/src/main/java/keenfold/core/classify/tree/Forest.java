package keenfold.core.classify.tree;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.Model;
import keenfold.core.data.Checks;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.ClassForest;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedModel;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Training;

/**
 * Many trees, each grown on rows drawn with replacement and looking at a few columns drawn for each split; a row gets the
 * mean of its leaves' class shares.
 *
 * <p>Definition: a tree is grown as {@link Tree} grows it, without pruning, on as many rows as the training rows weigh,
 * drawn with replacement by their case weights (with {@code bagged} false on the training rows themselves). At each node
 * columns are drawn without replacement until {@code columns} of them have been looked at and one gives a split. With
 * {@code drawn} thresholds, each column looked at offers one threshold only, uniform between the least and the greatest
 * value of the node's rows. Each tree has a seed of its own, so that a forest of fewer trees is the beginning of one of
 * more.
 *
 * <p>Size: mean leaves of a tree, times K − 1.
 *
 * <p>References: Breiman (2001), Machine Learning 45(1), doi:10.1023/A:1010933404324; drawn thresholds: Geurts, Ernst and
 * Wehenkel (2006), Machine Learning 63(1), doi:10.1007/s10994-006-6226-1.
 *
 * @param trees how many, at least 1
 * @param columns looked at for a split: from 1 a number, below 1 a share, 0 the square root of their number
 * @param depth most splits from the root to a leaf, at least 1
 * @param leafRows least rows (by weight) of a leaf, at least 1
 * @param bagged whether each tree's rows are drawn
 * @param drawn whether thresholds are drawn
 * @param bins most bins of a column, 2 … 256
 */
public record Forest(
        int trees,
        double columns,
        int depth,
        double leafRows,
        Tree.Impurity impurity,
        boolean bagged,
        boolean drawn,
        int bins)
        implements Classifier {
    /** Checks the settings. */
    public Forest {
        Checks.atLeast("trees", trees, 1);
        Checks.atLeast("columns", columns, 0);
        Checks.atLeast("depth", depth, 1);
        Checks.atLeast("leaf-rows", leafRows, 1);
        Binned.check(bins);
    }

    @Override
    public Needs needs() {
        return Needs.NUMBERS;
    }

    @Override
    public Model fit(Training training, RandomSource chance) {
        return new Grown(grow(training, chance), training.classes());
    }

    /** Forests that differ in the number of trees alone are beginnings of one. */
    static List<Model> joint(List<Forest> forests, Training training, Supplier<RandomSource> fresh) {
        Map<Forest, List<Node>> grown = new HashMap<>();
        List<Model> models = new ArrayList<>();
        for (Forest forest : forests) {
            int most = forests.stream()
                    .filter(f -> f.of(1).equals(forest.of(1)))
                    .mapToInt(Forest::trees)
                    .max()
                    .orElse(forest.trees);
            List<Node> all = grown.computeIfAbsent(forest.of(most), f -> f.grow(training, fresh.get()));
            models.add(new Grown(all.subList(0, forest.trees), training.classes()));
        }
        return models;
    }

    private Forest of(int count) {
        return new Forest(count, columns, depth, leafRows, impurity, bagged, drawn, bins);
    }

    private List<Node> grow(Training training, RandomSource chance) {
        Binned binned = Binned.of(training, bins);
        int[] target = training.targets();
        double[] weights = training.weights();
        Bags bags = new Bags(weights);
        ClassGrower.Growth growth = new ClassGrower.Growth(impurity, depth, leafRows, looked(binned.columns()), drawn);
        List<Node> roots = new ArrayList<>();
        for (int t = 0; t < trees; t++) {
            FitFailure.ifInterrupted();
            RandomSource own = new Seed(chance.word()).chance();
            double[] bag = bagged ? bags.draw(own) : weights;
            roots.add(new ClassGrower(binned, target, bag, training.classes(), growth, own).grow());
        }
        return roots;
    }

    private int looked(int all) {
        double wanted = columns == 0 ? Math.sqrt(all) : columns < 1 ? columns * all : columns;
        return (int) Math.max(1, Math.min(all, Math.rint(wanted)));
    }

    /** Draws rows with replacement, by their case weights. */
    private static final class Bags {
        private static final double MOST_COPIES = 1e7;

        private final double[] upTo;
        private final double total;
        private final int[] copies;

        Bags(double[] weights) {
            upTo = weights.clone();
            boolean whole = true;
            for (int i = 0; i < upTo.length; i++) {
                whole &= weights[i] == Math.rint(weights[i]);
                upTo[i] += i == 0 ? 0 : upTo[i - 1];
            }
            total = upTo[upTo.length - 1];
            copies = new int[whole && total <= MOST_COPIES ? (int) total : 0];
            for (int i = 0, c = 0; c < copies.length; c++) {
                i += upTo[i] <= c ? 1 : 0;
                copies[c] = i;
            }
        }

        /** How often each row is drawn, of as many draws as the rows weigh. */
        double[] draw(RandomSource chance) {
            double[] times = new double[upTo.length];
            for (long draw = Math.max(1, Math.round(total)); draw > 0; draw--) {
                times[row(chance.uniform() * total)]++;
            }
            return times;
        }

        /** The row that owns a point: what lies from the weight before it up to, but without, its own end. */
        private int row(double point) {
            if (copies.length > 0) {
                return copies[(int) point];
            }
            int at = Arrays.binarySearch(upTo, point);
            return Math.min(at >= 0 ? at + 1 : -at - 1, upTo.length - 1);
        }
    }

    /** Makes the model again of what it learned. */
    public static Model restored(ClassForest learned) {
        return new Grown(learned.trees().stream().map(Node::restored).toList(), learned.classes());
    }

    private static final class Grown implements Model {
        private final List<Node> roots;
        private final int classes;

        Grown(List<Node> roots, int classes) {
            this.roots = roots;
            this.classes = classes;
        }

        @Override
        public double[] probabilities(Table table) {
            double[][] x = Training.columns(table);
            double[] all = new double[table.rows() * classes];
            for (Node root : roots) {
                FitFailure.ifInterrupted();
                for (int i = 0; i < table.rows(); i++) {
                    root.leafOf(x, i).addShares(all, i * classes);
                }
            }
            for (int k = 0; k < all.length; k++) {
                all[k] /= roots.size();
            }
            return all;
        }

        @Override
        public double[] columnWeights(int columns) {
            double[] decreases = new double[columns];
            roots.forEach(root -> root.addDecreases(decreases));
            return decreases;
        }

        @Override
        public Optional<LearnedModel> learned() {
            return Optional.of(
                    new ClassForest(classes, roots.stream().map(Node::learned).toList()));
        }

        @Override
        public double size() {
            double leaves = 0;
            for (Node root : roots) {
                leaves += root.leaves();
            }
            return leaves / roots.size() * (classes - 1);
        }
    }
}

package keenfold.core.classify.tree;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.Model;
import keenfold.core.data.Checks;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.ClassTree;
import keenfold.core.learned.LearnedModel;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Training;

/**
 * A classification tree of binary splits at thresholds, grown by impurity and cut back by cost-complexity pruning.
 *
 * <p>Definition: a node is split at the column and threshold (midway between two neighbouring values of its rows) that
 * lower the weighted impurity most, as long as both sides keep {@code leaf-rows} rows and the depth allows; among equal
 * splits the first column, then the lowest threshold. A row goes left if its value is at most the threshold. Afterwards
 * weakest links are cut while their g = (R(t) − R(T_t))/(leaves − 1) is at most {@code pruning}, R being the impurity as
 * a share of all training weight (so that 0.01 is one hundredth of the impurity unit, whatever the number of rows). A
 * leaf gives its class shares.
 *
 * <p>Columns of more than {@code bins} distinct values are cut into so many quantile bins of the training rows first, and
 * split between bins. Cost: one sort per column, then O(p·n) per level. Size: leaves·(K − 1).
 *
 * <p>Reference: Breiman, Friedman, Olshen and Stone (1984), Classification and Regression Trees, chapters 2 to 4.
 *
 * @param impurity what is lowered
 * @param depth most splits from the root to a leaf, at least 1
 * @param leafRows least rows (by weight) of a leaf, at least 1
 * @param pruning cost of a leaf, at least 0; 0 cuts only what lowers nothing
 * @param bins most bins of a column, 2 … 256; a column of no more distinct values is split exactly
 */
public record Tree(Impurity impurity, int depth, double leafRows, double pruning, int bins) implements Classifier {
    /** Checks the settings. */
    public Tree {
        Checks.atLeast("depth", depth, 1);
        Checks.atLeast("leaf-rows", leafRows, 1);
        Checks.atLeast("pruning", pruning, 0);
        Binned.check(bins);
    }

    @Override
    public Needs needs() {
        return Needs.NUMBERS;
    }

    @Override
    public Model fit(Training training, RandomSource chance) {
        Node root = grow(Binned.of(training, bins), training);
        root.prune(pruning);
        return new Grown(root, training.classes());
    }

    /** Grows the whole tree, not yet pruned. */
    Node grow(Binned binned, Training training) {
        ClassGrower.Growth growth = new ClassGrower.Growth(impurity, depth, leafRows, binned.columns(), false);
        return new ClassGrower(
                        binned,
                        training.targets(),
                        training.weights(),
                        training.classes(),
                        growth,
                        new Seed(0).chance())
                .grow();
    }

    /**
     * Trees that differ in depth and pruning alone are cut from one: the split of a node does not depend on how deep the tree
     * may grow below it.
     */
    static List<Model> joint(List<Tree> trees, Training training) {
        Map<Integer, Binned> binned = new HashMap<>();
        Map<Tree, Node> grown = new HashMap<>();
        List<Model> models = new ArrayList<>();
        for (Tree tree : trees) {
            int deepest = trees.stream()
                    .filter(t -> t.impurity == tree.impurity && t.leafRows == tree.leafRows && t.bins == tree.bins)
                    .mapToInt(Tree::depth)
                    .max()
                    .orElse(tree.depth);
            Tree whole = new Tree(tree.impurity, deepest, tree.leafRows, 0, tree.bins);
            Binned columns = binned.computeIfAbsent(tree.bins, b -> Binned.of(training, b));
            Node root = grown.computeIfAbsent(whole, t -> t.grow(columns, training));
            Node own = root.copy(tree.depth);
            own.prune(tree.pruning);
            models.add(new Grown(own, training.classes()));
        }
        return models;
    }

    /** How mixed the classes of some rows are, times their weight. */
    public enum Impurity {
        /** 1 − Σ p². */
        GINI {
            @Override
            double of(double[] weights, double total) {
                double squares = 0;
                for (double w : weights) {
                    squares += w * w;
                }
                return total - squares / total;
            }
        },
        /** −Σ p·ln p. */
        ENTROPY {
            @Override
            double of(double[] weights, double total) {
                double sum = 0;
                for (double w : weights) {
                    if (w > 0) {
                        sum += w * StrictMath.log(w / total);
                    }
                }
                return -sum;
            }
        };

        /** Returns the impurity of class weights that sum to {@code total} > 0, times {@code total}. */
        abstract double of(double[] weights, double total);
    }

    /** Makes the model again of what it learned. */
    public static Model restored(ClassTree learned) {
        return new Grown(Node.restored(learned.nodes()), learned.classes());
    }

    private static final class Grown implements Model {
        private final Node root;
        private final int classes;

        Grown(Node root, int classes) {
            this.root = root;
            this.classes = classes;
        }

        @Override
        public double[] probabilities(Table table) {
            double[][] x = Training.columns(table);
            double[] all = new double[table.rows() * classes];
            for (int i = 0; i < table.rows(); i++) {
                root.leafOf(x, i).addShares(all, i * classes);
            }
            return all;
        }

        @Override
        public double[] columnWeights(int columns) {
            double[] decreases = new double[columns];
            root.addDecreases(decreases);
            return decreases;
        }

        @Override
        public double size() {
            return (double) root.leaves() * (classes - 1);
        }

        @Override
        public Optional<LearnedModel> learned() {
            return Optional.of(new ClassTree(classes, root.learned()));
        }

        @Override
        public String toString() {
            return "tree of " + root.leaves() + " leaves, root " + Arrays.toString(root.shares());
        }
    }
}

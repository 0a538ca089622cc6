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
import keenfold.core.learned.ClassTree;
import keenfold.core.learned.LearnedModel;
import keenfold.core.prepare.InnerFolds;
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
 * chosen price comes from {@value #FOLDS} inner folds (of the rows of each class, or of whole groups): the trees grown without
 * each of them label its rows, and the greatest price wins whose error is within a standard error of the least one, or at it.
 * Columns are cut into bins once, of all training rows. A leaf gives the class shares (n_c + smoothing/K)/(n + smoothing),
 * n_c of its n rows being of class c of the K that are there: with a smoothing of K the correction by Laplace.
 *
 * <p>Columns of more than {@code bins} distinct values are cut into so many quantile bins of the training rows first, and
 * split between bins. Cost: one sort per column, then O(p·n) per level. Size: leaves·(K − 1).
 *
 * <p>References: Breiman, Friedman, Olshen and Stone (1984), Classification and Regression Trees, chapters 2 to 4; Provost and
 * Domingos (2003), Mach. Learn. 52(3), doi:10.1023/A:1024099825458 (smoothed shares).
 *
 * @param impurity what is lowered
 * @param depth most splits from the root to a leaf, at least 1; {@link Integer#MAX_VALUE} for any
 * @param leafRows least rows (by weight) of a leaf, at least 1
 * @param pruning at which cost of a leaf; 0 cuts only what lowers nothing
 * @param smoothing rows added to each leaf, of every class as many, at least 0
 * @param bins most bins of a column, 2 … 256; a column of no more distinct values is split exactly
 */
public record Tree(Impurity impurity, int depth, double leafRows, Pruning pruning, double smoothing, int bins)
        implements Classifier {
    private static final int FOLDS = 10;

    /** Returns a tree that is cut back at a price and gives plain class shares. */
    public Tree(Impurity impurity, int depth, double leafRows, double price, int bins) {
        this(impurity, depth, leafRows, Pruning.at(price), 0, bins);
    }

    /** Checks the settings. */
    public Tree {
        Checks.atLeast("depth", depth, 1);
        Checks.atLeast("leaf-rows", leafRows, 1);
        Checks.atLeast("smoothing", smoothing, 0);
        Binned.check(bins);
    }

    @Override
    public Needs needs() {
        return Needs.NUMBERS;
    }

    @Override
    public Model fit(Training training, RandomSource chance) {
        return joint(List.of(this), training, () -> chance).get(0);
    }

    /** Grows the whole tree of the rows whose weight is not 0, not yet pruned. */
    Node grow(Binned binned, Training training, double[] weights) {
        ClassGrower.Growth growth = new ClassGrower.Growth(impurity, depth, leafRows, binned.columns(), false);
        return new ClassGrower(binned, training.targets(), weights, training.classes(), growth, new Seed(0).chance())
                .grow();
    }

    /**
     * Trees that differ in depth, pruning and smoothing alone are cut from one: the split of a node does not depend on how deep the
     * tree may grow below it.
     */
    static List<Model> joint(List<Tree> trees, Training training, Supplier<RandomSource> fresh) {
        Map<Integer, Binned> binned = new HashMap<>();
        Map<Tree, GrownTrees> grown = new HashMap<>();
        List<Model> models = new ArrayList<>();
        for (Tree tree : trees) {
            List<Tree> alike = trees.stream()
                    .filter(t -> t.impurity == tree.impurity && t.leafRows == tree.leafRows && t.bins == tree.bins)
                    .toList();
            int deepest = alike.stream().mapToInt(Tree::depth).max().orElse(tree.depth);
            Tree whole = new Tree(tree.impurity, deepest, tree.leafRows, Pruning.at(0), 0, tree.bins);
            Binned columns = binned.computeIfAbsent(tree.bins, b -> Binned.of(training, b));
            GrownTrees of = grown.computeIfAbsent(whole, t -> new GrownTrees(t, alike, columns, training, fresh));
            models.add(new Grown(of.pruned(tree), training.classes()));
        }
        return models;
    }

    /** A tree as large as any of some trees, and for those of a chosen price the errors by which it is chosen. */
    private static final class GrownTrees {
        private final Training training;
        private final Node root;
        private final Map<Integer, PriceErrors> errorsByDepth = new HashMap<>();

        GrownTrees(Tree growth, List<Tree> wanted, Binned binned, Training training, Supplier<RandomSource> fresh) {
            this.training = training;
            this.root = growth.grow(binned, training, training.weights());
            wanted.stream()
                    .filter(t -> t.pruning.chosen())
                    .forEach(t ->
                            errorsByDepth.computeIfAbsent(t.depth, d -> new PriceErrors(new WeakestLinks(root, d))));
            if (!errorsByDepth.isEmpty()) {
                countErrors(growth, binned, InnerFolds.deal(training, FOLDS, fresh.get()));
            }
        }

        /** One inner tree after the other: ten large ones need not stand beside each other. */
        private void countErrors(Tree growth, Binned binned, int[] fold) {
            double[][] x = Training.columns(training.table());
            double[] all = training.weights();
            for (int k = 0; k < FOLDS; k++) {
                double[] weights = all.clone();
                boolean[] held = new boolean[weights.length];
                for (int i = 0; i < weights.length; i++) {
                    held[i] = fold[i] == k;
                    weights[i] = held[i] ? 0 : weights[i];
                }
                if (Arrays.stream(weights).sum() > 0) {
                    Node inner = growth.grow(binned, training, weights);
                    errorsByDepth.forEach((depth, errors) ->
                            errors.add(new WeakestLinks(inner, depth), held, x, training.targets(), all));
                }
            }
        }

        /** The tree cut back to what is asked for, its leaves smoothed. */
        Node pruned(Tree wanted) {
            Node own = root.copy(wanted.depth);
            PriceErrors errors = errorsByDepth.get(wanted.depth);
            if (wanted.pruning.chosen() && errors != null) {
                new WeakestLinks(own, wanted.depth).cutUpTo(errors.choose(wanted.pruning.errors()));
            } else {
                own.prune(wanted.pruning.price());
            }
            double[] weights = training.classWeights();
            boolean[] present = new boolean[weights.length];
            for (int c = 0; c < weights.length; c++) {
                present[c] = weights[c] > 0;
            }
            return wanted.smoothing > 0 ? own.smoothed(wanted.smoothing, present) : own;
        }
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

package keenfold.core.classify;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import keenfold.core.data.Chance;
import keenfold.core.data.Checks;
import keenfold.core.data.Table;
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
 * <p>Cost: one sort per column, then O(p·n) per level. Size: leaves·(K − 1).
 *
 * <p>Reference: Breiman, Friedman, Olshen and Stone (1984), Classification and Regression Trees, chapters 2 to 4.
 *
 * @param impurity what is lowered
 * @param depth most splits from the root to a leaf, at least 1
 * @param leafRows least rows (by weight) of a leaf, at least 1
 * @param pruning cost of a leaf, at least 0; 0 cuts only what lowers nothing
 */
record Tree(Impurity impurity, int depth, double leafRows, double pruning) implements Classifier {
    Tree {
        Checks.atLeast("depth", depth, 1);
        Checks.atLeast("leaf-rows", leafRows, 1);
        Checks.atLeast("pruning", pruning, 0);
    }

    @Override
    public Needs needs() {
        return Needs.NUMBERS;
    }

    @Override
    public Model fit(Training training, Chance chance) {
        Node root = new TreeGrower(this, training).grow();
        root.prune(pruning);
        return new Grown(root, training.classes());
    }

    /**
     * Trees that differ in depth and pruning alone are cut from one: the split of a node does not depend on how deep the tree
     * may grow below it.
     */
    static List<Model> joint(List<Tree> trees, Training training) {
        Map<Tree, Node> grown = new HashMap<>();
        List<Model> models = new ArrayList<>();
        for (Tree tree : trees) {
            int deepest = trees.stream()
                    .filter(t -> t.impurity == tree.impurity && t.leafRows == tree.leafRows)
                    .mapToInt(Tree::depth)
                    .max()
                    .orElse(tree.depth);
            Tree whole = new Tree(tree.impurity, deepest, tree.leafRows, 0);
            Node root = grown.computeIfAbsent(whole, t -> new TreeGrower(t, training).grow());
            Node own = root.copy(tree.depth);
            own.prune(tree.pruning);
            models.add(new Grown(own, training.classes()));
        }
        return models;
    }

    /** How mixed the classes of some rows are, times their weight. */
    enum Impurity {
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

    /** A node; a leaf as long as it has no sides. */
    static final class Node {
        private final double[] shares;
        private final double impurity;
        private int column = -1;
        private double threshold;
        private Node[] sides = new Node[0];

        /**
         * @param shares class shares of the node's rows
         * @param impurity of its rows, as a share of all training weight
         */
        Node(double[] shares, double impurity) {
            this.shares = shares;
            this.impurity = impurity;
        }

        void split(int byColumn, double atThreshold, Node left, Node right) {
            column = byColumn;
            threshold = atThreshold;
            sides = new Node[] {left, right};
        }

        /** This node and what is at most {@code depth} splits below it. */
        Node copy(int depth) {
            Node copy = new Node(shares, impurity);
            if (!leaf() && depth > 0) {
                copy.split(column, threshold, sides[0].copy(depth - 1), sides[1].copy(depth - 1));
            }
            return copy;
        }

        boolean leaf() {
            return sides.length == 0;
        }

        int leaves() {
            return leaf() ? 1 : sides[0].leaves() + sides[1].leaves();
        }

        int column() {
            return column;
        }

        double threshold() {
            return threshold;
        }

        Node left() {
            return sides[0];
        }

        Node right() {
            return sides[1];
        }

        double[] shares() {
            return shares.clone();
        }

        double impurity() {
            return impurity;
        }

        private double leafImpurity() {
            return leaf() ? impurity : sides[0].leafImpurity() + sides[1].leafImpurity();
        }

        /** Cuts weakest links while they cost at most {@code price} a leaf; rounding is not taken for a gain. */
        void prune(double price) {
            while (!leaf()) {
                Node weakest = weakestLink();
                if (weakest.linkCost() > price + 1e-12) {
                    return;
                }
                weakest.sides = new Node[0];
            }
        }

        private Node weakestLink() {
            Node weakest = this;
            for (Node side : sides) {
                if (!side.leaf()) {
                    Node below = side.weakestLink();
                    if (below.linkCost() < weakest.linkCost()) {
                        weakest = below;
                    }
                }
            }
            return weakest;
        }

        private double linkCost() {
            return (impurity - leafImpurity()) / (leaves() - 1);
        }
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
                Node node = root;
                while (!node.leaf()) {
                    node = x[node.column][i] <= node.threshold ? node.left() : node.right();
                }
                System.arraycopy(node.shares, 0, all, i * classes, classes);
            }
            return all;
        }

        @Override
        public double size() {
            return (double) root.leaves() * (classes - 1);
        }

        @Override
        public String toString() {
            return "tree of " + root.leaves() + " leaves, root " + Arrays.toString(root.shares);
        }
    }
}

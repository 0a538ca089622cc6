package keenfold.core.classify.tree;

import java.util.List;
import java.util.Optional;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.Settings;

/** The kind of {@link Tree}: settings, presets and how it is made. */
public final class TreeKind {
    /** A setting that others have too. */
    public static final Setting IMPURITY =
            Setting.word("impurity", "gini", List.of("gini", "entropy"), "what a split is to lower");

    private static final Setting DEPTH =
            Setting.whole("depth", 8, 1, Simpler.LOWER, "most splits between the root and a leaf");
    private static final Setting LEAF_ROWS =
            Setting.whole("leaf-rows", 5, 1, Simpler.HIGHER, "least training rows of a leaf");
    private static final Setting PRUNING = Setting.number(
            "pruning",
            "0",
            Bounds.from(0),
            Simpler.HIGHER,
            "cost of a leaf, as impurity per training row; higher cuts back more");
    /** A setting that others have too. */
    public static final Setting BINS = new Setting(
            "bins",
            Setting.Type.WHOLE,
            "256",
            Bounds.from(2).to(256),
            List.of(),
            Simpler.LOWER,
            "most values of a column that are told apart");

    /** The kind. */
    public static final ClassifierKind KIND = new ClassifierKind(
                    "tree",
                    "a classification tree, pruned by cost and complexity",
                    new About(
                            "binary splits, each at the column and threshold that lower the impurity most; then weakest links are"
                                    + " cut while they lower it by at most pruning a leaf; a leaf gives its class shares; columns of"
                                    + " more than bins values are cut at as many quantiles of the training rows first",
                            "leaves, times K - 1",
                            "Breiman, Friedman, Olshen and Stone (1984), Classification and Regression Trees"),
                    List.of(IMPURITY, DEPTH, LEAF_ROWS, PRUNING, BINS),
                    TreeKind::tree,
                    Optional.of((all, training, fresh) ->
                            Tree.joint(all.stream().map(TreeKind::tree).toList(), training)))
            .inTier(3, "questions that can be followed by hand");

    private TreeKind() {}

    private static Tree tree(Settings s) {
        return new Tree(
                s.constant(IMPURITY, Tree.Impurity.class),
                s.whole(DEPTH),
                s.number(LEAF_ROWS),
                s.number(PRUNING),
                s.whole(BINS));
    }
}

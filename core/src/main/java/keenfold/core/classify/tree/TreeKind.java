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

    /** A setting that others have too. */
    public static final Setting DEPTH = new Setting(
            "depth",
            Setting.Type.WHOLE,
            "any",
            Bounds.from(1).to(Setting.MOST),
            List.of("any"),
            Simpler.LOWER,
            "most splits between the root and a leaf");

    private static final Setting LEAF_ROWS = Setting.whole(
                    "leaf-rows", 2, 1, Simpler.HIGHER, "least training rows of a leaf")
            .formerly("5");
    private static final String ONE_SE = "one-se";
    private static final String LEAST_ERROR = "least-error";
    private static final Setting PRUNING = Setting.number(
                    "pruning",
                    LEAST_ERROR,
                    Bounds.from(0),
                    Simpler.HIGHER,
                    "cost of a leaf, as impurity per training row; higher cuts back more; least-error and one-se choose it by"
                            + " inner folds")
            .or(LEAST_ERROR, ONE_SE)
            .formerly("0");
    private static final Setting SMOOTHING = Setting.number(
                    "smoothing",
                    "5",
                    Bounds.from(0),
                    Simpler.NEITHER,
                    "rows added to each leaf, of every class as many")
            .formerly("0");
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
                                    + " cut while they lower it by at most pruning a leaf, which ten inner folds choose: the smallest"
                                    + " tree with the least error, or within a standard error of it (one-se); a leaf"
                                    + " gives the class shares of its rows and of smoothing rows more, spread evenly; columns of more"
                                    + " than bins values are cut at as many quantiles of the training rows first",
                            "leaves, times K - 1",
                            "Breiman, Friedman, Olshen and Stone (1984), Classification and Regression Trees; smoothed shares: Provost"
                                    + " and Domingos (2003), Mach. Learn. 52(3), doi:10.1023/A:1024099825458"),
                    List.of(IMPURITY, DEPTH.formerly("8"), LEAF_ROWS, PRUNING, SMOOTHING, BINS),
                    TreeKind::tree,
                    Optional.of((all, training, fresh) ->
                            Tree.joint(all.stream().map(TreeKind::tree).toList(), training, fresh)))
            .inTier(3, "questions that can be followed by hand");

    private TreeKind() {}

    /** Returns the value of {@link #DEPTH}. */
    static int depth(Settings s) {
        return s.text(DEPTH).equals("any") ? Integer.MAX_VALUE : s.whole(DEPTH);
    }

    private static Pruning pruning(Settings s) {
        return switch (s.text(PRUNING)) {
            case ONE_SE -> Pruning.ONE_SE;
            case LEAST_ERROR -> Pruning.LEAST_ERROR;
            default -> Pruning.at(s.number(PRUNING));
        };
    }

    private static Tree tree(Settings s) {
        return new Tree(
                s.constant(IMPURITY, Tree.Impurity.class),
                depth(s),
                s.number(LEAF_ROWS),
                pruning(s),
                s.number(SMOOTHING),
                s.whole(BINS));
    }
}

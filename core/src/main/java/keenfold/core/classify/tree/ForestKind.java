package keenfold.core.classify.tree;

import java.util.List;
import java.util.Optional;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.Settings;

/** The kind of {@link Forest}: settings, presets and how it is made. */
public final class ForestKind {
    private static final Setting TREES = Setting.whole("trees", 300, 1, Simpler.LOWER, "how many");
    private static final Setting COLUMNS = Setting.countOrShare(
                    "columns", "root", Simpler.LOWER, "columns looked at for a split; root is the square root of all")
            .or("root");
    private static final Setting THRESHOLDS = Setting.word(
            "thresholds", "best", List.of("best", "drawn"), "of a column looked at, the best one or one drawn evenly");
    private static final Setting BAGGED =
            Setting.choice("bagged", true, "whether each tree's rows are drawn with replacement");
    private static final Setting LEAF_ROWS =
            Setting.whole("leaf-rows", 1, 1, Simpler.HIGHER, "least training rows of a leaf");

    /** The kind. */
    public static final ClassifierKind KIND = new ClassifierKind(
                    "forest",
                    "many trees on drawn rows, each split looking at a few drawn columns",
                    new About(
                            "the mean of the leaves' class shares over trees that are not pruned, each grown on as many rows as there"
                                    + " are, drawn with replacement; each split looks at columns drawn anew; with thresholds: drawn,"
                                    + " each column offers one threshold alone",
                            "mean leaves of a tree, times K - 1",
                            "Breiman (2001), Mach. Learn. 45(1), doi:10.1023/A:1010933404324; drawn thresholds: Geurts, Ernst and"
                                    + " Wehenkel (2006), Mach. Learn. 63(1), doi:10.1007/s10994-006-6226-1"),
                    List.of(
                            TREES,
                            COLUMNS,
                            THRESHOLDS,
                            BAGGED,
                            TreeKind.IMPURITY,
                            TreeKind.DEPTH,
                            LEAF_ROWS,
                            TreeKind.BINS),
                    ForestKind::forest,
                    Optional.of((all, training, fresh) ->
                            Forest.joint(all.stream().map(ForestKind::forest).toList(), training, fresh)))
            .inTier(6, "an average of hundreds of trees");

    private ForestKind() {}

    private static Forest forest(Settings s) {
        return new Forest(
                s.whole(TREES),
                s.text(COLUMNS).equals("root") ? 0 : s.number(COLUMNS),
                TreeKind.depth(s),
                s.whole(LEAF_ROWS),
                s.constant(TreeKind.IMPURITY, Tree.Impurity.class),
                s.yes(BAGGED),
                s.text(THRESHOLDS).equals("drawn"),
                s.whole(TreeKind.BINS));
    }
}

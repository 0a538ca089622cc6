package keenfold.core.classify.boosting;

import java.util.List;
import java.util.Optional;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.WatchedRows;
import keenfold.core.classify.tree.TreeKind;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.Settings;

/** The kind of {@link Boosting}: settings, presets and how it is made. */
public final class BoostingKind {
    private static final Setting ROUNDS = Setting.whole("rounds", 200, 1, Simpler.LOWER, "most rounds of trees");
    private static final Setting LEARNING_RATE = Setting.number(
            "learning-rate", "0.1", Bounds.above(0).to(1), Simpler.LOWER, "what is kept of each tree's step");
    private static final Setting DEPTH = Setting.whole(
                    "depth", 4, 1, Simpler.LOWER, "most splits between the root of a tree and a leaf")
            .or("any");
    private static final Setting LEAVES = new Setting(
            "leaves",
            Setting.Type.WHOLE,
            "any",
            Bounds.from(2),
            List.of("any"),
            Simpler.LOWER,
            "most leaves of a tree; the split that gains most comes first");
    private static final Setting LEAF_ROWS =
            Setting.whole("leaf-rows", 5, 1, Simpler.HIGHER, "least training rows of a leaf");
    private static final Setting RIDGE =
            Setting.number("ridge", "1", Bounds.from(0), Simpler.HIGHER, "penalty on a leaf's squared step");
    private static final Setting ROW_SHARE = Setting.number(
            "row-share", "1", Bounds.above(0).to(1), Simpler.NEITHER, "of the training rows that a round sees");
    private static final Setting COLUMN_SHARE = Setting.number(
            "column-share", "1", Bounds.above(0).to(1), Simpler.NEITHER, "of the columns that a round sees");
    private static final Setting PATIENCE = new Setting(
            "patience",
            Setting.Type.WHOLE,
            "never",
            Bounds.from(1),
            List.of("never"),
            Simpler.NEITHER,
            "rounds without gain on watched rows after which it stops");

    /** The kind. */
    public static final ClassifierKind KIND = new ClassifierKind(
                    "boosting",
                    "a sum of small trees, each lowering the log-loss that those before it left",
                    new About(
                            "Newton steps of gradient boosting: a tree is grown on the derivatives g and h of the log-loss, a split"
                                    + " gaining G_L^2/(H_L + ridge) + G_R^2/(H_R + ridge) - G^2/(H + ridge), a leaf adding"
                                    + " -learning-rate G/(H + ridge) to the log-odds; one tree a round, of several classes one for"
                                    + " each",
                            "learning-rate times the leaves of all trees; of several classes times (K - 1)/K",
                            "Friedman (2001), Ann. Statist. 29(5), doi:10.1214/aos/1013203451; Friedman, Hastie and Tibshirani"
                                    + " (2000), Ann. Statist. 28(2), doi:10.1214/aos/1016218223"),
                    List.of(
                            ROUNDS,
                            LEARNING_RATE,
                            DEPTH,
                            LEAVES,
                            LEAF_ROWS,
                            RIDGE,
                            ROW_SHARE,
                            COLUMN_SHARE,
                            PATIENCE,
                            WatchedRows.WATCHED,
                            TreeKind.BINS),
                    BoostingKind::boosting,
                    Optional.of((all, training, fresh) -> Boosting.joint(
                            all.stream().map(BoostingKind::boosting).toList(), training, fresh)))
            .inTier(6, "a sum of hundreds of trees");

    private BoostingKind() {}

    private static Boosting boosting(Settings s) {
        return new Boosting(
                s.whole(ROUNDS),
                new Growth(
                        s.text(DEPTH).equals("any") ? Integer.MAX_VALUE : s.whole(DEPTH),
                        s.text(LEAVES).equals("any") ? Integer.MAX_VALUE : s.whole(LEAVES),
                        s.whole(LEAF_ROWS),
                        s.number(RIDGE),
                        s.number(LEARNING_RATE)),
                s.number(ROW_SHARE),
                s.number(COLUMN_SHARE),
                s.text(PATIENCE).equals("never") ? 0 : s.whole(PATIENCE),
                s.number(WatchedRows.WATCHED),
                s.whole(TreeKind.BINS));
    }
}

package keenfold.core.classify;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.Settings;

/** The kinds of classifiers there are, with all presets in one place. */
public final class ClassifierKinds {
    private static final Setting STRENGTH = Setting.number(
            "strength", "1", Bounds.from(0), Simpler.HIGHER, "weight of the ridge penalty on standardised columns");
    private static final Setting PENALTY = Setting.word("penalty", "ridge", List.of("ridge"), "form of the penalty");
    private static final Setting NEIGHBOURS =
            Setting.whole("neighbours", 5, 1, Simpler.HIGHER, "how many nearest training rows vote");
    private static final Setting PSEUDO_COUNT = Setting.number(
            "pseudo-count", "1", Bounds.from(0), Simpler.HIGHER, "added to the count of each level of a category");
    private static final Setting IMPURITY =
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

    private static final List<ClassifierKind> ALL = List.of(
            new ClassifierKind(
                    "majority",
                    "the class shares, whatever the row",
                    new About(
                            "each row gets the weighted class shares of the training rows",
                            "1, times K - 1",
                            "Holte (1993), Mach. Learn. 11, doi:10.1023/A:1022631118932 (as the baseline)"),
                    List.of(),
                    s -> new Majority(),
                    Optional.empty()),
            new ClassifierKind(
                    "logistic",
                    "logistic regression, multinomial for three or more classes",
                    new About(
                            "maximum of the log-likelihood less strength/2 times the sum of squared coefficients, the intercept"
                                    + " not penalised; Newton's method for two classes, L-BFGS for more",
                            "trace of the weighted ridge hat matrix with intercept; of several classes (K - 1)/K times the sum"
                                    + " over classes",
                            "le Cessie and van Houwelingen (1992), Appl. Statist. 41(1), doi:10.2307/2347628"),
                    List.of(PENALTY, STRENGTH),
                    s -> new Logistic(s.number(STRENGTH)),
                    Optional.empty()),
            new ClassifierKind(
                    "nearest",
                    "class shares among the nearest training rows",
                    new About(
                            "the nearest training rows by Euclidean distance vote alike; rows tied at the last distance share the"
                                    + " places that are left",
                            "training rows / neighbours, times K - 1",
                            "Cover and Hart (1967), IEEE Trans. Inf. Theory 13(1), doi:10.1109/TIT.1967.1053964"),
                    List.of(NEIGHBOURS),
                    s -> new Nearest(s.whole(NEIGHBOURS)),
                    Optional.of((all, training) -> Nearest.joint(
                            all.stream().map(s -> s.whole(NEIGHBOURS)).toList(), training))),
            new ClassifierKind(
                    "naive-bayes",
                    "normal densities and level shares, column by column",
                    new About(
                            "class shares times, column by column, a normal density of the class's mean and variance, or the"
                                    + " class's share of the level; a missing or unseen value says nothing",
                            "1 + 2 per number column + levels - 1 per category column, times K - 1",
                            "Duda and Hart (1973), Pattern Classification and Scene Analysis, chapter 2"),
                    List.of(PSEUDO_COUNT),
                    s -> new NaiveBayes(s.number(PSEUDO_COUNT)),
                    Optional.empty()),
            new ClassifierKind(
                    "tree",
                    "a classification tree, pruned by cost and complexity",
                    new About(
                            "binary splits, each at the column and threshold that lower the impurity most; then weakest links are"
                                    + " cut while they lower it by at most pruning a leaf; a leaf gives its class shares",
                            "leaves, times K - 1",
                            "Breiman, Friedman, Olshen and Stone (1984), Classification and Regression Trees"),
                    List.of(IMPURITY, DEPTH, LEAF_ROWS, PRUNING),
                    ClassifierKinds::tree,
                    Optional.of((all, training) ->
                            Tree.joint(all.stream().map(ClassifierKinds::tree).toList(), training))));

    private ClassifierKinds() {}

    private static Tree tree(Settings s) {
        return new Tree(
                Tree.Impurity.valueOf(s.text(IMPURITY).toUpperCase(Locale.ROOT)),
                s.whole(DEPTH),
                s.number(LEAF_ROWS),
                s.number(PRUNING));
    }

    /** Returns all kinds, the simplest first. */
    public static List<ClassifierKind> all() {
        return ALL;
    }

    /** Returns the kind of a name. */
    public static Optional<ClassifierKind> of(String name) {
        return ALL.stream().filter(k -> k.name().equals(name)).findFirst();
    }
}

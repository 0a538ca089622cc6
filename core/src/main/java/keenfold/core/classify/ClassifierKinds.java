package keenfold.core.classify;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import keenfold.core.classify.Setting.Simpler;

/** The kinds of classifiers there are, with all presets in one place. */
public final class ClassifierKinds {
    private static final Setting STRENGTH =
            Setting.number("strength", "1", 0, Simpler.HIGHER, "weight of the ridge penalty on standardised columns");
    private static final Setting PENALTY = Setting.word("penalty", "ridge", List.of("ridge"), "form of the penalty");
    private static final Setting NEIGHBOURS =
            Setting.whole("neighbours", 5, 1, Simpler.HIGHER, "how many nearest training rows vote");
    private static final Setting PSEUDO_COUNT =
            Setting.number("pseudo-count", "1", 0, Simpler.HIGHER, "added to the count of each level of a category");
    private static final Setting IMPURITY =
            Setting.word("impurity", "gini", List.of("gini", "entropy"), "what a split is to lower");
    private static final Setting DEPTH =
            Setting.whole("depth", 8, 1, Simpler.LOWER, "most splits between the root and a leaf");
    private static final Setting LEAF_ROWS =
            Setting.whole("leaf-rows", 5, 1, Simpler.HIGHER, "least training rows of a leaf");
    private static final Setting PRUNING = Setting.number(
            "pruning", "0", 0, Simpler.HIGHER, "cost of a leaf, as impurity per training row; higher cuts back more");

    private static final List<ClassifierKind> ALL = List.of(
            new ClassifierKind("majority", "the class shares, whatever the row", List.of(), s -> new Majority()),
            new ClassifierKind(
                    "logistic",
                    "logistic regression, multinomial for three or more classes",
                    List.of(PENALTY, STRENGTH),
                    s -> new Logistic(s.number(STRENGTH))),
            new ClassifierKind(
                    "nearest",
                    "class shares among the nearest training rows",
                    List.of(NEIGHBOURS),
                    s -> new Nearest(s.whole(NEIGHBOURS)),
                    Optional.of((all, training) -> Nearest.joint(
                            all.stream().map(s -> s.whole(NEIGHBOURS)).toList(), training))),
            new ClassifierKind(
                    "naive-bayes",
                    "normal densities and level shares, column by column",
                    List.of(PSEUDO_COUNT),
                    s -> new NaiveBayes(s.number(PSEUDO_COUNT))),
            new ClassifierKind(
                    "tree",
                    "a classification tree, pruned by cost and complexity",
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

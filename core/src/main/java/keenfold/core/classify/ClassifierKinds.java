package keenfold.core.classify;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.ServiceConfigurationError;
import java.util.ServiceLoader;
import java.util.stream.Stream;
import keenfold.core.data.Checks;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.Settings;

/** The kinds of classifiers there are, with all presets in one place. */
public final class ClassifierKinds {
    private static final Setting STRENGTH = Setting.number(
            "strength", "1", Bounds.from(0), Simpler.HIGHER, "weight of the penalty on standardised columns");
    private static final Setting PENALTY = Setting.word(
            "penalty", "ridge", List.of("ridge", "lasso", "elastic-net"), "squares, absolute values, or both");
    private static final Setting MIX =
            Setting.number("mix", "0.5", Bounds.from(0).to(1), Simpler.NEITHER, "share of the lasso in an elastic net");
    private static final Setting POOLED = Setting.number(
            "pooled", "1", Bounds.from(0).to(1), Simpler.HIGHER, "share of all classes' covariance in each class's");
    private static final Setting DIAGONAL = Setting.number(
            "diagonal", "0", Bounds.from(0).to(1), Simpler.HIGHER, "share of its diagonal in each covariance");
    private static final Setting NEIGHBOURS =
            Setting.whole("neighbours", 5, 1, Simpler.HIGHER, "how many nearest training rows vote");
    private static final Setting DISTANCE = Setting.word(
            "distance",
            "euclidean",
            List.of("euclidean", "manhattan", "chebyshev", "mixed"),
            "how far two rows are apart");
    private static final Setting VOTES =
            Setting.word("votes", "even", List.of("even", "by-distance"), "whether nearer rows count more");
    private static final Setting DENSITY =
            Setting.word("density", "normal", List.of("normal", "kernel"), "of numbers within a class");
    private static final Setting PSEUDO_COUNT = Setting.number(
            "pseudo-count", "1", Bounds.from(0), Simpler.HIGHER, "added to the count of each level of a category");
    private static final Setting LEAST_VARIANCE = Setting.number(
            "least-variance",
            "0.001",
            Bounds.above(0).to(1),
            Simpler.HIGHER,
            "of a number within a class, as a share of its variance in all classes");
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

    private static final Setting BINS = new Setting(
            "bins",
            Setting.Type.WHOLE,
            "256",
            Bounds.from(2).to(256),
            List.of(),
            Simpler.LOWER,
            "most values of a column that are told apart");
    private static final Setting TREES = Setting.whole("trees", 300, 1, Simpler.LOWER, "how many");
    private static final Setting LOOKED_AT = Setting.countOrShare(
                    "columns", "root", Simpler.LOWER, "columns looked at for a split; root is the square root of all")
            .or("root");
    private static final Setting THRESHOLDS = Setting.word(
            "thresholds", "best", List.of("best", "drawn"), "of a column looked at, the best one or one drawn evenly");
    private static final Setting BAGGED =
            Setting.choice("bagged", true, "whether each tree's rows are drawn with replacement");
    private static final Setting ANY_DEPTH = new Setting(
            "depth",
            Setting.Type.WHOLE,
            "any",
            Bounds.from(1),
            List.of("any"),
            Simpler.LOWER,
            "most splits between the root and a leaf");
    private static final Setting FOREST_LEAF_ROWS =
            Setting.whole("leaf-rows", 1, 1, Simpler.HIGHER, "least training rows of a leaf");
    private static final Setting ROUNDS = Setting.whole("rounds", 200, 1, Simpler.LOWER, "most rounds of trees");
    private static final Setting RATE = Setting.number(
            "learning-rate", "0.1", Bounds.above(0).to(1), Simpler.LOWER, "what is kept of each tree's step");
    private static final Setting SMALL_DEPTH = Setting.whole(
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
    private static final Setting BOOSTING_LEAF_ROWS =
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
    private static final Setting WATCHED = Setting.number(
            "watched",
            "0.2",
            Bounds.above(0).to(0.9),
            Simpler.NEITHER,
            "share of the training rows that patience watches, and that is not trained on");

    private static final Setting SVM_STRENGTH = Setting.number(
            "strength", "1", Bounds.above(0), Simpler.HIGHER, "weight of the penalty on standardised columns");
    private static final Setting KERNEL =
            Setting.word("kernel", "radial", List.of("linear", "radial", "polynomial"), "how alike two rows are");
    private static final Setting WIDTH = Setting.number(
                    "width",
                    "root",
                    Bounds.above(0),
                    Simpler.HIGHER,
                    "of a radial or polynomial kernel; root is the square root of the number of columns")
            .or("root");
    private static final Setting DEGREE = Setting.whole("degree", 3, 1, Simpler.LOWER, "of a polynomial kernel");
    private static final Setting SVM_FOLDS =
            Setting.whole("folds", 3, 2, Simpler.NEITHER, "inner folds, by which probabilities are calibrated");

    private static final Setting LAYERS = Setting.whole("layers", 1, 1, Simpler.LOWER, "how many hidden layers");
    private static final Setting UNITS = Setting.whole("units", 8, 1, Simpler.LOWER, "of each hidden layer");
    private static final Setting DECAY = Setting.number(
            "weight-decay", "1", Bounds.from(0), Simpler.HIGHER, "penalty on squared weights, biases not counted");
    private static final Setting STEPS = Setting.whole("steps", 200, 1, Simpler.LOWER, "most steps of descent");
    private static final Setting STEP_PATIENCE = new Setting(
            "patience",
            Setting.Type.WHOLE,
            "10",
            Bounds.from(1),
            List.of("never"),
            Simpler.NEITHER,
            "steps without gain on watched rows after which it stops");

    private static final Setting MEMBERS =
            Setting.names(ClassifierKind.MEMBERS, "names of candidates that stand above it in the plan, two or more");
    private static final Setting VOTE_BY =
            Setting.word("by", "probability", List.of("probability", "label"), "what is counted");
    private static final Setting WEIGHTS = new Setting(
            "weights",
            Setting.Type.NAMES,
            "",
            Bounds.NONE,
            List.of(),
            Simpler.NEITHER,
            "a number for each member; equal ones, if left out");
    private static final Setting SECOND = Setting.word(
            "with",
            "logistic",
            List.of("logistic", "discriminant", "nearest", "naive-bayes", "tree", "forest", "boosting"),
            "the second classifier");
    private static final Setting STACK_FOLDS = Setting.whole("folds", 5, 2, Simpler.NEITHER, "inner folds");

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
                            "maximum of the log-likelihood less strength times the sum of b^2/2 (ridge), |b| (lasso) or"
                                    + " mix |b| + (1 - mix) b^2/2 (elastic net) over all coefficients but the intercept; Newton's"
                                    + " method for two classes and L-BFGS for more, with a lasso part coordinate descent",
                            "trace of the weighted ridge hat matrix with intercept, of a lasso over its non-zero coefficients; of"
                                    + " several classes (K - 1)/K times the sum over classes",
                            "le Cessie and van Houwelingen (1992), Appl. Statist. 41(1), doi:10.2307/2347628; Tibshirani (1996), J."
                                    + " R. Stat. Soc. B 58(1); Zou and Hastie (2005), J. R. Stat. Soc. B 67(2)"),
                    List.of(PENALTY, STRENGTH, MIX),
                    ClassifierKinds::logistic,
                    Optional.of((all, training, fresh) -> Logistic.joint(
                            all.stream().map(ClassifierKinds::logistic).toList(), training))),
            new ClassifierKind(
                    "discriminant",
                    "normal densities with covariances, linear or quadratic",
                    new About(
                            "class shares times a normal density of the class's mean and of the covariance that mixes the class's own"
                                    + " with that of all classes (pooled: 1 is the linear, 0 the quadratic discriminant) and then"
                                    + " with its diagonal; columns that the ones before them determine are left out",
                            "p + 1 + (1 - pooled)(p + (1 - diagonal) p(p - 1)/2), times K - 1",
                            "Fisher (1936), Ann. Eugen. 7(2), doi:10.1111/j.1469-1809.1936.tb02137.x; Friedman (1989), J. Am. Stat."
                                    + " Assoc. 84(405), doi:10.1080/01621459.1989.10478752"),
                    List.of(POOLED, DIAGONAL),
                    s -> new Discriminant(s.number(POOLED), s.number(DIAGONAL)),
                    Optional.empty()),
            new ClassifierKind(
                    "nearest",
                    "class shares among the nearest training rows",
                    new About(
                            "the nearest training rows vote, alike or by 1/distance; rows tied at the last distance share the places"
                                    + " that are left; mixed is the mean over the columns that both rows have of |x - y|/range for"
                                    + " numbers and 0 or 1 for levels, and takes categories and gaps as they are",
                            "training rows / neighbours, times K - 1",
                            "Cover and Hart (1967), IEEE Trans. Inf. Theory 13(1), doi:10.1109/TIT.1967.1053964; mixed: Gower (1971),"
                                    + " Biometrics 27(4), doi:10.2307/2528823"),
                    List.of(NEIGHBOURS, DISTANCE, VOTES),
                    ClassifierKinds::nearest,
                    Optional.of((all, training, fresh) -> Nearest.joint(
                            all.stream().map(ClassifierKinds::nearest).toList(), training))),
            new ClassifierKind(
                    "naive-bayes",
                    "normal densities and level shares, column by column",
                    new About(
                            "class shares times, column by column, a normal density of the class's mean and variance (or a sum of"
                                    + " normal kernels of width 0.9 min(sd, IQR/1.34) n^(-1/5)), or the class's share of the level; the"
                                    + " variance, or squared width, is at least least-variance times the column's; a missing or"
                                    + " unseen value says nothing; a class without values of a column has the mean and variance of"
                                    + " all classes, and even shares of levels",
                            "1 + 2 per number column (with kernels, their equivalent number) + levels - 1 per category column,"
                                    + " times K - 1",
                            "Duda and Hart (1973), Pattern Classification and Scene Analysis, chapter 2; kernels: John and Langley"
                                    + " (1995), UAI; their width: Silverman (1986), Density Estimation"),
                    List.of(DENSITY, PSEUDO_COUNT, LEAST_VARIANCE),
                    s -> new NaiveBayes(
                            s.number(PSEUDO_COUNT), s.text(DENSITY).equals("kernel"), s.number(LEAST_VARIANCE)),
                    Optional.empty()),
            new ClassifierKind(
                    "tree",
                    "a classification tree, pruned by cost and complexity",
                    new About(
                            "binary splits, each at the column and threshold that lower the impurity most; then weakest links are"
                                    + " cut while they lower it by at most pruning a leaf; a leaf gives its class shares; columns of"
                                    + " more than bins values are cut at as many quantiles of the training rows first",
                            "leaves, times K - 1",
                            "Breiman, Friedman, Olshen and Stone (1984), Classification and Regression Trees"),
                    List.of(IMPURITY, DEPTH, LEAF_ROWS, PRUNING, BINS),
                    ClassifierKinds::tree,
                    Optional.of((all, training, fresh) ->
                            Tree.joint(all.stream().map(ClassifierKinds::tree).toList(), training))),
            new ClassifierKind(
                    "forest",
                    "many trees on drawn rows, each split looking at a few drawn columns",
                    new About(
                            "the mean of the leaves' class shares over trees that are not pruned, each grown on as many rows as there"
                                    + " are, drawn with replacement; each split looks at columns drawn anew; with thresholds: drawn,"
                                    + " each column offers one threshold alone",
                            "mean leaves of a tree, times K - 1",
                            "Breiman (2001), Mach. Learn. 45(1), doi:10.1023/A:1010933404324; drawn thresholds: Geurts, Ernst and"
                                    + " Wehenkel (2006), Mach. Learn. 63(1), doi:10.1007/s10994-006-6226-1"),
                    List.of(TREES, LOOKED_AT, THRESHOLDS, BAGGED, IMPURITY, ANY_DEPTH, FOREST_LEAF_ROWS, BINS),
                    ClassifierKinds::forest,
                    Optional.of((all, training, fresh) -> Forest.joint(
                            all.stream().map(ClassifierKinds::forest).toList(), training, fresh))),
            new ClassifierKind(
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
                            RATE,
                            SMALL_DEPTH,
                            LEAVES,
                            BOOSTING_LEAF_ROWS,
                            RIDGE,
                            ROW_SHARE,
                            COLUMN_SHARE,
                            PATIENCE,
                            WATCHED,
                            BINS),
                    ClassifierKinds::boosting,
                    Optional.of((all, training, fresh) -> Boosting.joint(
                            all.stream().map(ClassifierKinds::boosting).toList(), training, fresh))),
            new ClassifierKind(
                    "svm",
                    "support vector machine: the widest soft margin between two classes, linear or with a kernel",
                    new About(
                                    "f minimises the sum of weight max(0, 1 - y f(x)) and strength/2 |w|^2; kernels x.z, exp(-|x -"
                                            + " z|^2/(2 width^2)) and (1 + x.z/width^2)^degree; of several classes one f for each pair,"
                                            + " their probabilities coupled by least squares",
                                    "rows on the margin + 1, with a linear kernel at most p + 1, and 2 for the calibration; of several"
                                            + " classes the mean over pairs; times K - 1",
                                    "Cortes and Vapnik (1995), Mach. Learn. 20(3), doi:10.1007/BF00994018; Platt (1999), Advances in Large"
                                            + " Margin Classifiers; Wu, Lin and Weng (2004), J. Mach. Learn. Res. 5")
                            .probabilitiesFrom("a calibration, by inner folds of the training rows"),
                    List.of(SVM_STRENGTH, KERNEL, WIDTH, DEGREE, SVM_FOLDS),
                    ClassifierKinds::svm,
                    Optional.of((all, training, fresh) ->
                            Svm.joint(all.stream().map(ClassifierKinds::svm).toList(), training, fresh))),
            new ClassifierKind(
                    "network",
                    "a feed-forward network with hidden layers of tanh units",
                    new About(
                            "minimum of the log-loss summed over rows plus weight-decay/2 times the sum of squared weights, a = tanh(W a +"
                                    + " b) layer by layer, softmax at the end; limited-memory BFGS on all rows from weights"
                                    + " drawn normal with variance 1/inputs; with patience, the weights that served watched rows"
                                    + " best are kept",
                            "weights and biases",
                            "Rumelhart, Hinton and Williams (1986), Nature 323, doi:10.1038/323533a0; weight decay: Krogh and Hertz"
                                    + " (1992), NIPS 4; early stopping: Prechelt (1998), Neural Networks: Tricks of the Trade"),
                    List.of(LAYERS, UNITS, DECAY, STEPS, STEP_PATIENCE, WATCHED),
                    s -> new Network(
                            s.whole(LAYERS),
                            s.whole(UNITS),
                            s.number(DECAY),
                            s.whole(STEPS),
                            s.text(STEP_PATIENCE).equals("never") ? 0 : s.whole(STEP_PATIENCE),
                            s.number(WATCHED)),
                    Optional.empty()),
            new ClassifierKind(
                    "vote",
                    "other candidates of the plan vote",
                    new About(
                            "each member is trained as it is when it stands alone, tuning and wrappers included; by probability a class"
                                    + " gets the weighted mean of what they give it, by label the weighted share of those whose most"
                                    + " probable class it is",
                            "that of the largest member, and members - 1, times K - 1",
                            "Kuncheva (2004), Combining Pattern Classifiers, chapters 4 and 5"),
                    List.of(MEMBERS, VOTE_BY, WEIGHTS),
                    s -> new Vote(
                            s.text(VOTE_BY).equals("label"),
                            s.names(WEIGHTS).stream()
                                    .map(ClassifierKinds::weight)
                                    .toList()),
                    Optional.empty(),
                    ClassifierKind.Input.MEMBERS),
            new ClassifierKind(
                    "stack",
                    "a second classifier learns from what other candidates of the plan predict",
                    new About(
                            "inner folds of the training rows give each member's predictions of rows that it was not trained on; these,"
                                    + " the probabilities of all classes but the first, are the columns of the second classifier, with"
                                    + " its presets and the steps that it needs; members are then trained on all training rows",
                            "that of the largest member, and that of the second classifier",
                            "Wolpert (1992), Neural Networks 5(2), doi:10.1016/S0893-6080(05)80023-1"),
                    List.of(MEMBERS, SECOND, STACK_FOLDS),
                    s -> of(s.text(SECOND)).orElseThrow().make(Settings.none()),
                    Optional.empty(),
                    ClassifierKind.Input.MEMBERS_OUT_OF_FOLD));

    private ClassifierKinds() {}

    private static double weight(String text) {
        Checks.that(text.matches("[0-9]+(\\.[0-9]+)?"), "weights: %s: expected numbers of at least 0", text);
        return Double.parseDouble(text);
    }

    private static Logistic logistic(Settings s) {
        String penalty = s.text(PENALTY);
        Checks.that(
                penalty.equals("elastic-net") || !s.values().containsKey(MIX.name()),
                "mix says nothing to penalty %s: it is for elastic-net",
                penalty);
        double mix = penalty.equals("ridge") ? 0 : penalty.equals("lasso") ? 1 : s.number(MIX);
        return new Logistic(s.number(STRENGTH), mix);
    }

    private static Svm svm(Settings s) {
        String kernel = s.text(KERNEL);
        Checks.that(
                !kernel.equals("linear") || !s.values().containsKey(WIDTH.name()),
                "width says nothing to kernel linear: it is for radial and polynomial");
        Checks.that(
                kernel.equals("polynomial") || !s.values().containsKey(DEGREE.name()),
                "degree says nothing to kernel %s: it is for polynomial",
                kernel);
        return new Svm(
                s.number(SVM_STRENGTH),
                Svm.Shape.valueOf(kernel.toUpperCase(Locale.ROOT)),
                s.text(WIDTH).equals("root") ? 0 : s.number(WIDTH),
                s.whole(DEGREE),
                s.whole(SVM_FOLDS));
    }

    private static Tree tree(Settings s) {
        return new Tree(
                Tree.Impurity.valueOf(s.text(IMPURITY).toUpperCase(Locale.ROOT)),
                s.whole(DEPTH),
                s.number(LEAF_ROWS),
                s.number(PRUNING),
                s.whole(BINS));
    }

    private static Nearest nearest(Settings s) {
        return new Nearest(
                s.whole(NEIGHBOURS),
                Nearest.Distance.valueOf(s.text(DISTANCE).toUpperCase(Locale.ROOT)),
                s.text(VOTES).equals("by-distance"));
    }

    private static Forest forest(Settings s) {
        return new Forest(
                s.whole(TREES),
                s.text(LOOKED_AT).equals("root") ? 0 : s.number(LOOKED_AT),
                s.text(ANY_DEPTH).equals("any") ? Integer.MAX_VALUE : s.whole(ANY_DEPTH),
                s.whole(FOREST_LEAF_ROWS),
                Tree.Impurity.valueOf(s.text(IMPURITY).toUpperCase(Locale.ROOT)),
                s.yes(BAGGED),
                s.text(THRESHOLDS).equals("drawn"),
                s.whole(BINS));
    }

    private static Boosting boosting(Settings s) {
        return new Boosting(
                s.whole(ROUNDS),
                new GradientGrower.Growth(
                        s.text(SMALL_DEPTH).equals("any") ? Integer.MAX_VALUE : s.whole(SMALL_DEPTH),
                        s.text(LEAVES).equals("any") ? Integer.MAX_VALUE : s.whole(LEAVES),
                        s.whole(BOOSTING_LEAF_ROWS),
                        s.number(RIDGE),
                        s.number(RATE)),
                s.number(ROW_SHARE),
                s.number(COLUMN_SHARE),
                s.text(PATIENCE).equals("never") ? 0 : s.whole(PATIENCE),
                s.number(WATCHED),
                s.whole(BINS));
    }

    /**
     * Returns all kinds, the simplest first, those from outside last.
     *
     * @throws IllegalArgumentException if a plug-in cannot be used, with the reason
     */
    public static List<ClassifierKind> all() {
        return Stream.concat(ALL.stream(), Outside.kinds().stream()).toList();
    }

    /**
     * Returns the kind of a name.
     *
     * @throws IllegalArgumentException if none of the core has that name and a plug-in cannot be used, with the reason
     */
    public static Optional<ClassifierKind> of(String name) {
        return ALL.stream()
                .filter(k -> k.name().equals(name))
                .findFirst()
                // Plug-ins are looked for only when they are wanted.
                .or(() -> Outside.kinds().stream()
                        .filter(k -> k.name().equals(name))
                        .findFirst());
    }

    /** Kinds from outside the core, found once. */
    private static final class Outside {
        private static Optional<List<ClassifierKind>> found = Optional.empty();

        private Outside() {}

        static synchronized List<ClassifierKind> kinds() {
            if (found.isEmpty()) {
                found = Optional.of(find(ServiceLoader.load(MoreClassifiers.class)));
            }
            return found.get();
        }
    }

    /** Gathers the kinds of plug-ins, refusing names that are taken. */
    static List<ClassifierKind> find(Iterable<MoreClassifiers> sources) {
        List<ClassifierKind> kinds = new ArrayList<>();
        try {
            for (MoreClassifiers source : sources) {
                for (ClassifierKind kind : source.kinds()) {
                    Checks.that(
                            Stream.concat(ALL.stream(), kinds.stream())
                                    .noneMatch(k -> k.name().equals(kind.name())),
                            "the plug-in %s brings a classifier called \"%s\", but there is one of that name already",
                            source.getClass().getName(),
                            kind.name());
                    Checks.that(
                            kind.name().matches("[a-z][a-z0-9-]*"),
                            "the plug-in %s brings a classifier called \"%s\": a name is made of small letters, digits"
                                    + " and hyphens",
                            source.getClass().getName(),
                            kind.name());
                    kinds.add(kind);
                }
            }
        } catch (ServiceConfigurationError | LinkageError e) {
            throw new IllegalArgumentException("a plug-in cannot be loaded: " + e.getMessage(), e);
        }
        kinds.sort(Comparator.comparing(ClassifierKind::name));
        return List.copyOf(kinds);
    }
}

package keenfold.core.classify.bayes;

import java.util.List;
import java.util.Optional;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;

/** The kind of {@link NaiveBayes}: settings, presets and how it is made. */
public final class NaiveBayesKind {
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

    /** The kind. */
    public static final ClassifierKind KIND = new ClassifierKind(
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
                    Optional.empty())
            .inTier(2, "one distribution per column and class");

    private NaiveBayesKind() {}
}

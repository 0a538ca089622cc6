package keenfold.core.classify.discriminant;

import java.util.List;
import java.util.Optional;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;

/** The kind of {@link Discriminant}: settings, presets and how it is made. */
public final class DiscriminantKind {
    private static final Setting POOLED = Setting.number(
            "pooled", "1", Bounds.from(0).to(1), Simpler.HIGHER, "share of all classes' covariance in each class's");
    private static final Setting DIAGONAL = Setting.number(
            "diagonal", "0", Bounds.from(0).to(1), Simpler.HIGHER, "share of its diagonal in each covariance");

    /** The kind. */
    public static final ClassifierKind KIND = new ClassifierKind(
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
                    Optional.empty())
            .inTier(2, "a mean per column and class, and how the columns vary together");

    private DiscriminantKind() {}
}

package keenfold.core.classify.baseline;

import java.util.List;
import java.util.Optional;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.prepare.About;

/** The kind of {@link Majority}. */
public final class MajorityKind {

    /** The kind. */
    public static final ClassifierKind KIND = new ClassifierKind(
                    "majority",
                    "the class shares, whatever the row",
                    new About(
                            "each row gets the weighted class shares of the training rows",
                            "1, times K - 1",
                            "Holte (1993), Mach. Learn. 11, doi:10.1023/A:1022631118932 (as the baseline)"),
                    List.of(),
                    s -> new Majority(),
                    Optional.empty())
            .inTier(1, "one set of class shares for every row");

    private MajorityKind() {}
}

package keenfold.core.classify.ensemble;

import java.util.List;
import java.util.Optional;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.data.Checks;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;

/** The kind of {@link Vote}: settings, presets and how it is made. */
public final class VoteKind {
    /** A setting that others have too. */
    public static final Setting MEMBERS = Setting.names(
            ClassifierKind.MEMBERS,
            "names of candidates, or of families with all their members, that stand above it in the plan; two or more candidates");

    private static final Setting BY =
            Setting.word("by", "probability", List.of("probability", "label"), "what is counted");
    private static final Setting WEIGHTS = new Setting(
            "weights",
            Setting.Type.NAMES,
            "",
            Bounds.NONE,
            List.of(),
            Simpler.NEITHER,
            "a number for each member; equal ones, if left out");

    /** The kind. */
    public static final ClassifierKind KIND = new ClassifierKind(
                    "vote",
                    "other candidates of the plan vote",
                    new About(
                            "each member is trained as it is when it stands alone, tuning and wrappers included; by probability a class"
                                    + " gets the weighted mean of what they give it, by label the weighted share of those whose most"
                                    + " probable class it is",
                            "that of the largest member, and members - 1, times K - 1",
                            "Kuncheva (2004), Combining Pattern Classifiers, chapters 4 and 5"),
                    List.of(MEMBERS, BY, WEIGHTS),
                    s -> new Vote(
                            s.text(BY).equals("label"),
                            s.names(WEIGHTS).stream().map(VoteKind::weight).toList()),
                    Optional.empty(),
                    ClassifierKind.Input.MEMBERS)
            .inTier(6, "several models at once");

    private VoteKind() {}

    private static double weight(String text) {
        Checks.that(text.matches("[0-9]+(\\.[0-9]+)?"), "weights: %s: expected numbers of at least 0", text);
        return Double.parseDouble(text);
    }
}

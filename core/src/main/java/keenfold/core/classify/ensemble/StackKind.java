package keenfold.core.classify.ensemble;

import java.util.List;
import java.util.Optional;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.Settings;

/** Stacking: a classifier that learns from what other candidates predict. */
public final class StackKind {
    private static final Setting FOLDS = Setting.whole("folds", 5, 2, Simpler.NEITHER, "inner folds");

    private StackKind() {}

    /**
     * Returns the kind.
     *
     * @param seconds the kinds that the second classifier can be of, the preset first
     */
    public static ClassifierKind of(List<ClassifierKind> seconds) {
        List<String> names = seconds.stream().map(ClassifierKind::name).toList();
        Setting with = Setting.word("with", names.get(0), names, "the second classifier");
        return new ClassifierKind(
                        "stack",
                        "a second classifier learns from what other candidates of the plan predict",
                        new About(
                                "inner folds of the training rows give each member's predictions of rows that it was not trained on; these,"
                                        + " the probabilities of all classes but the first, are the columns of the second classifier, with"
                                        + " its presets and the steps that it needs; members are then trained on all training rows",
                                "that of the largest member, and that of the second classifier",
                                "Wolpert (1992), Neural Networks 5(2), doi:10.1016/S0893-6080(05)80023-1"),
                        List.of(VoteKind.MEMBERS, with, FOLDS),
                        s -> seconds.get(names.indexOf(s.text(with))).make(Settings.none()),
                        Optional.empty(),
                        ClassifierKind.Input.MEMBERS_OUT_OF_FOLD)
                .inTier(6, "several models at once");
    }
}

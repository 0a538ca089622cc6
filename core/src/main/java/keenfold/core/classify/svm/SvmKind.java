package keenfold.core.classify.svm;

import java.util.List;
import java.util.Optional;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.data.Checks;
import keenfold.core.learned.SupportVectors;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.Settings;

/** The kind of {@link Svm}: settings, presets and how it is made. */
public final class SvmKind {
    private static final Setting STRENGTH = Setting.number(
            "strength", "1", Bounds.above(0), Simpler.HIGHER, "weight of the penalty on standardised columns");
    private static final Setting KERNEL =
            Setting.word("kernel", "radial", List.of("linear", "radial", "polynomial"), "how alike two rows are");
    private static final Setting WIDTH = Setting.number(
                    "width",
                    "root",
                    Bounds.above(0),
                    Simpler.HIGHER,
                    "of a radial or polynomial kernel; root is the square root of the number of columns")
            .or("root")
            .unless("kernel", "linear");
    private static final Setting DEGREE = Setting.whole("degree", 3, 1, Simpler.LOWER, "of a polynomial kernel")
            .onlyWhere("kernel", "polynomial");
    private static final Setting FOLDS =
            Setting.whole("folds", 3, 2, Simpler.NEITHER, "inner folds, by which probabilities are calibrated");

    /** The kind. */
    public static final ClassifierKind KIND = new ClassifierKind(
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
                    List.of(STRENGTH, KERNEL, WIDTH, DEGREE, FOLDS),
                    SvmKind::svm,
                    Optional.of((all, training, fresh) ->
                            Svm.joint(all.stream().map(SvmKind::svm).toList(), training, fresh)))
            .inTier(5, "many weights, none of which means anything alone");

    private SvmKind() {}

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
                s.number(STRENGTH),
                s.constant(KERNEL, SupportVectors.Shape.class),
                s.text(WIDTH).equals("root") ? 0 : s.number(WIDTH),
                s.whole(DEGREE),
                s.whole(FOLDS));
    }
}

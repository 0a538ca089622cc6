package keenfold.core.classify.linear;

import java.util.List;
import java.util.Optional;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.data.Checks;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.Settings;

/** The kind of {@link Logistic}: settings, presets and how it is made. */
public final class LogisticKind {
    private static final Setting STRENGTH = Setting.number(
            "strength", "1", Bounds.from(0), Simpler.HIGHER, "weight of the penalty on standardised columns");
    private static final Setting PENALTY = Setting.word(
            "penalty", "ridge", List.of("ridge", "lasso", "elastic-net"), "squares, absolute values, or both");
    private static final Setting MIX = Setting.number(
                    "mix", "0.5", Bounds.from(0).to(1), Simpler.NEITHER, "share of the lasso in an elastic net")
            .onlyWhere("penalty", "elastic-net");

    /** The kind. */
    public static final ClassifierKind KIND = new ClassifierKind(
                    "logistic",
                    "logistic regression, multinomial for three or more classes",
                    new About(
                            "maximum of the log-likelihood less strength times the sum of b^2/2 (ridge), |b| (lasso) or"
                                    + " mix |b| + (1 - mix) b^2/2 (elastic net) over all coefficients but the intercept; Newton's"
                                    + " method, for several classes by conjugate gradients; with a lasso part coordinate descent"
                                    + " finds the coefficients that are 0",
                            "trace of the weighted ridge hat matrix with intercept, of a lasso over its non-zero coefficients; of"
                                    + " several classes (K - 1)/K times the sum over classes",
                            "le Cessie and van Houwelingen (1992), Appl. Statist. 41(1), doi:10.2307/2347628; Tibshirani (1996), J."
                                    + " R. Stat. Soc. B 58(1); Zou and Hastie (2005), J. R. Stat. Soc. B 67(2)"),
                    List.of(PENALTY, STRENGTH, MIX),
                    LogisticKind::logistic,
                    Optional.of((all, training, fresh) -> Logistic.joint(
                            all.stream().map(LogisticKind::logistic).toList(), training)))
            .inTier(2, "one weight per column");

    private LogisticKind() {}

    private static Logistic logistic(Settings s) {
        String penalty = s.text(PENALTY);
        Checks.that(
                penalty.equals("elastic-net") || !s.values().containsKey(MIX.name()),
                "mix says nothing to penalty %s: it is for elastic-net",
                penalty);
        double mix = penalty.equals("ridge") ? 0 : penalty.equals("lasso") ? 1 : s.number(MIX);
        return new Logistic(s.number(STRENGTH), mix);
    }
}

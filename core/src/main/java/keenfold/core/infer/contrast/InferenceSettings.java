package keenfold.core.infer.contrast;

import java.util.Optional;
import keenfold.core.data.Checks;
import keenfold.core.infer.resample.Pivot;
import keenfold.core.run.Halving;

/**
 * How differences are tested.
 *
 * @param draws bootstrap resamples, B
 * @param level of intervals, such as 0.95; 1 − level is the error rate of the calls
 * @param margin differences strictly within ± margin count as equivalent; 0 for none; in the metric's own unit
 * @param against the one candidate that all others were to be compared with from the outset, if the plan names one
 * @param method how differences are tested
 * @param adjust how p-values are adjusted, if not as the method does
 * @param halving how many halves of the rows the candidates are run on too
 * @param marginAfterwards whether the margin was set when results could be seen already
 */
public record InferenceSettings(
        int draws,
        double level,
        double margin,
        Optional<String> against,
        Method method,
        Optional<Adjust> adjust,
        Halving halving,
        boolean marginAfterwards) {
    /** 5000 draws, 95 %, no margin, all pairs. */
    public static final InferenceSettings DEFAULT = new InferenceSettings(5000, 0.95, 0, Optional.empty());

    private static final int LEAST_DRAWS = 100;

    /** Returns evidence by the preset method, without halves. */
    public InferenceSettings(int draws, double level, double margin, Optional<String> against) {
        this(draws, level, margin, against, Method.PIVOT, Optional.empty(), Halving.NONE);
    }

    /** Returns evidence whose margin, if there is one, was set beforehand. */
    public InferenceSettings(
            int draws,
            double level,
            double margin,
            Optional<String> against,
            Method method,
            Optional<Adjust> adjust,
            Halving halving) {
        this(draws, level, margin, against, method, adjust, halving, false);
    }

    /** Checks the ranges. */
    public InferenceSettings {
        Checks.atLeast("draws", draws, LEAST_DRAWS);
        Checks.share("level", level);
        Checks.that(level >= 0.5, "level = %s: expected at least 0.5, such as 0.95", level);
        Checks.atLeast("margin", margin, 0);
        Checks.that(
                method == Method.PIVOT || adjust.filter(a -> a == Adjust.MAX_T).isEmpty(),
                "adjust = max-t needs the draws of method pivot; with %s use holm or none",
                method.label());
        Checks.that(
                Pivot.rank(level, draws) <= draws,
                "draws = %d: too few for a level of %s; ask for at least %d",
                draws,
                level,
                (int) Math.ceil(level / (1 - level)));
    }

    /** Returns how p-values are adjusted. */
    public Adjust adjustment() {
        return adjust.orElse(method.preset());
    }

    /** Returns the same with another number of draws. */
    public InferenceSettings withDraws(int other) {
        return new InferenceSettings(other, level, margin, against, method, adjust, halving, marginAfterwards);
    }

    /** Returns the same with another level. */
    public InferenceSettings withLevel(double other) {
        return new InferenceSettings(draws, other, margin, against, method, adjust, halving, marginAfterwards);
    }

    /** Returns the same with another margin. */
    public InferenceSettings withMargin(double other) {
        return new InferenceSettings(draws, level, other, against, method, adjust, halving, marginAfterwards);
    }

    /** Returns the same with another method, adjusted as asked or as the method does. */
    public InferenceSettings withMethod(Method other, Optional<Adjust> asked) {
        return new InferenceSettings(draws, level, margin, against, other, asked, halving, marginAfterwards);
    }

    /** Returns the same with other runs on halves. */
    public InferenceSettings withHalving(Halving other) {
        return new InferenceSettings(draws, level, margin, against, method, adjust, other, marginAfterwards);
    }

    /** Returns the same with another candidate to compare with, or none. */
    public InferenceSettings withAgainst(Optional<String> other) {
        return new InferenceSettings(draws, level, margin, other, method, adjust, halving, marginAfterwards);
    }

    /** Returns the same with a margin that was set when results could be seen already. */
    public InferenceSettings withMarginAfterwards() {
        return new InferenceSettings(draws, level, margin, against, method, adjust, halving, true);
    }
}

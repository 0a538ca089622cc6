package keenfold.core.prepare.step;

import java.util.List;
import keenfold.core.learned.ColumnTransform;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;

/**
 * Draws in the far values of number columns by a logarithm that takes any number.
 *
 * <p>Definition: sign(x)·ln(1 + |x|/unit), the modulus transformation of John and Draper (1980), Appl. Statist. 29(2),
 * doi:10.2307/2986305, with exponent 0. It learns nothing.
 *
 * @param unit about where it goes over from straight to logarithmic, above 0
 */
record Log(double unit, Some some) implements StepOnSome {
    private static final Setting UNIT = Setting.number(
            "unit", "1", Bounds.above(0), Simpler.NEITHER, "about where straight goes over into logarithmic");

    /** The kind. */
    static final StepKind KIND = new StepKind(
            "log",
            "draws in far values by a logarithm that takes any number",
            new About(
                    "sign(x) ln(1 + |x|/unit); learns nothing",
                    "",
                    "John and Draper (1980), Appl. Statist. 29(2), doi:10.2307/2986305"),
            false,
            List.of(UNIT, Some.COLUMNS),
            s -> new Log(s.number(UNIT), Some.of(s)));

    @Override
    public LearnedStep fit(Training training) {
        return EachColumn.fit(training, some, n -> new ColumnTransform.Logged(unit), k -> ColumnTransform.KEEP);
    }
}

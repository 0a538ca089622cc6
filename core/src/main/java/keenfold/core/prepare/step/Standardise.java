package keenfold.core.prepare.step;

import java.util.List;
import keenfold.core.learned.ColumnTransform;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.About;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;

/**
 * Shifts and scales each number column to mean 0 and standard deviation 1 over the training rows.
 *
 * <p>Definition: (x − m)/s with m the weighted mean and s² = Σw(x − m)²/Σw over the values that are not missing. A
 * column that is constant in the training rows is dropped: it tells nothing, and a test value off it would be measured on
 * no scale.
 */
record Standardise(Some some) implements StepOnSome {
    /** The kind. */
    static final StepKind KIND = new StepKind(
            "standardise",
            "gives number columns mean 0 and standard deviation 1",
            new About(
                    "(x - m)/s with the weighted mean m and standard deviation s of the training rows (divisor n); columns"
                            + " that are constant there are dropped",
                    "",
                    ""),
            false,
            List.of(Some.COLUMNS),
            s -> new Standardise(Some.of(s)));

    @Override
    public LearnedStep fit(Training training) {
        return EachColumn.fit(
                training,
                some,
                n -> {
                    Moments m = Moments.of(n, training).finite(n.name());
                    return m.varies() ? new ColumnTransform.Standardised(m.mean(), m.sd()) : ColumnTransform.DROP;
                },
                k -> ColumnTransform.KEEP);
    }
}

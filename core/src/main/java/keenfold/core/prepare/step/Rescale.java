package keenfold.core.prepare.step;

import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.learned.ColumnTransform;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;

/**
 * Moves each number column to run from {@code low} to {@code high} over the training rows.
 *
 * <p>Definition: low + (high − low)·(x − least)/(greatest − least). Values beyond the training rows' land beyond the ends.
 * A column that is constant in the training rows is dropped.
 */
record Rescale(double low, double high, Some some) implements StepOnSome {
    private static final Setting LOW =
            Setting.number("low", "0", Bounds.NONE, Simpler.NEITHER, "what the least value becomes");
    private static final Setting HIGH =
            Setting.number("high", "1", Bounds.NONE, Simpler.NEITHER, "what the greatest value becomes");

    /** The kind. */
    static final StepKind KIND = new StepKind(
            "rescale",
            "moves number columns to run from 0 to 1",
            new About(
                    "low + (high - low)(x - least)/(greatest - least) of the training rows; other rows may land beyond the"
                            + " ends; columns that are constant there are dropped",
                    "",
                    ""),
            false,
            List.of(LOW, HIGH, Some.COLUMNS),
            s -> new Rescale(s.number(LOW), s.number(HIGH), Some.of(s)));

    Rescale {
        if (!(low < high)) {
            throw Checks.wrong("rescale: low = " + low + " is not below high = " + high);
        }
    }

    @Override
    public LearnedStep fit(Training training) {
        return EachColumn.fit(
                training,
                some,
                n -> {
                    Moments m = Moments.of(n, training);
                    return m.varies()
                            ? new ColumnTransform.Rescaled(low, high, m.low(), m.high())
                            : ColumnTransform.DROP;
                },
                k -> ColumnTransform.KEEP);
    }
}

package keenfold.core.prepare.step;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import keenfold.core.data.Column;
import keenfold.core.learned.ColumnTransform;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.Step;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;

/**
 * Takes away columns that hardly vary in the training rows: those of which one value has at least {@code share} of the
 * weight of all values. Missing values do not count; a column without any value goes.
 *
 * @param share above 0, at most 1; 1 takes away constant columns alone
 */
record DropConstant(double share) implements Step {
    private static final Setting SHARE = Setting.number(
            "share", "1", Bounds.above(0).to(1), Simpler.LOWER, "least share of one value in a column that goes");

    /** The kind. */
    static final StepKind KIND = new StepKind(
            "drop-constant",
            "takes away columns that hardly vary",
            new About(
                    "columns of which one value has at least the share of all values that are not missing in the training"
                            + " rows",
                    "",
                    ""),
            false,
            List.of(SHARE),
            s -> new DropConstant(s.number(SHARE)));

    @Override
    public LearnedStep fit(Training training) {
        return EachColumn.fit(
                training, new Some(java.util.List.of()), n -> change(n, training), k -> change(k, training));
    }

    private ColumnTransform change(Column column, Training training) {
        Map<Object, Double> weights = new HashMap<>();
        double total = 0;
        double most = 0;
        for (int i = 0; i < column.rows(); i++) {
            if (!column.missing(i)) {
                int row = i;
                // 0.0 turns −0 into 0, which is the same number.
                Object value = column.match(n -> n.get(row) + 0.0, k -> k.code(row));
                most = Math.max(most, weights.merge(value, training.weight(i), Double::sum));
                total += training.weight(i);
            }
        }
        return weights.size() < 2 || (share < 1 && most >= share * total) ? ColumnTransform.DROP : ColumnTransform.KEEP;
    }
}

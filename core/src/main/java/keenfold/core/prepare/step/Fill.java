package keenfold.core.prepare.step;

import java.util.List;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;
import keenfold.core.data.WeightedSort;
import keenfold.core.learned.ColumnTransform;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;

/**
 * Puts something into missing values.
 *
 * <p>Definition: numbers get the weighted mean, median or mode of the training rows, or a constant. The weighted median is
 * the value at half of the total weight, the mean of two neighbours where the half falls between them; of equally frequent
 * values or levels, the first in order. Categories get their mode, or with {@code CONSTANT} a level of its own. A column
 * without any value in the training rows is filled with 0, or with its first level. With {@code mark}, a column that has
 * gaps in the training rows is followed by one of zeros and ones, the ones at the gaps.
 *
 * @param value for numbers, if constant
 * @param level for categories, if constant
 */
record Fill(With with, double value, String level, boolean mark, Some some) implements StepOnSome {
    private static final Setting WITH = Setting.word(
            "with",
            "median",
            List.of("median", "mean", "mode", "constant"),
            "what numbers get; categories get their mode, or with constant a level of its own");
    private static final Setting VALUE =
            Setting.number("value", "0", Bounds.NONE, Simpler.NEITHER, "with constant: what numbers get");
    private static final Setting LEVEL = Setting.text("level", "missing", "with constant: what categories get");
    private static final Setting MARK =
            Setting.choice("mark", false, "whether a column of zeros and ones says where the gaps were");

    /** The kind. */
    static final StepKind KIND = new StepKind(
            "fill",
            "puts something into missing values",
            new About(
                    "numbers: the training rows' weighted median, mean or mode, or a constant; categories: their mode, the"
                            + " first in code point order among equals, or a level of its own; a column without any value:"
                            + " 0, or its first level",
                    "",
                    ""),
            false,
            List.of(WITH, VALUE, LEVEL, MARK, Some.COLUMNS),
            s -> new Fill(s.constant(WITH, Fill.With.class), s.number(VALUE), s.text(LEVEL), s.yes(MARK), Some.of(s)));

    /** What is put in. */
    enum With {
        MEDIAN,
        MEAN,
        MODE,
        CONSTANT
    }

    @Override
    public boolean makesColumns() {
        return mark;
    }

    @Override
    public boolean leaves(Table table) {
        return table.columns().stream().allMatch(c -> c.countMissing() == 0);
    }

    @Override
    public LearnedStep fit(Training training) {
        return EachColumn.fit(
                training, some, n -> marked(n, numbers(n, training)), k -> marked(k, categories(k, training)));
    }

    private ColumnTransform marked(Column column, ColumnTransform fill) {
        return !mark || column.countMissing() == 0 ? fill : new ColumnTransform.Marked(fill);
    }

    private ColumnTransform numbers(Numbers column, Training training) {
        double found =
                switch (with) {
                    case MEDIAN -> WeightedSort.median(column.toArray(), training.weights());
                    case MEAN -> Moments.of(column, training).mean();
                    case MODE -> mode(column, training);
                    case CONSTANT -> value;
                };
        double put = Double.isNaN(found) ? 0 : found;
        return new ColumnTransform.FilledNumber(put);
    }

    private static double mode(Numbers column, Training training) {
        int[] order = WeightedSort.order(column.toArray());
        double best = Double.NaN;
        double most = 0;
        double sum = 0;
        for (int i = 0; i < order.length; i++) {
            double x = column.get(order[i]);
            sum = i > 0 && column.get(order[i - 1]) == x ? sum : 0;
            sum += training.weight(order[i]);
            if (sum > most) {
                most = sum;
                best = x;
            }
        }
        return best;
    }

    private ColumnTransform categories(Categories column, Training training) {
        if (with == With.CONSTANT) {
            return new ColumnTransform.NewLevel(level);
        }
        double[] sums = new double[column.levels().size()];
        for (int i = 0; i < column.rows(); i++) {
            if (!column.missing(i)) {
                sums[column.code(i)] += training.weight(i);
            }
        }
        int best = sums.length == 0 ? -1 : 0;
        for (int code = 1; code < sums.length; code++) {
            if (sums[code] > sums[best]) {
                best = code;
            }
        }
        return new ColumnTransform.FilledLevel(best);
    }
}

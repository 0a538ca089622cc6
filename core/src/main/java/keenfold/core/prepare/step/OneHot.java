package keenfold.core.prepare.step;

import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Lists;
import keenfold.core.data.Table;
import keenfold.core.learned.ColumnTransform;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;

/**
 * Turns each category column into columns of zeros and ones, one per level seen in the training rows; a column of two
 * such levels becomes one, for the later level, and a column of one level or none is dropped.
 *
 * <p>A level that training rows did not show, or in fewer than {@code rare} of them, gives zeros; a missing value gives
 * missing values. New columns are named {@code column=level}.
 *
 * @param rare the least training rows of a level that gets a column
 */
record OneHot(int rare, Some some) implements StepOnSome {
    private static final Setting RARE = Setting.whole(
            "rare", 1, 1, Simpler.HIGHER, "least training rows of a level that gets a column; rarer ones give zeros");

    /** The kind. */
    static final StepKind KIND = new StepKind(
            "one-hot",
            "turns categories into columns of zeros and ones",
            new About(
                    "one column per level that the training rows show, one for two levels, none for one; a level they do not"
                            + " show gives zeros",
                    "",
                    ""),
            false,
            List.of(RARE, Some.COLUMNS),
            s -> new OneHot(s.whole(RARE), Some.of(s)));

    @Override
    public boolean makesColumns() {
        return true;
    }

    @Override
    public boolean leaves(Table table) {
        return EachColumn.numbersAlone(table);
    }

    @Override
    public LearnedStep fit(Training training) {
        return EachColumn.fit(
                training,
                some,
                n -> ColumnTransform.KEEP,
                k -> new ColumnTransform.Indicated(Lists.of(kept(k, training))));
    }

    private int[] kept(Categories column, Training training) {
        double[] counts = new double[column.levels().size()];
        for (int i = 0; i < column.rows(); i++) {
            if (!column.missing(i)) {
                counts[column.code(i)] += training.weight(i);
            }
        }
        int[] seen = IntStream.range(0, counts.length)
                .filter(code -> counts[code] > 0)
                .toArray();
        return switch (seen.length) {
            case 0, 1 -> new int[0];
            case 2 -> counts[seen[0]] >= rare && counts[seen[1]] >= rare ? new int[] {seen[1]} : new int[0];
            default -> IntStream.of(seen).filter(code -> counts[code] >= rare).toArray();
        };
    }
}

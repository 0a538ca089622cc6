package keenfold.core.prepare;

import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Table;

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
    @Override
    public boolean makesColumns() {
        return true;
    }

    @Override
    public boolean leaves(Table table) {
        return table.columns().stream().allMatch(c -> c.match(n -> true, k -> false));
    }

    @Override
    public Fitted fit(Training training) {
        return EachColumn.fit(training, some, n -> Change.KEEP, k -> new Change.Indicated(kept(k, training)));
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

package keenfold.core.prepare;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;

/**
 * Turns each category column into one number column: the place of its level, from 1.
 *
 * <p>Levels seen in the training rows come in the order given, and else by code point or the rarest first (ties by code
 * point); the target plays no part. A level that training rows did not show gives 0; a missing value stays missing.
 *
 * @param by the order of levels where none is given
 * @param order levels from low to high; levels that it does not name count as not seen
 */
record Ordinal(By by, List<String> order, Some some) implements StepOnSome {
    /** How levels are ordered. */
    enum By {
        NAME,
        COUNT
    }

    Ordinal {
        order = List.copyOf(order);
    }

    @Override
    public Fitted fit(Training training) {
        return EachColumn.fit(training, some, n -> Change.KEEP, k -> new Change.Placed(places(k, training)));
    }

    private double[] places(Categories column, Training training) {
        double[] counts = new double[column.levels().size()];
        for (int i = 0; i < column.rows(); i++) {
            if (!column.missing(i)) {
                counts[column.code(i)] += training.weight(i);
            }
        }
        List<Integer> seen = new ArrayList<>(IntStream.range(0, counts.length)
                .filter(c -> order.isEmpty() && counts[c] > 0)
                .boxed()
                .toList());
        if (by == By.COUNT) {
            seen.sort(Comparator.comparingDouble(c -> counts[c]));
        }
        order.forEach(level -> seen.add(column.levels().indexOf(level)));
        double[] places = new double[counts.length];
        for (int i = 0; i < seen.size(); i++) {
            if (seen.get(i) >= 0) {
                places[seen.get(i)] = i + 1;
            }
        }
        return places;
    }
}

package keenfold.core.prepare.step;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Vector;
import keenfold.core.learned.ColumnTransform;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;

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
    private static final Setting BY =
            Setting.word("by", "name", List.of("name", "count"), "levels by code point, or the rarest first");
    private static final Setting ORDER = new Setting(
            "order",
            Setting.Type.NAMES,
            "",
            Bounds.NONE,
            List.of(),
            Simpler.NEITHER,
            "the levels from low to high; others count as unseen");

    /** The kind. */
    static final StepKind KIND = new StepKind(
            "ordinal",
            "turns a category column into the places of its levels",
            new About(
                    "1, 2, … for the levels of the training rows in their order, whatever the classes; 0 for a level that they"
                            + " do not show",
                    "",
                    ""),
            false,
            List.of(BY, ORDER, Some.COLUMNS),
            s -> new Ordinal(s.constant(BY, Ordinal.By.class), s.names(ORDER), Some.of(s)));

    /** How levels are ordered. */
    enum By {
        NAME,
        COUNT
    }

    Ordinal {
        order = List.copyOf(order);
    }

    @Override
    public LearnedStep fit(Training training) {
        return EachColumn.fit(
                training, some, n -> ColumnTransform.KEEP, k -> new ColumnTransform.Placed(places(k, training)));
    }

    private Vector places(Categories column, Training training) {
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
        return Vector.of(places);
    }
}

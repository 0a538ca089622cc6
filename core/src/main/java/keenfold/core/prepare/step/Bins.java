package keenfold.core.prepare.step;

import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Vector;
import keenfold.core.data.WeightedSort;
import keenfold.core.learned.ColumnTransform;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;

/**
 * Divides each number column into intervals.
 *
 * <p>Definition: bin j holds the values above edge j − 1 and up to edge j. Edges by quantiles are the values at which the
 * weight so far first reaches j/bins of the total (equal edges count once); by widths they divide the span of the training
 * rows evenly. Values beyond the training rows' fall into the first or last bin; a missing value stays missing. A column
 * that is constant in the training rows becomes one bin.
 *
 * @param bins at most so many
 * @param numbers whether a bin is a number, from 1, and not a category
 */
record Bins(int bins, By by, boolean numbers, Some some) implements StepOnSome {
    private static final Setting BINS = Setting.whole("bins", 5, 2, Simpler.LOWER, "at most so many");
    private static final Setting BY =
            Setting.word("by", "quantiles", List.of("quantiles", "widths"), "equal weights, or equal widths");
    private static final Setting AS = Setting.word(
            "as", "categories", List.of("categories", "numbers"), "what a bin becomes: a level, or its number");

    /** The kind. */
    static final StepKind KIND = new StepKind(
            "bins",
            "divides number columns into intervals",
            new About(
                    "edges at the quantiles of the training rows, equal ones once, or at equal widths; a value on an edge lies"
                            + " below it; values beyond the ends fall into the first or last bin",
                    "",
                    ""),
            false,
            List.of(BINS, BY, AS, Some.COLUMNS),
            s -> new Bins(
                    s.whole(BINS), s.constant(BY, Bins.By.class), s.text(AS).equals("numbers"), Some.of(s)));

    /** Where edges are put. */
    enum By {
        QUANTILES,
        WIDTHS
    }

    @Override
    public LearnedStep fit(Training training) {
        return EachColumn.fit(
                training,
                some,
                n -> {
                    double[] edges = by == By.QUANTILES
                            ? quantiles(n.toArray(), training.weights(), bins)
                            : widths(Moments.of(n, training));
                    return new ColumnTransform.Binned(Vector.of(edges), numbers);
                },
                k -> ColumnTransform.KEEP);
    }

    /** The inner edges by quantiles of the weighted values, rising, at most {@code bins} − 1. */
    static double[] quantiles(double[] values, double[] weights, int bins) {
        int[] order = WeightedSort.order(values);
        double total = 0;
        for (int i : order) {
            total += weights[i];
        }
        double[] edges = new double[bins - 1];
        int count = 0;
        double sum = 0;
        int j = 1;
        for (int i = 0; i < order.length; i++) {
            double x = values[order[i]];
            sum += weights[order[i]];
            boolean lastOfEqual = i + 1 == order.length || values[order[i + 1]] > x;
            // The greatest value is not an edge: nothing would lie above it.
            if (lastOfEqual && i + 1 < order.length && j < bins && sum >= total * j / bins) {
                edges[count++] = x;
                while (j < bins && sum >= total * j / bins) {
                    j++;
                }
            }
        }
        return Arrays.copyOf(edges, count);
    }

    private double[] widths(Moments m) {
        return m.varies()
                ? IntStream.range(1, bins)
                        .mapToDouble(j -> m.low() + (m.high() - m.low()) * j / bins)
                        .toArray()
                : new double[0];
    }
}

package keenfold.core.split;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.OptionalDouble;
import keenfold.core.data.Checks;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.Seed;

/**
 * Training on what came before, testing on what came next, step by step through the order of the rows.
 *
 * <p>Definition: rows sorted by their order; cut points at n·(first + j·step), each moved back to the first row of its
 * time, so that rows of one time are never divided. Split j tests the rows from cut j to cut j + 1 (the last to the end)
 * and trains on those before cut j, less a gap, and of these on a window of the latest, if there is one. Groups: training
 * rows of a group that is tested are left out. No chance is involved.
 *
 * <p>Reference: Tashman (2000), Out-of-sample tests of forecasting accuracy, Int. J. Forecasting 16(4),
 * doi:10.1016/S0169-2070(00)00065-0.
 *
 * @param first share of the rows before the first tested one, strictly between 0 and 1
 * @param step share of the rows that a split tests, above 0 and at most 1 − first
 * @param gap share of the rows left out between training and testing, from 0
 * @param window share of the rows that the training side is limited to; all that came before if empty
 */
public record RollingOrigin(double first, double step, double gap, OptionalDouble window) implements Scheme {
    /** From half of the rows on, in tenths. */
    public static final RollingOrigin DEFAULT = new RollingOrigin(0.5, 0.1, 0, OptionalDouble.empty());

    private static final List<Double> STEPS = List.of(0.02, 0.05, 0.1);
    private static final double LEAST_TESTED = 50;
    private static final double LEAST_OF_RAREST = 10;

    /**
     * Returns as many splits, up to 25, as leave each some fifty rows to test, ten of the rarest class among them.
     *
     * @param rows of the data set
     * @param rarest rows of its rarest class
     */
    public static RollingOrigin suiting(int rows, int rarest) {
        double step = STEPS.stream()
                .filter(s -> s * rows >= LEAST_TESTED && s * rarest >= LEAST_OF_RAREST)
                .findFirst()
                .orElse(DEFAULT.step());
        return new RollingOrigin(DEFAULT.first(), step, DEFAULT.gap(), DEFAULT.window());
    }

    /** Checks the ranges. */
    public RollingOrigin {
        Checks.share("first", first);
        Checks.share("step", step);
        Checks.that(
                step <= (1 - first) * (1 + 1e-9),
                "step = %s: only %s of the rows come after the first %s; ask for at most that",
                step,
                String.format(Locale.ROOT, "%.3g", 1 - first),
                first);
        Checks.that(gap >= 0 && gap < first, "gap = %s: expected a share from 0 to below first (%s)", gap, first);
        window.ifPresent(w -> Checks.share("window", w));
    }

    @Override
    public String label() {
        return "rolling-origin";
    }

    @Override
    public Splits divide(DataSet data, Blocks blocks, Seed seed) {
        Checks.that(
                data.order().isPresent(),
                "rolling-origin needs to know which rows came first; name the column of data set \"%s\" with order:",
                data.name());
        Numbers when = data.order().orElseThrow();
        int n = data.rows();
        int[] sorted = java.util.stream.IntStream.range(0, n)
                .boxed()
                .sorted((a, b) -> Double.compare(when.get(a), when.get(b)))
                .mapToInt(Integer::intValue)
                .toArray();
        int steps = (int) Math.max(1, Math.round((1 - first) / step));
        int[][] counts = new int[steps][];
        int made = 0;
        for (int j = 0; j < steps; j++) {
            int from = cut(first + j * step, sorted, when);
            int to = j == steps - 1 ? n : cut(first + (j + 1) * step, sorted, when);
            if (from < to) {
                counts[made++] = split(data, blocks, sorted, when, from, to);
            }
        }
        return Splits.sides(Splits.Form.IN_ORDER, new int[] {made}, Arrays.copyOf(counts, made));
    }

    private static int cut(double share, int[] sorted, Numbers when) {
        return back((int) Math.round(share * sorted.length), sorted, when);
    }

    /** The first position of the time that stands at a position. */
    private static int back(int position, int[] sorted, Numbers when) {
        int at = position;
        while (at > 0 && at < sorted.length && when.get(sorted[at]) == when.get(sorted[at - 1])) {
            at--;
        }
        return at;
    }

    private int[] split(DataSet data, Blocks blocks, int[] sorted, Numbers when, int from, int to) {
        int n = sorted.length;
        int end = back(Math.max(0, from - (int) Math.round(gap * n)), sorted, when);
        int start = window.isPresent()
                ? back(Math.max(0, end - (int) Math.round(window.getAsDouble() * n)), sorted, when)
                : 0;
        int[] counts = new int[n];
        Arrays.fill(counts, -1);
        boolean[] tested = new boolean[blocks.count()];
        for (int i = from; i < to; i++) {
            counts[sorted[i]] = 0;
            tested[blocks.of(sorted[i])] = true;
        }
        int kept = 0;
        for (int i = start; i < end; i++) {
            if (!tested[blocks.of(sorted[i])]) {
                counts[sorted[i]] = 1;
                kept++;
            }
        }
        Checks.that(
                kept > 0,
                end > start
                        ? "data set \"%s\": every row before %s %s is of %s that are tested after it, so that nothing is left"
                                + " to train on; do without groups, or divide by leave-group-out"
                        : "data set \"%s\": no row comes before %s %s, the first to be tested, less the gap (%s); start later"
                                + " with first:, or divide by k-fold",
                data.name(),
                when.name(),
                keenfold.core.data.Decimals.exact(when.get(sorted[from])),
                end > start ? "groups" : "rows of one time are never divided");
        return counts;
    }
}

package keenfold.core.split;

import java.util.Arrays;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.Seed;

/**
 * Rows set aside before anything else, to be scored once at the end.
 *
 * @param share of the rows, strictly between 0 and 1
 * @param last whether it is those that came last; otherwise they are drawn, stratified, with whole groups
 */
public record Holdout(double share, boolean last) {
    /** The share where only {@code last} is said. */
    public static final double DEFAULT_SHARE = 0.2;

    /** Checks the range. */
    public Holdout {
        Checks.share("share", share);
    }

    /**
     * Returns which rows are held back.
     *
     * @throws IllegalArgumentException if the order is missing, or a group would stand on both sides
     */
    public boolean[] heldBack(DataSet data, boolean bindEqual, long seed) {
        Blocks blocks = Blocks.of(data, bindEqual);
        return last
                ? latest(data, blocks)
                : new MonteCarlo(share, 1, true)
                        .draw(data, blocks, new Seed(seed).with("holdout").chance());
    }

    private boolean[] latest(DataSet data, Blocks blocks) {
        Checks.that(
                data.order().isPresent(),
                "a holdout of the last rows needs to know which came last; name the column of data set \"%s\" with"
                        + " order:, or hold back a share of all",
                data.name());
        Numbers when = data.order().orElseThrow();
        double[] times = when.toArray();
        Arrays.sort(times);
        int n = data.rows();
        int at = (int) Math.max(1, Math.min(n - 1, Math.rint(n * (1 - share))));
        double cut = times[at];
        Checks.that(
                cut > times[0],
                "data set \"%s\": the last rows cannot be told from the first by %s; hold back a share of all",
                data.name(),
                when.name());
        boolean[] held = new boolean[n];
        boolean[] early = new boolean[blocks.count()];
        for (int i = 0; i < n; i++) {
            held[i] = when.get(i) >= cut;
            early[blocks.of(i)] |= !held[i];
        }
        long both = IntStream.range(0, n)
                .filter(i -> held[i] && early[blocks.of(i)])
                .map(blocks::of)
                .distinct()
                .count();
        Checks.that(
                both == 0,
                "data set \"%s\": %d %s have rows among the last and before, and may not stand on both sides; hold back"
                        + " {share: %s} of all, or do without groups",
                data.name(),
                both,
                blocks.what(),
                share);
        return held;
    }
}

package keenfold.core.split;

import java.util.Arrays;
import keenfold.core.data.Checks;
import keenfold.core.data.DataSet;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;

/**
 * A share of the rows drawn for testing, again and again, all others being trained on.
 *
 * <p>Definition: ⌊n·share + ½⌋ rows without replacement; stratified: of each class its share, rounded down, then one more
 * for the classes with the largest remainders, seeded ties. Whole blocks are drawn in a seeded order, each if it brings
 * the size nearer; then, if stratified, {@link BlockDealer} improves the draw.
 *
 * <p>Reference: Picard and Cook (1984), Cross-validation of regression models, JASA 79(387),
 * doi:10.1080/01621459.1984.10478083.
 *
 * @param share of the rows that is tested, strictly between 0 and 1
 * @param repeats number of splits, at least 1; 25 or more are advised
 * @param stratified whether both sides are to have the class shares of the whole
 */
public record MonteCarlo(double share, int repeats, boolean stratified) implements Scheme {
    /** A fifth of the rows, 50 times, stratified. */
    public static final MonteCarlo DEFAULT = new MonteCarlo(0.2, 50, true);

    /** Checks the ranges. */
    public MonteCarlo {
        Checks.share("share", share);
        Checks.atLeast("repeats", repeats, 1);
    }

    @Override
    public String label() {
        return "monte-carlo";
    }

    @Override
    public Splits divide(DataSet data, Blocks blocks, Seed seed) {
        int[] folds = new int[repeats];
        Arrays.fill(folds, 1);
        int[][] counts = new int[repeats][];
        for (int r = 0; r < repeats; r++) {
            boolean[] tested = draw(data, blocks, seed.with(r).chance());
            counts[r] = new int[tested.length];
            for (int i = 0; i < tested.length; i++) {
                counts[r][i] = tested[i] ? 0 : 1;
            }
        }
        return Splits.sides(Splits.Form.RANDOM, folds, counts);
    }

    /** Draws the tested rows of one split. */
    boolean[] draw(DataSet data, Blocks blocks, RandomSource chance) {
        Checks.that(
                blocks.count() > 1,
                "data set \"%s\" has only one of its %s, which cannot stand on both sides",
                data.name(),
                blocks.what());
        return blocks.single() ? drawRows(data, chance) : drawBlocks(data, blocks, chance);
    }

    private boolean[] drawRows(DataSet data, RandomSource chance) {
        int n = data.rows();
        int wanted = (int) Math.max(1, Math.min(n - 1.0, Math.floor(n * share + 0.5)));
        int[] order = new int[n];
        Arrays.setAll(order, i -> i);
        chance.shuffle(order);
        int[] quota = stratified ? quota(data.classCounts(), wanted, chance) : new int[] {wanted};
        boolean[] tested = new boolean[n];
        for (int row : order) {
            int c = stratified ? data.target(row) : 0;
            if (quota[c] > 0) {
                quota[c]--;
                tested[row] = true;
            }
        }
        return tested;
    }

    /** Largest remainders (Hare and Niemeyer), ties in a seeded order of classes. */
    private int[] quota(int[] classCounts, int wanted, RandomSource chance) {
        int[] quota = new int[classCounts.length];
        int left = wanted;
        for (int c = 0; c < quota.length; c++) {
            quota[c] = (int) Math.floor(classCounts[c] * share);
            left -= quota[c];
        }
        int[] order = new int[quota.length];
        Arrays.setAll(order, c -> c);
        chance.shuffle(order);
        Integer[] falling = Arrays.stream(order).boxed().toArray(Integer[]::new);
        Arrays.sort(
                falling,
                (a, b) -> Double.compare(classCounts[b] * share - quota[b], classCounts[a] * share - quota[a]));
        for (int i = 0; left > 0; i = (i + 1) % falling.length) {
            if (quota[falling[i]] < classCounts[falling[i]]) {
                quota[falling[i]]++;
                left--;
            }
        }
        for (int i = falling.length - 1; left < 0; i = (i + falling.length - 1) % falling.length) {
            if (quota[falling[i]] > 0) {
                quota[falling[i]]--;
                left++;
            }
        }
        return quota;
    }

    private boolean[] drawBlocks(DataSet data, Blocks blocks, RandomSource chance) {
        int[][] counts = blocks.counts(data, stratified);
        int last = counts[0].length - 1;
        double wanted = data.rows() * share;
        int[] order = new int[blocks.count()];
        Arrays.setAll(order, b -> b);
        chance.shuffle(order);
        int[] part = new int[order.length];
        Arrays.fill(part, 1);
        double size = 0;
        int taken = 0;
        for (int i = 0; i < order.length; i++) {
            int own = counts[order[i]][last];
            boolean nearer = Math.abs(size + own - wanted) < Math.abs(size - wanted);
            boolean must = taken == 0 && i == order.length - 1;
            boolean may = taken < order.length - 1;
            if (may && (nearer || must)) {
                part[order[i]] = 0;
                size += own;
                taken++;
            }
        }
        int[] drawn =
                stratified ? new BlockDealer(counts, new double[] {share, 1 - share}).improved(part, chance) : part;
        boolean[] tested = new boolean[data.rows()];
        for (int i = 0; i < tested.length; i++) {
            tested[i] = drawn[blocks.of(i)] == 0;
        }
        return tested;
    }
}

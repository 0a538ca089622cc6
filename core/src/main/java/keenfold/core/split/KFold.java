package keenfold.core.split;

import java.util.Arrays;
import keenfold.core.data.Checks;
import keenfold.core.data.DataSet;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;

/**
 * Repeated k-fold cross-validation, stratified or not, with whole groups where rows belong to groups.
 *
 * <p>Definition: without groups the rows of each class, in a seeded order, are dealt to the folds in turn, one class
 * going on where the one before ended, so that fold sizes and, if stratified, class counts differ by at most one from
 * each other. Whole groups are dealt by {@link BlockDealer}.
 *
 * <p>Assumes that rows (groups) are exchangeable; rows with an order in time are not.
 *
 * <p>Reference: Kohavi (1995), A study of cross-validation and bootstrap, IJCAI 14, section 2.
 *
 * @param folds k, at least 2
 * @param repeats R, at least 1
 * @param stratified whether each fold is to have the class shares of the whole
 */
public record KFold(int folds, int repeats, boolean stratified) implements Scheme {
    /** Ten folds, ten repeats, stratified. */
    public static final KFold DEFAULT = new KFold(10, 10, true);

    /** Checks the ranges. */
    public KFold {
        Checks.atLeast("folds", folds, 2);
        Checks.atLeast("repeats", repeats, 1);
    }

    @Override
    public String label() {
        return "k-fold";
    }

    @Override
    public Splits divide(DataSet data, Blocks blocks, Seed seed) {
        Checks.that(
                folds <= blocks.count(),
                "folds = %d: data set \"%s\" has only %d %s; ask for %d folds or fewer",
                folds,
                data.name(),
                blocks.count(),
                blocks.what(),
                blocks.count());
        int[][] foldOf = new int[repeats][];
        for (int r = 0; r < repeats; r++) {
            RandomSource chance = seed.with(r).chance();
            foldOf[r] = blocks.single() ? dealRows(data, chance) : dealBlocks(data, blocks, chance);
        }
        return Splits.partitions(foldOf);
    }

    private int[] dealRows(DataSet data, RandomSource chance) {
        int[] place = shuffledFolds(chance);
        int n = data.rows();
        int[] order = new int[n];
        Arrays.setAll(order, i -> i);
        chance.shuffle(order);
        int[] foldOf = new int[n];
        int dealt = 0;
        int passes = stratified ? data.classes().count() : 1;
        for (int c = 0; c < passes; c++) {
            for (int row : order) {
                if (!stratified || data.target(row) == c) {
                    foldOf[row] = place[dealt++ % folds];
                }
            }
        }
        return foldOf;
    }

    private int[] dealBlocks(DataSet data, Blocks blocks, RandomSource chance) {
        double[] shares = new double[folds];
        Arrays.fill(shares, 1.0 / folds);
        int[] foldOfBlock = new BlockDealer(blocks.counts(data, stratified), shares).deal(chance);
        int[] foldOf = new int[data.rows()];
        Arrays.setAll(foldOf, i -> foldOfBlock[blocks.of(i)]);
        return foldOf;
    }

    /** The folds in a seeded order, so that no fold is always the one with a row more. */
    private int[] shuffledFolds(RandomSource chance) {
        int[] place = new int[folds];
        Arrays.setAll(place, i -> i);
        chance.shuffle(place);
        return place;
    }
}

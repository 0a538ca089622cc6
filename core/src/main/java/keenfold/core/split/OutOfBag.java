package keenfold.core.split;

import java.util.Arrays;
import keenfold.core.data.Checks;
import keenfold.core.data.DataSet;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;

/**
 * Training on n rows drawn with replacement, a row as many times as it was drawn, and testing on those never drawn.
 *
 * <p>Whole blocks are drawn, as many as there are; stratified: rows of each class, as many as it has. A draw that leaves
 * nothing to test is drawn again.
 *
 * <p>Reference: Efron (1983), Estimating the error rate of a prediction rule, JASA 78(382),
 * doi:10.1080/01621459.1983.10477973.
 *
 * @param repeats number of splits, at least 1; 25 or more are advised
 * @param stratified whether rows are drawn within classes; not with groups or bound rows
 */
public record OutOfBag(int repeats, boolean stratified) implements Scheme {
    /** A hundred draws, not stratified. */
    public static final OutOfBag DEFAULT = new OutOfBag(100, false);

    private static final int MOST_TRIES = 1000;

    /** Checks the range. */
    public OutOfBag {
        Checks.atLeast("repeats", repeats, 1);
    }

    @Override
    public String label() {
        return "out-of-bag";
    }

    @Override
    public Splits divide(DataSet data, Blocks blocks, Seed seed) {
        Checks.that(
                blocks.count() > 1,
                "data set \"%s\" has only one of its %s; out-of-bag needs two",
                data.name(),
                blocks.what());
        Checks.that(
                !stratified || blocks.single(),
                "out-of-bag draws whole %s in data set \"%s\", and so cannot be stratified; leave stratified out, or use"
                        + " monte-carlo",
                blocks.what(),
                data.name());
        int[] folds = new int[repeats];
        Arrays.fill(folds, 1);
        int[][] counts = new int[repeats][];
        for (int r = 0; r < repeats; r++) {
            counts[r] = draw(data, blocks, seed.with(r).chance());
        }
        return Splits.sides(Splits.Form.RANDOM, folds, counts);
    }

    private int[] draw(DataSet data, Blocks blocks, RandomSource chance) {
        for (int tries = 0; tries < MOST_TRIES; tries++) {
            int[] drawn = stratified ? withinClasses(data, chance) : whole(blocks, data.rows(), chance);
            if (Arrays.stream(drawn).anyMatch(c -> c == 0)) {
                return drawn;
            }
        }
        throw Checks.wrong("data set \"" + data.name() + "\" is too small for out-of-bag: no draw"
                + " leaves a row to test; use leave-one-out");
    }

    private static int[] whole(Blocks blocks, int rows, RandomSource chance) {
        int[] times = new int[blocks.count()];
        for (int i = 0; i < times.length; i++) {
            times[chance.below(times.length)]++;
        }
        int[] counts = new int[rows];
        Arrays.setAll(counts, i -> times[blocks.of(i)]);
        return counts;
    }

    private static int[] withinClasses(DataSet data, RandomSource chance) {
        int[] counts = new int[data.rows()];
        int[] targets = data.targets();
        for (int c = 0; c < data.classes().count(); c++) {
            int wanted = c;
            int[] members = java.util.stream.IntStream.range(0, targets.length)
                    .filter(i -> targets[i] == wanted)
                    .toArray();
            for (int i = 0; i < members.length; i++) {
                counts[members[chance.below(members.length)]]++;
            }
        }
        return counts;
    }
}

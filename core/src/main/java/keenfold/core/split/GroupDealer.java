package keenfold.core.split;

import java.util.Arrays;
import keenfold.core.data.Chance;

/**
 * Deals whole groups to folds so that fold sizes and class counts come near their ideal.
 *
 * <p>Definition: groups by falling size, seeded ties, each to the fold where it does least harm; then moves of one group
 * and swaps of two, as long as one of them lowers the harm. Harm is compared first by the largest deviation of a fold's
 * size or class count from its ideal (total/k), then by the sum of the squared deviations. Several seeded starts, the
 * best of which is kept.
 *
 * <p>Cost: O(starts · sweeps · G²·C) for G groups and C columns of counts.
 */
final class GroupDealer {
    private static final int STARTS = 8;
    private static final int MOST_SWEEPS = 50;
    private static final double TIE = 1e-9;

    private final int[][] counts;
    private final int folds;
    private final int columns;
    private final double[] ideal;
    private final double[][] sum;
    private final int[] foldOf;

    /**
     * @param counts per group its rows of each class, then its size; every group has a row
     * @param folds k, at most the number of groups
     */
    GroupDealer(int[][] counts, int folds) {
        this.counts = counts;
        this.folds = folds;
        this.columns = counts[0].length;
        this.ideal = new double[columns];
        for (int[] group : counts) {
            for (int c = 0; c < columns; c++) {
                ideal[c] += (double) group[c] / folds;
            }
        }
        this.sum = new double[folds][columns];
        this.foldOf = new int[counts.length];
    }

    int[] deal(Chance chance) {
        int[] best = new int[0];
        double[] least = {Double.POSITIVE_INFINITY, Double.POSITIVE_INFINITY};
        for (int start = 0; start < STARTS; start++) {
            fill(chance);
            improve();
            double[] harm = harm();
            if (best.length == 0 || less(harm, least)) {
                best = foldOf.clone();
                least = harm;
            }
        }
        return best;
    }

    private void fill(Chance chance) {
        for (double[] s : sum) {
            Arrays.fill(s, 0);
        }
        int[] order = new int[counts.length];
        Arrays.setAll(order, i -> i);
        chance.shuffle(order);
        int[] falling = Arrays.stream(order)
                .boxed()
                .sorted((a, b) -> Integer.compare(counts[b][columns - 1], counts[a][columns - 1]))
                .mapToInt(Integer::intValue)
                .toArray();
        for (int i = 0; i < falling.length; i++) {
            int group = falling[i];
            // The last groups must fill folds that are still empty.
            boolean emptyOnly = emptyFolds() >= falling.length - i;
            int chosen = -1;
            double[] least = {Double.POSITIVE_INFINITY, Double.POSITIVE_INFINITY};
            int first = chance.below(folds);
            for (int step = 0; step < folds; step++) {
                int f = (first + step) % folds;
                if (emptyOnly && sum[f][columns - 1] > 0) {
                    continue;
                }
                double[] harm = excess(f, counts[group]);
                if (chosen < 0 || less(harm, least)) {
                    chosen = f;
                    least = harm;
                }
            }
            add(chosen, counts[group], 1);
            foldOf[group] = chosen;
        }
    }

    private int emptyFolds() {
        int empty = 0;
        for (double[] s : sum) {
            if (s[columns - 1] == 0) {
                empty++;
            }
        }
        return empty;
    }

    /** How far a fold would stand above its ideal with a group more, then how the squares would change. */
    private double[] excess(int fold, int[] group) {
        double most = Double.NEGATIVE_INFINITY;
        double squares = 0;
        for (int c = 0; c < columns; c++) {
            double before = sum[fold][c] - ideal[c];
            double after = before + group[c];
            most = Math.max(most, after);
            squares += after * after - before * before;
        }
        return new double[] {most, squares};
    }

    private void improve() {
        double[] now = harm();
        for (int sweep = 0; sweep < MOST_SWEEPS; sweep++) {
            double[] before = now;
            for (int g = 0; g < counts.length; g++) {
                for (int f = 0; f < folds; f++) {
                    now = tryMove(g, f, now);
                }
                for (int h = g + 1; h < counts.length; h++) {
                    now = trySwap(g, h, now);
                }
            }
            if (!less(now, before)) {
                return;
            }
        }
    }

    private double[] tryMove(int group, int to, double[] now) {
        int from = foldOf[group];
        if (from == to || sum[from][columns - 1] <= counts[group][columns - 1]) {
            return now;
        }
        shift(group, from, to);
        double[] harm = harm();
        if (less(harm, now)) {
            return harm;
        }
        shift(group, to, from);
        return now;
    }

    private double[] trySwap(int g, int h, double[] now) {
        int a = foldOf[g];
        int b = foldOf[h];
        if (a == b) {
            return now;
        }
        shift(g, a, b);
        shift(h, b, a);
        double[] harm = harm();
        if (less(harm, now)) {
            return harm;
        }
        shift(g, b, a);
        shift(h, a, b);
        return now;
    }

    private void shift(int group, int from, int to) {
        add(from, counts[group], -1);
        add(to, counts[group], 1);
        foldOf[group] = to;
    }

    private void add(int fold, int[] group, int sign) {
        for (int c = 0; c < columns; c++) {
            sum[fold][c] += sign * group[c];
        }
    }

    private double[] harm() {
        double most = 0;
        double squares = 0;
        for (double[] s : sum) {
            for (int c = 0; c < columns; c++) {
                double off = Math.abs(s[c] - ideal[c]);
                most = Math.max(most, off);
                squares += off * off;
            }
        }
        return new double[] {most, squares};
    }

    private static boolean less(double[] a, double[] b) {
        if (Math.abs(a[0] - b[0]) > TIE) {
            return a[0] < b[0];
        }
        return a[1] < b[1] - TIE;
    }
}

package keenfold.core.split;

import java.util.Arrays;
import keenfold.core.data.RandomSource;

/**
 * Deals whole blocks (groups, or rows that must stay together) to parts, so that the sizes and the class counts of the
 * parts come near their ideal.
 *
 * <p>Definition: blocks by falling size, seeded ties, each to the part where it does least harm; then moves of one block
 * and swaps of two, until none lowers the harm. Harm is compared first by the largest deviation of a part's size or class
 * count from its ideal (share times total), then by the sum of the squared deviations. Several seeded starts, the best of
 * which is kept.
 *
 * <p>With more than {@value #MANY} blocks, improvement ends as soon as no part is a whole row off.
 *
 * <p>Cost: O(sweeps · B²·C) a start for B blocks and C columns of counts.
 */
final class BlockDealer {
    private static final int STARTS = 8;
    private static final int MANY = 64;
    private static final double TIE = 1e-9;
    private static final int[] NOTHING = {};

    private final int[][] counts;
    private final int parts;
    private final int columns;
    private final double[][] ideal;
    private final double[][] sum;
    private final double[] worst;
    private final int[] partOf;

    /**
     * @param counts per block its rows of each class, then its size; every block has a row
     * @param shares of the rows that each part should hold; there are at least as many blocks as parts
     */
    BlockDealer(int[][] counts, double[] shares) {
        this.counts = counts;
        this.parts = shares.length;
        this.columns = counts[0].length;
        this.ideal = new double[parts][columns];
        for (int c = 0; c < columns; c++) {
            double total = 0;
            for (int[] block : counts) {
                total += block[c];
            }
            for (int p = 0; p < parts; p++) {
                ideal[p][c] = shares[p] * total;
            }
        }
        this.sum = new double[parts][columns];
        this.worst = new double[parts];
        this.partOf = new int[counts.length];
    }

    /** Deals all blocks, returning the part of each; the best of several starts. */
    int[] deal(RandomSource chance) {
        int[] best = new int[0];
        double[] least = {Double.POSITIVE_INFINITY, Double.POSITIVE_INFINITY};
        int starts = counts.length > MANY ? 1 : STARTS;
        for (int start = 0; start < starts; start++) {
            fill(chance);
            improve(chance);
            double[] harm = harm();
            if (best.length == 0 || less(harm, least)) {
                best = partOf.clone();
                least = harm;
            }
        }
        return best;
    }

    /** Improves a dealing that was drawn at random, so that what comes of it is still a draw. */
    int[] improved(int[] drawn, RandomSource chance) {
        clear();
        for (int b = 0; b < drawn.length; b++) {
            put(b, drawn[b]);
        }
        improve(chance);
        return partOf.clone();
    }

    private void clear() {
        for (double[] s : sum) {
            Arrays.fill(s, 0);
        }
    }

    private void put(int block, int part) {
        add(part, counts[block], 1);
        partOf[block] = part;
    }

    private void fill(RandomSource chance) {
        clear();
        int[] order = shuffled(counts.length, chance);
        int[] falling = Arrays.stream(order)
                .boxed()
                .sorted((a, b) -> Integer.compare(counts[b][columns - 1], counts[a][columns - 1]))
                .mapToInt(Integer::intValue)
                .toArray();
        int empty = parts;
        for (int i = 0; i < falling.length; i++) {
            // The last blocks must fill parts that are still empty.
            boolean emptyOnly = empty >= falling.length - i;
            int chosen = -1;
            double[] least = {Double.POSITIVE_INFINITY, Double.POSITIVE_INFINITY};
            int first = chance.below(parts);
            for (int step = 0; step < parts; step++) {
                int p = (first + step) % parts;
                if (!emptyOnly || sum[p][columns - 1] == 0) {
                    double[] harm = excess(p, counts[falling[i]]);
                    if (chosen < 0 || less(harm, least)) {
                        chosen = p;
                        least = harm;
                    }
                }
            }
            empty -= sum[chosen][columns - 1] == 0 ? 1 : 0;
            put(falling[i], chosen);
        }
    }

    private static int[] shuffled(int n, RandomSource chance) {
        int[] order = new int[n];
        Arrays.setAll(order, i -> i);
        chance.shuffle(order);
        return order;
    }

    /** How far a part would stand above its ideal with a block more, then how the squares would change. */
    private double[] excess(int part, int[] block) {
        double most = Double.NEGATIVE_INFINITY;
        double squares = 0;
        for (int c = 0; c < columns; c++) {
            double before = sum[part][c] - ideal[part][c];
            double after = before + block[c];
            most = Math.max(most, after);
            squares += after * after - before * before;
        }
        return new double[] {most, squares};
    }

    /** Sweeps over all moves and swaps, in a seeded order of blocks, until a whole sweep helps nothing. */
    private void improve(RandomSource chance) {
        for (int p = 0; p < parts; p++) {
            worst[p] = off(p);
        }
        int[] order = shuffled(counts.length, chance);
        boolean helped = true;
        while (helped && !(counts.length > MANY && harm()[0] < 1)) {
            helped = false;
            for (int i = 0; i < order.length; i++) {
                for (int p = 0; p < parts; p++) {
                    helped |= tryMove(order[i], p);
                }
                for (int j = i + 1; j < order.length; j++) {
                    helped |= trySwap(order[i], order[j]);
                }
            }
        }
    }

    private boolean tryMove(int block, int to) {
        int from = partOf[block];
        if (from == to
                || sum[from][columns - 1] <= counts[block][columns - 1]
                || !helps(from, to, counts[block], NOTHING)) {
            return false;
        }
        shift(block, from, to);
        refresh(from, to);
        return true;
    }

    private boolean trySwap(int g, int h) {
        int a = partOf[g];
        int b = partOf[h];
        if (a == b || Arrays.equals(counts[g], counts[h]) || !helps(a, b, counts[g], counts[h])) {
            return false;
        }
        shift(g, a, b);
        shift(h, b, a);
        refresh(a, b);
        return true;
    }

    /** Whether harm falls when {@code out} goes from part a to part b, and {@code back}, unless it is nothing, from b to a. */
    private boolean helps(int a, int b, int[] out, int[] back) {
        double before = 0;
        double after = 0;
        double most = 0;
        for (int c = 0; c < columns; c++) {
            double moved = out[c] - (back.length == 0 ? 0 : back[c]);
            double offA = sum[a][c] - ideal[a][c];
            double offB = sum[b][c] - ideal[b][c];
            before += offA * offA + offB * offB;
            offA -= moved;
            offB += moved;
            after += offA * offA + offB * offB;
            most = Math.max(most, Math.max(Math.abs(offA), Math.abs(offB)));
        }
        double others = 0;
        for (int p = 0; p < parts; p++) {
            if (p != a && p != b) {
                others = Math.max(others, worst[p]);
            }
        }
        double now = Math.max(others, Math.max(worst[a], worst[b]));
        return less(new double[] {Math.max(others, most), after}, new double[] {now, before});
    }

    private void refresh(int a, int b) {
        worst[a] = off(a);
        worst[b] = off(b);
    }

    private void shift(int block, int from, int to) {
        add(from, counts[block], -1);
        put(block, to);
    }

    private void add(int part, int[] block, int sign) {
        for (int c = 0; c < columns; c++) {
            sum[part][c] += sign * block[c];
        }
    }

    private double off(int part) {
        double most = 0;
        for (int c = 0; c < columns; c++) {
            most = Math.max(most, Math.abs(sum[part][c] - ideal[part][c]));
        }
        return most;
    }

    private double[] harm() {
        double most = 0;
        double squares = 0;
        for (int p = 0; p < parts; p++) {
            for (int c = 0; c < columns; c++) {
                double off = Math.abs(sum[p][c] - ideal[p][c]);
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

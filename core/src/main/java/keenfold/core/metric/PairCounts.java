package keenfold.core.metric;

import java.util.Arrays;

/**
 * Concordant and all pairs of ranked rows, counted in 32-bit whole numbers in several draws at once.
 *
 * <p>The few rows of a step are added up and multiplied in one loop over the lanes: loops that do little each are bound by the
 * loads and stores of what they add to.
 */
final class PairCounts {
    /** The largest sum of weights of which no count runs over: of W rows at most W²/4 pairs, counted twice. */
    static final int MOST = 65535;

    private final int[] none;
    private final int[] below;
    private final int[] cases;
    /** Twice the concordant pairs; a tied one counts once. */
    private final int[] twice;

    private final int[] pairs;

    PairCounts(int lanes) {
        this.none = new int[lanes];
        this.below = new int[lanes];
        this.cases = new int[lanes];
        this.twice = new int[lanes];
        this.pairs = new int[lanes];
    }

    /** Fills the area of each lane, NaN where there is no pair; weights by row and lane. */
    void score(Ranked ranked, int[][] weights, double[] scores) {
        int from = 0;
        for (int step = 0; step < ranked.stepEnd.length; step++) {
            int othersEnd = ranked.othersEnd[step];
            int ownEnd = ranked.ownEnd[step];
            int end = ranked.stepEnd[step];
            if (ownEnd > othersEnd) {
                step(ranked.rows, weights, from, othersEnd, ownEnd, end);
            } else {
                Lanes.addRows(below, weights, ranked.rows, from, othersEnd);
            }
            from = end;
            if (ranked.stepEndsFold[step]) {
                endFold();
            }
        }
        for (int lane = 0; lane < scores.length; lane++) {
            scores[lane] = twice[lane] / (2.0 * pairs[lane]);
        }
    }

    private void step(int[] rows, int[][] weights, int from, int othersEnd, int ownEnd, int end) {
        int others = Math.max(from, othersEnd - 2);
        Lanes.addRows(below, weights, rows, from, others);
        // A row that is not there counts nothing.
        int[] otherA = others < othersEnd ? weights[rows[others]] : none;
        int[] otherB = others + 1 < othersEnd ? weights[rows[others + 1]] : none;
        int[] ownA = allButLast(rows, weights, othersEnd, ownEnd);
        int[] ownB = ownEnd - othersEnd > 1 ? weights[rows[ownEnd - 1]] : none;
        if (end > ownEnd) {
            int[] tiedA = allButLast(rows, weights, ownEnd, end);
            int[] tiedB = end - ownEnd > 1 ? weights[rows[end - 1]] : none;
            addTies(otherA, otherB, ownA, ownB, tiedA, tiedB);
        } else if (otherB == none && ownB == none) {
            addStep(otherA, ownA);
        } else {
            addStep(otherA, otherB, ownA, ownB);
        }
    }

    /** The sum of several rows but the last, or the first row of one or two; not to be changed. */
    private int[] allButLast(int[] rows, int[][] weights, int from, int end) {
        if (end - from <= 2) {
            return weights[rows[from]];
        }
        int[] sum = new int[none.length];
        Lanes.addRows(sum, weights, rows, from, end - 1);
        return sum;
    }

    private void endFold() {
        int[] low = below;
        int[] high = cases;
        for (int lane = 0; lane < pairs.length; lane++) {
            pairs[lane] += low[lane] * high[lane];
        }
        Arrays.fill(low, 0);
        Arrays.fill(high, 0);
    }

    private void addStep(int[] other, int[] own) {
        int[] low = below;
        int[] sum = twice;
        int[] all = cases;
        for (int lane = 0; lane < low.length; lane++) {
            int b = low[lane] + other[lane];
            low[lane] = b;
            sum[lane] += own[lane] * (b + b);
            all[lane] += own[lane];
        }
    }

    private void addStep(int[] otherA, int[] otherB, int[] ownA, int[] ownB) {
        int[] low = below;
        int[] sum = twice;
        int[] all = cases;
        for (int lane = 0; lane < low.length; lane++) {
            int b = low[lane] + otherA[lane] + otherB[lane];
            int own = ownA[lane] + ownB[lane];
            low[lane] = b;
            sum[lane] += own * (b + b);
            all[lane] += own;
        }
    }

    private void addTies(int[] otherA, int[] otherB, int[] ownA, int[] ownB, int[] tiedA, int[] tiedB) {
        int[] low = below;
        int[] sum = twice;
        int[] all = cases;
        for (int lane = 0; lane < low.length; lane++) {
            int b = low[lane] + otherA[lane] + otherB[lane];
            int own = ownA[lane] + ownB[lane];
            int after = b + tiedA[lane] + tiedB[lane];
            low[lane] = after;
            sum[lane] += own * (b + after);
            all[lane] += own;
        }
    }
}

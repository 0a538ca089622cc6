package keenfold.core.metric;

import java.util.Arrays;

/**
 * Concordant and all pairs of ranked rows, counted in 32-bit whole numbers in several draws at once.
 *
 * <p>The few rows of a step are added up and multiplied in one loop over the lanes: loops that do little each are bound by the
 * loads and stores of what they add to.
 *
 * <p>Where a stretch of other classes' rows is passed over, the steps below it are gone through rising, and those above it
 * falling. With T the others of a fold, a row of the class that has a others above it and a + q with its ties has
 * (T − a − q) + (T − a) concordant half pairs.
 */
final class PairCounts {
    /** The largest sum of weights of which no count runs over: of W rows at most W²/4 pairs, counted twice. */
    static final int MOST = 65535;

    private final Ranked ranked;
    private final CaseWeights cases;
    private final int[] rows;
    private final int[][] weights;
    private final int[] none;
    /** For sums of several rows of a step. */
    private final int[] ownSum;

    private final int[] tiedSum;
    /** Twice the concordant pairs of the folds so far; a tied one counts once. */
    private final int[] twice;

    private final int[] pairs;

    PairCounts(Ranked ranked, CaseWeights cases, int lanes) {
        this.ranked = ranked;
        this.cases = cases;
        this.rows = ranked.rows;
        this.weights = cases.counts();
        this.none = new int[lanes];
        this.ownSum = new int[lanes];
        this.tiedSum = new int[lanes];
        this.twice = new int[lanes];
        this.pairs = new int[lanes];
    }

    /** What was counted of one fold, going one way. */
    private static final class Side {
        /** Other classes' rows so far. */
        final int[] others;
        /** Rows of the class so far. */
        final int[] own;
        /** Pairs of these with those before them, twice; a tied one counts once. */
        final int[] twice;

        Side(int[] twice) {
            this.others = new int[twice.length];
            this.own = new int[twice.length];
            this.twice = twice;
        }
    }

    /** Fills the area of each lane, NaN where there is no pair. */
    void score(double[] scores) {
        // Pairs of rows going up are final; those of rows going down are taken away.
        Side low = new Side(twice);
        Side high = new Side(new int[none.length]);
        int[][] totals = ranked.passed.length > 0 ? cases.totals(ranked.folds) : new int[0][];
        int first = 0;
        for (int fold = 0; fold < ranked.lastStep.length; fold++) {
            int last = ranked.lastStep[fold];
            if (totals.length == 0) {
                rise(low, first, last + 1);
                endFold(low);
            } else {
                rise(low, first, ranked.passed[fold]);
                int[] between = ranked.passedTied[fold]
                        ? fallToTied(low, high, ranked.passed[fold], last)
                        : fallTo(high, ranked.passed[fold], last);
                endFold(low, high, between, totals[fold]);
            }
            first = last + 1;
        }
        for (int lane = 0; lane < scores.length; lane++) {
            scores[lane] = twice[lane] / (2.0 * pairs[lane]);
        }
    }

    private int start(int step) {
        return step == 0 ? 0 : ranked.stepEnd[step - 1];
    }

    /** Goes through steps from below. */
    private void rise(Side side, int from, int to) {
        for (int s = from; s < to; s++) {
            step(side, start(s), ranked.othersEnd[s], ranked.othersEnd[s], ranked.ownEnd[s], ranked.stepEnd[s]);
        }
    }

    /** Goes through steps from above, but not through the first others of the last one, which are passed over. */
    private int[] fallTo(Side side, int step, int last) {
        int above = ranked.stepEnd[last];
        for (int s = last; s >= step; s--) {
            int own = ranked.othersEnd[s];
            step(side, ranked.stepEnd[s], above, own, ranked.ownEnd[s], ranked.stepEnd[s]);
            above = own;
        }
        return none;
    }

    /** Goes through steps from above down to the tied others of one, which are passed over; returns its rows of the class. */
    private int[] fallToTied(Side low, Side high, int step, int last) {
        if (step < last) {
            fallTo(high, step + 1, last);
            Lanes.addRows(high.others, weights, rows, ranked.stepEnd[step], ranked.othersEnd[step + 1]);
        }
        Lanes.addRows(low.others, weights, rows, start(step), ranked.othersEnd[step]);
        int[] own = new int[none.length];
        Lanes.addRows(own, weights, rows, ranked.othersEnd[step], ranked.ownEnd[step]);
        return own;
    }

    /** Adds others, then rows of the class, then others tied with all of these. */
    private void step(Side side, int from, int othersEnd, int ownFrom, int ownEnd, int tiedEnd) {
        if (ownEnd == ownFrom) {
            Lanes.addRows(side.others, weights, rows, from, othersEnd);
            return;
        }
        int others = Math.max(from, othersEnd - 2);
        Lanes.addRows(side.others, weights, rows, from, others);
        // A row that is not there counts nothing.
        int[] otherA = others < othersEnd ? weights[rows[others]] : none;
        int[] otherB = others + 1 < othersEnd ? weights[rows[others + 1]] : none;
        int[] ownA = allButLast(ownFrom, ownEnd, ownSum);
        int[] ownB = ownEnd - ownFrom > 1 ? weights[rows[ownEnd - 1]] : none;
        if (tiedEnd > ownEnd) {
            int[] tiedA = allButLast(ownEnd, tiedEnd, tiedSum);
            int[] tiedB = tiedEnd - ownEnd > 1 ? weights[rows[tiedEnd - 1]] : none;
            addTies(side, otherA, otherB, ownA, ownB, tiedA, tiedB);
        } else if (otherB == none && ownB == none) {
            addStep(side, otherA, ownA);
        } else {
            addStep(side, otherA, otherB, ownA, ownB);
        }
    }

    /** The sum of several rows but the last, or the first row of one or two; not to be changed. */
    private int[] allButLast(int from, int end, int[] sum) {
        if (end - from <= 2) {
            return weights[rows[from]];
        }
        Lanes.sumRows(sum, weights, rows, from, end - 1);
        return sum;
    }

    private void endFold(Side low) {
        int[] others = low.others;
        int[] own = low.own;
        for (int lane = 0; lane < pairs.length; lane++) {
            pairs[lane] += others[lane] * own[lane];
        }
        Arrays.fill(others, 0);
        Arrays.fill(own, 0);
    }

    /**
     * Joins both sides of what was passed over.
     *
     * @param between rows of the class tied with it: the others below them are those of the lower side, and then all but
     *     those of the upper
     * @param total the rows of the fold
     */
    private void endFold(Side low, Side high, int[] between, int[] total) {
        int[] lowOwn = low.own;
        int[] lowOthers = low.others;
        int[] highOwn = high.own;
        int[] highOthers = high.others;
        int[] highTwice = high.twice;
        for (int lane = 0; lane < pairs.length; lane++) {
            int own = lowOwn[lane] + highOwn[lane] + between[lane];
            int others = total[lane] - own;
            pairs[lane] += others * own;
            twice[lane] += (others + others) * highOwn[lane]
                    - highTwice[lane]
                    + between[lane] * (lowOthers[lane] + others - highOthers[lane]);
        }
        Arrays.fill(lowOwn, 0);
        Arrays.fill(lowOthers, 0);
        Arrays.fill(highOwn, 0);
        Arrays.fill(highOthers, 0);
        Arrays.fill(highTwice, 0);
    }

    private static void addStep(Side side, int[] other, int[] own) {
        int[] before = side.others;
        int[] sum = side.twice;
        int[] all = side.own;
        for (int lane = 0; lane < before.length; lane++) {
            int b = before[lane] + other[lane];
            before[lane] = b;
            sum[lane] += own[lane] * (b + b);
            all[lane] += own[lane];
        }
    }

    private static void addStep(Side side, int[] otherA, int[] otherB, int[] ownA, int[] ownB) {
        int[] before = side.others;
        int[] sum = side.twice;
        int[] all = side.own;
        for (int lane = 0; lane < before.length; lane++) {
            int b = before[lane] + otherA[lane] + otherB[lane];
            int own = ownA[lane] + ownB[lane];
            before[lane] = b;
            sum[lane] += own * (b + b);
            all[lane] += own;
        }
    }

    private static void addTies(
            Side side, int[] otherA, int[] otherB, int[] ownA, int[] ownB, int[] tiedA, int[] tiedB) {
        int[] before = side.others;
        int[] sum = side.twice;
        int[] all = side.own;
        for (int lane = 0; lane < before.length; lane++) {
            int b = before[lane] + otherA[lane] + otherB[lane];
            int own = ownA[lane] + ownB[lane];
            int after = b + tiedA[lane] + tiedB[lane];
            before[lane] = after;
            sum[lane] += own * (b + after);
            all[lane] += own;
        }
    }
}

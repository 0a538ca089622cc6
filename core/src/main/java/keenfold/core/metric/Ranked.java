package keenfold.core.metric;

import java.util.Arrays;
import keenfold.core.data.WeightedSort;

/**
 * Entries sorted by fold, then by rising probability of one class, cut into runs of ties; those of the class first within
 * a run.
 *
 * <p>For sums over pairs, runs are joined into steps: rows of other classes, then rows of the class, all of them more
 * probable, then rows of other classes tied with all of those of the class. A step ends where the next row of another class
 * is more probable than one of the class before it.
 *
 * <p>Where each fold has a long stretch of other classes' rows, such as those of probability 0, which all classifiers agree
 * on, sums over pairs need not pass it: what lies below its end is all that lies above it, taken from the whole fold.
 */
final class Ranked {
    static final Ranked NONE =
            new Ranked(new int[0], new int[0], new boolean[0], new int[0], new boolean[0], FoldRows.NONE);

    /** The share of rows from which on passing over them saves more than whole folds take to add up. */
    private static final double LEAST_PASSED = 0.25;

    /** So many rows could be added up in the time that it takes to join both sides of what is passed over in a fold. */
    private static final int JOINING = 16;

    final int[] entry;
    final int[] rows;
    final boolean[] own;
    final int[] runEnds;
    final boolean[] lastOfFold;
    /** By step: where its first others end, its own, and its tied others. */
    final int[] othersEnd;

    final int[] ownEnd;
    final int[] stepEnd;
    /** By fold the step that it ends with. */
    final int[] lastStep;
    /** By fold the step whose others are passed over; nothing where no stretch is long enough. */
    final int[] passed;
    /** By fold whether these are the tied ones of the step, and not the first. */
    final boolean[] passedTied;
    /** The rows of the folds, if stretches are passed over. */
    final FoldRows folds;

    private Ranked(int[] entry, int[] rows, boolean[] own, int[] runEnds, boolean[] lastOfFold, FoldRows folds) {
        this.entry = entry;
        this.rows = rows;
        this.own = own;
        this.runEnds = runEnds;
        this.lastOfFold = lastOfFold;
        int[] others = new int[runEnds.length];
        int[] owns = new int[runEnds.length];
        int[] ends = new int[runEnds.length];
        int[] foldEnds = new int[runEnds.length];
        int steps = 0;
        int ended = 0;
        int run = 0;
        int at = 0;
        while (run < runEnds.length) {
            boolean last = false;
            while (!last && run < runEnds.length && !own[at]) {
                last = lastOfFold[run];
                at = runEnds[run++];
            }
            others[steps] = at;
            boolean tied = false;
            while (!last && !tied && run < runEnds.length && own[at]) {
                last = lastOfFold[run];
                int start = at;
                while (at < runEnds[run] && own[at]) {
                    at++;
                }
                tied = at < runEnds[run];
                if (tied && start > others[steps]) {
                    // Those before are of the class too, but not tied with these others.
                    at = start;
                    last = false;
                    break;
                }
                if (!tied) {
                    run++;
                }
            }
            owns[steps] = at;
            if (tied && owns[steps] > others[steps] && !own[at]) {
                at = runEnds[run++];
            }
            ends[steps] = at;
            if (last) {
                foldEnds[ended++] = steps;
            }
            steps++;
        }
        this.othersEnd = Arrays.copyOf(others, steps);
        this.ownEnd = Arrays.copyOf(owns, steps);
        this.stepEnd = Arrays.copyOf(ends, steps);
        this.lastStep = Arrays.copyOf(foldEnds, ended);
        int[] longest = new int[ended];
        boolean[] tied = new boolean[ended];
        boolean passes =
                folds.ends.length == ended && longest(longest, tied) >= LEAST_PASSED * rows.length + JOINING * ended;
        this.passed = passes ? longest : new int[0];
        this.passedTied = passes ? tied : new boolean[0];
        this.folds = passes ? folds : FoldRows.NONE;
    }

    /** Finds the longest stretch of other classes' rows of each fold; returns how many rows they have in all. */
    private int longest(int[] step, boolean[] tied) {
        int sum = 0;
        int s = 0;
        int from = 0;
        for (int fold = 0; fold < lastStep.length; fold++) {
            int most = -1;
            for (; s <= lastStep[fold]; s++) {
                int first = othersEnd[s] - from;
                int last = stepEnd[s] - ownEnd[s];
                if (Math.max(first, last) > most) {
                    most = Math.max(first, last);
                    step[fold] = s;
                    tied[fold] = last > first;
                }
                from = stepEnd[s];
            }
            sum += most;
        }
        return sum;
    }

    /** All entries, ranked by the probability of a class. */
    static Ranked of(Outcomes o, int c, FoldRows folds) {
        double[] probability = new double[o.size()];
        Arrays.setAll(probability, i -> o.probability(i, c));
        return of(o, c, WeightedSort.order(probability), folds);
    }

    /** Only the entries of two classes, ranked by the probability of the first. */
    static Ranked of(Outcomes o, int c, int other) {
        double[] probability = new double[o.size()];
        Arrays.setAll(probability, i -> o.probability(i, c));
        return of(
                o,
                c,
                Arrays.stream(WeightedSort.order(probability))
                        .filter(i -> o.actual(i) == c || o.actual(i) == other)
                        .toArray(),
                FoldRows.NONE);
    }

    private static Ranked of(Outcomes o, int c, int[] rising, FoldRows folds) {
        int n = rising.length;
        int[] order = byFold(o, rising);
        int[] entry = new int[n];
        int[] rows = new int[n];
        boolean[] own = new boolean[n];
        int[] runEnds = new int[n];
        boolean[] lastOfFold = new boolean[n];
        int runs = 0;
        for (int i = 0; i < n; i++) {
            int e = order[i];
            entry[i] = e;
            rows[i] = o.row(e);
            own[i] = o.actual(e) == c;
            boolean foldEnds = i + 1 == n || o.fold(order[i + 1]) != o.fold(e);
            if (foldEnds || o.probability(order[i + 1], c) != o.probability(e, c)) {
                lastOfFold[runs] = foldEnds;
                runEnds[runs++] = i + 1;
            }
        }
        int from = 0;
        for (int run = 0; run < runs; run++) {
            ownFirst(entry, rows, own, from, runEnds[run]);
            from = runEnds[run];
        }
        return new Ranked(entry, rows, own, Arrays.copyOf(runEnds, runs), Arrays.copyOf(lastOfFold, runs), folds);
    }

    /** Moves the entries of the class to the front of a run. */
    private static void ownFirst(int[] entry, int[] rows, boolean[] own, int from, int end) {
        int front = from;
        for (int i = from; i < end; i++) {
            if (own[i]) {
                int e = entry[i];
                int row = rows[i];
                entry[i] = entry[front];
                rows[i] = rows[front];
                own[i] = own[front];
                entry[front] = e;
                rows[front] = row;
                own[front++] = true;
            }
        }
    }

    /** Moves entries in rising order into rising folds, keeping their order within each. */
    static int[] byFold(Outcomes o, int[] rising) {
        int folds = 0;
        for (int i : rising) {
            folds = Math.max(folds, o.fold(i) + 1);
        }
        int[] next = new int[folds + 1];
        for (int i : rising) {
            next[o.fold(i) + 1]++;
        }
        Arrays.parallelPrefix(next, Integer::sum);
        int[] order = new int[rising.length];
        for (int i : rising) {
            order[next[o.fold(i)]++] = i;
        }
        return order;
    }

    /** Returns how many of some entries are of the class, or are not. */
    double count(int from, int to, boolean ofOwn) {
        int count = 0;
        for (int i = from; i < to; i++) {
            if (own[i] == ofOwn) {
                count++;
            }
        }
        return count;
    }
}

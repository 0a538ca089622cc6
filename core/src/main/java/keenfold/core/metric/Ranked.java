package keenfold.core.metric;

import java.util.Arrays;
import keenfold.core.data.WeightedSort;

/** Entries sorted by fold, then by rising probability of one class, cut into runs of ties. */
final class Ranked {
    static final Ranked NONE = new Ranked(new int[0], new int[0], new boolean[0], new int[0], new boolean[0]);

    final int[] entry;
    final int[] rows;
    final boolean[] own;
    final int[] runEnds;
    final boolean[] lastOfFold;

    private Ranked(int[] entry, int[] rows, boolean[] own, int[] runEnds, boolean[] lastOfFold) {
        this.entry = entry;
        this.rows = rows;
        this.own = own;
        this.runEnds = runEnds;
        this.lastOfFold = lastOfFold;
    }

    static Ranked of(Outcomes o, int c) {
        int n = o.size();
        double[] probability = new double[n];
        Arrays.setAll(probability, i -> o.probability(i, c));
        int[] order = byFold(o, WeightedSort.order(probability));
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
        return new Ranked(entry, rows, own, Arrays.copyOf(runEnds, runs), Arrays.copyOf(lastOfFold, runs));
    }

    /** Moves entries in rising order into rising folds, keeping their order within each. */
    private static int[] byFold(Outcomes o, int[] rising) {
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

package keenfold.core.metric;

import java.util.Arrays;
import java.util.stream.IntStream;
import keenfold.core.data.WeightedSort;

/**
 * Area under the ROC curve: the share of pairs of a row of the class and a row of another class, both of the same fold,
 * in which the former was given the higher probability of the class; ties count one half.
 *
 * <p>Definition: auc(c) = Σ_f concordant pairs / Σ_f pairs. With two classes, of the positive one; with more, the mean
 * of auc(c) weighted by {@code shares}. Undefined if a class has no pair.
 *
 * <p>Cost: one sort of the rows per class; then O(K·n) for {@link Scorer#LANES} draws.
 *
 * <p>Reference: Hanley and McNeil (1982), Radiology 143(1), doi:10.1148/radiology.143.1.7063747.
 */
final class AucMetric implements Metric {
    private final String name;
    /** Per class the weight of its area; classes of weight 0 are left out. */
    private final double[] shares;

    AucMetric(String name, double[] shares) {
        this.name = name;
        this.shares = shares;
    }

    @Override
    public String name() {
        return name;
    }

    @Override
    public MetricKind kind() {
        return MetricKind.RANK;
    }

    @Override
    public boolean higherIsBetter() {
        return true;
    }

    @Override
    public Scorer scorer(Outcomes outcomes) {
        return new ByClass(
                shares,
                IntStream.range(0, shares.length)
                        .mapToObj(c -> shares[c] > 0 ? Ranked.of(outcomes, c) : Ranked.NONE)
                        .toArray(Ranked[]::new),
                outcomes.size());
    }

    private static final class ByClass implements Scorer {
        private final double[] shares;
        private final Ranked[] ranked;
        private final int entries;

        ByClass(double[] shares, Ranked[] ranked, int entries) {
            this.shares = shares;
            this.ranked = ranked;
            this.entries = entries;
        }

        @Override
        public void score(double[] weights, double[] scores) {
            double[] one = new double[LANES];
            Arrays.fill(scores, 0);
            for (int c = 0; c < shares.length; c++) {
                if (shares[c] > 0) {
                    ranked[c].score(weights, one);
                    for (int lane = 0; lane < LANES; lane++) {
                        scores[lane] += shares[c] * one[lane];
                    }
                }
            }
        }

        @Override
        public double[] withoutEach() {
            double[] without = new double[entries];
            for (int c = 0; c < shares.length; c++) {
                if (shares[c] > 0) {
                    double[] one = ranked[c].withoutEach(entries);
                    for (int i = 0; i < entries; i++) {
                        without[i] += shares[c] * one[i];
                    }
                }
            }
            return without;
        }
    }

    /** Entries sorted by fold, then by rising probability of one class, cut into runs of ties. */
    private static final class Ranked {
        static final Ranked NONE = new Ranked(new int[0], new int[0], new boolean[0], new int[0], new boolean[0]);

        private final int[] entry;
        private final int[] rows;
        private final boolean[] own;
        private final int[] runEnds;
        private final boolean[] lastOfFold;

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

        void score(double[] weights, double[] scores) {
            int lanes = Scorer.LANES;
            double[] twiceConcordant = new double[lanes];
            double[] pairs = new double[lanes];
            double[] below = new double[lanes];
            double[] cases = new double[lanes];
            double[] tiedOwn = new double[lanes];
            double[] tiedOther = new double[lanes];
            int from = 0;
            for (int run = 0; run < runEnds.length; run++) {
                for (int i = from; i < runEnds[run]; i++) {
                    int base = rows[i] * lanes;
                    double[] tied = own[i] ? tiedOwn : tiedOther;
                    for (int lane = 0; lane < lanes; lane++) {
                        tied[lane] += weights[base + lane];
                    }
                }
                from = runEnds[run];
                for (int lane = 0; lane < lanes; lane++) {
                    twiceConcordant[lane] += tiedOwn[lane] * (2 * below[lane] + tiedOther[lane]);
                    below[lane] += tiedOther[lane];
                    cases[lane] += tiedOwn[lane];
                    tiedOwn[lane] = 0;
                    tiedOther[lane] = 0;
                }
                if (lastOfFold[run]) {
                    for (int lane = 0; lane < lanes; lane++) {
                        pairs[lane] += cases[lane] * below[lane];
                        below[lane] = 0;
                        cases[lane] = 0;
                    }
                }
            }
            for (int lane = 0; lane < lanes; lane++) {
                scores[lane] = twiceConcordant[lane] / (2 * pairs[lane]);
            }
        }

        /** Per entry the area of all other entries, from what each adds to the concordant pairs and to all pairs. */
        double[] withoutEach(int entries) {
            double[] twice = new double[entries];
            double[] pairs = new double[entries];
            double allTwice = 0;
            double allPairs = 0;
            int foldFrom = 0;
            int firstRun = 0;
            for (int run = 0; run < runEnds.length; run++) {
                if (!lastOfFold[run]) {
                    continue;
                }
                int foldEnd = runEnds[run];
                double ownTotal = count(foldFrom, foldEnd, true);
                double otherTotal = count(foldFrom, foldEnd, false);
                double ownBelow = 0;
                double otherBelow = 0;
                int from = foldFrom;
                for (int r = firstRun; r <= run; r++) {
                    double ownHere = count(from, runEnds[r], true);
                    double otherHere = count(from, runEnds[r], false);
                    for (int i = from; i < runEnds[r]; i++) {
                        twice[entry[i]] =
                                own[i] ? 2 * otherBelow + otherHere : 2 * (ownTotal - ownBelow - ownHere) + ownHere;
                        pairs[entry[i]] = own[i] ? otherTotal : ownTotal;
                    }
                    allTwice += ownHere * (2 * otherBelow + otherHere);
                    ownBelow += ownHere;
                    otherBelow += otherHere;
                    from = runEnds[r];
                }
                allPairs += ownTotal * otherTotal;
                foldFrom = foldEnd;
                firstRun = run + 1;
            }
            double[] without = new double[entries];
            for (int i = 0; i < entries; i++) {
                without[i] = (allTwice - twice[i]) / (2 * (allPairs - pairs[i]));
            }
            return without;
        }

        private double count(int from, int to, boolean ofOwn) {
            int count = 0;
            for (int i = from; i < to; i++) {
                if (own[i] == ofOwn) {
                    count++;
                }
            }
            return count;
        }
    }
}

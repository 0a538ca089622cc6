package keenfold.core.metric;

import java.util.Arrays;

/**
 * Area under the ROC curve: the share of pairs of a row of the class and a row of another class, both of the same fold,
 * in which the former was given the higher probability of the class; ties count one half.
 *
 * <p>Definition: auc(c) = Σ_f concordant pairs / Σ_f pairs; undefined without a pair.
 *
 * <p>Reference: Hanley and McNeil (1982), Radiology 143(1), doi:10.1148/radiology.143.1.7063747.
 */
public final class ConcordantPairs implements RankMetric.OfRanks {
    @Override
    public boolean ofPairs() {
        return true;
    }

    @Override
    public void score(Ranked ranked, CaseWeights weights, double[] scores) {
        if (weights.most() > PairCounts.MOST) {
            scoreInDoubles(ranked, weights.values(), scores);
        } else {
            new PairCounts(ranked, weights, scores.length).score(scores);
        }
    }

    /** For sums of weights so large that numbers of pairs are beyond 32 bits. */
    private static void scoreInDoubles(Ranked ranked, double[][] weights, double[] scores) {
        int lanes = scores.length;
        double[] concordant = new double[lanes];
        double[] pairs = new double[lanes];
        double[] below = new double[lanes];
        double[] cases = new double[lanes];
        double[] own = new double[lanes];
        double[] both = new double[lanes];
        int from = 0;
        int fold = 0;
        for (int step = 0; step < ranked.stepEnd.length; step++) {
            Arrays.fill(own, 0);
            Lanes.addRows(below, weights, ranked.rows, from, ranked.othersEnd[step]);
            System.arraycopy(below, 0, both, 0, lanes);
            Lanes.addRows(own, weights, ranked.rows, ranked.othersEnd[step], ranked.ownEnd[step]);
            Lanes.addRows(below, weights, ranked.rows, ranked.ownEnd[step], ranked.stepEnd[step]);
            // A tie counts one half: so much as the mean of what is below before and after it.
            Lanes.add(both, below);
            Lanes.addProduct(concordant, own, both);
            Lanes.add(cases, own);
            from = ranked.stepEnd[step];
            if (step == ranked.lastStep[fold]) {
                fold++;
                Lanes.addProduct(pairs, cases, below);
                Arrays.fill(below, 0);
                Arrays.fill(cases, 0);
            }
        }
        for (int lane = 0; lane < lanes; lane++) {
            scores[lane] = concordant[lane] / (2 * pairs[lane]);
        }
    }

    /** The area of all entries, each counted once. */
    double whole(Ranked ranked) {
        int rows = 0;
        for (int row : ranked.rows) {
            rows = Math.max(rows, row + 1);
        }
        double[] score = new double[1];
        score(ranked, CaseWeights.ones(rows), score);
        return score[0];
    }

    /** Per entry the area of all other entries, from what each adds to the concordant pairs and to all pairs. */
    @Override
    public double[] withoutEach(Ranked ranked, int entries) {
        double[] twice = new double[entries];
        double[] pairs = new double[entries];
        double allTwice = 0;
        double allPairs = 0;
        int foldFrom = 0;
        int firstRun = 0;
        for (int run = 0; run < ranked.runEnds.length; run++) {
            if (!ranked.lastOfFold[run]) {
                continue;
            }
            int foldEnd = ranked.runEnds[run];
            double ownTotal = ranked.count(foldFrom, foldEnd, true);
            double otherTotal = ranked.count(foldFrom, foldEnd, false);
            double ownBelow = 0;
            double otherBelow = 0;
            int from = foldFrom;
            for (int r = firstRun; r <= run; r++) {
                double ownHere = ranked.count(from, ranked.runEnds[r], true);
                double otherHere = ranked.count(from, ranked.runEnds[r], false);
                for (int i = from; i < ranked.runEnds[r]; i++) {
                    twice[ranked.entry[i]] =
                            ranked.own[i] ? 2 * otherBelow + otherHere : 2 * (ownTotal - ownBelow - ownHere) + ownHere;
                    pairs[ranked.entry[i]] = ranked.own[i] ? otherTotal : ownTotal;
                }
                allTwice += ownHere * (2 * otherBelow + otherHere);
                ownBelow += ownHere;
                otherBelow += otherHere;
                from = ranked.runEnds[r];
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
}

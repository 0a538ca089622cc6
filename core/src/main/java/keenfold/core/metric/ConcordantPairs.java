package keenfold.core.metric;

/**
 * Area under the ROC curve: the share of pairs of a row of the class and a row of another class, both of the same fold,
 * in which the former was given the higher probability of the class; ties count one half.
 *
 * <p>Definition: auc(c) = Σ_f concordant pairs / Σ_f pairs; undefined without a pair.
 *
 * <p>Reference: Hanley and McNeil (1982), Radiology 143(1), doi:10.1148/radiology.143.1.7063747.
 */
final class ConcordantPairs implements RankMetric.OfRanks {
    @Override
    public boolean ofPairs() {
        return true;
    }

    @Override
    public void score(Ranked ranked, double[] weights, double[] scores) {
        int lanes = Scorer.LANES;
        double[] twiceConcordant = new double[lanes];
        double[] pairs = new double[lanes];
        double[] below = new double[lanes];
        double[] cases = new double[lanes];
        double[] tiedOwn = new double[lanes];
        double[] tiedOther = new double[lanes];
        int from = 0;
        for (int run = 0; run < ranked.runEnds.length; run++) {
            for (int i = from; i < ranked.runEnds[run]; i++) {
                int base = ranked.rows[i] * lanes;
                double[] tied = ranked.own[i] ? tiedOwn : tiedOther;
                for (int lane = 0; lane < lanes; lane++) {
                    tied[lane] += weights[base + lane];
                }
            }
            from = ranked.runEnds[run];
            for (int lane = 0; lane < lanes; lane++) {
                twiceConcordant[lane] += tiedOwn[lane] * (2 * below[lane] + tiedOther[lane]);
                below[lane] += tiedOther[lane];
                cases[lane] += tiedOwn[lane];
                tiedOwn[lane] = 0;
                tiedOther[lane] = 0;
            }
            if (ranked.lastOfFold[run]) {
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

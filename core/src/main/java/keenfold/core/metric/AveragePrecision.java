package keenfold.core.metric;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * Average precision: the mean of precision over the rows of the class, each at the threshold where it is just found.
 *
 * <p>Definition: of fold f with P_f rows of the class, AP_f = Σ over distinct probabilities, highest first, of
 * (R_t − R_{t−1})·Prec_t, recall and precision of what is predicted from that probability on; joined Σ_f P_f·AP_f / Σ_f P_f.
 * Undefined without a row of the class. A guess has the share of the class.
 *
 * <p>Reference: Davis and Goadrich (2006), Proc. 23rd Int. Conf. Machine Learning, doi:10.1145/1143844.1143874.
 */
public final class AveragePrecision implements RankMetric.OfRanks {
    @Override
    public boolean ofPairs() {
        return false;
    }

    @Override
    public void score(Ranked ranked, CaseWeights weights, double[] scores) {
        int lanes = scores.length;
        double[] sum = new double[lanes];
        double[] cases = new double[lanes];
        double[] found = new double[lanes];
        double[] called = new double[lanes];
        double[] own = new double[lanes];
        double[] other = new double[lanes];
        for (Fold fold : folds(ranked)) {
            Arrays.fill(found, 0);
            Arrays.fill(called, 0);
            for (int run = fold.toRun - 1; run >= fold.fromRun; run--) {
                Arrays.fill(own, 0);
                Arrays.fill(other, 0);
                for (int i = start(ranked, run); i < ranked.runEnds[run]; i++) {
                    Lanes.add(ranked.own[i] ? own : other, weights.values()[ranked.rows[i]]);
                }
                for (int lane = 0; lane < lanes; lane++) {
                    found[lane] += own[lane];
                    called[lane] += own[lane] + other[lane];
                    cases[lane] += own[lane];
                    sum[lane] += own[lane] > 0 ? own[lane] * found[lane] / called[lane] : 0;
                }
            }
        }
        for (int lane = 0; lane < lanes; lane++) {
            scores[lane] = sum[lane] / cases[lane];
        }
    }

    /** The runs of ties of one fold. */
    private static final class Fold {
        private final int fromRun;
        private final int toRun;

        Fold(int fromRun, int toRun) {
            this.fromRun = fromRun;
            this.toRun = toRun;
        }
    }

    private static List<Fold> folds(Ranked ranked) {
        List<Fold> folds = new ArrayList<>();
        int from = 0;
        for (int run = 0; run < ranked.runEnds.length; run++) {
            if (ranked.lastOfFold[run]) {
                folds.add(new Fold(from, run + 1));
                from = run + 1;
            }
        }
        return folds;
    }

    private static int start(Ranked ranked, int run) {
        return run == 0 ? 0 : ranked.runEnds[run - 1];
    }

    /**
     * Without a row of another class, one row fewer is called at its probability and all lower ones; without one of the
     * class, one fewer is found there too. Sums over what is lower serve all rows at once.
     */
    @Override
    public double[] withoutEach(Ranked ranked, int entries) {
        double[] change = new double[entries];
        boolean[] isCase = new boolean[entries];
        double all = 0;
        double cases = 0;
        for (Fold fold : folds(ranked)) {
            int runs = fold.toRun - fold.fromRun;
            double[] own = new double[runs];
            double[] found = new double[runs];
            double[] called = new double[runs];
            double sumFound = 0;
            double sumCalled = 0;
            // Position 0 is the highest probability.
            for (int t = 0; t < runs; t++) {
                int run = fold.toRun - 1 - t;
                int size = ranked.runEnds[run] - start(ranked, run);
                own[t] = ranked.count(start(ranked, run), ranked.runEnds[run], true);
                sumFound += own[t];
                sumCalled += size;
                found[t] = sumFound;
                called[t] = sumCalled;
                all += own[t] * found[t] / called[t];
                cases += own[t];
            }
            double lessOther = 0;
            double lessOwn = 0;
            for (int t = runs - 1; t >= 0; t--) {
                int run = fold.toRun - 1 - t;
                double now = own[t] * found[t] / called[t];
                double before = called[t] - 1;
                double otherHere = before > 0 ? own[t] * found[t] / before - now : 0;
                double ownHere = (before > 0 ? (own[t] - 1) * (found[t] - 1) / before : 0) - now;
                for (int i = start(ranked, run); i < ranked.runEnds[run]; i++) {
                    isCase[ranked.entry[i]] = ranked.own[i];
                    change[ranked.entry[i]] = ranked.own[i] ? lessOwn + ownHere : lessOther + otherHere;
                }
                lessOther += otherHere;
                lessOwn += before > 0 ? own[t] * (found[t] - 1) / before - now : 0;
            }
        }
        double[] without = new double[entries];
        for (int i = 0; i < entries; i++) {
            double left = isCase[i] ? cases - 1 : cases;
            without[i] = left > 0 ? (all + change[i]) / left : Double.NaN;
        }
        return without;
    }
}

package keenfold.core.metric;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * Partial area under the ROC curve: the mean true positive rate over false positive rates from 0 to F.
 *
 * <p>Definition: of fold f with P_f rows of the class and N_f others, pAUC_f = (1/F)·∫ TPR d FPR from 0 to F, the curve
 * straight between thresholds; joined Σ_f P_f·N_f·pAUC_f/Σ_f P_f·N_f. A guess has F/2; F = 1 is the whole area. Undefined
 * without a pair.
 *
 * <p>Reference: McClish (1989), Med. Decis. Making 9(3), doi:10.1177/0272989X8900900307, not rescaled.
 *
 * @param most F, above 0 and at most 1
 */
public record PartialArea(double most) implements RankMetric.OfRanks {
    /** A larger fold has too many rows for leaving out each in turn. */
    private static final int MOST_LEFT_OUT = 4000;

    @Override
    public boolean ofPairs() {
        return true;
    }

    @Override
    public void score(Ranked ranked, CaseWeights weights, double[] scores) {
        int lanes = scores.length;
        double[] area = new double[lanes];
        double[] pairs = new double[lanes];
        int from = 0;
        int firstRun = 0;
        for (int run = 0; run < ranked.runEnds.length; run++) {
            if (ranked.lastOfFold[run]) {
                fold(ranked, firstRun, run, from, weights.values(), area, pairs);
                firstRun = run + 1;
                from = ranked.runEnds[run];
            }
        }
        for (int lane = 0; lane < lanes; lane++) {
            scores[lane] = area[lane] / (most * pairs[lane]);
        }
    }

    /** Adds one fold's area, in rows of the class times others, and its pairs. */
    private void fold(
            Ranked ranked, int firstRun, int lastRun, int start, double[][] weights, double[] area, double[] pairs) {
        int lanes = area.length;
        double[] cases = new double[lanes];
        double[] others = new double[lanes];
        for (int i = start; i < ranked.runEnds[lastRun]; i++) {
            Lanes.add(ranked.own[i] ? cases : others, weights[ranked.rows[i]]);
        }
        Lanes.addProduct(pairs, cases, others);
        double[] found = new double[lanes];
        double[] called = new double[lanes];
        double[] own = new double[lanes];
        double[] other = new double[lanes];
        for (int run = lastRun; run >= firstRun; run--) {
            Arrays.fill(own, 0);
            Arrays.fill(other, 0);
            for (int i = run == firstRun ? start : ranked.runEnds[run - 1]; i < ranked.runEnds[run]; i++) {
                Lanes.add(ranked.own[i] ? own : other, weights[ranked.rows[i]]);
            }
            for (int lane = 0; lane < lanes; lane++) {
                double room = most * others[lane] - called[lane];
                double step = Math.min(other[lane], Math.max(0, room));
                if (step > 0) {
                    area[lane] += step * (found[lane] + own[lane] * (step / other[lane]) / 2);
                }
                found[lane] += own[lane];
                called[lane] += other[lane];
            }
        }
    }

    @Override
    public double[] withoutEach(Ranked ranked, int entries) {
        double[] without = new double[entries];
        Arrays.fill(without, Double.NaN);
        List<int[]> folds = new ArrayList<>();
        int firstRun = 0;
        int start = 0;
        for (int run = 0; run < ranked.runEnds.length; run++) {
            if (ranked.lastOfFold[run]) {
                folds.add(new int[] {firstRun, run, start});
                if (ranked.runEnds[run] - start > MOST_LEFT_OUT) {
                    return without;
                }
                firstRun = run + 1;
                start = ranked.runEnds[run];
            }
        }
        double[] areas = new double[folds.size()];
        double[] pairs = new double[folds.size()];
        int rows = Arrays.stream(ranked.rows).max().orElse(-1) + 1;
        double[][] ones = new double[rows][];
        Arrays.fill(ones, new double[] {1});
        for (int f = 0; f < areas.length; f++) {
            double[] area = new double[1];
            double[] of = new double[1];
            fold(ranked, folds.get(f)[0], folds.get(f)[1], folds.get(f)[2], ones, area, of);
            areas[f] = area[0];
            pairs[f] = of[0];
        }
        double allAreas = Arrays.stream(areas).sum();
        double allPairs = Arrays.stream(pairs).sum();
        for (int f = 0; f < areas.length; f++) {
            int[] fold = folds.get(f);
            int size = ranked.runEnds[fold[1]] - fold[2];
            double[][] weights = new double[rows][];
            for (int i = 0; i < size; i++) {
                double[] own = new double[size];
                Arrays.fill(own, 1);
                own[i] = 0;
                weights[ranked.rows[fold[2] + i]] = own;
            }
            double[] area = new double[size];
            double[] of = new double[size];
            fold(ranked, fold[0], fold[1], fold[2], weights, area, of);
            for (int i = 0; i < size; i++) {
                without[ranked.entry[fold[2] + i]] =
                        (allAreas - areas[f] + area[i]) / (most * (allPairs - pairs[f] + of[i]));
            }
        }
        return without;
    }
}

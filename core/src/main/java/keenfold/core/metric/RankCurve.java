package keenfold.core.metric;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.WeightedSort;

/**
 * ROC and precision-recall curves of one class against the rest, as the metrics auc and average-precision join folds.
 *
 * <p>Definition: rows of a fold are ranked among themselves alone. With P_f rows of the class and N_f others in fold f, the
 * ROC curve is the mean over folds, at each false positive rate, of the folds' true positive rates, weighted by P_f·N_f;
 * tied rows are passed in a straight line. Its area is auc. The precision-recall curve is the mean over folds, at each
 * recall, of the folds' precisions, weighted by P_f, where precision holds over the step of recall that ends at it. Its area
 * is average-precision. Folds without rows of the class (for ROC: or without others) say nothing and are left out.
 *
 * <p>Shapes: weights by row of the data set, not negative. Cost: O(n log n) once, then O(n) a curve.
 *
 * <p>Reference: Fawcett (2006), Pattern Recognit. Lett. 27(8), doi:10.1016/j.patrec.2005.10.010; vertical averaging.
 */
public final class RankCurve {
    private final Kind kind;
    private final FoldRows rowsOfFolds;
    private final List<Fold> folds = new ArrayList<>();
    private int rows;

    /** What is drawn against what. */
    public enum Kind {
        /** True positive rate against false positive rate. */
        ROC,
        /** Precision against recall. */
        PRECISION_RECALL
    }

    /** The rows of one fold by falling probability, cut into runs of ties. */
    private static final class Fold {
        private final int[] row;
        private final boolean[] own;
        /** 1 for rows of the class, 0 for others: a product does not make the processor guess. */
        private final double[] ones;

        private final int[] runEnds;
        /** The rows of the class. */
        private final int[] ownRow;
        /** How many runs there are up to the last row of the class; of what follows, the curve needs the sum alone. */
        private final int runs;

        Fold(int[] row, boolean[] own, int[] runEnds) {
            this.row = row;
            this.own = own;
            this.ones = new double[own.length];
            Arrays.setAll(ones, i -> own[i] ? 1 : 0);
            this.runEnds = runEnds;
            int[] places = IntStream.range(0, own.length).filter(i -> own[i]).toArray();
            this.ownRow = Arrays.stream(places).map(i -> row[i]).toArray();
            int last = places.length == 0 ? -1 : places[places.length - 1];
            this.runs = last < 0
                    ? 0
                    : (int) Arrays.stream(runEnds).filter(end -> end <= last).count() + 1;
        }
    }

    private RankCurve(Kind kind, FoldRows rowsOfFolds) {
        this.kind = kind;
        this.rowsOfFolds = rowsOfFolds;
    }

    /** Returns the curves of a class. */
    public static RankCurve of(Kind kind, Outcomes outcomes, int c) {
        RankCurve curve = new RankCurve(kind, FoldRows.of(outcomes));
        int n = outcomes.size();
        double[] probability = new double[n];
        Arrays.setAll(probability, i -> -outcomes.probability(i, c));
        List<List<Integer>> byFold = new ArrayList<>();
        for (int i : WeightedSort.order(probability)) {
            while (byFold.size() <= outcomes.fold(i)) {
                byFold.add(new ArrayList<>());
            }
            byFold.get(outcomes.fold(i)).add(i);
        }
        for (List<Integer> entries : byFold) {
            int m = entries.size();
            int[] rows = new int[m];
            boolean[] own = new boolean[m];
            int[] ends = new int[m];
            int runs = 0;
            for (int i = 0; i < m; i++) {
                int e = entries.get(i);
                rows[i] = outcomes.row(e);
                curve.rows = Math.max(curve.rows, rows[i] + 1);
                own[i] = outcomes.actual(e) == c;
                if (i + 1 == m || probability[entries.get(i + 1)] != probability[e]) {
                    ends[runs++] = i + 1;
                }
            }
            curve.folds.add(new Fold(rows, own, Arrays.copyOf(ends, runs)));
        }
        return curve;
    }

    /** Returns the curve of all rows alike; empty where no fold has both classes (precision-recall: the class). */
    public Optional<Curve> plain() {
        double[] ones = new double[rows];
        Arrays.fill(ones, 1);
        return weighted(ones);
    }

    /**
     * Returns the curve under weights; empty where no fold has both classes (precision-recall: the class).
     *
     * @param weights by row of the data set
     */
    public Optional<Curve> weighted(double[] weights) {
        List<Curve> curves = new ArrayList<>();
        double[] shares = new double[folds.size()];
        for (Fold fold : folds) {
            double share = share(fold, weights);
            if (share > 0) {
                shares[curves.size()] = share;
                curves.add(of(fold, weights));
            }
        }
        return curves.isEmpty()
                ? Optional.empty()
                : Optional.of(Curve.mean(curves, Arrays.copyOf(shares, curves.size())));
    }

    /**
     * Returns the values of the curve under weights at equally many x from 0 to 1, after jumps, and behind them the area
     * under the whole curve, which takes much less time than the curve itself; empty where there is no curve.
     *
     * @param points how many x, at least 2
     * @param weights by row of the data set
     */
    public double[] at(int points, RowWeights weights) {
        return at(points, weights.values(), weights.totals(rowsOfFolds));
    }

    private double[] at(int points, double[] weights, double[] totals) {
        double[] sum = new double[points + 1];
        double total = 0;
        int next = 0;
        for (Fold fold : folds) {
            double own = sum(fold.ownRow, weights);
            double all = fold.row.length == 0 ? 0 : totals[next++];
            double share = kind == Kind.ROC ? own * (all - own) : own;
            if (share > 0) {
                total += share;
                if (kind == Kind.ROC) {
                    addRoc(fold, weights, share, all - own, own, sum);
                } else {
                    addRecalls(fold, weights, share, all, own, sum);
                }
            }
        }
        if (total == 0) {
            return new double[0];
        }
        for (int g = 0; g < sum.length; g++) {
            sum[g] /= total;
        }
        return sum;
    }

    private static double sum(int[] rows, double[] weights) {
        double sum = 0;
        for (int row : rows) {
            sum += weights[row];
        }
        return sum;
    }

    /** Passes the rows of a fold once; in weights of rows, so that it divides only where a point of the grid lies. */
    private static void addRoc(Fold fold, double[] weights, double share, double others, double own, double[] sum) {
        int points = sum.length - 1;
        double caught = 0;
        double wrong = 0;
        double area = 0;
        double next = 0;
        int g = 0;
        int i = 0;
        for (int run = 0; run < fold.runs; run++) {
            double caughtBefore = caught;
            double wrongBefore = wrong;
            if (run + 1 == fold.runEnds.length) {
                caught = own;
                wrong = others;
            }
            for (; run + 1 < fold.runEnds.length && i < fold.runEnds[run]; i++) {
                double w = weights[fold.row[i]];
                double ofOwn = w * fold.ones[i];
                caught += ofOwn;
                wrong += w - ofOwn;
            }
            area += (wrong - wrongBefore) * (caughtBefore + caught);
            while (next < wrong && g < points) {
                double along = (next - wrongBefore) / (wrong - wrongBefore);
                sum[g] += share * ((caughtBefore + (caught - caughtBefore) * along) / own);
                g++;
                next = g * others / (points - 1);
            }
        }
        for (; g < points; g++) {
            sum[g] += share;
        }
        area += (others - wrong) * (own + own);
        sum[points] += share * (area / (2 * others * own));
    }

    /** The same for precision against recall. */
    private static void addRecalls(Fold fold, double[] weights, double share, double all, double own, double[] sum) {
        int points = sum.length - 1;
        double caught = 0;
        double called = 0;
        double last = 0;
        double area = 0;
        double next = 0;
        int g = 0;
        int i = 0;
        for (int run = 0; run < fold.runs; run++) {
            double before = caught;
            if (run + 1 == fold.runEnds.length) {
                caught = own;
                called = all;
            }
            for (; run + 1 < fold.runEnds.length && i < fold.runEnds[run]; i++) {
                double w = weights[fold.row[i]];
                caught += w * fold.ones[i];
                called += w;
            }
            if (caught > before) {
                last = caught / called;
                area += (caught - before) * last;
                while (next < caught && g < points) {
                    sum[g] += share * last;
                    g++;
                    next = g * own / (points - 1);
                }
            }
        }
        for (; g < points; g++) {
            sum[g] += share * last;
        }
        sum[points] += share * (area / own);
    }

    /** The weight of a fold, 0 if it says nothing. */
    private double share(Fold fold, double[] weights) {
        double own = 0;
        double others = 0;
        for (int i = 0; i < fold.row.length; i++) {
            double w = weights[fold.row[i]];
            own += fold.own[i] ? w : 0;
            others += fold.own[i] ? 0 : w;
        }
        return kind == Kind.ROC ? own * others : own;
    }

    private Curve of(Fold fold, double[] weights) {
        return kind == Kind.ROC ? roc(fold, weights) : recalls(fold, weights);
    }

    private static Curve roc(Fold fold, double[] weights) {
        double[] x = new double[fold.runEnds.length + 1];
        double[] y = new double[fold.runEnds.length + 1];
        double caught = 0;
        double wrong = 0;
        int i = 0;
        for (int run = 0; run < fold.runEnds.length; run++) {
            for (; i < fold.runEnds[run]; i++) {
                double w = weights[fold.row[i]];
                caught += fold.own[i] ? w : 0;
                wrong += fold.own[i] ? 0 : w;
            }
            x[run + 1] = wrong;
            y[run + 1] = caught;
        }
        for (int run = 1; run < x.length; run++) {
            x[run] /= wrong;
            y[run] /= caught;
        }
        return Curve.of(x, y);
    }

    private static Curve recalls(Fold fold, double[] weights) {
        double[] x = new double[2 * fold.runEnds.length];
        double[] y = new double[2 * fold.runEnds.length];
        double caught = 0;
        double called = 0;
        int points = 0;
        int i = 0;
        for (int end : fold.runEnds) {
            double before = caught;
            for (; i < end; i++) {
                double w = weights[fold.row[i]];
                caught += fold.own[i] ? w : 0;
                called += w;
            }
            if (caught > before) {
                x[points] = before;
                x[points + 1] = caught;
                y[points] = caught / called;
                y[points + 1] = y[points];
                points += 2;
            }
        }
        for (int p = 0; p < points; p++) {
            x[p] /= caught;
        }
        return Curve.of(Arrays.copyOf(x, points), Arrays.copyOf(y, points));
    }
}

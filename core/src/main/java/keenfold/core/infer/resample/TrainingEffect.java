package keenfold.core.infer.resample;

import java.util.Arrays;
import java.util.Optional;

/**
 * How much of the uncertainty of a mean or a difference resampling predictions leaves out: that other training rows would
 * have given other models.
 *
 * <p>Definition: Q_ir is how row i of class c stands in repeat r (of a difference, how it stands by one candidate less how
 * it stands by the other). W(Q) = Σ_c (1/n_c)·mean_i Var_r(Q_ir), v(Q) = Σ_c (1/n_c)·Var_i(mean_r Q_ir), divisors R − 1 and
 * n_c − 1; instability = W/v, of a difference of the sums of both candidates' W and v. With L_ir = Q_ir·n/n_c,
 * l_i = mean_r L_ir, d_i = l_i − mean l, e_ir = (L_ir − l_i)·√(R/(R − 1)), over the R·k folds f of m rows:
 * X = mean_f[−2·m/(m − 1)·(mean d)(mean e)]/v, an unbiased estimate of twice the covariance of a row's own score with its
 * effect, as a training row, on the others; G = (k/n)·(mean_f[(Σ e)²/m] − mean of e²)/v, how much more the rows of a fold
 * move together than apart. x = W/v, y = x·k²/(k − 1), Y = instability·k²/(k − 1); λ₀ = 2Y²/(2 + Y²);
 * 1/w = 1 + x·k/R + 1/(4y²); λ = max(0, w·(X − G/(1 + y²)) + (1 − w)·λ₀).
 *
 * <p>X is unbiased but noisy, λ₀ precise but blind to the kind of classifier: X is drawn towards λ₀, the more the noisier it
 * is and the more stable the candidates are. No instability gives 0; v(Q) = 0 gives λ₀. Source: docs/methods.md, variance,
 * with the reasons and what was measured.
 *
 * @param lambda λ
 * @param instability how much a row's standing changes from repeat to repeat
 * @param covariance X; NaN where λ is λ₀
 * @param together G; NaN where λ is λ₀
 * @param weight w, of X against λ₀; 0 where λ is λ₀
 */
record TrainingEffect(double lambda, double instability, double covariance, double together, double weight) {
    /** No other training rows are allowed for. */
    static final TrainingEffect NONE = new TrainingEffect(0, 0, Double.NaN, Double.NaN, 0);

    /** λ₀ of candidates that rank no row the same way twice. */
    private static final double MOST = 2;

    /** The least y², so that 1/(4y²) is a number. */
    private static final double LEAST_SQUARE = 1e-12;

    /** W and v of standings, which candidates add up for their instability. */
    record Spread(double between, double within) {
        Spread plus(Spread other) {
            return new Spread(between + other.between, within + other.within);
        }

        double instability() {
            return between == 0 ? 0 : between / within;
        }

        /** λ₀. */
        double lambda(int folds) {
            if (between == 0) {
                return 0;
            }
            if (within == 0) {
                return MOST;
            }
            double y = between / within * folds * folds / (folds - 1.0);
            return 2 * y * y / (2 + y * y);
        }
    }

    /** Returns the effect that is larger. */
    TrainingEffect or(TrainingEffect other) {
        return other.lambda > lambda ? other : this;
    }

    /** W and v of one candidate. */
    static Spread spread(RowStandings standings, TestedRows rows) {
        Differences q = new Differences(standings, Optional.empty(), rows);
        return q.spread();
    }

    /**
     * Estimates the effect on one mean, or on a difference.
     *
     * @param b the other candidate's standings; none for a mean
     * @param own W and v of the candidate, or the sums of both
     * @param folds k
     * @param grouped whether rows belong to groups: then λ is at least λ₀, since it was not studied with groups
     */
    static TrainingEffect of(
            RowStandings a, Optional<RowStandings> b, TestedRows rows, Spread own, int folds, boolean grouped) {
        if (own.between == 0) {
            return NONE;
        }
        double stable = own.lambda(folds);
        Differences q = new Differences(a, b, rows);
        Spread spread = q.spread();
        if (spread.within == 0) {
            return new TrainingEffect(stable, own.instability(), Double.NaN, Double.NaN, 0);
        }
        double x = spread.between / spread.within;
        double y = x * folds * folds / (folds - 1.0);
        double[] effects = q.effects(folds);
        double covariance = effects[0] / spread.within;
        double together = effects[1] / spread.within;
        double weight = 1 / (1 + x * folds / rows.repeats() + 0.25 / Math.max(LEAST_SQUARE, y * y));
        double drawn = weight * (covariance - together / (1 + y * y)) + (1 - weight) * stable;
        double lambda = Math.max(grouped ? stable : 0, drawn);
        return new TrainingEffect(lambda, own.instability(), covariance, together, weight);
    }

    /** Q of one candidate, or of a difference: kept where it fits into a cache, worked out again for each pass where not. */
    private static final class Differences {
        private static final int MOST_KEPT = 1 << 18;

        private final RowStandings a;
        private final Optional<RowStandings> b;
        private final TestedRows rows;
        private final double[] means;
        private final double[][] kept;
        private final double[] passing;

        Differences(RowStandings a, Optional<RowStandings> b, TestedRows rows) {
            this.a = a;
            this.b = b;
            this.rows = rows;
            this.means = new double[rows.count()];
            boolean fits = (long) rows.repeats() * means.length <= MOST_KEPT;
            this.kept = fits ? new double[rows.repeats()][means.length] : new double[0][];
            this.passing = fits ? new double[0] : new double[means.length];
            for (int r = 0; r < rows.repeats(); r++) {
                double[] q = fill(r, fits ? kept[r] : passing);
                int[] folds = rows.folds(r);
                for (int i = 0; i < q.length; i++) {
                    if (folds[i] >= 0) {
                        means[i] += q[i];
                    }
                }
            }
            for (int i = 0; i < means.length; i++) {
                means[i] /= Math.max(1, rows.repeatsOf(i));
            }
        }

        private double[] fill(int repeat, double[] q) {
            Arrays.fill(q, 0);
            a.add(repeat, 1, q);
            if (b.isPresent()) {
                b.get().add(repeat, -1, q);
            }
            return q;
        }

        /** Q of all rows in a repeat, until it is asked for another one. */
        private double[] of(int repeat) {
            return kept.length > 0 ? kept[repeat] : fill(repeat, passing);
        }

        Spread spread() {
            double[] squares = new double[means.length];
            for (int r = 0; r < rows.repeats(); r++) {
                double[] q = of(r);
                int[] folds = rows.folds(r);
                for (int i = 0; i < q.length; i++) {
                    if (folds[i] >= 0) {
                        double off = q[i] - means[i];
                        squares[i] += off * off;
                    }
                }
            }
            double[] mean = new double[rows.classes()];
            double[] overRepeats = new double[rows.classes()];
            int[] repeated = new int[rows.classes()];
            for (int i = 0; i < means.length; i++) {
                int c = rows.classOf(i);
                mean[c] += means[i] / rows.ofClass(c);
                if (rows.repeatsOf(i) > 1) {
                    overRepeats[c] += squares[i] / (rows.repeatsOf(i) - 1);
                    repeated[c]++;
                }
            }
            double[] overRows = new double[rows.classes()];
            for (int i = 0; i < means.length; i++) {
                double off = means[i] - mean[rows.classOf(i)];
                overRows[rows.classOf(i)] += off * off;
            }
            double between = 0;
            double within = 0;
            for (int c = 0; c < mean.length; c++) {
                double n = rows.ofClass(c);
                if (n > 1 && repeated[c] > 0) {
                    between += overRepeats[c] / repeated[c] / n;
                    within += overRows[c] / (n - 1) / n;
                }
            }
            return new Spread(between, within);
        }

        /** X and G, before they are divided by v. */
        double[] effects(int foldCount) {
            int n = means.length;
            double[] scale = new double[rows.classes()];
            for (int c = 0; c < scale.length; c++) {
                scale[c] = (double) n / Math.max(1, rows.ofClass(c));
            }
            double grand = 0;
            for (int i = 0; i < n; i++) {
                grand += means[i] * scale[rows.classOf(i)] / n;
            }
            double covariance = 0;
            int pairs = 0;
            double moved = 0;
            int all = 0;
            double squares = 0;
            long entries = 0;
            double[] shift = new double[n];
            double[] factor = new double[n];
            for (int i = 0; i < n; i++) {
                double repeats = rows.repeatsOf(i);
                shift[i] = means[i] * scale[rows.classOf(i)] - grand;
                factor[i] = repeats < 2 ? 0 : scale[rows.classOf(i)] * Math.sqrt(repeats / (repeats - 1));
            }
            double[] own = new double[n];
            for (int r = 0; r < rows.repeats(); r++) {
                double[] q = of(r);
                int[] folds = rows.folds(r);
                for (int i = 0; i < n; i++) {
                    own[i] = folds[i] < 0 ? 0 : (q[i] - means[i]) * factor[i];
                    squares += own[i] * own[i];
                }
                int[] byFold = rows.byFold(r);
                int from = 0;
                for (int end : rows.foldEnds(r)) {
                    double d = 0;
                    double e = 0;
                    for (int j = from; j < end; j++) {
                        d += shift[byFold[j]];
                        e += own[byFold[j]];
                    }
                    double m = end - from;
                    if (m > 1) {
                        covariance += -2 * m / (m - 1) * (d / m) * (e / m);
                        pairs++;
                    }
                    if (m > 0) {
                        moved += e * e / m;
                        all++;
                    }
                    from = end;
                }
                entries += byFold.length;
            }
            double together = all == 0 ? 0 : (moved / all - squares / entries) * foldCount / n;
            return new double[] {pairs == 0 ? 0 : covariance / pairs, together};
        }
    }
}

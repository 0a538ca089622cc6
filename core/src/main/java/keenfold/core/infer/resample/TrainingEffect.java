package keenfold.core.infer.resample;

import java.util.Arrays;
import java.util.List;
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
 * h = 1/(1 + 10y²), X′ = X − h·G; 1/w = 1 + x·k/R + 1/(4y²); λ = max(0, w·min(X′, 2) + (1 − w)·λ₀).
 *
 * <p>X is unbiased but noisy (its variance is about s² = 4.6·x·k/R), λ₀ precise but blind to the kind of classifier: X′ is
 * drawn towards λ₀, the more the noisier it is and the more stable the candidates are. It counts no further than 2, where λ₀
 * ends: where classes are nearly separable a single row can make X a hundred times v. What the noise of λ takes from the
 * degrees of freedom: 1/ν = 1/ν_before + w²·s²/(4(1 + λ₀)²). No instability gives λ = 0; v(Q) = 0 gives λ₀. Rows in groups
 * were not studied in this form: h = 1/(1 + y²) then, λ is at least λ₀, and nothing is taken from the degrees of freedom.
 *
 * <p>Source: docs/methods.md, variance, with the reasons and what was measured.
 *
 * @param lambda λ, 0 to 2
 * @param noise what the noise of λ adds to 1/ν
 * @param instability how much a row's standing changes from repeat to repeat
 * @param stable λ₀
 * @param covariance X; NaN where λ is λ₀
 * @param together G; NaN where λ is λ₀
 * @param estimate X′ before it is capped; NaN where λ is λ₀
 * @param chance s², the variance of X; NaN where λ is λ₀
 * @param weight w, of X′ against λ₀; 0 where λ is λ₀
 * @param grouped whether rows belong to groups
 */
record TrainingEffect(
        double lambda,
        double noise,
        double instability,
        double stable,
        double covariance,
        double together,
        double estimate,
        double chance,
        double weight,
        boolean grouped) {
    /** No other training rows are allowed for. */
    static final TrainingEffect NONE = fixed(0, 0, false);

    /** λ₀ of candidates that rank no row the same way twice, and the most that X′ counts for. */
    static final double MOST = 2;

    /** The least y², so that 1/(4y²) is a number. */
    private static final double LEAST_SQUARE = 1e-12;

    /** How soon G is left out as candidates get unstable: h = 1/(1 + 10y²). */
    private static final double LEAVING = 10;

    /** The variance of X is this times x·k/R. */
    private static final double NOISE = 4.6;

    /** The share of the variance of w·X′ that counts against the degrees of freedom. */
    private static final double COUNTED = 0.5;

    /** The least s², so that precisions are numbers. */
    private static final double LEAST_CHANCE = 1e-6;

    /** From so many pairs on what a family shows of its pairs is drawn together. */
    private static final int FEWEST_POOLED = 3;

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

    /** An effect that is λ₀, or none. */
    private static TrainingEffect fixed(double lambda, double instability, boolean grouped) {
        double no = Double.NaN;
        return new TrainingEffect(lambda, 0, instability, lambda, no, no, no, no, 0, grouped);
    }

    /**
     * Estimates the effect on one mean, or on a difference.
     *
     * @param b the other candidate's standings; none for a mean
     * @param own W and v of the candidate, or the sums of both
     * @param folds k
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
            return fixed(stable, own.instability(), grouped);
        }
        double x = spread.between / spread.within;
        double y = x * folds * folds / (folds - 1.0);
        double[] effects = q.effects(folds);
        double covariance = effects[0] / spread.within;
        double together = effects[1] / spread.within;
        double perRepeat = x * folds / rows.repeats();
        double leaving = 1 / (1 + (grouped ? 1 : LEAVING) * y * y);
        TrainingEffect found = new TrainingEffect(
                Double.NaN,
                0,
                own.instability(),
                stable,
                covariance,
                together,
                covariance - leaving * together,
                NOISE * perRepeat,
                1 / (1 + perRepeat + 0.25 / Math.max(LEAST_SQUARE, y * y)),
                grouped);
        return found.drawn(found.estimate, COUNTED);
    }

    /**
     * The effect with another X′.
     *
     * @param counted the share of the variance of w·X′ that counts against the degrees of freedom
     */
    private TrainingEffect drawn(double other, double counted) {
        double drawn = weight * Math.min(MOST, other) + (1 - weight) * stable;
        double ratio = weight / (1 + stable);
        return new TrainingEffect(
                Math.max(grouped ? stable : 0, drawn),
                grouped ? 0 : counted * ratio * ratio * chance / 2,
                instability,
                stable,
                covariance,
                together,
                other,
                chance,
                weight,
                grouped);
    }

    /**
     * Returns the effects on the differences of a family, drawn together: the maximum over many pairs seeks out those whose
     * λ came out too low, so X′ of each is first drawn towards what the family shows.
     *
     * <p>Definition: X′ ← b·λ₀ + B·(X′ − b·λ₀), b the slope of X′ on λ₀ through the origin, weighted by 1/(s² + τ²), τ² the
     * moment estimate of its variance about that line, B = τ²/(τ² + s²); 1/ν = 1/ν_before +
     * w²·s²·max(B, 1/pairs)/(4(1 + λ₀)²). Fewer than three pairs, and pairs of rows in groups, stay as they are, as do those
     * whose λ is λ₀.
     *
     * <p>Reference: DerSimonian and Laird (1986), Control. Clin. Trials 7(3), doi:10.1016/0197-2456(86)90046-2, for τ².
     *
     * @param pairs those of a family, each by itself
     */
    static List<TrainingEffect> pooled(List<TrainingEffect> pairs) {
        List<TrainingEffect> live =
                pairs.stream().filter(TrainingEffect::poolable).toList();
        if (live.size() < FEWEST_POOLED) {
            return pairs;
        }
        double between = variance(live, slope(live, 0));
        double slope = slope(live, between);
        return pairs.stream()
                .map(p -> {
                    if (!p.poolable()) {
                        return p;
                    }
                    double kept = between / (between + Math.max(LEAST_CHANCE, p.chance));
                    double line = slope * p.stable;
                    return p.drawn(line + kept * (p.estimate - line), COUNTED * Math.max(kept, 1.0 / live.size()));
                })
                .toList();
    }

    private boolean poolable() {
        return weight > 0 && !grouped;
    }

    /** The slope of X′ on λ₀ through the origin, weighted by 1/(s² + τ²). */
    private static double slope(List<TrainingEffect> pairs, double between) {
        double products = 0;
        double squares = 0;
        for (TrainingEffect p : pairs) {
            double precision = 1 / (Math.max(LEAST_CHANCE, p.chance) + between);
            products += precision * p.estimate * p.stable;
            squares += precision * p.stable * p.stable;
        }
        return products / Math.max(LEAST_SQUARE, squares);
    }

    /** τ²: by how much X′ varies about the line beyond its noise. */
    private static double variance(List<TrainingEffect> pairs, double slope) {
        double heterogeneity = 0;
        double precisions = 0;
        double squares = 0;
        double fourths = 0;
        for (TrainingEffect p : pairs) {
            double precision = 1 / Math.max(LEAST_CHANCE, p.chance);
            double off = p.estimate - slope * p.stable;
            heterogeneity += precision * off * off;
            precisions += precision;
            squares += precision * p.stable * p.stable;
            fourths += precision * precision * p.stable * p.stable;
        }
        double room = precisions - fourths / Math.max(LEAST_SQUARE, squares);
        return Math.max(0, (heterogeneity - (pairs.size() - 1)) / room);
    }

    /** Whether X′ was cut at its cap. */
    boolean capped() {
        return estimate > MOST;
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

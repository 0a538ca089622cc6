package keenfold.core.infer.resample;

import java.util.Arrays;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import keenfold.core.data.Selection;
import keenfold.core.infer.distribution.ScaledChiSquare;

/**
 * The pivot of one mean or difference over the draws, from which interval and p-value are read alike.
 *
 * <p>Definition: T*_b = (δ_b − mean δ)/√(V_raw·u_b), u_b ~ χ²_ν/ν; p = (1 + #{|T*_b| ≥ |δ|/√V})/(B + 1); the interval is
 * δ ± q·√V, q the ⌈level·(B + 1)⌉-th smallest |T*_b|, or the next one where level·(B + 1) is whole. So p lies
 * below 1 − level exactly when the interval leaves out 0.
 *
 * <p>Reference: Davison and Hinkley (1997), Bootstrap Methods and their Application, sections 2.4 and 4.4 (studentised
 * statistics and their tests).
 */
public final class Pivot {
    private final double[] values;

    private Pivot(double[] values) {
        this.values = values;
    }

    /** Made when they are asked for: of thousands of pairs they would take as much memory as the values. */
    private double[] sizes() {
        return Arrays.stream(values).map(Math::abs).toArray();
    }

    /** Chi-square roots by degrees of freedom; the first few are kept, since most metrics need one number of them alone. */
    static final class Roots {
        private static final int MOST_KEPT = 64;

        private final double[] normals;
        private final double[] others;
        private final Map<Double, double[]> made = new ConcurrentHashMap<>();

        /**
         * @param normals per draw the standard normal number that gives its χ²
         * @param others per draw a second one, for a difference that the draws themselves do not move
         */
        Roots(double[] normals, double[] others) {
            this.normals = normals.clone();
            this.others = others.clone();
        }

        public double[] of(double nu) {
            double[] there = made.get(nu);
            if (there != null) {
                return there;
            }
            double[] roots = new ScaledChiSquare(nu).roots(normals);
            if (made.size() < MOST_KEPT) {
                made.put(nu, roots);
            }
            return roots;
        }
    }

    /** Returns the pivot of draws with V_raw > 0. */
    public static Pivot of(double[] draws, Variance variance, Roots roots) {
        double mean = VarianceModel.mean(draws);
        double sd = Math.sqrt(variance.raw());
        double[] root = roots.of(variance.freedom());
        double[] values = new double[draws.length];
        for (int b = 0; b < values.length; b++) {
            values[b] = (draws[b] - mean) / (sd * root[b]);
        }
        return new Pivot(values);
    }

    /** Returns the pivot of a difference that no draw moves: a normal number over the root, Student's t with ν. */
    public static Pivot ofUnmoved(Variance variance, Roots roots) {
        double[] root = roots.of(variance.freedom());
        double[] values = new double[root.length];
        for (int b = 0; b < values.length; b++) {
            values[b] = roots.others[b] / root[b];
        }
        return new Pivot(values);
    }

    /** Returns the pivot of draws of cases alone, V_raw > 0: (δ_b − mean δ)/√V_raw. */
    public static Pivot ofCases(double[] draws, Variance variance) {
        double mean = VarianceModel.mean(draws);
        double sd = Math.sqrt(variance.raw());
        return new Pivot(Arrays.stream(draws).map(d -> (d - mean) / sd).toArray());
    }

    /** T*_b. */
    public double value(int draw) {
        return values[draw];
    }

    /** |T*_b|. */
    public double size(int draw) {
        return Math.abs(values[draw]);
    }

    int draws() {
        return values.length;
    }

    /** (1 + number of draws at least this large)/(B + 1). */
    public double p(double statistic) {
        return p(sizes(), statistic);
    }

    /** Returns (1 + #{sizes ≥ statistic})/(B + 1). */
    public static double p(double[] sizes, double statistic) {
        int count = 1;
        for (double t : sizes) {
            if (t >= statistic) {
                count++;
            }
        }
        return count / (sizes.length + 1.0);
    }

    /** The (⌊share·(B + 1)⌋ + 1)-th smallest |T*_b|. */
    public double quantile(double share) {
        return smallest(sizes(), share);
    }

    /** Returns the (⌊share·(B + 1)⌋ + 1)-th smallest size; infinite where there is none. */
    public static double quantile(double[] sizes, double share) {
        return smallest(sizes.clone(), share);
    }

    /** The same, of numbers that may be put into another order. */
    private static double smallest(double[] sizes, double share) {
        int rank = rank(share, sizes.length);
        return rank > sizes.length ? Double.POSITIVE_INFINITY : Selection.smallest(sizes, rank - 1);
    }

    /** ⌊share·(B + 1)⌋ + 1; 1e-9, so that a product meant to be whole is not kept below it by its last bit. */
    public static int rank(double share, int draws) {
        return (int) Math.floor(share * (draws + 1) + 1e-9) + 1;
    }

    /** Whether a p-value is below 1 − level, in whole counts and so without rounding. */
    public static boolean significant(double p, double level, int draws) {
        return Math.round(p * (draws + 1)) < draws + 2 - rank(level, draws);
    }
}

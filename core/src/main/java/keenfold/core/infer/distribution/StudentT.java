package keenfold.core.infer.distribution;

/**
 * Student's t distribution.
 *
 * <p>Definition: P(|T| ≥ t) = I_x(ν/2, 1/2), x = ν/(ν + t²), I the regularised incomplete beta function.
 *
 * <p>Reference: Student (1908), Biometrika 6(1), doi:10.2307/2331554.
 */
public final class StudentT {
    private StudentT() {}

    /** Returns P(|T| ≥ |t|) with ν > 0 degrees of freedom. */
    public static double twoSided(double t, double nu) {
        if (Double.isNaN(t) || Double.isInfinite(t)) {
            return Double.isNaN(t) ? Double.NaN : 0;
        }
        return t == 0 ? 1 : Special.beta(nu / 2, 0.5, nu / (nu + t * t));
    }

    /** Returns the t with P(|T| ≤ t) = level, level in (0, 1). */
    public static double reach(double level, double nu) {
        // P(|T| <= t) = I_y(1/2, nu/2), y = t²/(nu + t²).
        double y = Special.betaQuantile(0.5, nu / 2, level);
        return Math.sqrt(nu * y / (1 - y));
    }
}

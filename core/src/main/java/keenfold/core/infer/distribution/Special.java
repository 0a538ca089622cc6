package keenfold.core.infer.distribution;

import keenfold.core.data.Checks;

/**
 * Incomplete gamma and beta functions and their inverses, from arithmetic and {@link StrictMath} alone.
 *
 * <p>Libraries have these too, but on {@code Math.exp} and {@code Math.pow}, whose last bits differ between machines; a
 * contrast must not. Tests compare them with commons-statistics.
 *
 * <p>References: Press et al. (2007), Numerical Recipes, sections 6.2 and 6.4; Lanczos (1964), SIAM J. Numer. Anal. B 1.
 */
public final class Special {
    private static final double EPSILON = 0x1.0p-52;
    private static final double TINY = 1e-300;
    private static final int MOST_TERMS = 1_000_000;
    private static final double[] LANCZOS = {
        0.9999999999998099,
        676.5203681218851,
        -1259.1392167224028,
        771.3234287776531,
        -176.6150291621406,
        12.507343278686905,
        -0.13857109526572012,
        9.984369578019572e-6,
        1.5056327351493116e-7
    };

    private Special() {}

    /** Returns ln Γ(x) for x > 0, to about 1e-14 relative. */
    static double logGamma(double x) {
        if (x < 0.5) {
            return StrictMath.log(Math.PI / StrictMath.sin(Math.PI * x)) - logGamma(1 - x);
        }
        double z = x - 1;
        double sum = LANCZOS[0];
        for (int i = 1; i < LANCZOS.length; i++) {
            sum += LANCZOS[i] / (z + i);
        }
        double t = z + 7.5;
        return 0.5 * StrictMath.log(2 * Math.PI) + (z + 0.5) * StrictMath.log(t) - t + StrictMath.log(sum);
    }

    /** Returns ln P(a, x), P the lower regularised incomplete gamma function; a, x > 0. */
    private static double logGammaP(double a, double x, double front) {
        return x < a + 1
                ? logLowerSeries(a, x, front)
                : StrictMath.log1p(-StrictMath.exp(logUpperFraction(a, x, front)));
    }

    /** Returns ln Q(a, x), Q = 1 − P. */
    public static double logGammaQ(double a, double x) {
        return logGammaQ(a, x, logFront(a, x, logGamma(a)));
    }

    private static double logGammaQ(double a, double x, double front) {
        return x < a + 1
                ? StrictMath.log1p(-StrictMath.exp(logLowerSeries(a, x, front)))
                : logUpperFraction(a, x, front);
    }

    private static double logFront(double a, double x, double logGammaOfA) {
        return a * StrictMath.log(x) - x - logGammaOfA;
    }

    private static double logLowerSeries(double a, double x, double front) {
        double term = 1 / a;
        double sum = term;
        for (int n = 1; n < MOST_TERMS; n++) {
            term *= x / (a + n);
            sum += term;
            if (term < sum * EPSILON) {
                break;
            }
        }
        return StrictMath.log(sum) + front;
    }

    /** Lentz's continued fraction. */
    private static double logUpperFraction(double a, double x, double front) {
        double b = x + 1 - a;
        double c = 1 / TINY;
        double d = 1 / b;
        double h = d;
        for (int i = 1; i < MOST_TERMS; i++) {
            double an = -i * (i - a);
            b += 2;
            d = 1 / awayFromZero(an * d + b);
            c = awayFromZero(b + an / c);
            double factor = d * c;
            h *= factor;
            if (Math.abs(factor - 1) <= EPSILON) {
                break;
            }
        }
        return StrictMath.log(h) + front;
    }

    private static double awayFromZero(double value) {
        return Math.abs(value) < TINY ? TINY : value;
    }

    /** Returns ln of the standard normal distribution function at z ≤ 0. */
    public static double logNormalTail(double z) {
        return z == 0 ? StrictMath.log(0.5) : StrictMath.log(0.5) + logGammaQ(0.5, z * z / 2);
    }

    /** Returns the χ² quantile with ν degrees of freedom at probability Φ(z), ν > 0 and |z| ≤ 8. */
    static double chiSquareQuantile(double nu, double z) {
        return chiSquareQuantile(nu, z, logNormalTail(-Math.abs(z)), logGamma(nu / 2));
    }

    /**
     * Returns the same quantile from what many of them share.
     *
     * @param target ln Φ(−|z|)
     * @param logGammaOfA ln Γ(ν/2)
     */
    static double chiSquareQuantile(double nu, double z, double target, double logGammaOfA) {
        double a = nu / 2;
        boolean lower = z <= 0;
        double ninth = 2 / (9 * nu);
        double root = 1 - ninth + z * Math.sqrt(ninth);
        double x = nu * root * root * root / 2;
        if (!(root > 0.05)) {
            x = StrictMath.exp((target + logGamma(a + 1)) / a);
        }
        // Newton in ln x on the logarithm of the smaller tail, which is concave there.
        for (int step = 0; step < 100; step++) {
            double front = logFront(a, x, logGammaOfA);
            double tail = lower ? logGammaP(a, x, front) : logGammaQ(a, x, front);
            double slope = StrictMath.exp(front - tail);
            double move = (tail - target) / slope;
            double next = x * StrictMath.exp(Math.max(-2, Math.min(2, lower ? -move : move)));
            if (Math.abs(next - x) <= 4 * EPSILON * x) {
                return 2 * next;
            }
            x = next;
        }
        return 2 * x;
    }

    /** Returns the regularised incomplete beta function I_x(a, b). */
    public static double beta(double a, double b, double x) {
        if (x <= 0 || x >= 1) {
            return x <= 0 ? 0 : 1;
        }
        double front = StrictMath.exp(
                logGamma(a + b) - logGamma(a) - logGamma(b) + a * StrictMath.log(x) + b * StrictMath.log1p(-x));
        return x < (a + 1) / (a + b + 2)
                ? front * betaFraction(a, b, x) / a
                : 1 - front * betaFraction(b, a, 1 - x) / b;
    }

    private static double betaFraction(double a, double b, double x) {
        double c = 1;
        double d = 1 / awayFromZero(1 - (a + b) * x / (a + 1));
        double h = d;
        for (int m = 1; m < MOST_TERMS; m++) {
            double even = m * (b - m) * x / ((a + 2 * m - 1) * (a + 2 * m));
            d = 1 / awayFromZero(1 + even * d);
            c = awayFromZero(1 + even / c);
            h *= d * c;
            double odd = -(a + m) * (a + b + m) * x / ((a + 2 * m) * (a + 2 * m + 1));
            d = 1 / awayFromZero(1 + odd * d);
            c = awayFromZero(1 + odd / c);
            double factor = d * c;
            h *= factor;
            if (Math.abs(factor - 1) <= EPSILON) {
                break;
            }
        }
        return h;
    }

    /** Returns the quantile of the beta distribution, by bisection to the last bit. */
    public static double betaQuantile(double a, double b, double probability) {
        Checks.share("probability", probability);
        double low = 0;
        double high = 1;
        while (true) {
            double middle = low + (high - low) / 2;
            if (middle <= low || middle >= high) {
                return middle;
            }
            if (beta(a, b, middle) < probability) {
                low = middle;
            } else {
                high = middle;
            }
        }
    }

    /** Returns the standard normal quantile of a probability in (0, 1): Newton on the logarithm of the smaller tail. */
    public static double normalQuantile(double p) {
        boolean lower = p <= 0.5;
        double target = StrictMath.log(lower ? p : 1 - p);
        double z = -Math.sqrt(Math.max(0, -2 * (target - StrictMath.log(0.5))));
        for (int step = 0; step < 100; step++) {
            double tail = logNormalTail(z);
            double slope = StrictMath.exp(-z * z / 2 - 0.5 * StrictMath.log(2 * Math.PI) - tail);
            double next = Math.min(0, z + (target - tail) / slope);
            if (Math.abs(next - z) <= 4 * EPSILON * Math.max(1, Math.abs(z))) {
                z = next;
                break;
            }
            z = next;
        }
        return lower ? z : -z;
    }
}

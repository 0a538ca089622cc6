package keenfold.core.infer.distribution;

/**
 * Fisher's F, the law of the ratio of two independent estimates of one variance.
 *
 * <p>Definition: P(F ≤ x) = I_{d₁x/(d₁x + d₂)}(d₁/2, d₂/2), I the regularised incomplete beta function.
 *
 * <p>Reference: Johnson, Kotz and Balakrishnan (1995), Continuous Univariate Distributions 2, chapter 27.
 */
public final class FisherF {
    private FisherF() {}

    /**
     * Returns twice the smaller tail beyond a ratio of variances, at most 1.
     *
     * @param ratio above 0
     * @param above degrees of freedom of the numerator, above 0
     * @param below degrees of freedom of the denominator, above 0
     */
    public static double twoSided(double ratio, double above, double below) {
        double x = above * ratio / (above * ratio + below);
        double lower = Special.beta(above / 2, below / 2, x);
        double upper = Special.beta(below / 2, above / 2, 1 - x);
        return Math.min(1, 2 * Math.min(lower, upper));
    }
}

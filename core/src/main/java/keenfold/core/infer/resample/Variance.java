package keenfold.core.infer.resample;

/**
 * The variance of a mean or of a difference, and how it came about.
 *
 * @param total V; se = √V
 * @param raw variance of the draws (divisor B − 1)
 * @param cases V_case = m/(m − 1)·raw
 * @param freedom degrees of freedom ν of the estimate
 * @param lambda by how much V_case is widened; NaN where it is not
 * @param instability how much a row's standing changes from repeat to repeat; NaN with fewer than two repeats
 */
public record Variance(double total, double raw, double cases, double freedom, double lambda, double instability) {
    /** Returns the standard error, √V. */
    public double standardError() {
        return Math.sqrt(total);
    }

    /** Returns √(V/V_raw), by which draws are spread about the estimate; V_raw must be positive. */
    public double widening() {
        return Math.sqrt(total / raw);
    }
}

package keenfold.core.infer.resample;

import java.util.Optional;

/**
 * The variance of a mean or of a difference, and how it came about.
 *
 * @param total V; se = √V
 * @param raw variance of the draws (divisor B − 1)
 * @param cases V_case = m/(m − 1)·raw
 * @param freedom degrees of freedom ν of the estimate
 * @param casesFreedom those of V_case alone, without what the noise of λ takes from them
 * @param lambda by how much V_case is widened; NaN where it is not
 * @param instability how much a row's standing changes from repeat to repeat; NaN with fewer than two repeats
 * @param covariance X, twice the covariance of a row's own score with its effect on others, in units of v; NaN if it was
 *     not estimated
 * @param together G, how much more the rows of a fold move together than apart; NaN if it was not estimated
 * @param weight w, of X in λ; NaN if X was not estimated
 * @param halves how it came out of runs on halves of the rows, if it did
 */
public record Variance(
        double total,
        double raw,
        double cases,
        double freedom,
        double casesFreedom,
        double lambda,
        double instability,
        double covariance,
        double together,
        double weight,
        Optional<HalvesVariance> halves) {
    /** A variance for which nothing was learned from repeats beyond λ and instability. */
    public Variance(double total, double raw, double cases, double freedom, double lambda, double instability) {
        this(
                total,
                raw,
                cases,
                freedom,
                freedom,
                lambda,
                instability,
                Double.NaN,
                Double.NaN,
                Double.NaN,
                Optional.empty());
    }

    /**
     * A variance that λ widened.
     *
     * @param casesFreedom degrees of freedom of V_case
     * @param widened whether λ is what widened it, so that the noise of λ counts against the degrees of freedom
     */
    Variance(double total, double raw, double cases, double casesFreedom, TrainingEffect effect, boolean widened) {
        this(
                total,
                raw,
                cases,
                widened ? 1 / (1 / casesFreedom + effect.noise()) : casesFreedom,
                casesFreedom,
                effect.lambda(),
                effect.instability(),
                effect.covariance(),
                effect.together(),
                Double.isNaN(effect.covariance()) ? Double.NaN : effect.weight(),
                Optional.empty());
    }

    /** Returns what runs on halves make of a variance by draws. */
    public Variance byHalves(double found, double degrees, HalvesVariance how) {
        return new Variance(
                found,
                raw,
                cases,
                degrees,
                casesFreedom,
                lambda,
                instability,
                covariance,
                together,
                weight,
                Optional.of(how));
    }

    /** Returns the standard error, √V. */
    public double standardError() {
        return Math.sqrt(total);
    }

    /** Returns √(V/V_raw), by which draws are spread about the estimate; V_raw must be positive. */
    public double widening() {
        return Math.sqrt(total / raw);
    }
}

package keenfold.core.pick;

/**
 * What choosing by a rule is worth on rows that the choice did not see.
 *
 * @param estimate average over the draws of the chosen candidate's score on the rows that the draw left out; NaN if it is not
 *     known
 * @param error Monte Carlo error of the estimate: sd over the draws/√(their number)
 * @param value what is quoted: the estimate, or the mean of what was chosen where the estimate is better than that, which is
 *     chance of the draws
 */
public record Corrected(double estimate, double error, double value) {
    /** Nothing is known, or there is nothing to correct. */
    public static final Corrected NONE = new Corrected(Double.NaN, Double.NaN, Double.NaN);

    /** Returns whether the estimate is better than the mean of what was chosen. */
    public boolean limited() {
        return value != estimate && !Double.isNaN(estimate);
    }
}

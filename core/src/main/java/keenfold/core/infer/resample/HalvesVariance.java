package keenfold.core.infer.resample;

/**
 * How the variance of a difference came out of runs on halves of the rows.
 *
 * @param between E, the mean square of half the difference between the two halves of a split
 * @param chance c, what of E is the chance of folds and fits
 * @param scale g, the variance of the tested cases at n rows over that at n/2 rows, halved; within 0.5 and 1.5
 * @param lambda (E − c)/C_half − 1: by how much the halves widen the variance of the cases, to be set beside λ; NaN if the
 *     cases of the halves show no variance
 * @param preset V by the preset method, to be set beside the one found here
 * @param presetFreedom degrees of freedom of that
 */
public record HalvesVariance(
        double between, double chance, double scale, double lambda, double preset, double presetFreedom) {}

/**
 * What the scores say: means with their uncertainty, and differences with interval, p-value and call.
 *
 * <p>Open {@link keenfold.core.infer.Inference} first. It takes a {@link keenfold.core.infer.resample.AlignedPredictions}, the predictions of
 * all candidates on the splits where none of them failed, draws case weights ({@link keenfold.core.infer.resample.Bootstrap}),
 * widens the spread of the draws for what other training rows would have changed
 * ({@link keenfold.core.infer.resample.VarianceModel}), and reads means and contrasts from one pivot
 * ({@link keenfold.core.infer.resample.Pivot}).
 *
 * <p>NaN means undefined. Predictions, settings and what is returned are immutable; an {@link keenfold.core.infer.Inference}
 * and its metrics compute when they are first asked, keep that, and are for one thread at a time. Results depend on data set name, seed, candidates and metric alone: not
 * on threads or block sizes, to the last bit.
 */
@NullMarked
package keenfold.core.infer;

import org.jspecify.annotations.NullMarked;

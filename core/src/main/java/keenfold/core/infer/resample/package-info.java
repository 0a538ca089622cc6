/**
 * Bootstrap draws of mean scores and the variances made of them.
 *
 * <p>Open {@link keenfold.core.infer.resample.AlignedPredictions} first: the predictions of all candidates on the splits that they
 * share. {@link keenfold.core.infer.resample.PairedDraws} draws them, {@link keenfold.core.infer.resample.VarianceModel} widens the
 * spread of draws for what other training rows would have changed.
 */
@NullMarked
package keenfold.core.infer.resample;

import org.jspecify.annotations.NullMarked;

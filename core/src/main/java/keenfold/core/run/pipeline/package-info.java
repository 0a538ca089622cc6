/**
 * The one way from rows to a fitted pipeline: members, steps, tuning, classifier, balance, calibration, threshold.
 *
 * <p>Open {@code Pipeline} first; {@link keenfold.core.run.pipeline.FittedPipeline} is what it gives, and {@link
 * keenfold.core.run.pipeline.ColumnOrigin} leads what was learned back to the columns of the data.
 */
@NullMarked
package keenfold.core.run.pipeline;

import org.jspecify.annotations.NullMarked;

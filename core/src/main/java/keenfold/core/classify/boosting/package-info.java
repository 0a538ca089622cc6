/**
 * Gradient boosting: trees of values grown on the derivatives of the log-loss.
 *
 * <p>Open {@link keenfold.core.classify.boosting.Boosting} first.
 */
@NullMarked
package keenfold.core.classify.boosting;

import org.jspecify.annotations.NullMarked;

/**
 * Classifiers that learn from what other candidates predict.
 *
 * <p>Open {@link keenfold.core.classify.ensemble.Vote} first.
 */
@NullMarked
package keenfold.core.classify.ensemble;

import org.jspecify.annotations.NullMarked;

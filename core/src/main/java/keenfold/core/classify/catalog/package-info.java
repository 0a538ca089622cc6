/**
 * The list of all kinds of classifiers, and the way from what was learned back to a model.
 *
 * <p>Open {@link keenfold.core.classify.catalog.ClassifierKinds} first.
 */
@NullMarked
package keenfold.core.classify.catalog;

import org.jspecify.annotations.NullMarked;

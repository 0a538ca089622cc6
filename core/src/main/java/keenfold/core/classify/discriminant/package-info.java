/**
 * Linear, quadratic and regularised discriminants.
 *
 * <p>Open {@link keenfold.core.classify.discriminant.Discriminant} first.
 */
@NullMarked
package keenfold.core.classify.discriminant;

import org.jspecify.annotations.NullMarked;

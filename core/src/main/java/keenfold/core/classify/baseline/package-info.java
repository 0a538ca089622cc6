/**
 * The guess that looks at no column, which every other classifier should beat.
 *
 * <p>Open {@link keenfold.core.classify.baseline.Majority} first.
 */
@NullMarked
package keenfold.core.classify.baseline;

import org.jspecify.annotations.NullMarked;

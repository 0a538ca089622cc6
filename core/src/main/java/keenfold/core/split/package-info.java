/**
 * Dividing a data set into training and test sides.
 *
 * <p>Open {@link keenfold.core.split.Scheme} first; each way to divide makes {@link keenfold.core.split.Splits}, from
 * which each {@link keenfold.core.split.Split} is read as two views. {@link keenfold.core.split.Audit} looks at what was
 * made, whoever made it. A division depends on the seed, the data set's name and the repeat alone, never on the
 * candidates. Rows of one group always stand on the same side. Everything is immutable and safe to share between threads.
 */
@NullMarked
package keenfold.core.split;

import org.jspecify.annotations.NullMarked;

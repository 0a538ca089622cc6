/**
 * Support vector machines with calibrated probabilities.
 *
 * <p>Open {@link keenfold.core.classify.svm.Svm} first.
 */
@NullMarked
package keenfold.core.classify.svm;

import org.jspecify.annotations.NullMarked;

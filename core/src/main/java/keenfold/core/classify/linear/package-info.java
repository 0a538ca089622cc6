/**
 * Logistic regression: ridge by Newton steps or limited-memory BFGS, lasso and elastic net by coordinate descent.
 *
 * <p>Open {@link keenfold.core.classify.linear.Logistic} first.
 */
@NullMarked
package keenfold.core.classify.linear;

import org.jspecify.annotations.NullMarked;

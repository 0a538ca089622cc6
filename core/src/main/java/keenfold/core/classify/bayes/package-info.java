/**
 * Naive Bayes with normal or kernel densities and level shares.
 *
 * <p>Open {@link keenfold.core.classify.bayes.NaiveBayes} first.
 */
@NullMarked
package keenfold.core.classify.bayes;

import org.jspecify.annotations.NullMarked;

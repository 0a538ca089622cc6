/** Benchmarks of what classifiers keep to themselves. */
@NullMarked
package keenfold.core.classify.tree;

import org.jspecify.annotations.NullMarked;

/** Benchmarks of what classifiers keep to themselves. */
@NullMarked
package keenfold.core.classify.neighbours;

import org.jspecify.annotations.NullMarked;

/** Benchmarks of what the classifiers keep to themselves. */
@NullMarked
package keenfold.core.classify;

import org.jspecify.annotations.NullMarked;

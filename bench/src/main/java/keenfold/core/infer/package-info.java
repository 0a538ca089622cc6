/** Benchmarks of what the scores say: they look into the package of the same name in core. */
@NullMarked
package keenfold.core.infer;

import org.jspecify.annotations.NullMarked;

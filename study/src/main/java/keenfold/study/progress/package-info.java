/**
 * Whoever watches long work.
 */
@NullMarked
package keenfold.study.progress;

import org.jspecify.annotations.NullMarked;

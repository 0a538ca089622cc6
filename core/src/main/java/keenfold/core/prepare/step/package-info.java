/**
 * The steps: each learns from training rows alone and transforms any rows with the same columns.
 *
 * <p>Open {@link keenfold.core.prepare.step.StepKinds} first, which lists them; each step has its settings, its kind and what it
 * learns in one file.
 */
@NullMarked
package keenfold.core.prepare.step;

import org.jspecify.annotations.NullMarked;

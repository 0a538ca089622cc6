/**
 * Steps: what is done to the columns before a classifier sees them.
 *
 * <p>A {@link keenfold.core.prepare.Step} is fitted on training rows and then applied to any rows; nothing of the rows it
 * is applied to flows back into it. {@link keenfold.core.prepare.Preparation} is a fitted sequence of them, and
 * {@link keenfold.core.prepare.step.StepKinds#neededBy} says which a classifier gets when the plan names none.
 *
 * <p>No step draws random numbers; strongest alone looks at the target. Missing values are NaN or code −1 and pass through every
 * step but fill. Everything is immutable and safe to share between threads.
 */
@NullMarked
package keenfold.core.prepare;

import org.jspecify.annotations.NullMarked;

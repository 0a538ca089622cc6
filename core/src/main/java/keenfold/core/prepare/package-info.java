/**
 * Steps: what is done to the columns before a classifier sees them.
 *
 * <p>A {@link keenfold.core.prepare.Step} is fitted on training rows and then applied to any rows; nothing of the rows it
 * is applied to flows back into it. {@link keenfold.core.prepare.Preparation} is a fitted sequence of them, and
 * {@link keenfold.core.prepare.step.StepKinds#neededBy} says which a classifier gets when the plan names none.
 *
 * <p>Of the steps, {@code target-means} deals the training rows to inner folds by a seed that it is handed, and it and
 * {@code strongest} look at the target; the others do neither. Missing values are NaN or code −1 and pass through every
 * step but fill. Everything is immutable and safe to share between threads.
 */
@NullMarked
package keenfold.core.prepare;

import org.jspecify.annotations.NullMarked;

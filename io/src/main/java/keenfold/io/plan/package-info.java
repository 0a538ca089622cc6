/**
 * Plans: the YAML file that says what is compared, and how.
 *
 * <p>{@link keenfold.io.plan.PlanReader} reads one into a {@link keenfold.io.plan.Plan};
 * {@link keenfold.io.plan.PlanWriter} writes it back in one settled form, in which two plans that say the same are equal.
 * {@link keenfold.io.plan.PlanKeys} lists every key; docs/plan.md is made from it.
 */
@NullMarked
package keenfold.io.plan;

import org.jspecify.annotations.NullMarked;

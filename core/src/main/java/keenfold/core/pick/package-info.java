/**
 * Choosing one candidate.
 *
 * <p>Open {@link keenfold.core.pick.Picker} first: it takes what {@link keenfold.core.infer.MetricInference} says about one
 * metric, orders the candidates by {@link keenfold.core.pick.Simplicity}, and lets each {@link keenfold.core.pick.Rule}
 * choose; {@link keenfold.core.pick.Picks} holds the choices side by side with their price. Everything is immutable and
 * deterministic.
 */
@NullMarked
package keenfold.core.pick;

import org.jspecify.annotations.NullMarked;

/**
 * Training and testing every candidate on every split.
 *
 * <p>Open {@link keenfold.core.run.Comparison} first: data sets with their splits, candidates, metrics and the seed. It is
 * cut into numbered {@link keenfold.core.run.Unit}s, one family on one split each, which depend on nothing but themselves;
 * {@link keenfold.core.run.Runner} works through any set of them in parallel and hands each unit's
 * {@link keenfold.core.run.result.Fit}s to a {@link keenfold.core.run.FitSink} as they finish.
 *
 * <p>The content of a fit, its times aside, is the same to the last bit for any number of threads, any choice of units
 * and any order.
 */
@NullMarked
package keenfold.core.run;

import org.jspecify.annotations.NullMarked;

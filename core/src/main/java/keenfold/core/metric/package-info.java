/**
 * Metrics: from predictions to one number.
 *
 * <p>Open {@link keenfold.core.metric.catalog.MetricName} first: it reads a name such as {@code f1:class=lost} and binds it to the
 * classes of a data set, which gives a {@link keenfold.core.metric.Metric}. {@link keenfold.core.metric.Outcomes} are the
 * predictions of one candidate on the rows of one fit or of a whole repeat; a metric makes of them a
 * {@link keenfold.core.metric.Scorer}, which has sorted once and then scores any case weights, several draws at a time.
 *
 * <p>A metric that is undefined on given rows is NaN, never 0. Counts are summed exactly, so that scores depend neither
 * on threads nor on the order of draws. Everything is immutable; scorers may be shared between threads.
 */
@NullMarked
package keenfold.core.metric;

import org.jspecify.annotations.NullMarked;

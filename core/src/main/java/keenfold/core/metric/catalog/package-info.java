/**
 * The metrics that can be asked for: each is one record of all that is known of it.
 *
 * <p>Open {@link keenfold.core.metric.catalog.Measures} first.
 */
@NullMarked
package keenfold.core.metric.catalog;

import org.jspecify.annotations.NullMarked;

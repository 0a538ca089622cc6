/**
 * Feed-forward networks.
 *
 * <p>Open {@link keenfold.core.classify.network.Network} first.
 */
@NullMarked
package keenfold.core.classify.network;

import org.jspecify.annotations.NullMarked;

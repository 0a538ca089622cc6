/**
 * Nearest neighbours.
 *
 * <p>Open {@link keenfold.core.classify.neighbours.NearestNeighbours} first.
 */
@NullMarked
package keenfold.core.classify.neighbours;

import org.jspecify.annotations.NullMarked;

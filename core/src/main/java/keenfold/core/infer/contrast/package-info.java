/**
 * Differences of two candidates: how each method tests one pair, and how a family of pairs is adjusted.
 *
 * <p>Open {@link keenfold.core.infer.contrast.Method} first, then {@link keenfold.core.infer.contrast.ContrastFamily}.
 */
@NullMarked
package keenfold.core.infer.contrast;

import org.jspecify.annotations.NullMarked;

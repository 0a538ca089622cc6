/**
 * Warnings about data, scores, contrasts and picks.
 */
@NullMarked
package keenfold.results.notice;

import org.jspecify.annotations.NullMarked;

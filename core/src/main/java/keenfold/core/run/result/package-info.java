/**
 * What a comparison gives: fits with their outcomes, and results that gather them.
 */
@NullMarked
package keenfold.core.run.result;

import org.jspecify.annotations.NullMarked;

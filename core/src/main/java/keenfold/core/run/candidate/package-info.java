/**
 * What is compared: candidates with their recipes, tuning and families.
 */
@NullMarked
package keenfold.core.run.candidate;

import org.jspecify.annotations.NullMarked;

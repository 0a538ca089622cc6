/**
 * Plans with their data read and their splits made.
 */
@NullMarked
package keenfold.study.plan;

import org.jspecify.annotations.NullMarked;

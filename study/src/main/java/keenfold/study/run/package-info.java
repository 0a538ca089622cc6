/**
 * Running a plan into a ledger.
 */
@NullMarked
package keenfold.study.run;

import org.jspecify.annotations.NullMarked;

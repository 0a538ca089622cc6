/**
 * Figures and the report of a ledger.
 */
@NullMarked
package keenfold.study.report;

import org.jspecify.annotations.NullMarked;

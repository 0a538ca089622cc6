/**
 * The public interface for programs: open a ledger, run a plan, read scores, contrasts and picks, write a report, train a model.
 */
@NullMarked
package keenfold.study;

import org.jspecify.annotations.NullMarked;

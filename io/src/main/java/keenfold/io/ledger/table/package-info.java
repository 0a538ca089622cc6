/**
 * The tables of a ledger, one class each: how values become rows, and rows values. docs/ledger.md says what they hold.
 */
@NullMarked
package keenfold.io.ledger.table;

import org.jspecify.annotations.NullMarked;

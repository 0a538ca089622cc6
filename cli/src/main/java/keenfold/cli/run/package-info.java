/**
 * Commands that fill a ledger: run a plan, on one machine or many, or adopt what another program predicted.
 */
@NullMarked
package keenfold.cli.run;

import org.jspecify.annotations.NullMarked;

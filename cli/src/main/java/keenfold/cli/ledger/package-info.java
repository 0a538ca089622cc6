/** Commands that change what a ledger says beside its fits, or tell what happened to it. */
@NullMarked
package keenfold.cli.ledger;

import org.jspecify.annotations.NullMarked;

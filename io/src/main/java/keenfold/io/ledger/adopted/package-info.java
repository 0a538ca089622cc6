/** Tables of predictions or scores that were made elsewhere, read as results. */
@NullMarked
package keenfold.io.ledger.adopted;

import org.jspecify.annotations.NullMarked;

package keenfold.io.ledger.table;

import java.util.Optional;

/**
 * A look at rows that were held back.
 *
 * @param at when, as ISO 8601 in UTC
 * @param dataset the name of their data set
 * @param heldBack the fingerprint of the rows; empty in ledgers from before it was written down
 * @param candidate which was scored on them
 * @param ledger the other ledger through which it was done; empty if it was this one
 */
public record Opening(String at, String dataset, Optional<String> heldBack, String candidate, Optional<String> ledger) {
    /** Returns whether two ledgers mean the same look. */
    public boolean same(Opening other) {
        return at.equals(other.at) && candidate.equals(other.candidate) && heldBack.equals(other.heldBack);
    }
}

package keenfold.io.ledger.table;

import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.io.plan.Choosing;

/**
 * How differences were to be tested and a candidate picked, as a plan said at some time.
 *
 * @param at the time, as ISO 8601 in UTC; empty if it is not known
 * @param fits how many fits the ledger had then; of what holds beforehand 0
 * @param evidence how differences are tested
 * @param choosing how a candidate is picked
 */
public record Stated(String at, int fits, InferenceSettings evidence, Choosing choosing) {
    /** Returns whether it was stated before the first fit. */
    public boolean beforehand() {
        return fits == 0;
    }
}

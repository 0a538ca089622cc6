package keenfold.io.ledger;

import keenfold.core.run.Results;
import keenfold.io.plan.Plan;

/**
 * What a ledger holds.
 *
 * @param plan the frozen plan
 * @param results tasks (without feature columns), candidates and fits
 * @param expected how many fits the whole plan comes to
 */
public record LedgerContent(Plan plan, Results results, int expected) {
    /** Returns how many fits failed. */
    public long failed() {
        return results.fits().stream().filter(keenfold.core.run.Fit::failed).count();
    }
}

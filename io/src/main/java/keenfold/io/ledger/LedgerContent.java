package keenfold.io.ledger;

import java.util.List;
import keenfold.core.run.result.Results;
import keenfold.io.plan.Plan;

/**
 * What a ledger holds.
 *
 * @param plan the frozen plan
 * @param results tasks (without feature columns), candidates and fits
 * @param expected how many fits the whole plan comes to
 * @param damage what was lost of the file, in words; none as a rule
 */
public record LedgerContent(Plan plan, Results results, int expected, List<String> damage) {
    /** Copies the list. */
    public LedgerContent {
        damage = List.copyOf(damage);
    }

    /** Returns how many fits failed. */
    public long failed() {
        return results.fits().stream()
                .filter(keenfold.core.run.result.Fit::failed)
                .count();
    }
}

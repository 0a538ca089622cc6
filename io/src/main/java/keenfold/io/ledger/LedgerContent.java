package keenfold.io.ledger;

import java.util.List;
import keenfold.core.run.result.Results;
import keenfold.io.ledger.table.Stated;
import keenfold.io.plan.Plan;

/**
 * What a ledger holds.
 *
 * @param plan the frozen plan
 * @param results tasks (without feature columns), candidates and fits
 * @param expected how many fits the whole plan comes to
 * @param stated what the plan said of evidence and pick before the first fit, and later changes; none if that is not known
 * @param damage what was lost of the file, in words; none as a rule
 */
public record LedgerContent(Plan plan, Results results, int expected, List<Stated> stated, List<String> damage) {
    /** Copies the list. */
    public LedgerContent {
        stated = List.copyOf(stated);
        damage = List.copyOf(damage);
    }

    /** Returns how many fits failed. */
    public long failed() {
        return results.fits().stream()
                .filter(keenfold.core.run.result.Fit::failed)
                .count();
    }
}

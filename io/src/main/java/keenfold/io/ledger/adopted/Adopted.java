package keenfold.io.ledger.adopted;

import java.util.List;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;

/**
 * What was read from a table made elsewhere.
 *
 * @param tasks one per data set, with metrics
 * @param candidates names in the order of their first lines
 * @param fits of all candidates
 * @param kept what of the predictions is there
 * @param notices what was seen and what to do
 */
public record Adopted(
        List<Task> tasks, List<String> candidates, List<Fit> fits, Results.Kept kept, List<String> notices) {
    /** Copies the lists. */
    public Adopted {
        tasks = List.copyOf(tasks);
        candidates = List.copyOf(candidates);
        fits = List.copyOf(fits);
        notices = List.copyOf(notices);
    }
}

package keenfold.core.run;

import java.util.List;

/**
 * What a run has made: the tasks with the fits so far, wherever they were read from.
 *
 * @param tasks the data sets; their feature columns may be absent
 * @param candidates in plan order
 * @param fits in any order
 * @param seed of the comparison
 */
public record Results(List<Task> tasks, List<Candidate> candidates, List<Fit> fits, long seed) {
    /** Copies the lists. */
    public Results {
        tasks = List.copyOf(tasks);
        candidates = List.copyOf(candidates);
        fits = List.copyOf(fits);
    }
}

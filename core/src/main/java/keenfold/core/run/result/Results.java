package keenfold.core.run.result;

import java.util.List;
import keenfold.core.run.candidate.Candidate;

/**
 * What a run has made: the tasks with the fits so far, wherever they were read from.
 *
 * @param tasks the data sets; their feature columns may be absent
 * @param candidates in plan order
 * @param fits in any order
 * @param seed of the comparison
 * @param halves fits of runs on halves of the rows; in any order
 * @param kept what of the predictions is there
 */
public record Results(
        List<Task> tasks, List<Candidate> candidates, List<Fit> fits, long seed, List<HalfFit> halves, Kept kept) {
    /** What of the predictions is there. */
    public enum Kept {
        /** The probability of each class. */
        PROBABILITIES,
        /** Labels alone; probabilities are 1 for the label and 0 for others, and say nothing. */
        LABELS,
        /** Nothing: scores of folds alone. Tasks then stand for folds, not for rows. */
        SCORES
    }

    /** Returns results with all predictions. */
    public Results(List<Task> tasks, List<Candidate> candidates, List<Fit> fits, long seed, List<HalfFit> halves) {
        this(tasks, candidates, fits, seed, halves, Kept.PROBABILITIES);
    }

    /** Returns results without runs on halves. */
    public Results(List<Task> tasks, List<Candidate> candidates, List<Fit> fits, long seed) {
        this(tasks, candidates, fits, seed, List.of());
    }

    /** Returns the results of one data set alone. */
    public Results only(int task) {
        return new Results(
                List.of(tasks.get(task)),
                candidates,
                only(task, fits),
                seed,
                halves.stream()
                        .filter(h -> h.fit().task() == task)
                        .map(h -> new HalfFit(h.half(), h.fit().ofTask(0)))
                        .toList(),
                kept);
    }

    private static List<Fit> only(int task, List<Fit> all) {
        return all.stream().filter(f -> f.task() == task).map(f -> f.ofTask(0)).toList();
    }

    /** Returns the same results with runs on halves of the rows. */
    public Results withHalves(List<HalfFit> other) {
        return new Results(tasks, candidates, fits, seed, other, kept);
    }

    /** Copies the lists. */
    public Results {
        halves = List.copyOf(halves);
        tasks = List.copyOf(tasks);
        candidates = List.copyOf(candidates);
        fits = List.copyOf(fits);
    }
}

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
 * @param refits fits of whole runs on resampled rows, their repeat being the number of the resample; in any order
 * @param kept what of the predictions is there
 */
public record Results(
        List<Task> tasks, List<Candidate> candidates, List<Fit> fits, long seed, List<Fit> refits, Kept kept) {
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
    public Results(List<Task> tasks, List<Candidate> candidates, List<Fit> fits, long seed, List<Fit> refits) {
        this(tasks, candidates, fits, seed, refits, Kept.PROBABILITIES);
    }

    /** Returns results without refits. */
    public Results(List<Task> tasks, List<Candidate> candidates, List<Fit> fits, long seed) {
        this(tasks, candidates, fits, seed, List.of());
    }

    /** Returns the results of one data set alone. */
    public Results only(int task) {
        return new Results(List.of(tasks.get(task)), candidates, only(task, fits), seed, only(task, refits), kept);
    }

    private static List<Fit> only(int task, List<Fit> all) {
        return all.stream().filter(f -> f.task() == task).map(f -> f.ofTask(0)).toList();
    }

    /** Copies the lists. */
    public Results {
        refits = List.copyOf(refits);
        tasks = List.copyOf(tasks);
        candidates = List.copyOf(candidates);
        fits = List.copyOf(fits);
    }
}

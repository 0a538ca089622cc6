package keenfold.io.ledger.table;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import keenfold.core.data.Checks;
import keenfold.core.run.Halves;
import keenfold.core.run.Halving;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;

/**
 * Which rows the fits of a ledger were tested on: those of the run itself by the splits that are there, those of halves of the
 * rows by the seed. For any number of threads.
 */
public final class TestedRows {
    private final Map<Integer, Task> tasks;
    private final Optional<KFold> scheme;
    private final long seed;
    private final boolean scoresOnly;
    private final Map<Split, int[]> ofSplits = new ConcurrentHashMap<>();
    private final Map<List<Integer>, int[][][]> ofHalves = new HashMap<>();

    private record Split(int dataSet, int repeat, int fold) {}

    /**
     * @param tasks by the ids of their data sets, with the splits of all repeats that are there
     * @param scheme how rows are divided, where halves can be
     * @param scoresOnly whether predictions are not kept
     */
    public TestedRows(Map<Integer, Task> tasks, Optional<KFold> scheme, long seed, boolean scoresOnly) {
        this.tasks = Map.copyOf(tasks);
        this.scheme = scheme;
        this.seed = seed;
        this.scoresOnly = scoresOnly;
    }

    /**
     * Returns the data set of a fit.
     *
     * @throws IllegalArgumentException if there is none, or no such split of it
     */
    public Task task(FitRow row) {
        Task task = tasks.get(row.dataSet);
        if (task == null) {
            throw Checks.wrong("is of a data set that is not there");
        }
        int repeats = row.ofHalf() ? Halving.MOST_REPEATS : task.splits().repeats();
        Checks.that(
                row.repeat >= 0
                        && row.repeat < repeats
                        && row.resample >= 0
                        && row.fold >= 0
                        && row.fold < task.splits().folds(row.ofHalf() ? 0 : row.repeat),
                "is of a split that is not there");
        return task;
    }

    /**
     * Returns the rows that a fit was tested on, in the numbering of its data set.
     *
     * @throws IllegalArgumentException if its split is not there
     */
    public int[] of(FitRow row) {
        Task task = task(row);
        if (scoresOnly || !row.ok) {
            return new int[0];
        }
        if (row.ofHalf()) {
            int[][] folds = half(row, task)[row.repeat];
            Checks.that(row.fold < folds.length, "is of a split that is not there");
            return folds[row.fold];
        }
        return ofSplits.computeIfAbsent(
                new Split(row.dataSet, row.repeat, row.fold),
                k -> task.splits().at(row.repeat, row.fold).test().toArray());
    }

    private synchronized int[][][] half(FitRow row, Task task) {
        KFold folds = scheme.orElseThrow(() -> Checks.wrong("is of a half, and there are no folds"));
        List<Integer> key = List.of(row.dataSet, row.resample);
        int[][][] there = ofHalves.getOrDefault(key, new int[0][][]);
        if (row.repeat >= there.length) {
            there = Halves.testRows(task, folds, row.repeat + 1, seed, row.resample);
            ofHalves.put(key, there);
        }
        return there;
    }
}

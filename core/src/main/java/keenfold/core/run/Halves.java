package keenfold.core.run;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Checks;
import keenfold.core.data.DataSet;
import keenfold.core.data.Seed;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.HalfFit;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.core.split.Splits;

/**
 * Runs on halves of the rows, which show what other training rows change.
 *
 * <p>Definition: for each of S splits the rows (whole groups) are divided at random within classes into two halves, sizes of
 * a class differing by at most one. In each half every candidate runs H repeats of the plan's own k-fold, with its whole
 * recipe; folds are new in each repeat and the same for all candidates. Rows and folds come from (seed, number of the half)
 * alone.
 *
 * <p>Two halves share no row, so that the difference of their scores shows the variance of a score at half as many rows
 * without bias, whatever the classifier. Source: docs/methods.md, halves.
 */
public final class Halves {
    private final Comparison comparison;
    private final KFold scheme;
    private final Halving halving;

    /** The rows of one half, in the numbering of the whole, and the data set that they make, with its folds. */
    private static final class Half {
        final int[] rows;
        final Task task;

        Half(int[] rows, Task task) {
            this.rows = rows;
            this.task = task;
        }
    }

    /**
     * @param scheme how the rows of the comparison itself are divided
     * @throws IllegalArgumentException if there are fewer than two repeats, equal rows are bound together, or a class has
     *     too few rows (groups)
     */
    public Halves(Comparison comparison, KFold scheme, Halving halving) {
        Checks.that(
                scheme.repeats() > 1,
                "halves are set beside what the repeats show: ask for at least 2 repeats, not %d",
                scheme.repeats());
        for (Task task : comparison.tasks()) {
            require(task, scheme.folds());
        }
        this.comparison = comparison;
        this.scheme = scheme;
        this.halving = halving;
    }

    private static void require(Task task, int folds) {
        Checks.that(
                !task.splits().bound(),
                "equal rows are bound together, and a ledger does not say which they are; give them a group column"
                        + " instead, or leave out halves");
        DataSet data = task.data();
        int least = 2 * folds;
        for (int c = 0; c < data.classes().count(); c++) {
            int units = units(data, c);
            Checks.that(
                    units >= least,
                    "data set \"%s\": class \"%s\" has %d %s, and both halves of them are to have one in each of %d folds:"
                            + " that takes %d; ask for fewer folds, or leave out halves",
                    data.name(),
                    data.classes().labels().get(c),
                    units,
                    data.groups().isPresent() ? "groups" : "rows",
                    folds,
                    least);
        }
    }

    /** Rows of a class, or groups that have such. */
    private static int units(DataSet data, int c) {
        IntStream rows = IntStream.range(0, data.rows()).filter(i -> data.target(i) == c);
        Optional<Categories> groups = data.groups();
        if (groups.isEmpty()) {
            return (int) rows.count();
        }
        BitSet seen = new BitSet();
        rows.forEach(i -> seen.set(groups.get().code(i)));
        return seen.cardinality();
    }

    /**
     * Returns the comparison on one half.
     *
     * @param number from 0; 2s and 2s + 1 are the two halves of split s
     * @throws IllegalArgumentException if its rows or groups cannot be divided into as many folds
     */
    public Comparison half(int number) {
        List<Task> tasks = new ArrayList<>();
        for (Task task : comparison.tasks()) {
            tasks.add(of(task, number).task);
        }
        return new Comparison(
                tasks, comparison.candidates(), seed(comparison.seed(), number).value());
    }

    /** Returns a fit of {@link #half} with the row numbers of the whole. */
    public HalfFit ofWhole(int number, Fit fit) {
        int[] rows = of(comparison.tasks().get(fit.task()), number).rows;
        return new HalfFit(
                number,
                fit.withResult(fit.result()
                        .map(r -> new Fit.Result(r.outcomes().withRows(rows), r.scores(), r.trainScores()))));
    }

    private Half of(Task task, int number) {
        return of(task, scheme, halving.repeats(), comparison.seed(), number);
    }

    private static Seed seed(long seed, int number) {
        return new Seed(seed).with("halves").with(number / 2).with(number % 2);
    }

    private static Half of(Task task, KFold scheme, int repeats, long seed, int number) {
        DataSet data = task.data();
        Splits two = new KFold(2, 1, true)
                .divide(data, new Seed(seed).with("halves").with(number / 2).value());
        int[] rows = IntStream.range(0, data.rows())
                .filter(i -> two.foldOf(0, i) == number % 2)
                .toArray();
        DataSet half = data.select(rows);
        KFold folds = new KFold(scheme.folds(), repeats, scheme.stratified());
        return new Half(
                rows, new Task(half, folds.divide(half, seed(seed, number).value()), task.metrics()));
    }

    /**
     * Returns the test rows of each split of a half, in the numbering of the whole; also of a task without feature columns.
     *
     * @param scheme how the rows of the whole are divided
     * @param repeats H
     * @return rows by repeat, then fold
     */
    public static int[][][] testRows(Task task, KFold scheme, int repeats, long seed, int number) {
        Half half = of(task, scheme, repeats, seed, number);
        Splits splits = half.task.splits();
        int[][][] test = new int[splits.repeats()][][];
        for (int r = 0; r < test.length; r++) {
            test[r] = new int[splits.folds(r)][];
            for (int f = 0; f < test[r].length; f++) {
                test[r][f] = Arrays.stream(splits.at(r, f).test().toArray())
                        .map(i -> half.rows[i])
                        .toArray();
            }
        }
        return test;
    }
}

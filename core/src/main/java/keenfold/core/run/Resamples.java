package keenfold.core.run;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.Categories;
import keenfold.core.data.Checks;
import keenfold.core.data.DataSet;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;

/**
 * Whole runs on resampled rows: the comparison of a {@code refit}.
 *
 * <p>Definition: resample n draws as many rows (groups, where rows belong to groups) as there are, with replacement, and
 * divides the distinct ones into new folds, so that all copies of a row are tested together and never trained on while
 * they are; then every candidate runs one k-fold with its whole recipe. Rows and folds come from (seed, n)
 * alone.
 *
 * <p>Reference: Davison and Hinkley (1997), Bootstrap Methods and their Application, section 6.4, for resampling cases
 * before everything else.
 */
public final class Resamples {
    private final Comparison comparison;
    private final KFold scheme;

    /**
     * @param scheme how the rows of the comparison itself are divided; one repeat of it is run on each resample
     * @throws IllegalArgumentException if equal rows are bound together there
     */
    public Resamples(Comparison comparison, KFold scheme) {
        for (Task task : comparison.tasks()) {
            Checks.that(
                    !task.splits().bound(),
                    "refit cannot bind equal rows, since resampling makes equal rows; leave out bind-equal or refit");
        }
        this.comparison = comparison;
        this.scheme = new KFold(scheme.folds(), 1, scheme.stratified());
    }

    /**
     * Returns the comparison on one resample.
     *
     * @param number from 0
     * @throws IllegalArgumentException if the resample has fewer distinct rows or groups than folds
     */
    public Comparison resample(int number) {
        List<Task> tasks = new ArrayList<>();
        for (Task task : comparison.tasks()) {
            tasks.add(resample(task, number));
        }
        long seed = new Seed(comparison.seed()).with("refit").with(number).value();
        return new Comparison(tasks, comparison.candidates(), seed);
    }

    private Task resample(Task task, int number) {
        return resample(task, scheme, comparison.seed(), number);
    }

    /** Returns one data set of resample {@code number}, its folds and metrics; also of a task without feature columns. */
    public static Task resample(Task task, KFold scheme, long seed, int number) {
        DataSet data = task.data();
        Seed own = new Seed(seed).with("refit").with(number);
        int[] drawn = draw(data, own.chance());
        String[] unit = new String[drawn.length];
        Arrays.setAll(
                unit,
                i -> data.groups().isPresent()
                        ? Integer.toString(data.groups().get().code(drawn[i]))
                        : Integer.toString(drawn[i]));
        DataSet resampled = data.select(drawn).withGroups(Optional.of(Categories.of("drawn", unit)));
        KFold once = new KFold(scheme.folds(), 1, scheme.stratified());
        return new Task(resampled, once.divide(resampled, own.value()), task.metrics());
    }

    /** Row numbers in the order drawn, each copy by itself. */
    private static int[] draw(DataSet data, RandomSource chance) {
        if (data.groups().isEmpty()) {
            int[] drawn = new int[data.rows()];
            Arrays.setAll(drawn, i -> chance.below(data.rows()));
            return drawn;
        }
        Categories groups = data.groups().get();
        List<List<Integer>> members = new ArrayList<>();
        groups.levels().forEach(l -> members.add(new ArrayList<>()));
        for (int i = 0; i < data.rows(); i++) {
            members.get(groups.code(i)).add(i);
        }
        List<List<Integer>> present = members.stream().filter(m -> !m.isEmpty()).toList();
        List<Integer> drawn = new ArrayList<>();
        for (int g = 0; g < present.size(); g++) {
            drawn.addAll(present.get(chance.below(present.size())));
        }
        return drawn.stream().mapToInt(Integer::intValue).toArray();
    }
}

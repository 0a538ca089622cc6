package keenfold.core.run;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;
import keenfold.core.metric.Metric;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.pipeline.Pipeline;
import keenfold.core.run.result.Task;
import keenfold.core.split.Split;

/**
 * What columns are worth to candidates: by how much the score on test rows falls when a column's values are shuffled among
 * them.
 *
 * <p>Definition: on each split a candidate is trained as in the run; the drop of column j is the score on the test rows less
 * the mean score of five shuffles of column j among them, turned so that a useful column has a positive drop. A column of
 * the file is shuffled as it stands in the file, before steps, so that all that is made of it moves together; the same
 * shuffles serve all candidates.
 *
 * <p>Says what the fitted model relies on, not what the column could tell: of two columns that say the same, each looks
 * dispensable. Reference: Breiman (2001), Mach. Learn. 45(1), doi:10.1023/A:1010933404324.
 */
public final class Importance {
    private static final int SHUFFLES = 5;

    private Importance() {}

    /**
     * The drops of one candidate.
     *
     * @param candidate its index
     * @param score on the test rows, per split
     * @param drops by column of the data set, then by split
     * @param own what the models themselves say of columns, summed to 1 and averaged over splits; empty if they say nothing
     * @param failed how many splits gave no model
     */
    public record Drops(
            int candidate, List<Double> score, List<List<Double>> drops, Map<String, Double> own, int failed) {
        /** Copies the lists. */
        public Drops {
            score = List.copyOf(score);
            drops = drops.stream().map(List::copyOf).toList();
            own = java.util.Collections.unmodifiableMap(new TreeMap<>(own));
        }
    }

    /** One candidate on one split. */
    private record One(double score, List<Double> drops, Map<String, Double> own) {}

    /**
     * Returns the drops of some candidates on one data set.
     *
     * @param repeats on the splits of so many repeats, the first ones
     */
    public static List<Drops> of(
            Comparison comparison,
            int taskIndex,
            List<Integer> candidates,
            Metric metric,
            int repeats,
            Parallel parallel) {
        Task task = comparison.tasks().get(taskIndex);
        List<Split> splits = new ArrayList<>();
        for (int r = 0; r < Math.min(repeats, task.splits().repeats()); r++) {
            for (int f = 0; f < task.splits().folds(r); f++) {
                splits.add(task.splits().at(r, f));
            }
        }
        int count = splits.size();
        Fitter fitter = new Fitter(comparison);
        List<List<One>> all = parallel.map(candidates.size() * count, i -> {
            Candidate candidate = comparison.candidates().get(candidates.get(i / count));
            try {
                return List.of(one(fitter, comparison.seed(), taskIndex, candidate, splits.get(i % count), metric));
            } catch (FitFailure e) {
                return List.of();
            }
        });
        List<Drops> drops = new ArrayList<>();
        for (int c = 0; c < candidates.size(); c++) {
            List<One> own = all.subList(c * count, (c + 1) * count).stream()
                    .flatMap(List::stream)
                    .toList();
            List<List<Double>> byColumn = new ArrayList<>();
            for (int j = 0; j < task.data().features().columns().size(); j++) {
                int column = j;
                byColumn.add(own.stream().map(o -> o.drops.get(column)).toList());
            }
            drops.add(new Drops(
                    candidates.get(c),
                    own.stream().map(One::score).toList(),
                    byColumn,
                    average(own),
                    count - own.size()));
        }
        return drops;
    }

    private static Map<String, Double> average(List<One> all) {
        Map<String, Double> mean = new TreeMap<>();
        for (One one : all) {
            one.own.forEach((name, weight) -> mean.merge(name, weight / all.size(), Double::sum));
        }
        return mean;
    }

    private static One one(Fitter fitter, long seed, int taskIndex, Candidate candidate, Split split, Metric metric) {
        Task task = fitter.task(taskIndex);
        DataSet data = task.data();
        Seed all = new Seed(seed).with("fit").with(split.repeat()).with(split.fold());
        Pipeline fitted = fitter.again(taskIndex, candidate, split);
        int[] rows = split.test().toArray();
        Table test = data.features().select(rows);
        double base = metric.turned(score(fitted, task, split.fold(), rows, test, metric));
        List<Double> drops = new ArrayList<>();
        for (int j = 0; j < test.columns().size(); j++) {
            double sum = 0;
            for (int s = 0; s < SHUFFLES; s++) {
                RandomSource chance = all.with("shuffle")
                        .with(test.columns().get(j).name())
                        .with(s)
                        .chance();
                sum += metric.turned(score(fitted, task, split.fold(), rows, shuffled(test, j, chance), metric));
            }
            drops.add(base - sum / SHUFFLES);
        }
        return new One(metric.turned(base), drops, fitted.ownWeights(data.features()));
    }

    private static double score(Pipeline fitted, Task task, int fold, int[] rows, Table test, Metric metric) {
        return metric.score(fitted.outcomes(fold, rows, task.data().targets(rows), fitted.probabilities(test)));
    }

    private static Table shuffled(Table test, int column, RandomSource chance) {
        int[] order = new int[test.rows()];
        Arrays.setAll(order, i -> i);
        chance.shuffle(order);
        List<Column> columns = new ArrayList<>(test.columns());
        columns.set(column, columns.get(column).select(order));
        return new Table(test.rows(), columns);
    }
}

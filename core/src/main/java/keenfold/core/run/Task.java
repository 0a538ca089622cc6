package keenfold.core.run;

import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.data.DataSet;
import keenfold.core.metric.Metric;
import keenfold.core.metric.MetricKind;
import keenfold.core.metric.MetricName;
import keenfold.core.split.Splits;

/**
 * One data set of a comparison with its splits and its metrics.
 *
 * @param data the rows
 * @param splits how they are divided
 * @param metrics bound to the data set's classes, in plan order
 */
public record Task(DataSet data, Splits splits, List<Metric> metrics) {
    /** Copies the metrics and refuses a rank metric that hardly any fold could give. */
    public Task {
        metrics = List.copyOf(metrics);
        for (Metric metric : metrics) {
            if (metric.kind() == MetricKind.RANK) {
                double share = inMixedFolds(data, splits);
                Checks.that(
                        share >= 0.5,
                        "metric %s compares rows of one fold, but of data set \"%s\" only %.0f %% of the rows lie in"
                                + " folds that hold several classes; use fewer folds, or log-loss or brier",
                        metric.name(),
                        data.name(),
                        100 * share);
            }
        }
    }

    /** Returns a task with its metrics bound. */
    public static Task of(DataSet data, Splits splits, List<MetricName> metrics) {
        return new Task(
                data,
                splits,
                metrics.stream()
                        .map(m -> m.bind(data.classes(), data.classCounts()))
                        .toList());
    }

    private static double inMixedFolds(DataSet data, Splits splits) {
        long mixed = 0;
        for (int r = 0; r < splits.repeats(); r++) {
            int[] first = new int[splits.folds()];
            boolean[] several = new boolean[splits.folds()];
            int[] size = new int[splits.folds()];
            java.util.Arrays.fill(first, -1);
            for (int i = 0; i < data.rows(); i++) {
                int f = splits.foldOf(r, i);
                size[f]++;
                several[f] |= first[f] >= 0 && first[f] != data.target(i);
                first[f] = data.target(i);
            }
            for (int f = 0; f < size.length; f++) {
                mixed += several[f] ? size[f] : 0;
            }
        }
        return (double) mixed / ((long) splits.repeats() * data.rows());
    }
}

package keenfold.core.run.result;

import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.data.DataSet;
import keenfold.core.metric.Metric;
import keenfold.core.metric.MetricKind;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.split.Splits;

/**
 * One data set of a comparison with its splits and its metrics.
 *
 * @param data the rows
 * @param splits how they are divided
 * @param metrics bound to the data set's classes, in plan order
 */
public record Task(DataSet data, Splits splits, List<Metric> metrics) {
    /** The least share of tested rows that must be tested together with another class for ranks to be compared. */
    public static final double LEAST_MIXED = 0.5;

    /** Copies the metrics and refuses a rank metric that hardly any fold could give. */
    public Task {
        metrics = List.copyOf(metrics);
        for (Metric metric : metrics) {
            if (metric.kind() == MetricKind.RANK) {
                double share = splits.shareInMixedCompany(data.targets());
                Checks.that(
                        share >= LEAST_MIXED,
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
}

package keenfold.core.run;

import java.util.Arrays;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.stream.IntStream;
import keenfold.core.classify.Calibration;
import keenfold.core.classify.WrapperKind;
import keenfold.core.data.DataSet;
import keenfold.core.data.Seed;
import keenfold.core.data.WeightedSort;
import keenfold.core.metric.Metric;
import keenfold.core.metric.MetricName;
import keenfold.core.metric.Outcomes;
import keenfold.core.prepare.Settings;
import keenfold.core.split.Splits;

/**
 * What is done to the probabilities of a fitted classifier: calibration, and a threshold for the positive class. Both are
 * learned from inner predictions of the training rows alone.
 *
 * @param calibration of probabilities, if the recipe has one
 * @param threshold of the positive class, if the recipe has one
 */
record Finish(Optional<Calibration> calibration, OptionalDouble threshold) {
    private static final int MOST_THRESHOLDS = 500;

    static final Finish NONE = new Finish(Optional.empty(), OptionalDouble.empty());

    /**
     * Learns what a recipe wants.
     *
     * @param rows the training rows, not prepared
     * @param weights case weight per row
     * @param outer how the comparison divides rows
     */
    static Finish of(Recipe recipe, Settings settings, DataSet rows, double[] weights, Splits outer, Seed seed) {
        boolean calibrates = recipe.has(WrapperKind.CALIBRATE);
        boolean thresholds = recipe.has(WrapperKind.THRESHOLD);
        if (!calibrates && !thresholds) {
            return NONE;
        }
        WrapperKind folds = calibrates ? WrapperKind.CALIBRATE : WrapperKind.THRESHOLD;
        Seed own = seed.with("finish");
        Splits splits = Inner.divide(
                rows, outer, Integer.parseInt(recipe.text(settings, folds, "folds")), 1, own, folds.name());
        Inner.Predictions inner = Inner.predict(recipe, settings, rows, weights, outer, splits, own);
        int classes = rows.classes().count();
        int[] target = rows.targets(inner.rows());
        double[] weight =
                Arrays.stream(inner.rows()).mapToDouble(i -> weights[i]).toArray();
        Optional<Calibration> calibration = Optional.empty();
        double[] probability = inner.probability();
        if (calibrates) {
            Calibration made =
                    recipe.text(settings, WrapperKind.CALIBRATE, "by").equals("platt")
                            ? Calibration.platt(probability, target, weight, classes)
                            : Calibration.isotonic(probability, target, weight, classes);
            probability = made.apply(probability, classes);
            calibration = Optional.of(made);
        }
        if (!thresholds) {
            return new Finish(calibration, OptionalDouble.empty());
        }
        Metric metric = MetricName.parse(recipe.text(settings, WrapperKind.THRESHOLD, "for"))
                .bind(rows.classes(), rows.classCounts());
        return new Finish(
                calibration,
                OptionalDouble.of(
                        best(metric, probability, target, weight, rows.classes().positive())));
    }

    /**
     * The threshold midway between two neighbouring probabilities that serves the metric best, among equals the nearest to 1/2;
     * of many rows some 500 places are tried.
     */
    static double best(Metric metric, double[] probability, int[] target, double[] weight, int positive) {
        double[] p = new double[target.length];
        Arrays.setAll(p, i -> probability[2 * i + positive]);
        int[] order = WeightedSort.order(p);
        // A row that counts twice is scored twice.
        int[] times = IntStream.of(order)
                .flatMap(i -> IntStream.range(0, (int) weight[i]).map(t -> i))
                .toArray();
        int[] actual = Arrays.stream(times).map(i -> target[i]).toArray();
        int[] rows = IntStream.range(0, times.length).toArray();
        double[] all = new double[2 * times.length];
        for (int i = 0; i < times.length; i++) {
            all[2 * i] = probability[2 * times[i]];
            all[2 * i + 1] = probability[2 * times[i] + 1];
        }
        double bestScore = Double.NEGATIVE_INFINITY;
        double best = 0.5;
        int step = Math.max(1, order.length / MOST_THRESHOLDS);
        for (int i = -1; i < order.length; i += step) {
            double below = i < 0 ? 0 : p[order[i]];
            double above = i + 1 < order.length ? p[order[i + 1]] : 1;
            if (!(above > below)) {
                continue;
            }
            double threshold = below < 0.5 && above > 0.5 ? 0.5 : below + (above - below) / 2;
            double score = metric.turned(
                    metric.score(Outcomes.of(2, 0, rows, actual, all).withThreshold(positive, threshold)));
            boolean nearer = Math.abs(threshold - 0.5) < Math.abs(best - 0.5);
            if (score > bestScore + 1e-12 || (score > bestScore - 1e-12 && nearer)) {
                bestScore = Math.max(score, bestScore);
                best = threshold;
            }
        }
        return best;
    }

    double[] apply(double[] probability, int classes) {
        return calibration.map(c -> c.apply(probability, classes)).orElse(probability);
    }

    /** How many parameters it adds, times K − 1. */
    double parameters(int classes) {
        double own = calibration.map(Calibration::parameters).orElse(0.0);
        return own + (threshold.isPresent() ? classes - 1 : 0);
    }
}

package keenfold.core.run.pipeline;

import java.util.Arrays;
import java.util.Optional;
import java.util.OptionalDouble;
import keenfold.core.classify.Calibration;
import keenfold.core.classify.WrapperKind;
import keenfold.core.data.DataSet;
import keenfold.core.data.Seed;
import keenfold.core.metric.BestThreshold;
import keenfold.core.metric.Metric;
import keenfold.core.prepare.Settings;
import keenfold.core.run.candidate.Recipe;
import keenfold.core.split.Splits;

/**
 * What is done to the probabilities of a fitted classifier: calibration, and a threshold for the positive class. Both are
 * learned from inner predictions of the training rows alone.
 *
 * @param calibration of probabilities, if the recipe has one
 * @param threshold of the positive class, if the recipe has one
 */
public record PostProcessing(Optional<Calibration> calibration, OptionalDouble threshold) {
    static final PostProcessing NONE = new PostProcessing(Optional.empty(), OptionalDouble.empty());

    /**
     * Learns what a recipe wants.
     *
     * @param rows the training rows, not prepared
     */
    static PostProcessing of(Recipe recipe, Settings settings, TrainingRows rows, Seed seed) {
        boolean calibrates = recipe.has(WrapperKind.CALIBRATE);
        boolean thresholds = recipe.has(WrapperKind.THRESHOLD);
        if (!calibrates && !thresholds) {
            return NONE;
        }
        WrapperKind folds = calibrates ? WrapperKind.CALIBRATE : WrapperKind.THRESHOLD;
        Seed own = seed.with("finish");
        Splits splits =
                InnerSplits.divide(rows, Integer.parseInt(recipe.text(settings, folds, "folds")), 1, own, folds.name());
        InnerSplits.Predictions inner = InnerSplits.predict(recipe, settings, rows, splits, own);
        DataSet data = rows.rows();
        int classes = rows.classes();
        int[] target = data.targets(inner.rows());
        double[] weight = Arrays.stream(inner.rows()).mapToDouble(rows::weight).toArray();
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
            return new PostProcessing(calibration, OptionalDouble.empty());
        }
        Metric metric = recipe.thresholdMetric(settings).bind(data.classes(), data.classCounts());
        return new PostProcessing(
                calibration,
                OptionalDouble.of(BestThreshold.of(
                        metric,
                        recipe.thresholdLimit(settings)
                                .map(l -> new BestThreshold.Condition(
                                        l.metric().bind(data.classes(), data.classCounts()), l.atLeast(), l.bound())),
                        probability,
                        target,
                        weight,
                        data.classes().positive())));
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

package keenfold.core.metric.catalog;

import java.util.List;
import java.util.Optional;

/** The metrics that can be asked for. */
public final class Measures {
    private static final List<Measure> ALL = List.of(
            LabelMeasures.ACCURACY,
            LabelMeasures.ERROR,
            LabelMeasures.BALANCED_ACCURACY,
            ProbabilityMeasures.AUC,
            ProbabilityMeasures.AVERAGE_PRECISION,
            ProbabilityMeasures.LOG_LOSS,
            ProbabilityMeasures.BRIER,
            LabelMeasures.F1,
            LabelMeasures.F_BETA,
            ProbabilityMeasures.TOP_K,
            LabelMeasures.RECALL,
            LabelMeasures.PRECISION,
            LabelMeasures.SPECIFICITY,
            LabelMeasures.NPV,
            LabelMeasures.G_MEAN,
            LabelMeasures.KAPPA,
            LabelMeasures.MCC,
            ProbabilityMeasures.AUC_PAIRS,
            ProbabilityMeasures.PARTIAL_AUC,
            ProbabilityMeasures.BRIER_SKILL,
            ProbabilityMeasures.CALIBRATION_ERROR,
            LabelMeasures.COST,
            LabelMeasures.TRUE_POSITIVES,
            LabelMeasures.FALSE_POSITIVES,
            LabelMeasures.TRUE_NEGATIVES,
            LabelMeasures.FALSE_NEGATIVES);

    private Measures() {}

    /** Returns all metrics, in the order in which they are listed. */
    public static List<Measure> all() {
        return ALL;
    }

    /** Returns the metric of a name. */
    public static Optional<Measure> of(String label) {
        return ALL.stream().filter(m -> m.label().equals(label)).findFirst();
    }

    /** Returns whether a metric needs the costs of predictions. */
    public static boolean needsCosts(Measure measure) {
        return measure.equals(LabelMeasures.COST);
    }

    /** Returns whether the standard errors of a metric, by its name in a plan, were studied; docs/validity.md says how. */
    public static boolean hasStudiedErrors(String name) {
        return !name.startsWith(ProbabilityMeasures.CALIBRATION_ERROR.label());
    }
}

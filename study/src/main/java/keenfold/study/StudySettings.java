package keenfold.study;

import java.util.List;
import java.util.Optional;
import keenfold.core.infer.contrast.Adjust;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.Method;
import keenfold.core.metric.Costs;

/**
 * What is asked of a ledger beyond what its plan says; what is empty is as the plan says.
 *
 * @param dataset the only data set to look at
 * @param metrics by name, besides those of the plan; they are computed from the predictions
 * @param costs of mistakes, for the metric cost
 * @param draws how many bootstrap resamples
 * @param level of intervals, such as 0.95
 * @param margin within which a difference counts as none
 * @param method by which differences are tested
 * @param adjust how p-values are adjusted for multiple comparisons
 * @param threads that compute; no result depends on it
 */
public record StudySettings(
        Optional<String> dataset,
        List<String> metrics,
        Optional<Costs> costs,
        Optional<Integer> draws,
        Optional<Double> level,
        Optional<Double> margin,
        Optional<Method> method,
        Optional<Adjust> adjust,
        int threads) {
    /** Everything as the plan says, on all processors. */
    public static final StudySettings OF_PLAN = new StudySettings(
            Optional.empty(),
            List.of(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Runtime.getRuntime().availableProcessors());

    /** Copies the list. */
    public StudySettings {
        metrics = List.copyOf(metrics);
    }

    /** Returns the same about one data set. */
    public StudySettings withDataset(String name) {
        return new StudySettings(Optional.of(name), metrics, costs, draws, level, margin, method, adjust, threads);
    }

    /** Returns the same with these metrics besides those of the plan. */
    public StudySettings withMetrics(List<String> names) {
        return new StudySettings(dataset, names, costs, draws, level, margin, method, adjust, threads);
    }

    /** Returns the same with costs of mistakes. */
    public StudySettings withCosts(Costs others) {
        return new StudySettings(dataset, metrics, Optional.of(others), draws, level, margin, method, adjust, threads);
    }

    /** Returns the same with so many draws. */
    public StudySettings withDraws(int count) {
        return new StudySettings(dataset, metrics, costs, Optional.of(count), level, margin, method, adjust, threads);
    }

    /** Returns the same at another level. */
    public StudySettings withLevel(double share) {
        return new StudySettings(dataset, metrics, costs, draws, Optional.of(share), margin, method, adjust, threads);
    }

    /** Returns the same with another margin. */
    public StudySettings withMargin(double within) {
        return new StudySettings(dataset, metrics, costs, draws, level, Optional.of(within), method, adjust, threads);
    }

    /** Returns the same with another test. */
    public StudySettings withMethod(Method by) {
        return new StudySettings(dataset, metrics, costs, draws, level, margin, Optional.of(by), adjust, threads);
    }

    /** Returns the same with another adjustment. */
    public StudySettings withAdjust(Adjust by) {
        return new StudySettings(dataset, metrics, costs, draws, level, margin, method, Optional.of(by), threads);
    }

    /** Returns the same on so many threads. */
    public StudySettings withThreads(int count) {
        return new StudySettings(dataset, metrics, costs, draws, level, margin, method, adjust, count);
    }

    /**
     * Returns how differences are tested under a plan.
     *
     * @throws IllegalArgumentException if a value is out of its range, or two do not go together
     */
    InferenceSettings inference(InferenceSettings plans) {
        InferenceSettings evidence = draws.map(plans::withDraws).orElse(plans);
        evidence = level.isPresent() ? evidence.withLevel(level.get()) : evidence;
        evidence = margin.isPresent() ? evidence.withMargin(margin.get()) : evidence;
        if (method.isEmpty() && adjust.isEmpty()) {
            return evidence;
        }
        // An adjustment of the plan's own method means nothing to another one.
        Optional<Adjust> by = adjust.or(() -> method.isEmpty() ? plans.adjust() : Optional.empty());
        return evidence.withMethod(method.orElse(evidence.method()), by);
    }
}

package keenfold.io.plan;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.metric.Costs;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.pick.Rule;
import keenfold.core.run.candidate.Candidate;
import keenfold.io.table.DataSpec;

/**
 * What is compared, and how.
 *
 * @param note a line about what is asked
 * @param data the data sets
 * @param division how they are divided
 * @param seed from which all randomness derives, if the plan names it
 * @param metrics what is scored
 * @param costs what predictions cost
 * @param primary the metric by which candidates are compared and picked
 * @param candidates in order, families spread out
 * @param evidence how differences are tested
 * @param choosing how one is chosen
 * @param effort seconds that one unit of a family takes, by its name, for dividing them among shards; may be empty
 */
public record Plan(
        Optional<String> note,
        List<DataSpec> data,
        Division division,
        Optional<Long> seed,
        List<MetricName> metrics,
        Costs costs,
        MetricName primary,
        List<Candidate> candidates,
        InferenceSettings evidence,
        Choosing choosing,
        Map<String, Double> effort) {
    /** What is scored where a plan does not say. */
    public static final List<MetricName> METRICS = List.of(
            MetricName.parse("auc"),
            MetricName.parse("accuracy"),
            MetricName.parse("balanced-accuracy"),
            MetricName.parse("log-loss"));

    /** What is scored instead where each row is tested alone, so that rows of a fold cannot be ranked. */
    public static final List<MetricName> METRICS_OF_ROWS = List.of(
            MetricName.parse("log-loss"),
            MetricName.parse("accuracy"),
            MetricName.parse("balanced-accuracy"),
            MetricName.parse("brier"));

    /** What is scored instead where splits are scored each by itself, and some of them test no row of some class. */
    public static final List<MetricName> METRICS_OF_ANY_SPLIT =
            List.of(MetricName.parse("log-loss"), MetricName.parse("accuracy"), MetricName.parse("brier"));

    /** Copies the lists. */
    public Plan {
        data = List.copyOf(data);
        metrics = List.copyOf(metrics);
        candidates = List.copyOf(candidates);
        effort = Collections.unmodifiableMap(new LinkedHashMap<>(effort));
    }

    /** Returns the rule by which one is chosen. */
    public Rule rule() {
        return choosing.rule();
    }

    /** Returns the same plan without a seed. */
    public Plan withoutSeed() {
        return new Plan(
                note,
                data,
                division,
                Optional.empty(),
                metrics,
                costs,
                primary,
                candidates,
                evidence,
                choosing,
                effort);
    }

    /** Returns the same plan of other files. */
    public Plan withFiles(List<DataSpec> otherData, Division otherDivision) {
        return new Plan(
                note, otherData, otherDivision, seed, metrics, costs, primary, candidates, evidence, choosing, effort);
    }

    /** Returns the same plan of other candidates. */
    public Plan withCandidates(List<Candidate> others) {
        return new Plan(note, data, division, seed, metrics, costs, primary, others, evidence, choosing, effort);
    }

    /** Returns the same plan with other metrics, the first one being what candidates are compared by. */
    public Plan withMetrics(List<MetricName> others) {
        return new Plan(
                note, data, division, seed, others, costs, others.get(0), candidates, evidence, choosing, effort);
    }

    /** Returns the same plan with other efforts, which change nothing about its fits. */
    public Plan withEffort(Map<String, Double> other) {
        return new Plan(note, data, division, seed, metrics, costs, primary, candidates, evidence, choosing, other);
    }

    /** Returns the same plan with a seed. */
    public Plan withSeed(long drawn) {
        return new Plan(
                note,
                data,
                division,
                Optional.of(drawn),
                metrics,
                costs,
                primary,
                candidates,
                evidence,
                choosing,
                effort);
    }
}

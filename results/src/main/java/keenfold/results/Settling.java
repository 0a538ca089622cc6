package keenfold.results;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import keenfold.core.data.Notice;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.results.table.ResultTable;

/**
 * How means settle as repeats are added.
 *
 * @param table a row for each data set, metric, candidate and number of repeats
 */
public record Settling(Evaluation evaluation, ResultTable table, List<String> metrics, List<String> candidates)
        implements Result {
    /** Copies the names. */
    public Settling {
        metrics = List.copyOf(metrics);
        candidates = List.copyOf(candidates);
    }

    /** Returns the compared candidates that are shown, rising. */
    public List<Integer> shown(MetricInference metric) {
        return shown(metric, candidates);
    }

    static List<Integer> shown(MetricInference metric, List<String> candidates) {
        return metric.compared().stream()
                .filter(c -> candidates.isEmpty()
                        || candidates.contains(
                                metric.panel().candidates().get(c).name()))
                .toList();
    }

    @Override
    public Map<String, Object> document() {
        Map<String, Object> document = new LinkedHashMap<>();
        document.put("by", "repeat");
        document.put(
                "datasets", evaluation.inferences().stream().map(this::dataSet).toList());
        return document;
    }

    private Map<String, Object> dataSet(Inference inference) {
        ResultTable own = table.where("dataset", Evaluation.name(inference));
        Map<String, Object> set = new LinkedHashMap<>();
        set.put("name", Evaluation.name(inference));
        set.put(
                "means",
                metrics.stream()
                        .flatMap(m -> shown(inference.metric(m)).stream()
                                .map(c -> Evaluation.name(inference, c))
                                .map(c -> candidate(own, m, c)))
                        .toList());
        return set;
    }

    private static Map<String, Object> candidate(ResultTable own, String metric, String candidate) {
        Map<String, Object> all = new LinkedHashMap<>();
        all.put("candidate", candidate);
        all.put("metric", metric);
        all.put(
                "running",
                own.where("metric", metric).where("candidate", candidate).rows().stream()
                        .map(Settling::point)
                        .toList());
        return all;
    }

    private static Map<String, Object> point(ResultTable.Row row) {
        Map<String, Object> point = new LinkedHashMap<>();
        point.put("repeats", row.cell("repeats"));
        point.put("score", row.number("score"));
        point.put("mean", row.number("running_mean"));
        point.put("se", row.number("running_se"));
        point.put("between", row.number("between_repeats"));
        return point;
    }

    @Override
    public List<Notice> notices() {
        return evaluation.notices();
    }
}

package keenfold.view.text;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Adjust;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.Method;
import keenfold.results.Contrasts;
import keenfold.results.Evaluation;
import keenfold.results.table.Column;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;

/** Contrasts as a table. */
public final class ContrastView {
    private static final int MOST_PAIRS = 12;

    private ContrastView() {}

    /** Returns a table of contrasts of one data set. */
    public static String render(Contrasts.Part part, Ink ink) {
        if (part.shown().isEmpty()) {
            return "no two candidates can be compared by "
                    + part.metric().metric().name() + "\n";
        }
        ResultTable results = part.table();
        String table = TextTable.of(results).render(ink);
        if (Wrap.width(table) <= Wrap.WIDTH) {
            return ink.strong(part.title()) + "\n" + table;
        }
        // What is special about pairs finds no room beside them, and stands below.
        StringBuilder text = new StringBuilder(ink.strong(part.title()) + "\n")
                .append(TextTable.of(results.without("")).render(ink));
        Column call = results.forPeople().get(results.forPeople().size() - 2);
        Column remark = results.forPeople().get(results.forPeople().size() - 1);
        Map<String, List<String>> byNote = new LinkedHashMap<>();
        for (ResultTable.Row row : results.rows()) {
            if (!row.shown(remark).isEmpty()) {
                byNote.computeIfAbsent(
                                row.shown(call) + (row.shown(remark).startsWith("(") ? " " : ": ") + row.shown(remark),
                                k -> new ArrayList<>())
                        .add(row.text("candidate") + " and " + row.text("against"));
            }
        }
        byNote.forEach((note, pairs) -> text.append(Wrap.lines(
                Wrap.visible(
                        pairs.size() <= MOST_PAIRS
                                ? note + ": " + String.join(", ", pairs)
                                : note + ": " + String.join(", ", pairs.subList(0, MOST_PAIRS)) + " and "
                                        + (pairs.size() - MOST_PAIRS) + " more pairs"),
                4)));
        return text.toString();
    }

    /** Returns contrasts data set by data set, and what their columns mean. */
    public static String render(Contrasts contrasts, Ink ink) {
        StringBuilder text = new StringBuilder();
        Evaluation evaluation = contrasts.evaluation();
        for (Inference inference : evaluation.inferences()) {
            text.append(Heading.of(inference.panel(), evaluation.scheme(), ink)).append('\n');
            contrasts.parts().stream()
                    .filter(p -> p.inference().equals(inference))
                    .forEach(p -> text.append(render(p, ink)).append('\n'));
        }
        return text.append(legend(
                        contrasts.parts().stream().map(Contrasts.Part::metric).toList(),
                        evaluation.inferences().get(0).evidence(),
                        ink))
                .toString();
    }

    /**
     * Returns what the columns mean, from what was done.
     *
     * @param shown the metrics of the tables above, by data set
     */
    private static String legend(List<MetricInference> shown, InferenceSettings evidence, Ink ink) {
        String margin = evidence.margin() > 0
                ? String.format(
                        Locale.ROOT,
                        "; equivalent: surely within %s either way",
                        NumberFormats.shortest(evidence.margin()))
                : "";
        String text = String.format(
                Locale.ROOT,
                "difference: candidate - the other, %s. The interval is of this pair alone. p: chance of one so large if"
                        + " there were none, from %s; p %s. better or worse: p adjusted < %s%s. An undecided"
                        + " pair is not shown to be equal.",
                scale(shown),
                origins(shown),
                adjusted(shown, evidence),
                NumberFormats.shortest(1 - evidence.level()),
                margin);
        return ink.quiet(Wrap.lines(text, 0).stripTrailing()) + "\n";
    }

    private static String scale(List<MetricInference> shown) {
        List<String> directions = shown.stream()
                .map(m -> m.metric().higherIsBetter() ? "higher is better" : "lower is better")
                .distinct()
                .toList();
        List<String> names =
                shown.stream().map(m -> m.metric().name()).distinct().toList();
        if (names.size() == 1) {
            return "on the scale of " + names.get(0) + " (" + directions.get(0) + ")";
        }
        return "on the scale of each metric ("
                + (directions.size() == 1
                        ? directions.get(0)
                        : names.stream()
                                .map(n -> n + ": "
                                        + (shown.stream()
                                                        .filter(m -> m.metric()
                                                                .name()
                                                                .equals(n))
                                                        .findFirst()
                                                        .orElseThrow()
                                                        .metric()
                                                        .higherIsBetter()
                                                ? "higher is better"
                                                : "lower is better"))
                                .collect(Collectors.joining(", ")))
                + ")";
    }

    private static String adjusted(List<MetricInference> shown, InferenceSettings evidence) {
        List<String> sizes = shown.stream()
                .map(m -> Integer.toString(m.contrasts().size()))
                .distinct()
                .toList();
        String family = String.join(" or ", sizes);
        return evidence.adjustment() == Adjust.NONE
                ? "adjusted is not adjusted here, for being one of " + family
                : family.equals("1")
                        ? "adjusted is the same, since there is one comparison"
                        : String.format(
                                Locale.ROOT,
                                "adjusted for all %s comparisons of the family (%s)",
                                family,
                                evidence.adjustment().words());
    }

    /** Where p-values come from, in words; which data set or metric, where they come from different things. */
    private static String origins(List<MetricInference> shown) {
        Map<String, List<MetricInference>> byOrigin = new LinkedHashMap<>();
        shown.forEach(
                m -> byOrigin.computeIfAbsent(origin(m), k -> new ArrayList<>()).add(m));
        if (byOrigin.size() == 1) {
            return byOrigin.keySet().iterator().next();
        }
        boolean sets = byOrigin.values().stream().allMatch(own -> shown.stream()
                .filter(m -> own.stream().anyMatch(o -> o.panel().equals(m.panel())))
                .allMatch(own::contains));
        return byOrigin.entrySet().stream()
                .map(e -> e.getKey() + " ("
                        + e.getValue().stream()
                                .map(m -> sets
                                        ? m.panel().task().data().name()
                                        : m.metric().name())
                                .distinct()
                                .collect(Collectors.joining(", "))
                        + ")")
                .collect(Collectors.joining("; "));
    }

    private static String origin(MetricInference metric) {
        if (metric.compared().isEmpty()) {
            return "nothing, since no two can be compared";
        }
        String unit = metric.panel().task().data().groups().isPresent() ? "groups" : "rows";
        Method method = metric.method();
        return switch (method) {
            case PIVOT -> ScoresView.origin(metric, metric.panel().common(), unit);
            case CASES, CASES_BCA -> metric.draws() + " draws of " + unit + " alone, for these fitted models only";
            case CORRECTED_T, HALVES, MCNEMAR -> method.label() + " (" + method.meaning() + ")";
        };
    }
}

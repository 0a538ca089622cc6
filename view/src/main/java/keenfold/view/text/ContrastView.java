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
import keenfold.core.infer.contrast.Call;
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
    private static final int INDENT = 4;

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
        Column call = results.forPeople().stream()
                .filter(c -> c.heading().equals("call"))
                .findFirst()
                .orElseThrow();
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

    /** Which candidates may be the best, if that can be said. */
    private static String standings(Contrasts.Part part, Ink ink) {
        ResultTable standings = part.standings();
        return standings.rows().isEmpty()
                ? ""
                : ink.strong(part.metric().metric().name() + ": which may be the best" + meansOf(part.metric())) + "\n"
                        + TextTable.of(standings).render(ink) + "\n";
    }

    /** That means are of all repeats, where differences are of one. */
    private static String meansOf(MetricInference metric) {
        return Contrasts.repeat(metric).isEmpty() ? "" : "; means of all repeats, the rest of the first";
    }

    /** Returns contrasts data set by data set, and what their columns mean. */
    public static String render(Contrasts contrasts, Ink ink) {
        StringBuilder text = new StringBuilder();
        Evaluation evaluation = contrasts.evaluation();
        for (Inference inference : evaluation.inferences()) {
            text.append(Heading.of(inference.panel(), evaluation.scheme(), ink)).append('\n');
            contrasts.parts().stream()
                    .filter(p -> p.inference().equals(inference))
                    .forEach(p -> text.append(render(p, ink)).append('\n').append(standings(p, ink)));
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
        return explained(shown, evidence).stream()
                .map(l -> ink.quiet(Wrap.lines(l, INDENT).stripTrailing()) + "\n")
                .collect(Collectors.joining());
    }

    /**
     * Returns what the columns mean, from what was done, sentence by sentence.
     *
     * @param shown the metrics that are shown, by data set
     */
    public static List<String> explained(List<MetricInference> shown, InferenceSettings evidence) {
        List<String> lines = new ArrayList<>();
        Method method = evidence.method();
        lines.add("difference: candidate - the other" + firstRepeat(shown) + ", " + scale(shown) + ".");
        if (method != Method.MCNEMAR) {
            lines.add(interval(shown, evidence));
        }
        boolean asOfT = method == Method.PIVOT || method == Method.CASES || method == Method.CASES_BCA;
        lines.add("p adjusted: the chance of a difference so large if there were none, " + adjusted(shown, evidence)
                + "; from " + origins(shown) + "."
                + (asOfT
                        ? " Read it as the p of a t-test, which on folds that share training rows would be too small."
                        : ""));
        lines.add("call: better or worse where p adjusted < " + NumberFormats.shortest(1 - evidence.level())
                + (evidence.margin() > 0 && method != Method.MCNEMAR
                        ? "; equivalent where it is surely within " + NumberFormats.shortest(evidence.margin())
                                + " either way"
                        : "")
                + ". An undecided pair is not shown to be equal.");
        if (shown.stream()
                .flatMap(m -> m.contrasts().stream())
                .anyMatch(c -> c.call() == Call.UNDECIDED && !Double.isNaN(c.detectable()))) {
            lines.add("could be seen: a difference so large would be called with probability 0.8; behind it, about how"
                    + " many rows (groups) like these would decide one of the size found.");
        }
        if (shown.stream().anyMatch(m -> m.standings().isPresent())) {
            lines.add(
                    "may be best: no other candidate is shown to be better. The best one is among these with"
                            + " probability " + NumberFormats.shortest(evidence.level())
                            + "; p: the chance of so large a deficit of the best one; rank: the ranks that a candidate may have.");
        }
        return lines;
    }

    private static String firstRepeat(List<MetricInference> shown) {
        return shown.stream().anyMatch(m -> !Contrasts.repeat(m).isEmpty())
                ? ", on the rows as they were predicted in the first repeat, where means are of all repeats"
                : "";
    }

    /** What the interval in the table holds for. */
    private static String interval(List<MetricInference> shown, InferenceSettings evidence) {
        String level = NumberFormats.level(evidence.level());
        boolean single = shown.stream().allMatch(m -> m.contrasts().size() < 2);
        if (evidence.adjustment() == Adjust.NONE || single) {
            return level + " interval: of this pair alone.";
        }
        boolean stepped = shown.stream().anyMatch(m -> m.contrasts().stream()
                .anyMatch(c -> c.significant() && c.lowAll() <= 0 && c.highAll() >= 0));
        return level + " for all: an interval that holds for all pairs of the family at once, as the call does"
                + (stepped ? "; p adjusted, which goes step by step, decides a little more than it." : ".");
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
                ? "not adjusted here for multiple comparisons, of which there are " + family
                : family.equals("1")
                        ? "of which there is one"
                        : String.format(
                                Locale.ROOT,
                                "for all %s comparisons of the family (%s)",
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

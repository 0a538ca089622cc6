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
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.Method;

/** Contrasts as a table. */
public final class ContrastView {
    private static final int MOST_PAIRS = 12;

    private ContrastView() {}

    /**
     * Returns a table of contrasts of one data set.
     *
     * @param title what they are compared with, in words
     * @param sameOpponent whether all are compared with the same candidate, so that it need not be named in each row
     */
    public static String render(
            Inference inference,
            MetricInference metric,
            List<Contrast> contrasts,
            String title,
            boolean sameOpponent,
            Ink ink) {
        if (contrasts.isEmpty()) {
            return "no two candidates can be compared by " + metric.metric().name() + "\n";
        }
        String table = table(inference, metric, contrasts, sameOpponent, true, ink);
        if (Wrap.width(table) <= Wrap.WIDTH) {
            return ink.strong(title) + "\n" + table;
        }
        // What is special about pairs finds no room beside them, and stands below.
        StringBuilder text = new StringBuilder(ink.strong(title) + "\n")
                .append(table(inference, metric, contrasts, sameOpponent, false, ink));
        Map<String, List<String>> byNote = new LinkedHashMap<>();
        for (Contrast c : contrasts) {
            if (!special(c, metric).isEmpty()) {
                byNote.computeIfAbsent(call(c, metric, true), k -> new ArrayList<>())
                        .add(name(inference, c.candidate()) + " and " + name(inference, c.against()));
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

    private static String name(Inference inference, int candidate) {
        return inference.panel().candidates().get(candidate).name();
    }

    private static String table(
            Inference inference,
            MetricInference metric,
            List<Contrast> contrasts,
            boolean sameOpponent,
            boolean notes,
            Ink ink) {
        InferenceSettings evidence = inference.evidence();
        TextTable table = TextTable.empty().column("candidate", TextTable.Align.NAME);
        if (!sameOpponent) {
            table.column("against", TextTable.Align.NAME);
        }
        table.column("difference", TextTable.Align.POINT)
                .column("se", TextTable.Align.POINT)
                .column(NumberFormats.level(evidence.level()) + " interval", TextTable.Align.RIGHT)
                .column("p", TextTable.Align.RIGHT)
                .column("p adjusted", TextTable.Align.RIGHT)
                .column("call", TextTable.Align.LEFT);
        for (Contrast c : contrasts) {
            double se = c.standardError();
            List<String> cells = new ArrayList<>();
            cells.add(name(inference, c.candidate()));
            if (!sameOpponent) {
                cells.add(name(inference, c.against()));
            }
            cells.addAll(List.of(
                    NumberFormats.signed(c.difference(), se),
                    NumberFormats.two(se),
                    NumberFormats.interval(c.low(), c.high(), se),
                    p(c, c.p(), metric),
                    p(c, c.pAdjusted(), metric),
                    call(c, metric, notes)));
            table.row(cells);
        }
        return table.render(ink);
    }

    /** A p-value; none of a pair that was not tested. */
    private static String p(Contrast c, double p, MetricInference metric) {
        return Double.isNaN(c.standardError()) ? NumberFormats.UNDEFINED : NumberFormats.p(p, metric.draws());
    }

    private static String call(Contrast c, MetricInference metric, boolean notes) {
        String special = special(c, metric);
        String between = special.startsWith("(") ? " " : ": ";
        return notes && !special.isEmpty()
                ? c.call().label() + between + special
                : c.call().label();
    }

    /** What is to be said of a pair besides its call; empty if nothing is. */
    private static String special(Contrast c, MetricInference metric) {
        if (c.call() == Call.EQUIVALENT && c.significant()) {
            boolean better = c.difference() > 0 == metric.metric().higherIsBetter();
            return better ? "(better by less than the margin)" : "(worse by less than the margin)";
        }
        return c.note();
    }

    /**
     * Returns what the columns mean, from what was done.
     *
     * @param shown the metrics of the tables above, by data set
     */
    public static String legend(List<MetricInference> shown, InferenceSettings evidence, Ink ink) {
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
            case CORRECTED_T, REFIT, MCNEMAR -> method.label() + " (" + method.meaning() + ")";
        };
    }
}

package keenfold.view.text;

import java.util.List;
import java.util.Locale;
import keenfold.core.infer.Adjust;
import keenfold.core.infer.Call;
import keenfold.core.infer.Contrast;
import keenfold.core.infer.Evidence;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.Panel;

/** Contrasts as a table. */
public final class ContrastView {
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
        Panel panel = inference.panel();
        Evidence evidence = inference.evidence();
        TextTable table = TextTable.empty().column("candidate", TextTable.Align.NAME);
        if (!sameOpponent) {
            table.column("against", TextTable.Align.NAME);
        }
        table.column("difference", TextTable.Align.POINT)
                .column("se", TextTable.Align.POINT)
                .column(Figures.level(evidence.level()) + " interval", TextTable.Align.RIGHT)
                .column("p", TextTable.Align.RIGHT)
                .column("p adjusted", TextTable.Align.RIGHT)
                .column("call", TextTable.Align.LEFT);
        for (Contrast c : contrasts) {
            double se = c.standardError();
            List<String> cells = new java.util.ArrayList<>();
            cells.add(panel.candidates().get(c.candidate()).name());
            if (!sameOpponent) {
                cells.add(panel.candidates().get(c.against()).name());
            }
            cells.addAll(List.of(
                    Figures.signed(c.difference(), se),
                    Figures.two(se),
                    Figures.interval(c.low(), c.high(), se),
                    Figures.p(c.p(), metric.draws()),
                    Figures.p(c.pAdjusted(), metric.draws()),
                    call(c, metric)));
            table.row(cells);
        }
        return ink.strong(title) + "\n" + table.render(ink);
    }

    private static String call(Contrast c, MetricInference metric) {
        String call = c.call().label();
        if (c.call() == Call.EQUIVALENT && c.significant()) {
            boolean better = c.difference() > 0 == metric.metric().higherIsBetter();
            call += better ? " (better by less than the margin)" : " (worse by less than the margin)";
        }
        return c.note().isEmpty() ? call : call + ": " + c.note();
    }

    /** Returns what the columns mean. */
    public static String legend(MetricInference metric, Evidence evidence, int family, Ink ink) {
        String margin = evidence.margin() > 0
                ? String.format(
                        Locale.ROOT, "; equivalent: surely within %s either way", Figures.shortest(evidence.margin()))
                : "";
        String adjusted = evidence.adjustment() == Adjust.NONE
                ? "adjusted is not adjusted here, for being one of " + family
                : String.format(
                        Locale.ROOT,
                        "adjusted for all %d comparisons of the family (%s)",
                        family,
                        evidence.adjustment().words());
        String text = String.format(
                Locale.ROOT,
                "difference: candidate - the other, on the scale of %s (%s is better). p: chance of one so large if"
                        + " there were none, from %s; p %s. better or worse: p adjusted < %s%s. An undecided"
                        + " pair is not shown to be equal.",
                metric.metric().name(),
                metric.metric().higherIsBetter() ? "higher" : "lower",
                origin(metric, evidence),
                adjusted,
                Figures.shortest(1 - evidence.level()),
                margin);
        return ink.quiet(Wrap.lines(text, 0).stripTrailing()) + "\n";
    }

    /** Where p-values come from, in words. */
    private static String origin(MetricInference metric, Evidence evidence) {
        return switch (evidence.method()) {
            case PIVOT, CASES, CASES_BCA ->
                metric.draws() + " " + evidence.method().meaning().split(";", -1)[0];
            case CORRECTED_T, REFIT, MCNEMAR ->
                evidence.method().label() + " (" + evidence.method().meaning() + ")";
        };
    }
}

package keenfold.view.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Simplicity;
import keenfold.core.split.Scheme;
import keenfold.core.split.Splits;

/** A whole comparison on one screen, to be read or pasted into a mail. */
public final class ComparisonView {
    private ComparisonView() {}

    /** Returns heading, scores, contrasts with the best, and the pick. */
    public static String render(
            Inference inference,
            Optional<Scheme> scheme,
            List<String> metrics,
            MetricInference primary,
            String contrastTitle,
            List<Contrast> contrasts,
            Optional<Picks> picks,
            Ink ink) {
        AlignedPredictions panel = inference.panel();
        StringBuilder text = new StringBuilder(Heading.of(panel, scheme, ink)).append('\n');
        text.append(scores(inference, metrics, primary, picks, ink)).append('\n');
        text.append(ContrastView.render(inference, primary, contrasts, contrastTitle, true, ink))
                .append('\n');
        picks.ifPresent(p -> text.append(PickView.brief(
                panel, primary, p, Simplicity.of(panel), inference.evidence().level(), ink)));
        text.append('\n').append(legend(inference.evidence(), panel, primary, ink));
        return text.toString();
    }

    private static String scores(
            Inference inference, List<String> metrics, MetricInference primary, Optional<Picks> picks, Ink ink) {
        List<MetricInference> others = new ArrayList<>(metrics.stream()
                .filter(m -> !m.equals(primary.metric().name()))
                .map(inference::metric)
                .toList());
        String table = scores(inference, primary, others, picks, ink);
        // Metrics that do not fit the page are left to the command that shows all of them.
        while (!others.isEmpty() && Wrap.width(table) > Wrap.WIDTH) {
            others.remove(others.size() - 1);
            table = scores(inference, primary, others, picks, ink);
        }
        return table;
    }

    private static String scores(
            Inference inference,
            MetricInference primary,
            List<MetricInference> others,
            Optional<Picks> picks,
            Ink ink) {
        AlignedPredictions panel = inference.panel();
        TextTable table = TextTable.empty()
                .column("candidate", TextTable.Align.NAME)
                .column(primary.metric().name(), TextTable.Align.POINT)
                .column("sd", TextTable.Align.POINT)
                .column("se", TextTable.Align.POINT)
                .column(NumberFormats.level(inference.evidence().level()) + " interval", TextTable.Align.RIGHT);
        others.forEach(m -> table.column(m.metric().name(), TextTable.Align.POINT));
        table.column("size", TextTable.Align.POINT);
        Simplicity sizes = Simplicity.of(panel);
        for (MeanScore m : ScoresView.ranked(primary)) {
            double se = m.standardError();
            List<String> cells = new ArrayList<>(List.of(
                    panel.candidates().get(m.candidate()).name(),
                    NumberFormats.mean(m.mean(), se),
                    NumberFormats.two(m.sd()),
                    NumberFormats.two(se),
                    NumberFormats.interval(m.low(), m.high(), se)));
            for (MetricInference other : others) {
                MeanScore mean = other.means().get(m.candidate());
                cells.add(NumberFormats.mean(mean.mean(), mean.standardError()));
            }
            cells.add(NumberFormats.significant(sizes.size(m.candidate()), 3));
            table.row(cells, picks.map(p -> p.pick() == m.candidate()).orElse(false));
        }
        return table.render(ink);
    }

    private static String calls(AlignedPredictions panel, InferenceSettings evidence) {
        return panel.task().splits().form() == Splits.Form.IN_ORDER
                ? "; no calls, since splits follow each other in time"
                : "; below " + NumberFormats.shortest(1 - evidence.level()) + " a difference is called better or worse";
    }

    private static String legend(
            InferenceSettings evidence, AlignedPredictions panel, MetricInference primary, Ink ink) {
        return ink.quiet(Wrap.lines(
                                String.format(
                                        Locale.ROOT,
                                        "sd: spread of the %d fold scores. se: uncertainty of the mean or difference, from %s."
                                                + " p adjusted: for all pairs at once (max-T)%s.",
                                        panel.common(),
                                        ScoresView.origin(
                                                primary,
                                                panel.common(),
                                                panel.task().data().groups().isPresent() ? "groups" : "rows"),
                                        calls(panel, evidence)),
                                0)
                        .stripTrailing())
                + "\n";
    }
}

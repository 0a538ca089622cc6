package keenfold.view.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Simplicity;
import keenfold.core.split.Splits;
import keenfold.results.Contrasts;
import keenfold.results.Evaluation;
import keenfold.results.Picking;
import keenfold.results.Scores;
import keenfold.results.table.Alignment;
import keenfold.results.table.NumberFormats;

/** A whole comparison on one screen, to be read or pasted into a mail. */
public final class ComparisonView {
    private ComparisonView() {}

    /** Returns heading, the pick with its price and what else may be the best, scores and contrasts, of the first data set. */
    public static String render(Scores scores, Picking picking, Ink ink) {
        Picking.OfSet set = picking.sets().get(0);
        Inference inference = set.inference();
        MetricInference primary = set.metric();
        AlignedPredictions panel = inference.panel();
        double level = inference.evidence().level();
        // What a person came for stands first; the tables say why.
        return Heading.of(panel, picking.evaluation().scheme(), ink) + "\n"
                + set.picks()
                        .map(p -> PickView.brief(panel, primary, p, set.simplicity(), level, ink) + "\n")
                        .orElse("")
                + scores(inference, scores.metrics(), primary, set.picks(), ink) + "\n"
                + ContrastView.render(Contrasts.part(inference, primary, Contrasts.BEST), ink) + "\n"
                + legend(inference.evidence(), panel, primary, ink);
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
                .column("candidate", Alignment.NAME)
                .column(primary.metric().name(), Alignment.POINT)
                .column("sd", Alignment.POINT)
                .column("se", Alignment.POINT)
                .column(NumberFormats.level(inference.evidence().level()) + " interval", Alignment.RIGHT);
        others.forEach(m -> table.column(m.metric().name(), Alignment.POINT));
        table.column("size", Alignment.POINT);
        Simplicity sizes = Simplicity.of(panel);
        for (MeanScore m : Evaluation.ranked(primary)) {
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
                                                + " p adjusted, and the interval beside it: for all pairs at once (max-T)%s. could be seen: a"
                                                + " difference so large would be called with probability 0.8; behind it, about how many"
                                                + " rows (groups) would decide the one found.",
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

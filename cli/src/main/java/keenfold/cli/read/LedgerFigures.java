package keenfold.cli.read;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.infer.AcrossSets;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.pick.Picker;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Rule;
import keenfold.core.pick.Simplicity;
import keenfold.core.run.Parallel;
import keenfold.core.run.result.Results;
import keenfold.io.ledger.LedgerContent;
import keenfold.io.plan.Plan;
import keenfold.view.chart.Figure;
import keenfold.view.chart.FigureContext;
import keenfold.view.chart.FigureFactory;
import keenfold.view.chart.FigureKind;
import keenfold.view.text.Heading;
import keenfold.view.text.Ink;

/** Makes figures of what a ledger holds. */
final class LedgerFigures {
    private static final int MOST_FRAMES = 6;

    private final String ledger;
    private final LedgerOptions.Read read;
    private final Parallel parallel;

    LedgerFigures(String ledger, LedgerOptions.Read read, Parallel parallel) {
        this.ledger = ledger;
        this.read = read;
        this.parallel = parallel;
    }

    /** The metric, besides the one asked for, that a kind of figure takes; it must be read too. */
    static Optional<String> needs(FigureKind kind, Plan plan, boolean costs) {
        return kind == FigureKind.THRESHOLDS ? Optional.of(labelled(plan, costs)) : Optional.empty();
    }

    /** What thresholds are judged by. */
    private static String labelled(Plan plan, boolean costs) {
        return costs || !plan.costs().none() ? "cost" : "balanced-accuracy";
    }

    /** What figures of one data set and metric are about, all candidates shown. */
    FigureContext subject(Inference inference, String metric) {
        Plan plan = read.content().plan();
        AlignedPredictions panel = inference.panel();
        MetricInference one = inference.metric(metric);
        Simplicity simplicity = Simplicity.of(panel, plan.choosing().simplerBy());
        Rule rule = plan.choosing().rule();
        Optional<Picks> picks = Picker.pick(one, simplicity, rule);
        String place = Heading.of(panel, plan.division().scheme(), Ink.of(false))
                .strip()
                .replace("\n  ", " ")
                .replace("\n", "; ");
        LedgerContent content = read.content();
        return new FigureContext(
                inference,
                one,
                picks,
                picks.isPresent() ? Picker.families(one, simplicity, rule) : List.of(),
                simplicity,
                place + ".",
                content.results().kept() == Results.Kept.PROBABILITIES,
                IntStream.range(0, panel.candidates().size()).boxed().toList());
    }

    /** The candidates that a figure shows one by one where none are named: the pick, the best mean, then the next best. */
    static List<Integer> foremost(FigureKind kind, FigureContext s) {
        List<Integer> ranked = s.metric().means().stream()
                .filter(m -> !Double.isNaN(m.mean())
                        && s.inference().panel().admitted().contains(m.candidate()))
                .sorted(java.util.Comparator.comparingDouble(
                        m -> -s.metric().metric().turned(m.mean())))
                .map(MeanScore::candidate)
                .toList();
        List<Integer> first = new ArrayList<>();
        s.picks().ifPresent(p -> first.addAll(List.of(p.pick(), p.best())));
        first.addAll(ranked);
        boolean binary = s.inference().panel().task().data().classes().binary();
        boolean one = !binary && kind != FigureKind.CONFUSION;
        int count = kind == FigureKind.CONFUSION
                        && s.inference().panel().task().data().classes().count() > 8
                ? 1
                : kind == FigureKind.THRESHOLDS || kind == FigureKind.COLUMNS ? 2 : one ? 1 : MOST_FRAMES;
        return first.stream().distinct().limit(count).toList();
    }

    /**
     * Makes a figure of one data set.
     *
     * @param named the candidates asked for; none for those that suit the figure
     * @param more the metric that the kind needs besides
     * @throws IllegalArgumentException with the reason if it cannot be made
     */
    Figure figure(FigureKind kind, FigureContext all, List<Integer> named, Optional<String> more, String against) {
        List<Integer> admitted = all.inference().panel().admitted();
        List<Integer> shown = !kind.oneByOne()
                ? named.isEmpty() ? all.candidates() : named
                : named.isEmpty()
                        ? foremost(kind, all)
                        : named.stream().filter(admitted::contains).toList();
        FigureContext s = all.of(shown);
        if (kind == FigureKind.DIFFERENCES) {
            return FigureFactory.differences(
                    s,
                    ContrastSelection.of(ledger, s.inference(), s.metric(), against)
                            .contrasts());
        }
        if (kind == FigureKind.RANKS) {
            return ranks(s.metric().metric().name());
        }
        return FigureFactory.of(kind, s, more.map(s.inference()::metric));
    }

    Figure ranks(String metric) {
        List<MetricInference> each =
                read.inferences().stream().map(i -> i.metric(metric)).toList();
        return FigureFactory.ranks(
                AcrossSets.of(each), each, read.inferences().get(0).evidence().level());
    }

    /** Trains candidates anew on the splits of some repeats, to see what columns are worth. */
    Figure columns(FigureContext all, List<Integer> named, Optional<Path> data, int repeats) {
        FigureContext s = all.of(named.isEmpty() ? foremost(FigureKind.COLUMNS, all) : named);
        ColumnWorth worth = ColumnWorth.of(
                read.content().plan(), Path.of(ledger), data, s.metric(), s.candidates(), repeats, parallel);
        return FigureFactory.columns(s, worth.columns(), worth.drops());
    }
}

package keenfold.study.report;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Notice;
import keenfold.core.infer.Inference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.pick.Simplicity;
import keenfold.io.plan.Plan;
import keenfold.results.AcrossDataSets;
import keenfold.results.Contrasts;
import keenfold.results.Evaluation;
import keenfold.results.Looks;
import keenfold.results.Picking;
import keenfold.results.notice.Notices;
import keenfold.view.chart.Figure;
import keenfold.view.chart.FigureContext;
import keenfold.view.chart.FigureFactory;
import keenfold.view.chart.FigureKind;
import keenfold.view.text.Heading;
import keenfold.view.text.Ink;

/** Makes figures of what a ledger holds. */
public final class LedgerFigures {
    private static final int MOST_NAMED = 6;
    private static final int MOST_FRAMES = 6;

    private final Plan plan;
    private final Evaluation evaluation;
    private final boolean probabilities;

    /** @param probabilities whether there are predicted probabilities, and not labels or scores alone */
    public LedgerFigures(Plan plan, Evaluation evaluation, boolean probabilities) {
        this.plan = plan;
        this.evaluation = evaluation;
        this.probabilities = probabilities;
    }

    /** Returns the metric, besides the one asked for, that a kind of figure takes; it must be read too. */
    public static Optional<String> needs(FigureKind kind, Plan plan, boolean costs) {
        return kind == FigureKind.THRESHOLDS ? Optional.of(labelled(plan, costs)) : Optional.empty();
    }

    /** What thresholds are judged by. */
    private static String labelled(Plan plan, boolean costs) {
        return costs || !plan.costs().none() ? "cost" : "balanced-accuracy";
    }

    /** Returns what figures of one data set and metric are about, all candidates shown. */
    public FigureContext subject(Inference inference, String metric, boolean worth) {
        AlignedPredictions panel = inference.panel();
        String place = Heading.of(panel, evaluation.scheme(), Ink.of(false))
                .strip()
                .replace("\n  ", " ")
                .replace("\n", "; ");
        return new FigureContext(
                Picking.ofSet(
                        inference,
                        inference.metric(metric),
                        Simplicity.of(panel, plan.choosing().simplerBy()),
                        plan.choosing().rule(),
                        worth),
                place + ".",
                probabilities,
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
     * @param against what differences are from
     * @throws IllegalArgumentException with the reason if it cannot be made
     */
    public Figure figure(
            FigureKind kind, FigureContext all, List<Integer> named, Optional<String> more, String against) {
        List<Integer> admitted = all.inference().panel().admitted();
        List<Integer> shown = !kind.oneByOne()
                ? named.isEmpty() ? all.candidates() : named
                : named.isEmpty()
                        ? foremost(kind, all)
                        : named.stream().filter(admitted::contains).toList();
        FigureContext s = all.of(shown);
        if (kind == FigureKind.DIFFERENCES) {
            return FigureFactory.differences(
                    s, Contrasts.part(s.inference(), s.metric(), against).shown());
        }
        if (kind == FigureKind.RANKS) {
            return ranks(AcrossDataSets.ofMetric(evaluation, s.metric().metric().name()));
        }
        return FigureFactory.of(kind, s, more.map(s.inference()::metric));
    }

    /** Makes the figure of ranks across data sets. */
    public Figure ranks(AcrossDataSets.OfMetric across) {
        return FigureFactory.ranks(across.sets(), across.each(), evaluation.level());
    }

    /** Trains candidates anew on the splits of some repeats, to see what columns are worth. */
    public Figure columns(FigureContext all, List<Integer> named, ColumnTraining training) {
        FigureContext s = all.of(named.isEmpty() ? foremost(FigureKind.COLUMNS, all) : named);
        Looks.ColumnWorth worth =
                training.worth(s.inference(), s.metric().metric().name(), s.candidates());
        return FigureFactory.columns(s, worth.columns(), worth.drops());
    }

    /**
     * Makes a figure of the first data set, or, of ranks, of all of them.
     *
     * @param candidates those shown; those that suit the figure if none is named
     * @param training by which the figure of columns is made
     * @throws IllegalArgumentException with the reason if it cannot be made
     */
    public FigureResult result(
            FigureKind kind,
            String metric,
            Optional<String> more,
            List<String> candidates,
            String against,
            ColumnTraining training) {
        FigureContext subject = subject(evaluation.inferences().get(0), metric, false);
        List<Integer> named =
                candidates.stream().map(evaluation.candidates()::indexOf).toList();
        Figure figure = kind == FigureKind.COLUMNS
                ? columns(subject, named, training)
                : figure(kind, subject, named, more, against);
        return new FigureResult(figure, notices(kind, metric, candidates));
    }

    private List<Notice> notices(FigureKind kind, String metric, List<String> candidates) {
        Inference first = evaluation.inferences().get(0);
        List<String> names = evaluation.candidates();
        List<Notice> notices = new ArrayList<>();
        if (kind == FigureKind.COLUMNS) {
            List<Integer> shown = IntStream.range(0, names.size())
                    .filter(c -> candidates.isEmpty() || candidates.contains(names.get(c)))
                    .boxed()
                    .toList();
            notices.addAll(ColumnTraining.leftOut(first.panel(), shown));
        }
        notices.addAll(evaluation.notices());
        notices.addAll(Notices.ofScores(first.panel(), first.metric(metric)));
        List<String> sets =
                evaluation.inferences().stream().map(Evaluation::name).toList();
        if (sets.size() > 1 && kind != FigureKind.RANKS) {
            notices.add(Notice.plain(
                    "first-data-set",
                    "drawn of " + sets.get(0) + ", the first of " + sets.size()
                            + " data sets; --dataset names another: "
                            + String.join(", ", sets.subList(1, Math.min(sets.size(), MOST_NAMED)))));
        }
        return notices;
    }
}

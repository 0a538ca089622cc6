package keenfold.view.chart;

import java.util.List;
import java.util.Optional;
import keenfold.core.data.Checks;
import keenfold.core.infer.AcrossSets;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.metric.RankCurve;
import keenfold.core.run.Importance;
import keenfold.core.split.Splits;

/** Every figure there is, by its kind. */
public final class FigureFactory {
    private FigureFactory() {}

    /** Returns why a figure cannot be made of a subject; empty if it can. */
    public static String without(FigureKind kind, FigureContext s) {
        boolean scoresOnly = s.panel().scoresOnly();
        boolean compared = !s.metric().compared().isEmpty();
        return switch (kind) {
            case MEANS, SPREAD, TIME -> s.ranked().isEmpty() ? "no candidate has a mean " + s.metricName() : "";
            case SETTLING ->
                !compared
                        ? "no candidate can be compared by " + s.metricName()
                        : scoresOnly || s.panel().task().splits().count() < 2
                                ? "it takes predictions of two or more splits"
                                : "";
            case ORDER ->
                scoresOnly || s.panel().task().splits().form() != Splits.Form.IN_ORDER
                        ? "it takes splits that follow each other in time (rolling-origin)"
                        : !compared ? "no candidate can be compared by " + s.metricName() : "";
            case DIFFERENCES -> s.metric().compared().size() < 2 ? "there is no pair to compare" : "";
            case STANDINGS -> s.metric().standings().isEmpty() ? "no differences are called by " + s.metricName() : "";
            case PICK, FREQUENCY ->
                s.picks().isEmpty()
                        ? "no candidate can be picked by " + s.metricName()
                        : kind == FigureKind.FREQUENCY
                                        && s.picks().get().frequency().isEmpty()
                                ? "there are no draws"
                                : "";
            case FAMILY -> s.families().isEmpty() ? "no family is among the candidates that can be compared" : "";
            case ROC, PRECISION_RECALL, CALIBRATION, CONFUSION, THRESHOLDS ->
                scoresOnly
                        ? "it takes predictions, and only scores were adopted"
                        : s.candidates().isEmpty()
                                ? "no candidate has all of its fits"
                                : kind != FigureKind.CONFUSION && !s.probabilities()
                                        ? "it takes probabilities, and only labels were adopted"
                                        : kind == FigureKind.THRESHOLDS
                                                        && !s.panel()
                                                                .task()
                                                                .data()
                                                                .classes()
                                                                .binary()
                                                ? "a threshold needs two classes"
                                                : "";
            case RANKS, COLUMNS, TREE -> "";
        };
    }

    /**
     * Returns a figure of one data set.
     *
     * @param kind but for ranks, differences and columns, which have methods of their own
     * @param more for thresholds, a metric of labels
     * @throws IllegalArgumentException if there is none, with the reason
     */
    public static Figure of(FigureKind kind, FigureContext s, Optional<MetricInference> more) {
        String without = without(kind, s);
        Checks.that(without.isEmpty(), "figure %s cannot be drawn: %s", kind.label(), without);
        return switch (kind) {
            case MEANS -> ScoreFigures.means(s);
            case SPREAD -> ScoreFigures.spread(s);
            case SETTLING -> ScoreFigures.settling(s);
            case TIME -> ScoreFigures.time(s);
            case ORDER -> OrderFigure.of(s);
            case STANDINGS -> StandingFigure.of(s, s.metric().standings().orElseThrow());
            case PICK -> PickFigures.pick(s);
            case FAMILY -> PickFigures.family(s);
            case FREQUENCY -> PickFigures.frequency(s);
            case ROC -> CurveFigures.ranked(s, RankCurve.Kind.ROC);
            case PRECISION_RECALL -> CurveFigures.ranked(s, RankCurve.Kind.PRECISION_RECALL);
            case CALIBRATION -> CurveFigures.calibration(s);
            case CONFUSION -> TableFigures.confusion(s);
            case THRESHOLDS -> CurveFigures.thresholds(s, more.orElseThrow());
            case DIFFERENCES, RANKS, COLUMNS, TREE -> throw Checks.wrong(kind.label() + " has its own method");
        };
    }

    /**
     * Returns the figure of differences.
     *
     * @param contrasts with one opponent, in the order of showing
     */
    public static Figure differences(FigureContext s, List<Contrast> contrasts) {
        String without = without(FigureKind.DIFFERENCES, s);
        Checks.that(
                without.isEmpty() && !contrasts.isEmpty(),
                "figure differences cannot be drawn: %s",
                without.isEmpty() ? "there is no pair to compare" : without);
        return PickFigures.differences(s, contrasts);
    }

    /** Returns the figure of mean ranks over data sets. */
    public static Figure ranks(AcrossSets sets, List<MetricInference> each, double level) {
        return TableFigures.ranks(sets, each, level);
    }

    /** Returns the figure of columns. */
    public static Figure columns(FigureContext s, List<String> columns, List<Importance.Drops> all) {
        return TableFigures.columns(s, columns, all);
    }
}

package keenfold.results;

import java.util.List;
import java.util.Optional;
import java.util.function.ToIntFunction;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Standing;
import keenfold.core.infer.resample.MeanScore;
import keenfold.results.table.Alignment;
import keenfold.results.table.ResultTable;
import keenfold.results.table.ValueKind;

/** Which candidates may be the best, and the ranks that each may have, as columns and as a table of their own. */
public final class StandingsTable {
    private StandingsTable() {}

    /** Returns the candidates of a data set by falling mean; no row where no differences are called. */
    public static ResultTable of(Inference inference, MetricInference metric) {
        List<MeanScore> compared = metric.standings().isEmpty()
                ? List.of()
                : Evaluation.ranked(metric).stream()
                        .filter(m -> metric.compared().contains(m.candidate()))
                        .toList();
        var table = ResultTable.<MeanScore>define()
                .name("dataset", m -> Evaluation.name(inference))
                .programs()
                .name("candidate", m -> Evaluation.name(inference, m.candidate()))
                .number("mean", ValueKind.MEAN, MeanScore::mean)
                .headed("mean " + metric.metric().name())
                .error("se")
                .number("se", ValueKind.DEVIATION, MeanScore::standardError);
        columns(table, metric, MeanScore::candidate, false);
        return table.text("metric", m -> metric.metric().name()).programs().of(compared);
    }

    /**
     * Adds the columns of standings to a table.
     *
     * @param candidate of a row
     * @param programsOnly whether people do not see them
     */
    static <R> void columns(
            ResultTable.Definition<R> table, MetricInference metric, ToIntFunction<R> candidate, boolean programsOnly) {
        if (!programsOnly) {
            table.text("", r -> of(metric, candidate.applyAsInt(r))
                            .map(s -> s.rankLow() == s.rankHigh()
                                    ? Integer.toString(s.rankLow())
                                    : s.rankLow() + " to " + s.rankHigh())
                            .orElse(""))
                    .headed("rank")
                    .people()
                    .column("", ValueKind.TEXT.aligned(Alignment.RIGHT), r -> of(metric, candidate.applyAsInt(r))
                            .map(s -> s.mayBeBest() ? "yes" : "no")
                            .orElse(""))
                    .headed("may be best")
                    .people()
                    .number("", ValueKind.p(metric.draws()), r -> of(metric, candidate.applyAsInt(r))
                            .map(Standing::pBest)
                            .orElse(Double.NaN))
                    .headed("p")
                    .error("se")
                    .people();
        }
        table.column("rank_low", ValueKind.WHOLE, r -> of(metric, candidate.applyAsInt(r))
                        .map(Standing::rankLow))
                .programs()
                .column("rank_high", ValueKind.WHOLE, r -> of(metric, candidate.applyAsInt(r))
                        .map(Standing::rankHigh))
                .programs()
                .number("p_best", ValueKind.P, r -> of(metric, candidate.applyAsInt(r))
                        .map(Standing::pBest)
                        .orElse(Double.NaN))
                .programs()
                .column("may_be_best", ValueKind.WHOLE, r -> of(metric, candidate.applyAsInt(r))
                        .map(Standing::mayBeBest))
                .programs();
    }

    private static Optional<Standing> of(MetricInference metric, int candidate) {
        return metric.standings()
                .filter(s -> metric.compared().contains(candidate))
                .map(s -> s.of(candidate));
    }
}

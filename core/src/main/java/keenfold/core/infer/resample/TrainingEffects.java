package keenfold.core.infer.resample;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;

/** The effects of other training rows on the means and differences of one comparison; each is computed once. */
final class TrainingEffects {
    private final AlignedPredictions panel;
    private final TestedRows rows;
    private final int folds;
    private final boolean grouped;
    private final Map<Integer, RowStandings> placements = new ConcurrentHashMap<>();
    private final Map<Integer, TrainingEffect.Spread> spreads = new ConcurrentHashMap<>();
    private final Map<List<Integer>, TrainingEffect> effects = new ConcurrentHashMap<>();

    private TrainingEffects(AlignedPredictions panel, TestedRows rows, int folds, boolean grouped) {
        this.panel = panel;
        this.rows = rows;
        this.folds = folds;
        this.grouped = grouped;
    }

    static TrainingEffects of(AlignedPredictions panel) {
        List<Outcomes> parts = panel.parts(panel.admitted().get(0));
        int classes = panel.task().data().classes().count();
        var splits = panel.task().splits();
        return new TrainingEffects(
                panel,
                new TestedRows(parts, panel.task().data().rows(), classes),
                (int) Math.round((double) splits.count() / splits.repeats()),
                panel.task().data().groups().isPresent());
    }

    private RowStandings placements(int candidate) {
        return placements.computeIfAbsent(candidate, c -> RowStandings.placements(panel.parts(c), rows));
    }

    private TrainingEffect.Spread spread(int candidate) {
        return spreads.computeIfAbsent(candidate, c -> TrainingEffect.spread(placements(c), rows));
    }

    /** The effect on a mean, from placements. */
    TrainingEffect of(int candidate) {
        return effects.computeIfAbsent(
                List.of(candidate),
                k -> TrainingEffect.of(
                        placements(candidate), Optional.empty(), rows, spread(candidate), folds, grouped));
    }

    /** The effect on a difference, from placements; the order of the two does not matter. */
    TrainingEffect of(int candidate, int against) {
        int first = Math.min(candidate, against);
        int second = Math.max(candidate, against);
        return effects.computeIfAbsent(
                List.of(first, second),
                k -> TrainingEffect.of(
                        placements(first),
                        Optional.of(placements(second)),
                        rows,
                        spread(first).plus(spread(second)),
                        folds,
                        grouped));
    }

    /** How rows stand by their influence on a metric made of counts, and how much that changes. */
    record Influences(RowStandings standings, TrainingEffect.Spread spread) {}

    /** The influences of a candidate's rows. */
    Influences influences(Metric metric, int candidate) {
        RowStandings standings = RowStandings.influences(metric, panel.parts(candidate), rows);
        return new Influences(standings, TrainingEffect.spread(standings, rows));
    }

    /** The effect on a mean or a difference, from influences. */
    TrainingEffect of(Influences a, Optional<Influences> b) {
        return TrainingEffect.of(
                a.standings,
                b.map(Influences::standings),
                rows,
                b.map(o -> a.spread.plus(o.spread)).orElse(a.spread),
                folds,
                grouped);
    }
}

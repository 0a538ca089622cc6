package keenfold.io.ledger;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import keenfold.core.data.Checks;
import keenfold.core.metric.catalog.Measures;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.io.ledger.table.FitCopies;
import keenfold.io.ledger.table.FitRow;
import keenfold.io.ledger.table.FitValues;
import keenfold.io.ledger.table.StoredFits;
import keenfold.io.ledger.table.StoredScore;
import keenfold.io.ledger.table.TestedRows;
import keenfold.io.plan.Plan;

/** Gives fits the scores of metrics that they were not made with: predictions are kept, so that any can be computed. */
final class Rescoring {
    private static final int BATCH = 10_000;

    private final Connection connection;
    private final Plan before;
    private final Plan now;
    private final boolean any;

    /**
     * @param before the plan that the scores are of
     * @param now the plan whose metrics are wanted
     */
    Rescoring(Connection connection, Plan before, Plan now) {
        this(connection, before, now, false);
    }

    private Rescoring(Connection connection, Plan before, Plan now, boolean any) {
        this.any = any;
        this.connection = connection;
        this.before = before;
        this.now = now;
    }

    /** Of joined ledgers any fit may lack any metric. */
    static Rescoring ofJoined(Connection connection, LedgerView view) {
        return new Rescoring(connection, view.plan(), view.plan(), true);
    }

    /** The metrics that earlier scores say nothing of: new ones, and those by costs if costs have changed. */
    private List<MetricName> missing() {
        List<String> there = before.metrics().stream().map(MetricName::text).toList();
        boolean otherCosts = !before.costs().equals(now.costs());
        return any
                ? now.metrics()
                : now.metrics().stream()
                        .filter(m -> !there.contains(m.text()) || (otherCosts && byCosts(m)))
                        .toList();
    }

    private static boolean byCosts(MetricName metric) {
        return Measures.needsCosts(metric.measure());
    }

    /**
     * Computes what is missing.
     *
     * @param tasks the data sets of the plan by id, with the splits of all fits that are there, and with its metrics
     * @param kept what of the predictions is there
     * @return names of metrics that were computed
     * @throws IllegalArgumentException if they cannot be
     */
    List<String> complete(Map<Integer, Task> tasks, Results.Kept kept) throws SQLException {
        List<MetricName> missing = missing();
        if (missing.isEmpty() || LedgerFile.number(connection, "SELECT count(*) FROM fit") == 0) {
            return List.of();
        }
        for (MetricName metric : missing) {
            Checks.that(
                    kept == Results.Kept.PROBABILITIES
                            || (kept == Results.Kept.LABELS && metric.measure().byLabels()),
                    "metric %s needs %s, which this ledger of adopted results does not hold",
                    metric.text(),
                    kept == Results.Kept.LABELS ? "probabilities" : "predictions");
        }
        List<String> outdated = before.costs().equals(now.costs())
                ? List.of()
                : before.metrics().stream()
                        .filter(Rescoring::byCosts)
                        .map(MetricName::text)
                        .toList();
        TestedRows tested =
                new TestedRows(tasks, LedgerView.folds(now), now.seed().orElse(0L), false);
        StoredFits stored = new StoredFits(connection, tested);
        int last = LedgerFile.number(connection, "SELECT max(id) FROM fit");
        for (String purpose : List.of(FitRow.RUN, FitRow.HALF)) {
            for (int from = 0; from <= last; from += BATCH) {
                List<FitValues> batch = new ArrayList<>();
                stored.each(purpose, from, from + BATCH - 1, row -> {
                    if (tasks.containsKey(row.dataSet)) {
                        batch.add(stored.values(row));
                    }
                });
                for (FitValues values : batch) {
                    rescore(values, outdated);
                }
            }
        }
        return missing.stream().map(MetricName::text).toList();
    }

    private void rescore(FitValues values, List<String> outdated) throws SQLException {
        List<StoredScore> valid = values.row().scores.stream()
                .filter(s -> !outdated.contains(s.metric()))
                .toList();
        FitRow scored = values.scored(values.row().withScores(valid));
        if (!scored.scores.equals(values.row().scores)) {
            FitCopies.rescore(connection, values, scored);
        }
    }
}

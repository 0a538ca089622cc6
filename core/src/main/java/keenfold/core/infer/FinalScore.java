package keenfold.core.infer;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.Checks;
import keenfold.core.data.DataSet;
import keenfold.core.data.ValueException;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.distribution.Special;
import keenfold.core.infer.distribution.StudentT;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.Bootstrap;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.Parallel;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.Splits;

/**
 * The score of one fitted model on rows that it never saw: for this one model, and these rows.
 *
 * <p>Definition: the metric on all rows as one. A share of rows (accuracy and the like) without groups has Wilson's interval,
 * [s + z²/2 ± z·√(s(n − s)/n + z²/4)]/(n + z²) for s of n rows; any other score value ± t·√V_case, V_case from draws of rows
 * (groups) as in {@link Bootstrap}, t with m − 1 degrees of freedom, cut to the metric's range. No interval where no spread
 * was seen.
 *
 * <p>Reference: Wilson (1927), J. Am. Stat. Assoc. 22(158), doi:10.1080/01621459.1927.10502953.
 *
 * @param metric its name
 * @param value NaN if it is undefined on these rows
 * @param low lower end of the interval; NaN without one
 * @param high upper end
 * @param units how many rows, or groups, it rests on
 */
public record FinalScore(String metric, double value, double low, double high, int units) {
    /**
     * Scores a model.
     *
     * @param rows that it never saw, at least two
     * @param names of the metrics
     * @param outcomes of all rows, in order
     * @param evidence draws and level
     * @param seed of the comparison
     */
    public static List<FinalScore> of(
            DataSet rows,
            List<MetricName> names,
            Candidate candidate,
            Outcomes outcomes,
            InferenceSettings evidence,
            long seed,
            Parallel parallel) {
        Checks.that(rows.rows() > 1, "a score needs two rows or more: there are %d", rows.rows());
        Splits once = Splits.elsewhere(new int[][] {new int[rows.rows()]});
        List<FinalScore> scores = new ArrayList<>();
        for (MetricName name : names) {
            scores.add(one(rows, once, name, candidate, outcomes, evidence, seed, parallel));
        }
        return scores;
    }

    private static FinalScore one(
            DataSet rows,
            Splits once,
            MetricName name,
            Candidate candidate,
            Outcomes outcomes,
            InferenceSettings evidence,
            long seed,
            Parallel parallel) {
        Metric metric = name.bind(rows.classes(), rows.classCounts());
        double value = metric.score(outcomes);
        AlignedPredictions panel;
        try {
            Task task = new Task(rows, once, List.of(metric));
            Fit fit = new Fit(
                    0,
                    0,
                    0,
                    0,
                    new Fit.Times(0, 0, 0, 0),
                    0,
                    Optional.of(new Fit.Result(outcomes, new double[] {value})),
                    "");
            panel = AlignedPredictions.of(new Results(List.of(task), List.of(candidate), List.of(fit), seed), 0);
        } catch (ValueException e) {
            // Rows of a single class cannot be ranked.
            return new FinalScore(name.text(), Double.NaN, Double.NaN, Double.NaN, rows.rows());
        }
        int units = panel.units().count();
        Optional<Metric.Share> share = metric.share(outcomes);
        if (share.isPresent() && !panel.units().grouped()) {
            double[] ends = wilson(share.get().successes(), share.get().trials(), evidence.level());
            // The metric may count the rows that are wrong.
            boolean turned =
                    Math.abs(value - share.get().successes() / share.get().trials()) > 1e-9;
            return new FinalScore(
                    name.text(), value, turned ? 1 - ends[1] : ends[0], turned ? 1 - ends[0] : ends[1], units);
        }
        double spread = Inference.of(panel, evidence.withMargin(0), parallel)
                .metric(metric.name())
                .means()
                .get(0)
                .variance()
                .map(v -> Math.sqrt(v.cases()))
                .orElse(Double.NaN);
        if (Double.isNaN(value) || !(spread > 0) || units < 2) {
            return new FinalScore(name.text(), value, Double.NaN, Double.NaN, units);
        }
        double reach = StudentT.reach(evidence.level(), units - 1) * spread;
        return new FinalScore(
                name.text(),
                value,
                Math.max(metric.least(), value - reach),
                Math.min(metric.most(), value + reach),
                units);
    }

    static double[] wilson(double successes, double trials, double level) {
        double z = Special.normalQuantile((1 + level) / 2);
        double square = z * z;
        double reach = z * Math.sqrt(successes * (trials - successes) / trials + square / 4);
        return new double[] {
            Math.max(0, (successes + square / 2 - reach) / (trials + square)),
            Math.min(1, (successes + square / 2 + reach) / (trials + square))
        };
    }
}

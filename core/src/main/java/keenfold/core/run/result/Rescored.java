package keenfold.core.run.result;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricName;

/** Results under more metrics than they were made with: predictions are kept, so that any can be computed afterwards. */
public final class Rescored {
    private Rescored() {}

    /**
     * Returns the same results under all of some metrics, in that order. Scores on training rows stay for the metrics that
     * were there, and are unknown (NaN) for the others.
     *
     * @param names of the metrics that the results are to have
     * @throws IllegalArgumentException if a metric cannot be computed for a data set, or predictions are not there
     */
    public static Results of(Results results, List<MetricName> names) {
        for (MetricName name : names) {
            Checks.that(
                    results.kept() != Results.Kept.LABELS || name.measure().byLabels(),
                    "%s needs probabilities, and only labels were adopted here",
                    name.text());
        }
        List<Task> tasks = results.tasks().stream()
                .map(t -> Task.of(t.data(), t.splits(), names))
                .toList();
        List<Fit> fits = new ArrayList<>();
        for (Fit fit : results.fits()) {
            fits.add(again(fit, results.tasks().get(fit.task()), tasks.get(fit.task())));
        }
        return new Results(tasks, results.candidates(), fits, results.seed(), results.halves(), results.kept());
    }

    private static Fit again(Fit fit, Task before, Task now) {
        return fit.withResult(fit.result().map(r -> again(r, before.metrics(), now.metrics())));
    }

    private static Fit.Result again(Fit.Result result, List<Metric> before, List<Metric> now) {
        Outcomes outcomes = result.outcomes();
        double[] train = result.trainScores();
        double[] scores = new double[now.size()];
        double[] trained = train.length == 0 ? train : new double[now.size()];
        for (int m = 0; m < scores.length; m++) {
            String name = now.get(m).name();
            int at = -1;
            for (int b = 0; b < before.size(); b++) {
                at = before.get(b).name().equals(name) ? b : at;
            }
            // A cost under other costs is another number under the same name.
            boolean kept = at >= 0 && !name.equals("cost");
            Checks.that(kept || outcomes.size() > 0, "%s needs predictions, and only scores were adopted here", name);
            scores[m] = kept ? result.score(at) : now.get(m).score(outcomes);
            if (trained.length > 0) {
                trained[m] = kept ? train[at] : Double.NaN;
            }
        }
        return new Fit.Result(outcomes, scores, trained);
    }
}

package keenfold.study;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import keenfold.core.infer.Inference;
import keenfold.core.infer.OperatingPoints;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.Metric;
import keenfold.core.metric.catalog.MetricLimit;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.result.Results;
import keenfold.io.InputException;
import keenfold.io.plan.AdoptedKind;
import keenfold.results.Evaluation;
import keenfold.results.Look;
import keenfold.results.Looks;
import keenfold.results.Settling;
import keenfold.study.plan.LedgerState;
import keenfold.study.plan.LoadedPlan;
import keenfold.study.report.ColumnTraining;
import keenfold.study.report.HardestRows;

/**
 * Closer looks at the fits of a {@link Study}: each a table, with what has to be known for reading it. Where candidates are
 * named, those alone are looked at; all, if none is. An unknown name, and a look that the ledger does not allow, are an
 * {@link InputException}.
 */
public final class CloserLooks {
    private final Study study;
    private final InferenceSettings inference;

    CloserLooks(Study study, InferenceSettings inference) {
        this.study = study;
        this.inference = inference;
    }

    /** Returns how scores spread. */
    public Look spread(List<String> names, List<String> candidates) {
        return Looks.spread(study.known(candidates), names, candidates);
    }

    /** Returns the score of each split. */
    public Look folds(List<String> names, List<String> candidates) {
        return Looks.folds(study.known(candidates), names, candidates);
    }

    /**
     * Returns metrics of each class.
     *
     * @param measures names of metrics of one class, without the class
     */
    public Look classes(List<String> measures, List<String> candidates) {
        List<String> names = Looks.ofClasses(measures, study.at(() -> Looks.labels(study.evaluation())));
        List<String> more = new ArrayList<>(study.settings().metrics());
        more.addAll(names);
        return Looks.classes(study.with(study.settings().withMetrics(more)).known(candidates), measures, candidates);
    }

    /** Returns means with data sets side by side. */
    public Look dataSets(List<String> names) {
        return Looks.dataSets(study.evaluation(), names);
    }

    /** Returns what is taken for what, averaged over repeats, and in each of them if {@code perRepeat} is so. */
    public Look confusion(boolean perRepeat, List<String> candidates) {
        requirePredictions();
        return Looks.confusion(study.known(candidates), perRepeat, candidates);
    }

    /**
     * Returns rates and a metric of labels along the threshold of the positive class.
     *
     * @throws InputException if there are no probabilities
     */
    public Look thresholds(String metric, List<String> candidates) {
        requirePredictions();
        if (!study.hasProbabilities()) {
            throw new InputException(
                    study.ledger().toString(), "thresholds need probabilities, and only labels were adopted here");
        }
        Evaluation all = study.known(candidates);
        return study.at(() -> Looks.thresholds(all, metric, candidates));
    }

    /**
     * Returns what candidates are worth when each fold's threshold is the one that is best for a metric on the other folds.
     *
     * @param metric of labels that is to be best
     * @param limit that is to be kept, if any
     * @param candidates names of those that are shown, all if there is none
     * @throws InputException if there are not two classes, no probabilities or no other folds
     */
    public Look operatingPoints(MetricName metric, Optional<MetricLimit> limit, List<String> candidates) {
        requirePredictions();
        study.known(candidates);
        return study.at(() -> {
            OperatingPoints points = OperatingPoints.of(
                    study.chosen(),
                    metric.withCosts(study.plan().costs()),
                    limit.map(l ->
                            new MetricLimit(l.metric().withCosts(study.plan().costs()), l.atLeast(), l.bound())),
                    study.watcher().watched(study.parallel()));
            List<Inference> inferences = new ArrayList<>();
            for (int t = 0; t < points.results().tasks().size(); t++) {
                inferences.add(Inference.of(
                        AlignedPredictions.of(
                                points.results(), t, study.plan().choosing().failedAllowed()),
                        inference,
                        study.parallel()));
            }
            Evaluation at = new Evaluation(
                    inferences,
                    points.results().tasks().get(0).metrics().stream()
                            .map(Metric::name)
                            .toList(),
                    metric.text(),
                    study.plan().division().scheme(),
                    study.plan().note(),
                    List.of(),
                    LedgerState.notices(study.ledger(), study.content()));
            String words = metric.text() + limit.map(l -> " where " + l.text()).orElse("");
            return Looks.operatingPoints(at, points, words, candidates);
        });
    }

    /**
     * Returns the rows that candidates get wrong most often, with their values; of adopted predictions without.
     *
     * @param candidates names of those that count, all if there is none
     * @param data another folder to look for the data in, after the ledger's
     * @param rows how many, at least 1
     * @param neighbours how many rows near each, perhaps none
     * @throws InputException if there are several data sets and none is named, or the data are not there or have changed
     */
    public Look hardestRows(List<String> candidates, Optional<Path> data, int rows, int neighbours) {
        requirePredictions();
        HardestRows.Asked asked = new HardestRows.Asked(rows, neighbours, study.hasProbabilities());
        Evaluation all = study.known(candidates);
        if (all.inferences().size() > 1) {
            throw new InputException(
                    study.ledger().toString(),
                    "rows are looked at in one data set; name it with --dataset, such as "
                            + Evaluation.name(all.inferences().get(0)));
        }
        AlignedPredictions panel = all.inferences().get(0).panel();
        List<Integer> shown = panel.admitted().stream()
                .filter(c -> candidates.isEmpty()
                        || candidates.contains(panel.candidates().get(c).name()))
                .toList();
        if (study.plan().candidates().stream().anyMatch(AdoptedKind::is)) {
            // What was adopted are predictions: the rows have no values.
            if (asked.neighbours() > 0) {
                throw new InputException(
                        study.ledger().toString(),
                        "adopted predictions come without the columns by which rows are near each other; leave out"
                                + " --neighbours");
            }
            return HardestRows.of(all, panel.task().data(), Set.of(), shown, asked);
        }
        LoadedPlan job = LoadedPlan.ofLedger(study.plan(), study.ledger(), data);
        int task = job.index(panel.task().data().name());
        return HardestRows.of(
                all,
                job.comparison().tasks().get(task).data(),
                job.data().get(task).dates(),
                shown,
                asked);
    }

    /**
     * Returns how means settle as repeats are added.
     *
     * @param candidates names of those that are shown, all if there is none
     */
    public Settling repeats(List<String> names, List<String> candidates) {
        requirePredictions();
        return Looks.repeats(study.evaluation(), names, candidates);
    }

    private void requirePredictions() {
        if (study.content().results().kept() == Results.Kept.SCORES) {
            throw new InputException(
                    study.ledger().toString(),
                    "this look needs predictions, and only scores were adopted here; adopt predictions, or ask for --by"
                            + " fold, --by dataset or --spread");
        }
    }

    /**
     * Trains candidates anew to see what columns are worth to them.
     *
     * @param data where the data files are, if not beside the ledger
     * @param repeats on the splits of so many of them
     */
    public Look columns(String metric, List<String> candidates, Optional<Path> data, int repeats) {
        if (study.plan().candidates().stream().anyMatch(AdoptedKind::is)) {
            throw new InputException(
                    study.ledger().toString(),
                    "--by column retrains, and adopted candidates cannot be trained; ask it of a ledger that run made");
        }
        Evaluation all = study.known(candidates);
        return new ColumnTraining(study.plan(), study.ledger(), data, repeats, study.parallel())
                .look(all, metric, candidates);
    }
}

package keenfold.core.infer;

import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.infer.contrast.Adjust;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.Method;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.Bootstrap;
import keenfold.core.infer.resample.FoldScores;
import keenfold.core.infer.resample.PairedDraws;
import keenfold.core.run.Parallel;

/**
 * Means and contrasts of one data set, metric by metric.
 *
 * <p>Target: the expected score, on new rows (groups) like these, of models trained on as many rows as a training side
 * holds. The way: draws of case weights that serve all candidates alike, a variance that allows for other training rows,
 * one pivot for interval and p-value, and the step-down maximum for many comparisons.
 *
 * <p>Cost: O(B·candidates·repeats·rows) per metric. Same seed, same results, for any number of threads.
 */
public final class Inference {
    private final AlignedPredictions panel;
    private final InferenceSettings evidence;
    private final Parallel parallel;
    private final Map<Integer, MetricInference> made = new HashMap<>();

    private Inference(AlignedPredictions panel, InferenceSettings evidence, Parallel parallel) {
        this.panel = panel;
        this.evidence = evidence;
        this.parallel = parallel;
    }

    /** Returns the inference of a panel; nothing is computed before it is asked for. */
    public static Inference of(AlignedPredictions panel, InferenceSettings evidence, Parallel parallel) {
        // Scores alone cannot be drawn from; what they allow is a test on the folds.
        boolean folds = panel.scoresOnly() && evidence.method() == Method.PIVOT;
        Optional<Adjust> adjust = evidence.adjust().filter(a -> a != Adjust.MAX_T);
        return new Inference(panel, folds ? evidence.withMethod(Method.CORRECTED_T, adjust) : evidence, parallel);
    }

    /** Returns the panel. */
    public AlignedPredictions panel() {
        return panel;
    }

    /** Returns the threads that it computes with. */
    public Parallel parallel() {
        return parallel;
    }

    /** Returns how differences are tested. */
    public InferenceSettings evidence() {
        return evidence;
    }

    /**
     * Returns what is said about metric {@code name} of the data set.
     *
     * @throws IllegalArgumentException if the results do not have the metric
     */
    public MetricInference metric(String name) {
        int index = index(name);
        if (!made.containsKey(index)) {
            panel.keepingScorers(
                    List.of(panel.task().metrics().get(index)),
                    () -> made.put(
                            index,
                            draw(index, new FoldScores(panel, index).definedCandidates(parallel), Optional.empty())));
        }
        return Optional.ofNullable(made.get(index)).orElseThrow();
    }

    private MetricInference draw(int index, List<Integer> defined, Optional<Bootstrap.Means> drawn) {
        PairedDraws draws = PairedDraws.of(panel, index, evidence.draws(), parallel, defined, drawn);
        return new MetricInference(draws, index, evidence, parallel);
    }

    private int index(String name) {
        int index = IntStream.range(0, panel.task().metrics().size())
                .filter(m -> panel.task().metrics().get(m).name().equals(name))
                .findFirst()
                .orElse(-1);
        Checks.that(index >= 0, "metric \"%s\" is not among those of the plan", name);
        return index;
    }

    /**
     * Draws several metrics with the same weights, which takes less time than one after the other; the results are the
     * same to the last bit.
     *
     * @throws IllegalArgumentException if the results do not have one of them
     */
    public void together(List<String> names) {
        if (panel.scoresOnly()) {
            return;
        }
        int[] wanted = names.stream()
                .mapToInt(this::index)
                .distinct()
                .filter(i -> !made.containsKey(i))
                .toArray();
        panel.keepingScorers(
                Arrays.stream(wanted)
                        .mapToObj(i -> panel.task().metrics().get(i))
                        .toList(),
                () -> together(wanted));
    }

    private void together(int[] wanted) {
        List<List<Integer>> defined = Arrays.stream(wanted)
                .mapToObj(i -> new FoldScores(panel, i).definedCandidates(parallel))
                .toList();
        List<Bootstrap.Means> drawn = new Bootstrap(panel, evidence.draws(), parallel)
                .means(
                        IntStream.range(0, wanted.length)
                                .mapToObj(i -> new Bootstrap.Asked(
                                        panel.task().metrics().get(wanted[i]), defined.get(i)))
                                .toList(),
                        false);
        for (int i = 0; i < wanted.length; i++) {
            made.put(wanted[i], draw(wanted[i], defined.get(i), Optional.of(drawn.get(i))));
        }
    }
}

package keenfold.results;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.Checks;
import keenfold.core.data.Notice;
import keenfold.core.data.Suggestion;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.split.Scheme;
import keenfold.results.notice.Notices;

/**
 * What results are made of: the inference of each data set, and what was planned.
 *
 * @param inferences one for each data set, in plan order; at least one
 * @param metrics the names of the planned metrics
 * @param primary the planned metric by which candidates are compared
 * @param scheme by which rows were divided; empty if it is not known
 * @param note of the plan
 * @param afterwards what was settled only when results could be seen, to be said of differences
 * @param state what is to be known of where the fits come from, such as that some are missing
 */
public record Evaluation(
        List<Inference> inferences,
        List<String> metrics,
        String primary,
        Optional<Scheme> scheme,
        Optional<String> note,
        List<Notice> afterwards,
        List<Notice> state) {
    /** Copies the lists. */
    public Evaluation {
        inferences = List.copyOf(inferences);
        metrics = List.copyOf(metrics);
        afterwards = List.copyOf(afterwards);
        state = List.copyOf(state);
        Checks.that(!inferences.isEmpty(), "no data set was evaluated");
    }

    /** Returns the same, with what else was settled only when results could be seen. */
    public Evaluation withAfterwards(List<Notice> notices) {
        return new Evaluation(inferences, metrics, primary, scheme, note, notices, state);
    }

    /** Whether the fits have a metric, of the plan or not. */
    public boolean has(String metric) {
        return inferences.get(0).panel().task().metrics().stream()
                .anyMatch(m -> m.name().equals(metric));
    }

    /** Returns the level of intervals. */
    public double level() {
        return inferences.get(0).evidence().level();
    }

    /** Returns what is to be known of the fits, whatever is asked of them. */
    public List<Notice> notices() {
        List<Notice> notices = new ArrayList<>();
        inferences.forEach(i -> notices.addAll(Notices.ofFits(i.panel())));
        notices.addAll(state);
        return notices;
    }

    /** Returns the name of a data set. */
    public static String name(Inference inference) {
        return inference.panel().task().data().name();
    }

    /** Returns the name of a candidate. */
    public static String name(Inference inference, int candidate) {
        return inference.panel().candidates().get(candidate).name();
    }

    /** Returns the names of the candidates, which all data sets have. */
    public List<String> candidates() {
        return inferences.get(0).panel().candidates().stream()
                .map(Candidate::name)
                .toList();
    }

    /**
     * Refuses names of candidates that are not there.
     *
     * @throws IllegalArgumentException naming the one that was probably meant
     */
    public void requireCandidates(List<String> names) {
        List<String> known = candidates();
        for (String name : names) {
            Checks.that(known.contains(name), "no candidate is called \"%s\"%s", name, Suggestion.hint(name, known));
        }
    }

    /** Returns the admitted candidates of a data set that have one of these names; all of them if none is named. */
    static List<Integer> shown(AlignedPredictions panel, List<String> names) {
        return panel.admitted().stream()
                .filter(c -> names.isEmpty()
                        || names.contains(panel.candidates().get(c).name()))
                .toList();
    }

    /** Returns the mean scores of candidates by falling worth, those without a mean last. */
    public static List<MeanScore> ranked(MetricInference metric) {
        return metric.means().stream()
                .sorted(java.util.Comparator.comparing((MeanScore m) -> Double.isNaN(m.mean()))
                        .thenComparing(m -> -metric.metric().turned(m.mean())))
                .toList();
    }
}

package keenfold.core.infer;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.data.Plural;
import keenfold.core.infer.contrast.Call;
import keenfold.core.infer.contrast.Contrast;

/**
 * One metric's means across the data sets of a comparison.
 *
 * @param candidates indexes of those that have a mean on every data set, in plan order
 * @param across their ranks and tests
 * @param tallies of the calls, pair by pair, in the order of {@link Across#wilcoxon()}
 */
public record AcrossSets(List<Integer> candidates, Across across, List<Tally> tallies) {
    /** Copies the lists. */
    public AcrossSets {
        candidates = List.copyOf(candidates);
        tallies = List.copyOf(tallies);
    }

    /**
     * On how many data sets the first of a pair is called better, neither, or worse.
     *
     * @param wins better
     * @param draws neither
     * @param losses worse
     */
    public record Tally(int wins, int draws, int losses) {
        /** Returns the same as the other of the pair sees it. */
        public Tally flipped() {
            return new Tally(/* wins= */ losses, draws, /* losses= */ wins);
        }
    }

    /**
     * Compares across data sets.
     *
     * @param metrics the same metric on each data set
     * @throws IllegalArgumentException if there are fewer than two data sets, or than two candidates with a mean on all
     */
    public static AcrossSets of(List<MetricInference> metrics) {
        Checks.that(metrics.size() > 1, "%d data set: a comparison across needs at least 2", metrics.size());
        int count = metrics.get(0).panel().candidates().size();
        List<Integer> candidates = IntStream.range(0, count)
                .filter(c -> metrics.stream().allMatch(m -> m.compared().contains(c)))
                .boxed()
                .toList();
        Checks.that(
                candidates.size() > 1,
                "%s a mean of %s on every data set: a comparison across needs at least 2",
                Plural.of(candidates.size(), "candidate has", "candidates have"),
                metrics.get(0).metric().name());
        double[][] turned = new double[metrics.size()][];
        for (int i = 0; i < turned.length; i++) {
            MetricInference metric = metrics.get(i);
            turned[i] = candidates.stream()
                    .mapToDouble(
                            c -> metric.metric().turned(metric.means().get(c).mean()))
                    .toArray();
        }
        List<Tally> tallies = new ArrayList<>();
        for (int a = 0; a < candidates.size(); a++) {
            for (int b = a + 1; b < candidates.size(); b++) {
                tallies.add(tally(metrics, candidates.get(a), candidates.get(b)));
            }
        }
        return new AcrossSets(candidates, Across.of(turned), tallies);
    }

    private static Tally tally(List<MetricInference> metrics, int a, int b) {
        int wins = 0;
        int losses = 0;
        for (MetricInference metric : metrics) {
            Optional<Contrast> contrast = metric.contrast(a, b);
            wins += contrast.filter(c -> c.call() == Call.BETTER).isPresent() ? 1 : 0;
            losses += contrast.filter(c -> c.call() == Call.WORSE).isPresent() ? 1 : 0;
        }
        return new Tally(wins, metrics.size() - wins - losses, losses);
    }
}

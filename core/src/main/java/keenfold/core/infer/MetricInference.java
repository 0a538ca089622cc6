package keenfold.core.infer;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.core.data.Checks;
import keenfold.core.data.Notice;
import keenfold.core.infer.contrast.Adjust;
import keenfold.core.infer.contrast.CaseTester;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.ContrastFamily;
import keenfold.core.infer.contrast.CorrectedT;
import keenfold.core.infer.contrast.HalvesTester;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.McNemar;
import keenfold.core.infer.contrast.Method;
import keenfold.core.infer.contrast.PivotTester;
import keenfold.core.infer.contrast.Standings;
import keenfold.core.infer.contrast.Tester;
import keenfold.core.infer.contrast.Untested;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.FoldScores;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.infer.resample.MeanScores;
import keenfold.core.infer.resample.PairedDraws;
import keenfold.core.infer.resample.RunningMean;
import keenfold.core.infer.resample.VarianceForm;
import keenfold.core.metric.Metric;
import keenfold.core.run.Parallel;
import keenfold.core.split.Splits;

/**
 * All that is said about one metric on one data set; made by {@link Inference}.
 *
 * <p>Means and contrasts are computed when they are first asked for, and kept. Not for several threads at once.
 */
public final class MetricInference {
    private final PairedDraws draws;
    private final FoldScores foldScores;
    private final InferenceSettings evidence;
    private final Parallel parallel;
    private Optional<List<MeanScore>> means = Optional.empty();
    private Optional<ContrastFamily.Tested> tested = Optional.empty();
    private Optional<ContrastFamily.Tested> pairs = Optional.empty();
    private Optional<Tester> tester = Optional.empty();
    private final Map<Pair, Contrast> byPair = new HashMap<>();

    /** @param metricIndex index of the metric among those of the data set */
    MetricInference(PairedDraws draws, int metricIndex, InferenceSettings evidence, Parallel parallel) {
        this.draws = draws;
        this.foldScores = new FoldScores(draws.panel(), metricIndex);
        this.evidence = evidence;
        this.parallel = parallel;
    }

    /** Returns the same draws and means, their differences tested by another method. */
    public MetricInference by(Method method, Optional<Adjust> adjust) {
        MetricInference other =
                new MetricInference(draws, foldScores.metricIndex(), evidence.withMethod(method, adjust), parallel);
        other.means = means;
        return other;
    }

    /** Returns the metric. */
    public Metric metric() {
        return draws.metric();
    }

    /** Returns the candidates that are compared, rising; the others are shown with what they have. */
    public List<Integer> compared() {
        return draws.compared();
    }

    /** Returns how the variances were made. */
    public VarianceForm form() {
        return panel().scoresOnly() ? VarianceForm.RESAMPLED : draws.variances().form();
    }

    /** Returns the number of draws that count, B. */
    public int draws() {
        return draws.count();
    }

    /** Returns how many draws were dropped because a candidate was undefined in them. */
    public int dropped() {
        return draws.dropped();
    }

    /** Returns what a reader must know. */
    public List<Notice> notices() {
        return draws.notices();
    }

    /** Returns the mean score of a compared candidate in one draw. */
    public double drawnMean(int candidate, int draw) {
        return draws.get(candidate, draw);
    }

    /** Returns one mean score per candidate, in plan order. */
    public List<MeanScore> means() {
        if (means.isEmpty()) {
            means = Optional.of(new MeanScores(draws, foldScores, evidence.level()).all(parallel));
        }
        return means.get();
    }

    /**
     * Returns how the mean of a compared candidate settles as repeats are added, one entry per repeat (per split, where
     * each is scored by itself). What is learned between repeats (λ, and the variance of repeat or split scores) is that of
     * all repeats throughout, so that a standard error changes for the draws of the repeats so far alone.
     */
    public List<RunningMean> running(int candidate) {
        return draws.running(candidate);
    }

    /**
     * Returns the contrasts of the family: all pairs of compared candidates, or those with the one candidate that the
     * evidence names; a candidate stands before the one it is compared with as in the plan.
     */
    public List<Contrast> contrasts() {
        if (tested.isEmpty()) {
            tested = Optional.of(family().ofEvidence());
        }
        return tested.get().contrasts();
    }

    /**
     * Returns the contrasts of some pairs; their p-values and intervals are adjusted for these pairs alone.
     *
     * @param pairs of compared candidates, by their indices
     */
    public List<Contrast> contrasts(List<int[]> pairs) {
        return family().ofPairs(pairs);
    }

    private ContrastFamily family() {
        return new ContrastFamily(draws, foldScores, means(), evidence, tester(), parallel);
    }

    private Tester tester() {
        if (tester.isEmpty()) {
            tester = Optional.of(makeTester());
        }
        return tester.get();
    }

    private Tester makeTester() {
        if (panel().scoresOnly()) {
            Checks.that(
                    evidence.method() == Method.CORRECTED_T,
                    "method %s needs predictions, and only scores were adopted here; corrected-t is what they allow",
                    evidence.method().label());
            return foldScores.serveTest() ? new CorrectedT(foldScores) : new Untested();
        }
        return switch (evidence.method()) {
            case PIVOT -> new PivotTester(draws);
            case CASES -> new CaseTester(draws, false);
            case CASES_BCA -> new CaseTester(draws, true);
            case CORRECTED_T -> new CorrectedT(foldScores);
            case HALVES ->
                compared().isEmpty() ? new Untested() : new HalvesTester(draws, evidence.halving(), parallel);
            case MCNEMAR -> new McNemar(panel(), metric());
        };
    }

    /**
     * Scores in each draw one chosen candidate on the rows (groups) that the draw left out.
     *
     * @param chosen per draw the candidate, by its index
     * @return the scores of the draws that have one; none if those are fewer than {@code 0.8} of all
     */
    public double[] leftOut(int[] chosen) {
        return draws.leftOut(chosen);
    }

    /** Returns the contrast of two compared candidates, if it belongs to the family. */
    public Optional<Contrast> contrast(int candidate, int against) {
        if (byPair.isEmpty()) {
            for (Contrast c : contrasts()) {
                byPair.put(new Pair(c.candidate(), c.against()), c);
            }
        }
        return Optional.ofNullable(byPair.get(new Pair(candidate, against)))
                .or(() -> Optional.ofNullable(byPair.get(new Pair(against, candidate)))
                        .map(Contrast::flipped));
    }

    private record Pair(int candidate, int against) {}

    /** Returns the contrasts of all pairs, also where the evidence names one candidate to compare with. */
    public List<Contrast> allPairs() {
        return ofAllPairs().contrasts();
    }

    /**
     * Returns which candidates may be the best, and the ranks that each may have; empty where no differences are called, or
     * fewer than two candidates are compared.
     */
    public Optional<Standings> standings() {
        return ofAllPairs().standings();
    }

    private ContrastFamily.Tested ofAllPairs() {
        if (evidence.against().isEmpty()) {
            contrasts();
            return tested.orElseThrow();
        }
        if (pairs.isEmpty()) {
            pairs = Optional.of(family().ofAllPairs());
        }
        return pairs.get();
    }

    /**
     * Returns the least adjusted p-value that draws can give: 1/(B + 1), times the number of comparisons with Holm; 0 for
     * methods whose p-values do not come from a count of draws.
     */
    public double leastAdjusted() {
        boolean drawn = evidence.method() == Method.PIVOT || evidence.method() == Method.CASES;
        if (!drawn || panel().scoresOnly()) {
            return 0;
        }
        double own = (evidence.method() == Method.CASES ? 2.0 : 1.0) / (draws() + 1);
        long comparisons = evidence.against().isPresent()
                ? compared().size() - 1L
                : (long) compared().size() * (compared().size() - 1) / 2;
        return Math.min(1, evidence.adjustment() == Adjust.HOLM ? own * comparisons : own);
    }

    /** Returns whether differences may be called better or worse. */
    public boolean calls() {
        return panel().task().splits().form() != Splits.Form.IN_ORDER && tester().calls();
    }

    /** Returns how differences are tested. */
    public Method method() {
        return evidence.method();
    }

    /** Returns the margin of equivalence, 0 for none. */
    public double margin() {
        return evidence.margin();
    }

    /** Returns whether the margin was set when results could be seen already. */
    public boolean marginAfterwards() {
        return evidence.marginAfterwards();
    }

    /**
     * Returns the textbook's standard error of a mean: the sd of a repeat's fold scores/√folds, averaged over repeats. It
     * takes folds for independent, and says nothing about what repeats show.
     */
    public double foldStandardError(int candidate) {
        return foldScores.standardError(candidate);
    }

    /** Returns the predictions that all this is computed of. */
    public AlignedPredictions panel() {
        return draws.panel();
    }

    /** Returns the draws that means and differences are computed of. */
    public PairedDraws pairedDraws() {
        return draws;
    }

    /** Returns the scores of single fits. */
    FoldScores foldScores() {
        return foldScores;
    }

    InferenceSettings evidence() {
        return evidence;
    }

    Parallel parallel() {
        return parallel;
    }
}

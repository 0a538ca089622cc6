package keenfold.core.infer.resample;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.data.Notice;
import keenfold.core.metric.Metric;
import keenfold.core.run.Parallel;
import keenfold.core.split.Splits;

/**
 * Bootstrap draws of the mean scores of all compared candidates under one metric: in each draw all of them are scored on the
 * same resampled rows (groups). With them goes what makes a variance of draws, and what a reader must know of how they were
 * made. Immutable, for any number of threads.
 */
public final class PairedDraws {
    /** The share of draws in which a candidate may be undefined. */
    static final double MOST_UNDEFINED = 0.05;

    /** The share of draws in which the chosen candidate must have a score on what was left out. */
    static final double LEAST_LEFT_OUT = 0.8;

    private static final int ENOUGH_SPLITS = 25;

    private final AlignedPredictions panel;
    private final Metric metric;
    private final Parallel parallel;
    private final int asked;
    private final List<Integer> compared;
    private final VarianceModel variances;
    private final ResamplingUnits units;
    private final Bootstrap bootstrap;
    private final double[][] draws;
    private final int[] keptDraws;
    private final Pivot.Roots roots;
    private final boolean withinClasses;
    private final List<Notice> notices = new ArrayList<>();

    /**
     * Draws, or takes draws that were made for several metrics at once.
     *
     * @param of all predictions; splits that say nothing about the metric are left out where others do
     * @param metricIndex index of the metric among those of the data set
     * @param drawCount number of draws, B
     * @param whole the candidates that are defined, or were drawn
     * @param drawnOfAll draws of them that are there already
     */
    public static PairedDraws of(
            AlignedPredictions of,
            int metricIndex,
            int drawCount,
            Parallel parallel,
            List<Integer> whole,
            Optional<Bootstrap.Means> drawnOfAll) {
        return new PairedDraws(of, scored(of, metricIndex), metricIndex, drawCount, parallel, whole, drawnOfAll);
    }

    private PairedDraws(
            AlignedPredictions of,
            AlignedPredictions panel,
            int metricIndex,
            int drawCount,
            Parallel parallel,
            List<Integer> whole,
            Optional<Bootstrap.Means> drawnOfAll) {
        // Draws of all splits are none of fewer.
        boolean fewer = !panel.equals(of);
        List<Integer> defined = fewer ? new FoldScores(panel, metricIndex).definedCandidates(parallel) : whole;
        Optional<Bootstrap.Means> made = fewer ? Optional.empty() : drawnOfAll;
        this.panel = panel;
        this.metric = panel.task().metrics().get(metricIndex);
        this.parallel = parallel;
        this.asked = drawCount;
        this.units = panel.units();
        this.bootstrap = new Bootstrap(panel, drawCount, parallel);
        if (panel.scoresOnly()) {
            this.compared = defined;
            this.keptDraws = new int[0];
            this.draws = new double[defined.size()][0];
            this.roots = new Pivot.Roots(new double[0], new double[0]);
            this.withinClasses = false;
            this.variances = new VarianceModel(panel, metric, units, List.of(), parallel);
            return;
        }
        Bootstrap.Means drawn = made.orElseGet(() -> bootstrap.means(metric, defined, false));
        boolean within = false;
        if (lost(drawn) > MOST_UNDEFINED * drawn.draws() && !units.grouped()) {
            notices.add(Notice.of(
                            "drawn-within-classes",
                            "undefined in more than %.0f %% of draws, for want of rows of a class; rows were drawn within"
                                    + " classes instead",
                            100 * MOST_UNDEFINED)
                    .about(panel.task().data().name(), metric.name()));
            drawn = bootstrap.means(metric, defined, true);
            within = true;
        }
        this.withinClasses = within;
        int[] kept = keptCandidates(drawn);
        this.compared = Arrays.stream(kept).mapToObj(defined::get).toList();
        this.keptDraws = keptDraws(drawn, kept);
        this.draws = new double[kept.length][keptDraws.length];
        double[] normals = bootstrap.normals();
        double[] otherNormals = bootstrap.otherNormals();
        double[] z = new double[keptDraws.length];
        double[] others = new double[keptDraws.length];
        for (int b = 0; b < keptDraws.length; b++) {
            z[b] = normals[keptDraws[b]];
            others[b] = otherNormals[keptDraws[b]];
            for (int c = 0; c < kept.length; c++) {
                draws[c][b] = drawn.get(kept[c], keptDraws[b]);
            }
        }
        this.roots = new Pivot.Roots(z, others);
        this.variances = new VarianceModel(panel, metric, units, compared, parallel);
        if (fewer) {
            int splits = of.common();
            notices.add(Notice.of(
                            "undefined-splits",
                            "undefined in %d of %d splits, for want of rows of a class among those tested; means and"
                                    + " differences are over the other %d",
                            splits - panel.common(),
                            splits,
                            panel.common())
                    .about(panel.task().data().name(), metric.name())
                    .with("undefined", splits - panel.common())
                    .with("splits", splits));
        }
        if (!compared.isEmpty()) {
            notices.addAll(ofForm());
        }
        Optional<String> small = compared.isEmpty() ? Optional.empty() : variances.smallClasses();
        small.ifPresent(classes -> notices.add(Notice.of(
                        "small-class-error",
                        "%s than %d rows; standard errors allow for it and are rough",
                        classes,
                        VarianceModel.SMALL_CLASS)
                .about(panel.task().data().name(), metric.name())));
    }

    /**
     * The panel of those splits on which a metric is defined for all candidates that have it on half of them or more, where
     * splits are scored each by itself; of others, the panel itself. A split whose test rows lack a class says nothing about
     * ranks, and others do.
     */
    private static AlignedPredictions scored(AlignedPredictions panel, int metricIndex) {
        Metric metric = panel.task().metrics().get(metricIndex);
        if (panel.scoresOnly() || panel.task().splits().joined()) {
            return panel;
        }
        List<double[]> scores = panel.admitted().stream()
                .filter(c -> !panel.parts(c).isEmpty())
                .map(c -> panel.partScores(metric, c))
                .filter(own ->
                        2 * Arrays.stream(own).filter(s -> !Double.isNaN(s)).count() >= own.length)
                .toList();
        if (scores.isEmpty()) {
            return panel;
        }
        List<Integer> kept = IntStream.range(0, scores.get(0).length)
                .filter(i -> scores.stream().noneMatch(own -> Double.isNaN(own[i])))
                .boxed()
                .toList();
        return kept.size() < 2 || kept.size() == scores.get(0).length ? panel : panel.only(kept);
    }

    private List<Notice> ofForm() {
        String name = panel.task().data().name();
        List<Notice> said = new ArrayList<>();
        if (variances.form() == VarianceForm.CASES) {
            said.add(Notice.of(
                            "single-split",
                            "with a single split, standard errors and p-values hold for these fitted models only; other"
                                    + " training rows would have given others")
                    .about(name));
        }
        if (variances.form() == VarianceForm.RESAMPLED && panel.common() < ENOUGH_SPLITS) {
            said.add(Notice.of(
                            "few-splits",
                            "standard errors come from the spread of %d splits; %d or more are advised",
                            panel.common(),
                            ENOUGH_SPLITS)
                    .about(name)
                    .with("splits", panel.common())
                    .with("advised", ENOUGH_SPLITS));
        }
        if (panel.task().splits().form() == Splits.Form.IN_ORDER) {
            said.add(Notice.of(
                            "splits-in-time",
                            "splits follow each other in time, and standard errors do not allow for it; so no difference"
                                    + " is called better or worse")
                    .about(name));
        }
        return said;
    }

    private static int lost(Bootstrap.Means means) {
        int[] all = IntStream.range(0, means.candidates()).toArray();
        return means.draws() - keptDraws(means, all).length;
    }

    private static int[] keptDraws(Bootstrap.Means means, int[] candidates) {
        return IntStream.range(0, means.draws())
                .filter(b -> Arrays.stream(candidates).noneMatch(c -> Double.isNaN(means.get(c, b))))
                .toArray();
    }

    private static int[] keptCandidates(Bootstrap.Means means) {
        return IntStream.range(0, means.candidates())
                .filter(c -> keptDraws(means, new int[] {c}).length >= (1 - MOST_UNDEFINED) * means.draws())
                .toArray();
    }

    /** Returns the predictions that were drawn from. */
    public AlignedPredictions panel() {
        return panel;
    }

    /** Returns the metric. */
    public Metric metric() {
        return metric;
    }

    /** Returns the candidates that are compared, rising. */
    public List<Integer> compared() {
        return compared;
    }

    /** Returns the number of draws that count, B. */
    public int count() {
        return keptDraws.length;
    }

    /** Returns how many draws were dropped because a candidate was undefined in them. */
    public int dropped() {
        return panel.scoresOnly() ? 0 : asked - keptDraws.length;
    }

    /** Returns what a reader must know. */
    public List<Notice> notices() {
        return List.copyOf(notices);
    }

    /** Where a candidate stands among those compared, which rise. */
    private int place(int candidate) {
        return Collections.binarySearch(compared, candidate);
    }

    /** Returns the mean score of a compared candidate in one draw. */
    public double get(int candidate, int draw) {
        return draws[place(candidate)][draw];
    }

    /** Returns the mean scores of a compared candidate, one per draw. */
    public double[] of(int candidate) {
        return draws[place(candidate)].clone();
    }

    /** Returns the differences of two compared candidates, one per draw. */
    public double[] differences(int a, int b) {
        double[] of = draws[place(a)];
        double[] from = draws[place(b)];
        double[] differences = new double[of.length];
        for (int i = 0; i < differences.length; i++) {
            differences[i] = of[i] - from[i];
        }
        return differences;
    }

    /** Returns the random numbers that widen each draw. */
    public Pivot.Roots roots() {
        return roots;
    }

    /** Returns what makes variances of draws. */
    public VarianceModel variances() {
        return variances;
    }

    /** Returns what is drawn: rows, or groups of them. */
    ResamplingUnits units() {
        return units;
    }

    /** Returns per compared candidate the mean without each row or group. */
    public double[][] withoutEachUnit() {
        return parallel.map(compared.size(), c -> variances.withoutEachUnit(compared.get(c)))
                .toArray(double[][]::new);
    }

    /**
     * Scores in each draw one chosen candidate on the rows (groups) that the draw left out.
     *
     * @param chosen per draw the candidate, by its index
     * @return the scores of the draws that have one; none if those are fewer than {@link #LEAST_LEFT_OUT} of all
     */
    public double[] leftOut(int[] chosen) {
        int[] byDraw = new int[asked];
        Arrays.fill(byDraw, -1);
        for (int b = 0; b < keptDraws.length; b++) {
            byDraw[keptDraws[b]] = chosen[b];
        }
        double[] defined = Arrays.stream(bootstrap.leftOut(metric, byDraw, withinClasses))
                .filter(s -> !Double.isNaN(s))
                .toArray();
        return defined.length < LEAST_LEFT_OUT * asked ? new double[0] : defined;
    }

    /**
     * Returns how the mean of a compared candidate settles as repeats are added, one entry per repeat (per split, where
     * each is scored by itself). What is learned between repeats (λ, and the variance of repeat or split scores) is that of
     * all repeats throughout, so that a standard error changes for the draws of the repeats so far alone.
     */
    public List<RunningMean> running(int candidate) {
        Checks.that(!panel.scoresOnly(), "how means settle needs predictions, and only scores were adopted here");
        double[][] drawn = bootstrap.running(metric, candidate, withinClasses);
        double[] scores = panel.partScores(metric, candidate);
        return parallel.map(scores.length, r -> {
            double[] soFar = Arrays.copyOf(scores, r + 1);
            double[] defined =
                    Arrays.stream(drawn[r]).filter(d -> !Double.isNaN(d)).toArray();
            // The spread of split scores needs no draws; everything else needs nearly all of them.
            boolean enough = variances.form() == VarianceForm.RESAMPLED
                    || defined.length >= (1 - MOST_UNDEFINED) * drawn[r].length;
            double se = enough ? variances.ofMean(candidate, defined, r + 1).standardError() : Double.NaN;
            double between = r == 0 ? Double.NaN : Math.sqrt(VarianceModel.sampleVariance(soFar) / (r + 1));
            return new RunningMean(r + 1, scores[r], VarianceModel.mean(soFar), se, between);
        });
    }
}

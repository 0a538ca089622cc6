package keenfold.core.infer;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.metric.Metric;
import keenfold.core.metric.MetricKind;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.Fit;
import keenfold.core.run.Parallel;
import keenfold.core.split.Splits;

/**
 * All that is said about one metric on one data set; made by {@link Inference}.
 *
 * <p>Means and contrasts are computed when they are first asked for, and kept. Not for several threads at once.
 */
public final class MetricInference {
    /** The share of draws in which a candidate may be undefined. */
    static final double MOST_UNDEFINED = 0.05;

    /** The share of draws in which the chosen candidate must have a score on what was left out. */
    static final double LEAST_LEFT_OUT = 0.8;

    private static final int FEW = 5;
    private static final int ENOUGH_SPLITS = 25;

    private final AlignedPredictions panel;
    private final Metric metric;
    private final int metricIndex;
    private final InferenceSettings evidence;
    private final Parallel parallel;
    private final List<Integer> compared;
    private final VarianceModel variances;
    private final ResamplingUnits units;
    private final Bootstrap bootstrap;
    private final double[][] draws;
    private final int[] keptDraws;
    private final Pivot.Roots roots;
    private final boolean withinClasses;
    private final List<String> notices = new ArrayList<>();
    private Optional<List<MeanScore>> means = Optional.empty();
    private Optional<List<Contrast>> contrasts = Optional.empty();
    private Optional<List<Contrast>> pairs = Optional.empty();

    /** Draws one metric alone. */
    MetricInference(AlignedPredictions panel, int metricIndex, InferenceSettings evidence, Parallel parallel) {
        this(panel, metricIndex, evidence, parallel, defined(panel, metricIndex), Optional.empty());
    }

    /**
     * The panel of those splits on which a metric is defined for all candidates that have it on half of them or more, where
     * splits are scored each by itself; of others, the panel itself. A split whose test rows lack a class says nothing of
     * ranks, and others do.
     */
    private static AlignedPredictions scored(AlignedPredictions panel, int metricIndex) {
        Metric metric = panel.task().metrics().get(metricIndex);
        if (panel.scoresOnly() || panel.task().splits().joined()) {
            return panel;
        }
        List<double[]> scores = panel.admitted().stream()
                .filter(c -> !panel.parts(c).isEmpty())
                .map(c -> Bootstrap.partScores(metric, panel.parts(c)))
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

    /** The admitted candidates whose every repeat (or split) has a score. */
    static List<Integer> defined(AlignedPredictions panel, int metricIndex) {
        Metric metric = panel.task().metrics().get(metricIndex);
        if (panel.scoresOnly()) {
            return panel.admitted().stream()
                    .filter(c ->
                            Arrays.stream(foldScores(panel, metricIndex, c)).noneMatch(Double::isNaN))
                    .toList();
        }
        return panel.admitted().stream()
                .filter(c -> !panel.parts(c).isEmpty())
                .filter(c -> Arrays.stream(Bootstrap.partScores(metric, panel.parts(c)))
                        .noneMatch(Double::isNaN))
                .toList();
    }

    /**
     * Takes draws that were made for several metrics at once.
     *
     * @param whole the candidates that were drawn
     */
    MetricInference(
            AlignedPredictions of,
            int metricIndex,
            InferenceSettings evidence,
            Parallel parallel,
            List<Integer> whole,
            Optional<Bootstrap.Means> drawnOfAll) {
        this(of, scored(of, metricIndex), metricIndex, evidence, parallel, whole, drawnOfAll);
    }

    private MetricInference(
            AlignedPredictions of,
            AlignedPredictions panel,
            int metricIndex,
            InferenceSettings evidence,
            Parallel parallel,
            List<Integer> whole,
            Optional<Bootstrap.Means> drawnOfAll) {
        // Draws of all splits are none of fewer.
        boolean fewer = !panel.equals(of);
        List<Integer> defined = fewer ? defined(panel, metricIndex) : whole;
        Optional<Bootstrap.Means> made = fewer ? Optional.empty() : drawnOfAll;
        this.panel = panel;
        this.metricIndex = metricIndex;
        this.metric = panel.task().metrics().get(metricIndex);
        this.evidence = evidence;
        this.parallel = parallel;
        this.units = panel.units();
        this.bootstrap = new Bootstrap(panel, evidence.draws(), parallel);
        if (panel.scoresOnly()) {
            this.compared = defined;
            this.keptDraws = new int[0];
            this.draws = new double[defined.size()][0];
            this.roots = new Pivot.Roots(new double[0], new double[0]);
            this.withinClasses = false;
            this.variances = new VarianceModel(panel, metric, units, List.of());
            return;
        }
        Bootstrap.Means drawn = made.orElseGet(() -> bootstrap.means(metric, defined, false));
        boolean within = false;
        if (lost(drawn) > MOST_UNDEFINED * drawn.draws() && !units.grouped()) {
            notices.add(String.format(
                    Locale.ROOT,
                    "%s (%s): undefined in more than %.0f %% of draws, for want of rows of a class; rows were drawn within"
                            + " classes instead",
                    panel.task().data().name(),
                    metric.name(),
                    100 * MOST_UNDEFINED));
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
        this.variances = new VarianceModel(panel, metric, units, compared);
        if (fewer) {
            int splits = of.common();
            notices.add(String.format(
                    Locale.ROOT,
                    "%s (%s): undefined in %d of %d splits, for want of rows of a class among those tested; means and"
                            + " differences are over the other %d",
                    panel.task().data().name(),
                    metric.name(),
                    splits - panel.common(),
                    splits,
                    panel.common()));
        }
        if (!compared.isEmpty()) {
            notices.addAll(ofForm());
        }
        Optional<String> small = compared.isEmpty() ? Optional.empty() : variances.smallClasses();
        small.ifPresent(classes -> notices.add(String.format(
                Locale.ROOT,
                "%s (%s): %s than %d rows; standard errors allow for it and are rough",
                panel.task().data().name(),
                metric.name(),
                classes,
                VarianceModel.SMALL_CLASS)));
    }

    private MetricInference(MetricInference of, InferenceSettings evidence) {
        this.panel = of.panel;
        this.metric = of.metric;
        this.metricIndex = of.metricIndex;
        this.evidence = evidence;
        this.parallel = of.parallel;
        this.compared = of.compared;
        this.variances = of.variances;
        this.units = of.units;
        this.bootstrap = of.bootstrap;
        this.draws = of.draws;
        this.keptDraws = of.keptDraws;
        this.roots = of.roots;
        this.withinClasses = of.withinClasses;
        this.notices.addAll(of.notices);
        this.means = of.means;
    }

    /** Returns the same draws and means, their differences tested by another method. */
    public MetricInference by(Method method, Optional<Adjust> adjust) {
        return new MetricInference(this, evidence.withMethod(method, adjust));
    }

    private List<String> ofForm() {
        String name = panel.task().data().name();
        List<String> said = new ArrayList<>();
        if (variances.form() == VarianceForm.CASES) {
            said.add(name
                    + ": with a single split, standard errors and p-values hold for these fitted models only; other"
                    + " training rows would have given others");
        }
        if (variances.form() == VarianceForm.RESAMPLED && panel.common() < ENOUGH_SPLITS) {
            said.add(String.format(
                    Locale.ROOT,
                    "%s: standard errors come from the spread of %d splits; %d or more are advised",
                    name,
                    panel.common(),
                    ENOUGH_SPLITS));
        }
        if (panel.task().splits().form() == Splits.Form.IN_ORDER) {
            said.add(name
                    + ": splits follow each other in time, and standard errors do not allow for it; so no difference"
                    + " is called better or worse");
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

    /** Returns the metric. */
    public Metric metric() {
        return metric;
    }

    /** Returns the candidates that are compared, rising; the others are shown with what they have. */
    public List<Integer> compared() {
        return compared;
    }

    /** Returns how the variances were made. */
    public VarianceForm form() {
        return panel.scoresOnly() ? VarianceForm.RESAMPLED : variances.form();
    }

    /** Returns the number of draws that count, B. */
    public int draws() {
        return keptDraws.length;
    }

    /** Returns how many draws were dropped because a candidate was undefined in them. */
    public int dropped() {
        return panel.scoresOnly() ? 0 : evidence.draws() - keptDraws.length;
    }

    /** Returns what a reader must know. */
    public List<String> notices() {
        return List.copyOf(notices);
    }

    /** Returns the mean score of a compared candidate in one draw. */
    public double drawnMean(int candidate, int draw) {
        return draws[compared.indexOf(candidate)][draw];
    }

    /** Returns one mean score per candidate, in plan order. */
    public List<MeanScore> means() {
        if (means.isEmpty()) {
            means = Optional.of(parallel.map(panel.candidates().size(), this::mean));
        }
        return means.get();
    }

    private MeanScore mean(int candidate) {
        List<Fit> fits = panel.fitsOf(candidate);
        double[] folds = fits.stream()
                .flatMap(f -> f.result().stream())
                .mapToDouble(r -> r.score(metricIndex))
                .toArray();
        double[] defined = Arrays.stream(folds).filter(s -> !Double.isNaN(s)).toArray();
        double sd = defined.length > 1 ? Math.sqrt(VarianceModel.sampleVariance(defined)) : Double.NaN;
        double min = Arrays.stream(defined).min().orElse(Double.NaN);
        double max = Arrays.stream(defined).max().orElse(Double.NaN);
        double mean = theta(candidate, fits);
        int undefined = folds.length - defined.length;
        double train = fits.stream()
                .flatMap(f -> f.result().stream())
                .filter(r -> r.trainScores().length > 0)
                .mapToDouble(r -> r.trainScores()[metricIndex])
                .filter(s -> !Double.isNaN(s))
                .average()
                .orElse(Double.NaN);
        int at = compared.indexOf(candidate);
        if (at < 0) {
            return new MeanScore(
                    candidate,
                    mean,
                    sd,
                    min,
                    max,
                    undefined,
                    Optional.empty(),
                    Double.NaN,
                    Double.NaN,
                    MeanScore.Interval.NONE,
                    train);
        }
        if (panel.scoresOnly()) {
            return ofFolds(candidate, mean, sd, min, max, defined);
        }
        Variance variance = variances.ofMean(candidate, draws[at]);
        double[] ends = {Double.NaN, Double.NaN};
        MeanScore.Interval interval = MeanScore.Interval.NONE;
        Optional<Metric.Share> share = share(candidate);
        boolean few = share.map(s -> Math.min(s.successes(), s.trials() - s.successes()) < FEW)
                .orElse(false);
        if (few && !units.grouped()) {
            ends = clopperPearson(share.get());
            interval = MeanScore.Interval.CLOPPER_PEARSON;
        } else if (!few && variance.raw() > 0) {
            double reach = Pivot.of(draws[at], variance, roots).quantile(evidence.level()) * variance.standardError();
            ends = new double[] {Math.max(metric.least(), mean - reach), Math.min(metric.most(), mean + reach)};
            interval = MeanScore.Interval.BOOTSTRAP;
        } else if (madeOfShares() && (mean == metric.most() || mean == metric.least())) {
            ends = atLimit(mean == metric.most());
            interval = MeanScore.Interval.LIMIT;
        }
        return new MeanScore(
                candidate, mean, sd, min, max, undefined, Optional.of(variance), ends[0], ends[1], interval, train);
    }

    /** A mean of which nothing but the fold scores is known: their spread, widened for the rows that training sides share. */
    private MeanScore ofFolds(int candidate, double mean, double sd, double min, double max, double[] folds) {
        double total = (1.0 / folds.length + panel.testPerTraining()) * VarianceModel.sampleVariance(folds);
        double nu = folds.length - 1.0;
        if (!CorrectedT.serves(panel) || !(total > 0)) {
            return new MeanScore(
                    candidate,
                    mean,
                    sd,
                    min,
                    max,
                    0,
                    Optional.empty(),
                    Double.NaN,
                    Double.NaN,
                    MeanScore.Interval.NONE,
                    Double.NaN);
        }
        double reach = StudentT.reach(evidence.level(), nu) * Math.sqrt(total);
        return new MeanScore(
                candidate,
                mean,
                sd,
                min,
                max,
                0,
                Optional.of(new Variance(total, Double.NaN, Double.NaN, nu, Double.NaN, Double.NaN)),
                Math.max(metric.least(), mean - reach),
                Math.min(metric.most(), mean + reach),
                MeanScore.Interval.FOLDS,
                Double.NaN);
    }

    /**
     * Returns how the mean of a compared candidate settles as repeats are added, one entry per repeat (per split, where
     * each is scored by itself). What is learned between repeats (λ, and the variance of repeat or split scores) is that of
     * all repeats throughout, so that a standard error changes for the draws of the repeats so far alone.
     */
    public List<RunningMean> running(int candidate) {
        Checks.that(!panel.scoresOnly(), "how means settle needs predictions, and only scores were adopted here");
        double[][] drawn = bootstrap.running(metric, candidate, withinClasses);
        double[] scores = Bootstrap.partScores(metric, panel.parts(candidate));
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

    private double theta(int candidate, List<Fit> fits) {
        if (panel.scoresOnly()) {
            return Arrays.stream(foldScores(candidate)).average().orElse(Double.NaN);
        }
        List<Outcomes> parts = panel.admitted().contains(candidate) ? panel.parts(candidate) : joinedByRepeat(fits);
        return parts.isEmpty() ? Double.NaN : VarianceModel.mean(Bootstrap.partScores(metric, parts));
    }

    private List<Outcomes> joinedByRepeat(List<Fit> fits) {
        if (!panel.task().splits().joined()) {
            return fits.stream()
                    .flatMap(f -> f.result().stream())
                    .map(Fit.Result::outcomes)
                    .toList();
        }
        return fits.stream()
                .map(Fit::repeat)
                .distinct()
                .map(r -> Outcomes.join(fits.stream()
                        .filter(f -> f.repeat() == r)
                        .flatMap(f -> f.result().stream())
                        .map(Fit.Result::outcomes)
                        .toList()))
                .toList();
    }

    /** The share that the mean is, over the repeats. */
    private Optional<Metric.Share> share(int candidate) {
        double successes = 0;
        double trials = 0;
        List<Outcomes> parts = panel.parts(candidate);
        for (Outcomes part : parts) {
            Optional<Metric.Share> one = metric.share(part);
            if (one.isEmpty()) {
                return one;
            }
            successes += one.get().successes() / parts.size();
            trials += one.get().trials() / parts.size();
        }
        if (!panel.task().splits().joined()) {
            // A split tests a part of the rows: what counts is how many rows were tested in all.
            successes *= units.count() / trials;
            trials = units.count();
        }
        return Optional.of(new Metric.Share(successes, trials));
    }

    /** Whether the mean is a rank metric, or made of shares of classes, such as recall: 0 to 1 without chance taken away. */
    private boolean madeOfShares() {
        return metric.kind() == MetricKind.RANK
                || (metric.kind() == MetricKind.COUNTS
                        && metric.higherIsBetter()
                        && metric.least() == 0
                        && metric.most() == 1);
    }

    /**
     * The interval of a rank metric at an end of its range. With s rows (groups) of the smallest class, none of which was
     * out of order, a chance of u or less that one is in order has at most probability u^s of showing that: the bound is
     * (1 − level)^(1/s), as a share of the range.
     */
    private double[] atLimit(boolean top) {
        double range = metric.most() - metric.least();
        double bound = StrictMath.pow(1 - evidence.level(), 1.0 / variances.smallestClass());
        return top
                ? new double[] {metric.least() + range * bound, metric.most()}
                : new double[] {metric.least(), metric.most() - range * bound};
    }

    /** Clopper and Pearson (1934), Biometrika 26(4), carried over to a mean count. */
    private double[] clopperPearson(Metric.Share share) {
        double tail = (1 - evidence.level()) / 2;
        double x = share.successes();
        double n = share.trials();
        double low = x <= 0 ? 0 : Special.betaQuantile(x, n - x + 1, tail);
        double high = x >= n ? 1 : Special.betaQuantile(x + 1, n - x, 1 - tail);
        return new double[] {low, high};
    }

    /**
     * Returns the contrasts of the family: all pairs of compared candidates, or those with the one candidate that the
     * evidence names; a candidate stands before the one it is compared with as in the plan.
     */
    public List<Contrast> contrasts() {
        if (contrasts.isEmpty()) {
            contrasts = Optional.of(new Contrasts(this, tester(), parallel).contrasts());
        }
        return contrasts.get();
    }

    private Tester tester() {
        if (panel.scoresOnly()) {
            Checks.that(
                    evidence.method() == Method.CORRECTED_T,
                    "method %s needs predictions, and only scores were adopted here; corrected-t is what they allow",
                    evidence.method().label());
            return CorrectedT.serves(panel) ? new CorrectedT(this) : new Untested();
        }
        return switch (evidence.method()) {
            case PIVOT -> new PivotTester(this);
            case CASES -> new CaseTester(this, false);
            case CASES_BCA -> new CaseTester(this, true);
            case CORRECTED_T -> new CorrectedT(this);
            case REFIT -> new RefitTester(this);
            case MCNEMAR -> new McNemar(this);
        };
    }

    /**
     * Scores in each draw one chosen candidate on the rows (groups) that the draw left out.
     *
     * @param chosen per draw the candidate, by its index
     * @return the scores of the draws that have one; none if those are fewer than {@link #LEAST_LEFT_OUT} of all
     */
    public double[] leftOut(int[] chosen) {
        int[] byDraw = new int[evidence.draws()];
        Arrays.fill(byDraw, -1);
        for (int b = 0; b < keptDraws.length; b++) {
            byDraw[keptDraws[b]] = chosen[b];
        }
        double[] defined = Arrays.stream(bootstrap.leftOut(metric, byDraw, withinClasses))
                .filter(s -> !Double.isNaN(s))
                .toArray();
        return defined.length < LEAST_LEFT_OUT * evidence.draws() ? new double[0] : defined;
    }

    /** The scores of a candidate's fits on the common splits, by repeat and fold. */
    double[] foldScores(int candidate) {
        return foldScores(panel, metricIndex, candidate);
    }

    private static double[] foldScores(AlignedPredictions panel, int metricIndex, int candidate) {
        return panel.fitsOf(candidate).stream()
                .flatMap(f -> f.result().stream())
                .mapToDouble(r -> r.score(metricIndex))
                .toArray();
    }

    /** Per compared candidate the mean without each row or group. */
    double[][] withoutEachUnit() {
        return parallel.map(compared.size(), c -> variances.withoutEachUnit(compared.get(c)))
                .toArray(double[][]::new);
    }

    /** Returns the contrast of two compared candidates, if it belongs to the family. */
    public Optional<Contrast> contrast(int candidate, int against) {
        return contrasts().stream()
                .filter(c -> c.candidate() == candidate && c.against() == against)
                .findFirst()
                .or(() -> contrasts().stream()
                        .filter(c -> c.candidate() == against && c.against() == candidate)
                        .findFirst()
                        .map(Contrast::flipped));
    }

    /** Returns the contrasts of all pairs, also where the evidence names one candidate to compare with. */
    public List<Contrast> allPairs() {
        if (evidence.against().isEmpty()) {
            return contrasts();
        }
        if (pairs.isEmpty()) {
            pairs = Optional.of(new Contrasts(this, tester(), parallel).ofAllPairs());
        }
        return pairs.get();
    }

    /**
     * Returns the least adjusted p-value that draws can give: 1/(B + 1), times the number of comparisons with Holm; 0 for
     * methods whose p-values do not come from a count of draws.
     */
    public double leastAdjusted() {
        boolean drawn = evidence.method() == Method.PIVOT || evidence.method() == Method.CASES;
        if (!drawn || panel.scoresOnly()) {
            return 0;
        }
        double own = (evidence.method() == Method.CASES ? 2.0 : 1.0) / (draws() + 1);
        long comparisons = evidence.against().isPresent()
                ? compared.size() - 1L
                : (long) compared.size() * (compared.size() - 1) / 2;
        return Math.min(1, evidence.adjustment() == Adjust.HOLM ? own * comparisons : own);
    }

    /** Returns whether differences may be called better or worse. */
    public boolean calls() {
        return panel.task().splits().form() != Splits.Form.IN_ORDER && tester().calls();
    }

    /** Returns how differences are tested. */
    public Method method() {
        return evidence.method();
    }

    /** Returns the margin of equivalence, 0 for none. */
    public double margin() {
        return evidence.margin();
    }

    /**
     * Returns the textbook's standard error of a mean: the sd of a repeat's fold scores/√folds, averaged over repeats. It
     * takes folds for independent, and tells nothing of what repeats show.
     */
    public double foldStandardError(int candidate) {
        double sum = 0;
        int repeats = 0;
        List<Fit> fits = panel.fitsOf(candidate);
        for (int r = 0; r < panel.task().splits().repeats(); r++) {
            int repeat = r;
            double[] folds = fits.stream()
                    .filter(f -> f.repeat() == repeat)
                    .flatMap(f -> f.result().stream())
                    .mapToDouble(f -> f.score(metricIndex))
                    .filter(s -> !Double.isNaN(s))
                    .toArray();
            if (folds.length > 1) {
                sum += Math.sqrt(VarianceModel.sampleVariance(folds) / folds.length);
                repeats++;
            }
        }
        return repeats == 0 ? 0 : sum / repeats;
    }

    /** Returns the predictions of all candidates. */
    public AlignedPredictions panel() {
        return panel;
    }

    InferenceSettings evidence() {
        return evidence;
    }

    Parallel parallel() {
        return parallel;
    }

    Pivot.Roots roots() {
        return roots;
    }

    VarianceModel variances() {
        return variances;
    }

    double[] differences(int a, int b) {
        double[] of = draws[compared.indexOf(a)];
        double[] from = draws[compared.indexOf(b)];
        double[] differences = new double[of.length];
        for (int i = 0; i < differences.length; i++) {
            differences[i] = of[i] - from[i];
        }
        return differences;
    }

    /** In how many rows the predictions of two candidates differ, in what the metric looks at. */
    int differingRows(int a, int b) {
        if (panel.scoresOnly()) {
            return Arrays.equals(foldScores(a), foldScores(b)) ? 0 : Integer.MAX_VALUE;
        }
        boolean labels = metric.byLabels();
        boolean[] differs = new boolean[panel.rows()];
        for (int r = 0; r < panel.parts(a).size(); r++) {
            Outcomes x = panel.parts(a).get(r);
            Outcomes y = panel.parts(b).get(r);
            for (int i = 0; i < x.size(); i++) {
                differs[x.row(i)] |= labels ? x.predicted(i) != y.predicted(i) : probabilitiesDiffer(x, y, i);
            }
        }
        int count = 0;
        for (boolean d : differs) {
            count += d ? 1 : 0;
        }
        return count;
    }

    private static boolean probabilitiesDiffer(Outcomes x, Outcomes y, int i) {
        for (int c = 0; c < x.classes(); c++) {
            if (x.probability(i, c) != y.probability(i, c)) {
                return true;
            }
        }
        return false;
    }
}

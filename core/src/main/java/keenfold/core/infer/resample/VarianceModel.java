package keenfold.core.infer.resample;

import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;
import keenfold.core.data.Plural;
import keenfold.core.metric.CaseWeights;
import keenfold.core.metric.Metric;
import keenfold.core.metric.MetricKind;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.Scorer;
import keenfold.core.run.Parallel;
import keenfold.core.split.Splits;

/**
 * The variance of a mean and of a difference under one metric, by the kind of splits and of metric.
 *
 * <p>Definition: V_case = m/(m − 1)·variance of the draws, m units. {@code widened}: V_case·(1 + λ) for differences;
 * for means likewise with metrics that are means over rows, V_case + max(0, X) with losses, V_case + max(λ·V_case,
 * (k − 1)/3·V_rep) with the others, V_rep being the variance of the repeat scores. Where a class has fewer than 20 rows
 * the last form serves differences of the others too. {@code inflated}: V_case·(1 + k·ρ), ρ test rows per training row.
 * {@code resampled}: (1/J + ρ)·S², S² the variance over the J splits, with J − 1 degrees of freedom. {@code cases}:
 * V_case. Degrees of freedom m − 1, or Satterthwaite's over classes, less what the noise of λ takes ({@link
 * TrainingEffect}). No λ is above 2; for the mean of a loss, X counts up to 2·V_case.
 *
 * <p>Sources: docs/methods.md, variance, with the reasons; Nadeau and Bengio (2003), Mach. Learn. 52,
 * doi:10.1023/A:1024068626366, for {@code inflated} and {@code resampled}; Satterthwaite (1946), Biometrics Bull. 2(6).
 */
public final class VarianceModel {
    /** A class with fewer rows than this is small. */
    static final int SMALL_CLASS = 20;

    /** Scores that differ by less than this, relative to 1 or to their size, differ by rounding. */
    private static final double ROUNDING = 1e-13;

    private final AlignedPredictions panel;
    private final Metric metric;
    private final ResamplingUnits units;
    private final VarianceForm form;
    private final Splits splits;
    private final int folds;
    private final int[] classCounts;
    private final boolean smallClass;
    private final Map<Integer, Own> own = new HashMap<>();
    private final Map<List<Integer>, TrainingEffect> byInfluences = new ConcurrentHashMap<>();

    /** What one candidate brings along. */
    private static final class Own {
        final double[] partScores;
        final double[] without;
        final LossVariance losses;
        final Optional<TrainingEffects.Influences> influences;

        Own(
                double[] partScores,
                double[] without,
                LossVariance losses,
                Optional<TrainingEffects.Influences> influences) {
            this.partScores = partScores;
            this.without = without;
            this.losses = losses;
            this.influences = influences;
        }
    }

    /** Learns from the repeats what draws leave out, for some candidates. */
    public VarianceModel(
            AlignedPredictions panel,
            Metric metric,
            ResamplingUnits units,
            List<Integer> candidates,
            Parallel parallel) {
        this.panel = panel;
        this.metric = metric;
        this.units = units;
        this.splits = panel.task().splits();
        this.folds = (int) Math.round((double) splits.count() / splits.repeats());
        this.form = formOf(panel);
        this.classCounts = testedByClass();
        this.smallClass = Arrays.stream(classCounts).anyMatch(n -> n < SMALL_CLASS);
        List<Own> learned = parallel.map(candidates.size(), i -> own(candidates.get(i)));
        for (int i = 0; i < learned.size(); i++) {
            own.put(candidates.get(i), learned.get(i));
        }
    }

    /** Partitions are widened as soon as at least two different ones are left. */
    static VarianceForm formOf(AlignedPredictions panel) {
        Splits splits = panel.task().splits();
        boolean several = !panel.admitted().isEmpty()
                && panel.parts(panel.admitted().get(0)).size() > 1;
        return switch (splits.form()) {
            case PARTITIONS ->
                several && splits.distinctPartitions() > 1 ? VarianceForm.WIDENED : VarianceForm.INFLATED;
            case RANDOM, IN_ORDER -> several ? VarianceForm.RESAMPLED : VarianceForm.CASES;
            case SINGLE -> VarianceForm.CASES;
        };
    }

    private int[] testedByClass() {
        int[] counts = new int[panel.task().data().classes().count()];
        for (int row = 0; row < units.rows(); row++) {
            if (units.of(row) >= 0) {
                counts[panel.task().data().target(row)]++;
            }
        }
        return counts;
    }

    private Own own(int candidate) {
        List<Outcomes> parts = panel.parts(candidate);
        double[] scores = panel.partScores(metric, candidate);
        boolean perRow = metric.kind() == MetricKind.RANK || metric.kind() == MetricKind.COUNTS;
        double[] without = perRow && !units.grouped() ? without(candidate, scores) : new double[0];
        boolean widened = form == VarianceForm.WIDENED;
        int rows = panel.rows();
        int classes = classCounts.length;
        return new Own(
                scores,
                without,
                widened && metric.kind() == MetricKind.LOSS
                        ? LossVariance.of(metric, parts, rows, classes)
                        : new LossVariance(0, 0),
                widened && metric.kind() == MetricKind.COUNTS
                        ? Optional.of(panel.trainingEffects().influences(metric, candidate))
                        : Optional.empty());
    }

    /** Per row the mean score without it. */
    private double[] without(int candidate, double[] scores) {
        List<Outcomes> parts = panel.parts(candidate);
        List<Scorer> scorers = panel.scorers(metric, candidate);
        double[] sum = new double[panel.rows()];
        for (int r = 0; r < scores.length; r++) {
            Outcomes part = parts.get(r);
            double[] each = scorers.get(r).withoutEach();
            for (int row = 0; row < sum.length; row++) {
                sum[row] += scores[r];
            }
            for (int i = 0; i < each.length; i++) {
                sum[part.row(i)] += each[i] - scores[r];
            }
        }
        for (int row = 0; row < sum.length; row++) {
            sum[row] /= scores.length;
        }
        return sum;
    }

    private Own of(int candidate) {
        return own.getOrDefault(
                candidate, new Own(new double[0], new double[0], new LossVariance(0, 0), Optional.empty()));
    }

    /** Returns how variances are made. */
    public VarianceForm form() {
        return form;
    }

    /** Tested rows (groups) of the class that has fewest, s. */
    int smallestClass() {
        boolean[][] seen = new boolean[classCounts.length][units.count()];
        int[] counts = new int[classCounts.length];
        for (int row = 0; row < units.rows(); row++) {
            int unit = units.of(row);
            int c = panel.task().data().target(row);
            if (unit >= 0 && !seen[c][unit]) {
                seen[c][unit] = true;
                counts[c]++;
            }
        }
        return Arrays.stream(counts).filter(n -> n > 0).min().orElse(0);
    }

    /**
     * The variance of a difference δ that neither draws nor repeats move, as of a perfect candidate and a guess: what it
     * would be if one row (group) of the smallest class had gone the other way, 4δ²/s² with ν = s − 1.
     */
    public Variance ofUnmoved(double difference) {
        double s = smallestClass();
        double total = 4 * difference * difference / (s * s);
        return new Variance(total, 0, 0, s - 1, Double.NaN, Double.NaN);
    }

    /** The variance of the tested cases alone, whatever the splits. */
    public Variance casesOf(double[] draws) {
        double m = units.count();
        double raw = sampleVariance(draws);
        double cases = m / (m - 1) * raw;
        return new Variance(cases, raw, cases, m - 1, Double.NaN, Double.NaN);
    }

    /** The mean score without each row or group in turn: one value per unit. */
    double[] withoutEachUnit(int candidate) {
        List<Outcomes> parts = panel.parts(candidate);
        double[] scores = of(candidate).partScores;
        double[] each = new double[units.count()];
        if (!units.grouped()) {
            double[] byRow = without(candidate, scores);
            for (int row = 0; row < byRow.length; row++) {
                if (units.of(row) >= 0) {
                    each[units.of(row)] = byRow[row];
                }
            }
            return each;
        }
        int[][] weights = new int[units.rows()][units.count()];
        for (int row = 0; row < weights.length; row++) {
            Arrays.fill(weights[row], units.of(row) < 0 ? 0 : 1);
            if (units.of(row) >= 0) {
                weights[row][units.of(row)] = 0;
            }
        }
        CaseWeights without = CaseWeights.of(weights, units.count());
        double[] one = new double[each.length];
        for (Scorer part : panel.scorers(metric, candidate)) {
            part.score(without, one);
            for (int u = 0; u < each.length; u++) {
                each[u] += one[u] / parts.size();
            }
        }
        return each;
    }

    /**
     * The classes of few rows that the variance had to allow for, in words that go on with how many rows; of a metric of one
     * class alone, if that is one of them.
     */
    Optional<String> smallClasses() {
        boolean allowed = smallClass
                && form == VarianceForm.WIDENED
                && (metric.kind() == MetricKind.RANK || metric.kind() == MetricKind.COUNTS);
        List<String> labels = panel.task().data().classes().labels();
        int[] small = IntStream.range(0, classCounts.length)
                .filter(c -> classCounts[c] < SMALL_CLASS)
                .toArray();
        boolean ofOther = IntStream.range(0, labels.size())
                .filter(c -> metric.name().endsWith(":class=" + labels.get(c)))
                .anyMatch(c -> classCounts[c] >= SMALL_CLASS);
        if (!allowed || ofOther) {
            return Optional.empty();
        }
        int first = small[0];
        return Optional.of("class \"" + labels.get(first) + "\" ("
                + Plural.of(classCounts[first], "row") + ")"
                + (small.length > 1
                        ? " and " + Plural.of(small.length - 1L, "other class", "other classes") + " have fewer"
                        : " has fewer"));
    }

    /** Returns the variance of a mean, from its draws. */
    public Variance ofMean(int candidate, double[] draws) {
        Own a = of(candidate);
        return variance(draws, a.partScores, a.without, effect(candidate), a.losses, true);
    }

    /** The variance of the mean over the first few repeats or splits, by what all of them show. */
    public Variance ofMean(int candidate, double[] draws, int parts) {
        return form == VarianceForm.RESAMPLED
                ? resampled(draws, of(candidate).partScores, parts)
                : ofMean(candidate, draws);
    }

    private Variance resampled(double[] draws, double[] partScores, int parts) {
        Variance cases = casesOf(draws);
        double total = (1.0 / parts + splits.testPerTraining()) * sampleVariance(partScores);
        return new Variance(total, cases.raw(), cases.cases(), partScores.length - 1.0, Double.NaN, Double.NaN);
    }

    /** Returns the variance of the difference of two means by itself, from its draws. */
    public Variance ofDifference(int candidate, int against, double[] draws) {
        return ofDifference(candidate, against, draws, effect(candidate, against));
    }

    private Variance ofDifference(int candidate, int against, double[] draws, TrainingEffect effect) {
        Own a = of(candidate);
        Own b = of(against);
        return variance(
                draws,
                minus(a.partScores, b.partScores),
                minus(a.without, b.without),
                effect,
                a.losses.plus(b.losses),
                false);
    }

    /** The variances of the differences of a family, whose λ are drawn together. */
    public interface OfFamily {
        /** Returns the variance of a difference from its draws, by its place in the family. */
        Variance of(int place, double[] draws);
    }

    /**
     * Returns how the variances of the differences of a family are found.
     *
     * @param pairs of candidates, by their indices; each has a variance by itself
     */
    public OfFamily ofFamily(List<int[]> pairs) {
        if (form != VarianceForm.WIDENED || metric.kind() == MetricKind.LOSS) {
            return (place, draws) -> ofDifference(pairs.get(place)[0], pairs.get(place)[1], draws);
        }
        List<TrainingEffect> placed = TrainingEffect.pooled(
                pairs.stream().map(p -> panel.trainingEffects().of(p[0], p[1])).toList());
        List<TrainingEffect> influential = metric.kind() == MetricKind.COUNTS
                ? TrainingEffect.pooled(
                        pairs.stream().map(p -> ofInfluences(p[0], p[1])).toList())
                : placed;
        return (place, draws) -> ofDifference(
                pairs.get(place)[0],
                pairs.get(place)[1],
                draws,
                placed.get(place).or(influential.get(place)));
    }

    /** Returns the differences of two candidates' scores, repeat by repeat (split by split). */
    public double[] partDifferences(int candidate, int against) {
        return minus(of(candidate).partScores, of(against).partScores);
    }

    /** What other training rows would change of a mean; of a metric made of counts, the larger of two estimates. */
    private TrainingEffect effect(int candidate) {
        if (form != VarianceForm.WIDENED || !own.containsKey(candidate)) {
            return TrainingEffect.NONE;
        }
        TrainingEffects effects = panel.trainingEffects();
        TrainingEffect byPlacements = effects.of(candidate);
        return of(candidate)
                .influences
                .map(i -> byPlacements.or(effects.of(i, Optional.empty())))
                .orElse(byPlacements);
    }

    private TrainingEffect effect(int candidate, int against) {
        if (form != VarianceForm.WIDENED || !own.containsKey(candidate) || !own.containsKey(against)) {
            return TrainingEffect.NONE;
        }
        TrainingEffect byPlacements = panel.trainingEffects().of(candidate, against);
        return metric.kind() == MetricKind.COUNTS ? byPlacements.or(ofInfluences(candidate, against)) : byPlacements;
    }

    private TrainingEffect ofInfluences(int candidate, int against) {
        return byInfluences.computeIfAbsent(List.of(candidate, against), k -> panel.trainingEffects()
                .of(of(candidate).influences.orElseThrow(), of(against).influences));
    }

    private static double[] minus(double[] a, double[] b) {
        double[] difference = a.clone();
        for (int i = 0; i < difference.length; i++) {
            difference[i] -= b[i];
        }
        return difference;
    }

    private Variance variance(
            double[] draws,
            double[] partScores,
            double[] without,
            TrainingEffect effect,
            LossVariance losses,
            boolean mean) {
        double m = units.count();
        double raw = sampleVariance(draws);
        double cases = m / (m - 1) * raw;
        if (form == VarianceForm.INFLATED) {
            double factor = 1 + folds * splits.testPerTraining();
            return new Variance(cases * factor, raw, cases, m - 1, Double.NaN, Double.NaN);
        }
        if (form == VarianceForm.CASES) {
            return casesOf(draws);
        }
        if (form == VarianceForm.RESAMPLED) {
            return resampled(draws, partScores, partScores.length);
        }
        if (metric.kind() == MetricKind.LOSS) {
            double lambda = losses.lambdaLoss();
            double more = mean ? Math.max(0, Math.min(losses.between(), TrainingEffect.MOST * cases)) : cases * lambda;
            double total = cases + more;
            return new Variance(total, raw, cases, m - 1, lambda, effect.instability());
        }
        double lambda = effect.lambda();
        if (metric.kind() == MetricKind.ROW_MEAN) {
            return new Variance(cases * (1 + lambda), raw, cases, m - 1, effect, true);
        }
        double[] shares = classShares(without);
        double freedom = freedom(shares);
        if (smallClass && metric.ofPairs() && shares.length > 0) {
            cases *= smallClassFactor(shares);
        }
        double byRepeats = mean || smallClass ? (folds - 1) / 3.0 * sampleVariance(partScores) : 0;
        double byTraining = lambda * cases;
        return new Variance(
                cases + Math.max(byTraining, byRepeats), raw, cases, freedom, effect, byTraining >= byRepeats);
    }

    /** Each class's share of the squared jackknife influences; empty if they tell nothing. */
    private double[] classShares(double[] without) {
        if (without.length == 0) {
            return without;
        }
        double mean = 0;
        int n = 0;
        for (int row = 0; row < without.length; row++) {
            if (units.of(row) >= 0) {
                mean += without[row];
                n++;
            }
        }
        mean /= n;
        double[] shares = new double[classCounts.length];
        double sum = 0;
        for (int row = 0; row < without.length; row++) {
            if (units.of(row) >= 0) {
                double square = (without[row] - mean) * (without[row] - mean);
                shares[panel.task().data().target(row)] += square;
                sum += square;
            }
        }
        if (!(sum > 0)) {
            return new double[0];
        }
        for (int c = 0; c < shares.length; c++) {
            shares[c] /= sum;
        }
        return shares;
    }

    private double freedom(double[] shares) {
        if (shares.length == 0) {
            return units.count() - 1.0;
        }
        double below = 0;
        for (int c = 0; c < shares.length; c++) {
            below += shares[c] * shares[c] / Math.max(1, classCounts[c] - 1);
        }
        return Math.max(1, 1 / below);
    }

    /** Σ over classes of the class's share times n_c/(n_c − 1). */
    private double smallClassFactor(double[] shares) {
        double factor = 0;
        for (int c = 0; c < shares.length; c++) {
            double n = classCounts[c];
            factor += shares[c] * (n > 1 ? n / (n - 1) : 1);
        }
        return factor;
    }

    /** The variance with divisor n − 1; 0 where the values differ by no more than the rounding of a score. */
    public static double sampleVariance(double[] values) {
        double mean = mean(values);
        double squares = 0;
        double least = Double.POSITIVE_INFINITY;
        double most = Double.NEGATIVE_INFINITY;
        for (double v : values) {
            squares += (v - mean) * (v - mean);
            least = Math.min(least, v);
            most = Math.max(most, v);
        }
        return most - least <= ROUNDING * Math.max(1, Math.abs(most)) ? 0 : squares / (values.length - 1);
    }

    /** Returns the mean of values, added in their order. */
    public static double mean(double[] values) {
        double sum = 0;
        for (double v : values) {
            sum += v;
        }
        return sum / values.length;
    }
}

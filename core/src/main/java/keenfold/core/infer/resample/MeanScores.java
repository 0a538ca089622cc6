package keenfold.core.infer.resample;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import keenfold.core.infer.distribution.Special;
import keenfold.core.infer.distribution.StudentT;
import keenfold.core.metric.Metric;
import keenfold.core.metric.MetricKind;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.Parallel;
import keenfold.core.run.result.Fit;

/** Mean scores of candidates under one metric, with their intervals. Immutable, for any number of threads. */
public final class MeanScores {
    private static final int FEW = 5;

    private final PairedDraws draws;
    private final FoldScores foldScores;
    private final AlignedPredictions panel;
    private final Metric metric;
    private final double level;

    /** @param level of the intervals, such as 0.95 */
    public MeanScores(PairedDraws draws, FoldScores foldScores, double level) {
        this.draws = draws;
        this.foldScores = foldScores;
        this.panel = draws.panel();
        this.metric = draws.metric();
        this.level = level;
    }

    /** Returns one mean score per candidate, in plan order. */
    public List<MeanScore> all(Parallel parallel) {
        return parallel.map(panel.candidates().size(), this::mean);
    }

    private MeanScore mean(int candidate) {
        List<Fit> fits = panel.fitsOf(candidate);
        double[] folds = foldScores.of(candidate);
        double[] defined = Arrays.stream(folds).filter(s -> !Double.isNaN(s)).toArray();
        double sd = defined.length > 1 ? Math.sqrt(VarianceModel.sampleVariance(defined)) : Double.NaN;
        double min = Arrays.stream(defined).min().orElse(Double.NaN);
        double max = Arrays.stream(defined).max().orElse(Double.NaN);
        double mean = theta(candidate, fits);
        int undefined = folds.length - defined.length;
        double train = foldScores.trainMean(candidate);
        if (!draws.compared().contains(candidate)) {
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
        double[] own = draws.of(candidate);
        Variance variance = draws.variances().ofMean(candidate, own);
        double[] ends = {Double.NaN, Double.NaN};
        MeanScore.Interval interval = MeanScore.Interval.NONE;
        Optional<Metric.Share> share = share(candidate);
        boolean few = share.map(s -> Math.min(s.successes(), s.trials() - s.successes()) < FEW)
                .orElse(false);
        if (few && !draws.units().grouped()) {
            ends = clopperPearson(share.get());
            interval = MeanScore.Interval.CLOPPER_PEARSON;
        } else if (!few && variance.raw() > 0) {
            double reach = Pivot.of(own, variance, draws.roots()).quantile(level) * variance.standardError();
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
        if (!foldScores.serveTest() || !(total > 0)) {
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
        double reach = StudentT.reach(level, nu) * Math.sqrt(total);
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

    private double theta(int candidate, List<Fit> fits) {
        if (panel.scoresOnly()) {
            return Arrays.stream(foldScores.of(candidate)).average().orElse(Double.NaN);
        }
        double[] scores = panel.admitted().contains(candidate)
                ? panel.partScores(metric, candidate)
                : joinedByRepeat(fits).stream().mapToDouble(metric::score).toArray();
        return scores.length == 0 ? Double.NaN : VarianceModel.mean(scores);
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
            successes *= draws.units().count() / trials;
            trials = draws.units().count();
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
        double bound = StrictMath.pow(1 - level, 1.0 / draws.variances().smallestClass());
        return top
                ? new double[] {metric.least() + range * bound, metric.most()}
                : new double[] {metric.least(), metric.most() - range * bound};
    }

    /** Clopper and Pearson (1934), Biometrika 26(4), carried over to a mean count. */
    private double[] clopperPearson(Metric.Share share) {
        double tail = (1 - level) / 2;
        double x = share.successes();
        double n = share.trials();
        double low = x <= 0 ? 0 : Special.betaQuantile(x, n - x + 1, tail);
        double high = x >= n ? 1 : Special.betaQuantile(x + 1, n - x, 1 - tail);
        return new double[] {low, high};
    }
}

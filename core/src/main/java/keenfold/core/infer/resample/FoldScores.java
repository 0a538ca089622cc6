package keenfold.core.infer.resample;

import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.metric.Metric;
import keenfold.core.run.Parallel;
import keenfold.core.run.result.Fit;

/**
 * The scores of one metric that the fits of the common splits have, each by itself.
 *
 * @param panel the fits
 * @param metricIndex index of the metric among those of the data set
 */
public record FoldScores(AlignedPredictions panel, int metricIndex) {
    /** Fewer fold scores than this say nothing about their spread. */
    public static final int FEWEST = 5;

    Metric metric() {
        return panel.task().metrics().get(metricIndex);
    }

    /** The scores of a candidate, by repeat and fold; NaN where the metric is undefined. */
    public double[] of(int candidate) {
        return panel.fitsOf(candidate).stream()
                .flatMap(f -> f.result().stream())
                .mapToDouble(r -> r.score(metricIndex))
                .toArray();
    }

    /** Whether there are enough folds of a partition to test differences by. */
    public boolean serveTest() {
        return panel.common() >= FEWEST && panel.task().splits().mostFolds() > 1;
    }

    /** The mean score on the rows that fits were trained on; NaN if that was not asked for. */
    double trainMean(int candidate) {
        return panel.fitsOf(candidate).stream()
                .flatMap(f -> f.result().stream())
                .filter(r -> r.trainScores().length > 0)
                .mapToDouble(r -> r.trainScores()[metricIndex])
                .filter(s -> !Double.isNaN(s))
                .average()
                .orElse(Double.NaN);
    }

    /** The admitted candidates whose every repeat (or split) has a score. */
    public List<Integer> definedCandidates(Parallel parallel) {
        List<Integer> admitted = panel.admitted();
        List<Boolean> defined = parallel.map(admitted.size(), i -> defined(admitted.get(i)));
        return IntStream.range(0, admitted.size())
                .filter(defined::get)
                .mapToObj(admitted::get)
                .toList();
    }

    private boolean defined(int candidate) {
        double[] scores = panel.scoresOnly() ? of(candidate) : panel.partScores(metric(), candidate);
        return (panel.scoresOnly() || scores.length > 0)
                && Arrays.stream(scores).noneMatch(Double::isNaN);
    }

    /**
     * The textbook's standard error of a mean: the sd of a repeat's fold scores/√folds, averaged over repeats. It takes folds
     * for independent, and says nothing about what repeats show.
     */
    public double standardError(int candidate) {
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
}

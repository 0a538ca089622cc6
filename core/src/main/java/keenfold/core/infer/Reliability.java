package keenfold.core.infer;

import java.util.Arrays;
import java.util.List;
import java.util.function.IntPredicate;
import java.util.stream.IntStream;
import keenfold.core.infer.distribution.Quantiles;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.Bootstrap;
import keenfold.core.metric.CalibrationBins;
import keenfold.core.metric.Outcomes;

/**
 * How often what was given a probability comes true: reliability in ten bins of equal width, those of the metric
 * calibration-error.
 *
 * <p>Definition: of class c and bin b, over all repeats: rows are the entries with p in the bin, divided by the repeats;
 * {@code predicted} the mean of p, {@code observed} the share of entries of class c. The interval of the observed share is
 * from the quantiles of {@link MeanCurve#DRAWS} draws of rows (groups), for these fitted models only.
 *
 * <p>Reference: Murphy and Winkler (1977), J. R. Stat. Soc. C 26(1), doi:10.2307/2346866.
 */
public final class Reliability {
    /** How many bins there are. */
    public static final int BINS = CalibrationBins.COUNT;

    private Reliability() {}

    /**
     * One bin; NaN where it has no rows.
     *
     * @param from lower edge
     * @param to upper edge
     * @param rows entries, averaged over repeats
     * @param predicted mean probability
     * @param observed share of the class
     * @param low lower end of the interval of the share
     * @param high upper end
     */
    public record Bin(
            double from, double to, double rows, double predicted, double observed, double low, double high) {}

    /** What predictions of one class are in one bin. */
    private static final class Entries {
        /** Rows that have entries, rising, and how many: by repeats they may differ. */
        final int[] rows;

        final double[] each;
        /** The same for rows of the class, 0 for others. */
        final double[] own;

        final double count;
        final double predicted;

        Entries(double[] byRow, double predicted, IntPredicate ofClass) {
            this.rows = IntStream.range(0, byRow.length)
                    .filter(row -> byRow[row] > 0)
                    .toArray();
            this.each = Arrays.stream(rows).mapToDouble(row -> byRow[row]).toArray();
            this.own = Arrays.stream(rows)
                    .mapToDouble(row -> ofClass.test(row) ? byRow[row] : 0)
                    .toArray();
            this.count = Arrays.stream(each).sum();
            this.predicted = predicted;
        }

        /** The share of the class under weights; NaN where none of the rows has one. */
        double share(double[] weights) {
            double hits = 0;
            double all = 0;
            for (int i = 0; i < rows.length; i++) {
                double w = weights[rows[i]];
                hits += w * own[i];
                all += w * each[i];
            }
            return hits / all;
        }

        Bin bin(int b, int repeats, double[] drawn, double tail) {
            double[] shares =
                    Arrays.stream(drawn).filter(s -> !Double.isNaN(s)).sorted().toArray();
            boolean none = shares.length == 0;
            return new Bin(
                    (double) b / BINS,
                    (b + 1.0) / BINS,
                    count / repeats,
                    predicted / count,
                    Arrays.stream(own).sum() / count,
                    none ? Double.NaN : Quantiles.of(shares, tail),
                    none ? Double.NaN : Quantiles.of(shares, 1 - tail));
        }
    }

    /**
     * Returns the bins of some admitted candidates and classes, in their order, rising, all of the same draws.
     *
     * @param metric any of the data set; level, draws and seed are its own
     */
    public static List<List<Bin>> of(MetricInference metric, List<CandidateClass> wanted) {
        AlignedPredictions panel = metric.panel();
        List<List<Entries>> entries = metric.parallel().map(wanted.size(), i -> entries(panel, wanted.get(i)));
        int draws = Math.min(MeanCurve.DRAWS, metric.evidence().draws());
        double[][][] drawn = new double[wanted.size()][BINS][draws];
        new Bootstrap(panel, draws, metric.parallel()).eachDraw((draw, weights) -> {
            for (int i = 0; i < drawn.length; i++) {
                for (int b = 0; b < BINS; b++) {
                    drawn[i][b][draw] = entries.get(i).get(b).share(weights);
                }
            }
        });
        double tail = (1 - metric.evidence().level()) / 2;
        return metric.parallel().map(wanted.size(), i -> {
            int repeats = panel.parts(wanted.get(i).candidate()).size();
            return IntStream.range(0, BINS)
                    .mapToObj(b -> entries.get(i).get(b).bin(b, repeats, drawn[i][b], tail))
                    .toList();
        });
    }

    private static List<Entries> entries(AlignedPredictions panel, CandidateClass wanted) {
        int c = wanted.classIndex();
        double[][] byRow = new double[BINS][panel.rows()];
        double[] predicted = new double[BINS];
        for (Outcomes part : panel.parts(wanted.candidate())) {
            for (int i = 0; i < part.size(); i++) {
                double p = part.probability(i, c);
                int b = CalibrationBins.of(p);
                byRow[b][part.row(i)]++;
                predicted[b] += p;
            }
        }
        return IntStream.range(0, BINS)
                .mapToObj(b -> new Entries(
                        byRow[b], predicted[b], row -> panel.task().data().target(row) == c))
                .toList();
    }
}

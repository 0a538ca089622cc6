package keenfold.core.infer;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.infer.distribution.Quantiles;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.Bootstrap;
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
    public static final int BINS = 10;

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

    /**
     * Returns the bins of an admitted candidate, rising.
     *
     * @param metric any of the data set; level, draws and seed are its own
     * @param c class index
     */
    public static List<Bin> of(MetricInference metric, int candidate, int c) {
        AlignedPredictions panel = metric.panel();
        List<Outcomes> parts = panel.parts(candidate);
        // Per bin and row of the data set: entries, and their class.
        double[][] entries = new double[BINS][panel.rows()];
        double[] own = new double[panel.rows()];
        double[] sums = new double[BINS];
        double[] counts = new double[BINS];
        double[] hits = new double[BINS];
        for (Outcomes part : parts) {
            for (int i = 0; i < part.size(); i++) {
                double p = part.probability(i, c);
                int b = Math.min(BINS - 1, (int) (p * BINS));
                own[part.row(i)] = part.actual(i) == c ? 1 : 0;
                entries[b][part.row(i)]++;
                sums[b] += p;
                counts[b]++;
                hits[b] += own[part.row(i)];
            }
        }
        double[][] drawn = drawn(metric, entries, own);
        double tail = (1 - metric.evidence().level()) / 2;
        List<Bin> bins = new ArrayList<>();
        for (int b = 0; b < BINS; b++) {
            double[] shares = Arrays.stream(drawn[b])
                    .filter(s -> !Double.isNaN(s))
                    .sorted()
                    .toArray();
            boolean none = shares.length == 0;
            bins.add(new Bin(
                    (double) b / BINS,
                    (b + 1.0) / BINS,
                    counts[b] / parts.size(),
                    sums[b] / counts[b],
                    hits[b] / counts[b],
                    none ? Double.NaN : Quantiles.of(shares, tail),
                    none ? Double.NaN : Quantiles.of(shares, 1 - tail)));
        }
        return bins;
    }

    /** By bin and draw the share of the class; NaN where the draw has no row of the bin. */
    private static double[][] drawn(MetricInference metric, double[][] entries, double[] own) {
        int draws = Math.min(MeanCurve.DRAWS, metric.evidence().draws());
        int[][] rows = new int[BINS][];
        Arrays.setAll(rows, b -> IntStream.range(0, own.length)
                .filter(i -> entries[b][i] > 0)
                .toArray());
        double[][] drawn = new double[BINS][draws];
        new Bootstrap(metric.panel(), draws, metric.parallel()).eachDraw((draw, weights) -> {
            for (int b = 0; b < BINS; b++) {
                double hits = 0;
                double all = 0;
                for (int row : rows[b]) {
                    double w = weights[row] * entries[b][row];
                    hits += w * own[row];
                    all += w;
                }
                drawn[b][draw] = hits / all;
            }
        });
        return drawn;
    }
}

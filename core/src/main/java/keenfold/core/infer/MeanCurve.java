package keenfold.core.infer;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.distribution.Quantiles;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.Bootstrap;
import keenfold.core.infer.resample.Variance;
import keenfold.core.infer.resample.VarianceModel;
import keenfold.core.metric.Curve;
import keenfold.core.metric.Metric;
import keenfold.core.metric.RankCurve;
import keenfold.core.metric.RowWeights;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.Parallel;
import keenfold.core.run.result.Task;

/**
 * The ROC or precision-recall curve of one candidate and class: of each repeat, their mean, and a band about it.
 *
 * <p>Definition: repeats as in {@link RankCurve}; the mean is that of the repeats at each x, so that the area under it is
 * the mean auc (average-precision). The band is pointwise: at each x of a grid, the quantiles of the mean curve in
 * {@link #DRAWS} draws, spread about the mean curve by √(V/V_raw) of its area (docs/methods.md, figures), cut to 0 … 1. It
 * says how far the curve at one x may be off for new rows, not how far a whole curve may be.
 *
 * @param parts the curve of each repeat (of each split, where splits are scored by themselves)
 * @param mean of the parts
 * @param low lower end of the band at the points of the grid; empty where there is no band
 * @param high upper end
 */
public record MeanCurve(List<Curve> parts, Curve mean, List<Double> low, List<Double> high) {
    /** How many draws a band is made of, at most. */
    public static final int DRAWS = 500;

    /** How many points the grid of a band has, from 0 to 1. */
    public static final int GRID = 51;

    /** Copies the lists. */
    public MeanCurve {
        parts = List.copyOf(parts);
        low = List.copyOf(low);
        high = List.copyOf(high);
    }

    /** Returns the x of a point of the grid. */
    public static double grid(int g) {
        return g / (GRID - 1.0);
    }

    /**
     * Returns the curves of some candidates and classes, in their order, all of the same draws; empty where no repeat has
     * one.
     *
     * @throws IllegalArgumentException if hardly any fold has both classes, so that rows cannot be ranked
     */
    public static List<Optional<MeanCurve>> of(
            AlignedPredictions panel,
            InferenceSettings evidence,
            Parallel parallel,
            RankCurve.Kind kind,
            List<CandidateClass> wanted) {
        List<List<RankCurve>> ranked =
                parallel.map(wanted.size(), i -> panel.parts(wanted.get(i).candidate()).stream()
                        .map(o -> RankCurve.of(kind, o, wanted.get(i).classIndex()))
                        .toList());
        double[][][] drawn = drawn(panel, evidence, parallel, ranked);
        return parallel.map(
                wanted.size(), i -> of(panel, evidence.level(), kind, wanted.get(i), ranked.get(i), drawn[i]));
    }

    private static Optional<MeanCurve> of(
            AlignedPredictions panel,
            double level,
            RankCurve.Kind kind,
            CandidateClass wanted,
            List<RankCurve> ranked,
            double[][] drawn) {
        int candidate = wanted.candidate();
        String name = (kind == RankCurve.Kind.ROC ? "auc" : "average-precision") + ":class="
                + panel.task().data().classes().labels().get(wanted.classIndex());
        Metric metric = Task.of(panel.task().data(), panel.task().splits(), List.of(MetricName.parse(name)))
                .metrics()
                .get(0);
        List<Curve> parts = ranked.stream().flatMap(r -> r.plain().stream()).toList();
        if (parts.isEmpty()) {
            return Optional.empty();
        }
        Curve mean = Curve.mean(parts, ones(parts.size()));
        double[] areas = Arrays.stream(drawn)
                .filter(d -> d.length > 0)
                .mapToDouble(d -> d[GRID])
                .toArray();
        Variance variance = areas.length < 2
                ? new Variance(0, 0, 0, 0, 0, 0)
                : new VarianceModel(panel, metric, panel.units(), List.of(candidate), Parallel.of(1))
                        .ofMean(candidate, areas);
        if (!(variance.raw() > 0)) {
            return Optional.of(new MeanCurve(parts, mean, List.of(), List.of()));
        }
        List<Double> low = new ArrayList<>();
        List<Double> high = new ArrayList<>();
        double tail = (1 - level) / 2;
        for (int g = 0; g < GRID; g++) {
            int at = g;
            double[] values = Arrays.stream(drawn)
                    .filter(d -> d.length > 0)
                    .mapToDouble(d -> d[at])
                    .sorted()
                    .toArray();
            double centre = VarianceModel.mean(values);
            double own = mean.at(grid(g));
            low.add(cut(own + variance.widening() * (Quantiles.of(values, tail) - centre)));
            high.add(cut(own + variance.widening() * (Quantiles.of(values, 1 - tail) - centre)));
        }
        return Optional.of(new MeanCurve(parts, mean, low, high));
    }

    private static double cut(double y) {
        return Math.max(0, Math.min(1, y));
    }

    private static double[] ones(int n) {
        double[] ones = new double[n];
        Arrays.fill(ones, 1);
        return ones;
    }

    /**
     * By what is wanted and draw the mean curve at the points of the grid, then its area; nothing where more than half the
     * parts have none.
     */
    private static double[][][] drawn(
            AlignedPredictions panel, InferenceSettings evidence, Parallel parallel, List<List<RankCurve>> wanted) {
        int draws = Math.min(DRAWS, evidence.draws());
        double[][][] drawn = new double[wanted.size()][draws][];
        new Bootstrap(panel, draws, parallel).eachDraw((draw, byRow) -> {
            RowWeights weights = new RowWeights(byRow);
            for (int i = 0; i < drawn.length; i++) {
                drawn[i][draw] = mean(wanted.get(i), weights);
            }
        });
        return drawn;
    }

    private static double[] mean(List<RankCurve> parts, RowWeights weights) {
        double[] sum = new double[GRID + 1];
        int used = 0;
        for (RankCurve part : parts) {
            double[] values = part.at(GRID, weights);
            used += values.length > 0 ? 1 : 0;
            for (int g = 0; g < values.length; g++) {
                sum[g] += values[g];
            }
        }
        int count = used;
        return 2 * used < parts.size()
                ? new double[0]
                : Arrays.stream(sum).map(s -> s / count).toArray();
    }
}

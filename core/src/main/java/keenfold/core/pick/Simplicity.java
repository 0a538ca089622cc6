package keenfold.core.pick;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.IntToDoubleFunction;
import java.util.stream.DoubleStream;
import keenfold.core.data.Checks;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.prepare.Setting;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;

/**
 * Which of two candidates is simpler: the smaller value of the measure of simplicity (sizes to two significant digits; of
 * kinds the tier, then the size); within a family then the known direction of the varied settings; then the better mean;
 * then the order of the plan.
 *
 * <p>Size measures flexibility, not readability, and leaves out the search for splits, columns and settings. A candidate
 * without a value is the least simple.
 */
public final class Simplicity {
    private static final int UNKNOWN = Integer.MIN_VALUE;

    private final List<Candidate> candidates;
    private final SimplerBy by;
    private final double[] values;
    private final double[] sizes;
    private final double[] keys;
    private final double[] roundedSizes;
    private final int[][] directions;

    private Simplicity(List<Candidate> candidates, SimplerBy by, double[] values, double[] sizes) {
        this.candidates = candidates;
        this.by = by;
        this.values = values;
        this.sizes = sizes;
        this.directions = new int[values.length][values.length];
        Arrays.stream(directions).forEach(row -> Arrays.fill(row, UNKNOWN));
        this.keys = new double[values.length];
        this.roundedSizes = Arrays.stream(sizes).map(Simplicity::rounded).toArray();
        Arrays.setAll(keys, c -> by == SimplerBy.SIZE || Double.isNaN(values[c]) ? rounded(values[c]) : values[c]);
    }

    /** Returns the preset order of a panel's candidates: by kind, and within a tier by the median size of their fits. */
    public static Simplicity of(AlignedPredictions panel) {
        return of(panel, SimplerBy.KIND);
    }

    /** Returns the order of a panel's candidates; ranks are those that the plan gives them. */
    public static Simplicity of(AlignedPredictions panel, SimplerBy by) {
        List<Candidate> all = panel.candidates();
        double[] sizes = new double[all.size()];
        Arrays.setAll(sizes, c -> medianSize(panel.fitsOf(c)));
        double[] values = new double[all.size()];
        Arrays.setAll(values, c -> switch (by) {
            case KIND -> all.get(c).tier();
            case SIZE -> sizes[c];
            case RANK -> all.get(c).rank().isPresent() ? all.get(c).rank().getAsInt() : Double.NaN;
            case TRAIN_TIME ->
                mean(panel.fitsOf(c).stream().mapToDouble(f -> f.times().trainWall()));
            case PREDICT_TIME ->
                mean(panel.fitsOf(c).stream().mapToDouble(f -> f.times().predictWall()));
            case COLUMNS ->
                median(panel.fitsOf(c).stream()
                        .mapToDouble(f -> f.making().columns())
                        .filter(n -> n >= 0));
        });
        return new Simplicity(all, by, values, sizes);
    }

    /**
     * Returns an order that the user states.
     *
     * @param simplestFirst names of candidates or of whole families, the simplest first; those left out have no rank
     * @throws IllegalArgumentException if nothing is called so
     */
    public static Simplicity ranked(AlignedPredictions panel, List<String> simplestFirst) {
        List<Candidate> all = panel.candidates();
        double[] sizes = new double[all.size()];
        Arrays.setAll(sizes, c -> medianSize(panel.fitsOf(c)));
        double[] values = new double[all.size()];
        Arrays.fill(values, Double.NaN);
        for (int place = 0; place < simplestFirst.size(); place++) {
            String name = simplestFirst.get(place);
            boolean found = false;
            for (int c = 0; c < values.length; c++) {
                if (all.get(c).name().equals(name) || (all.get(c).family().equals(name) && Double.isNaN(values[c]))) {
                    values[c] = place + 1;
                    found = true;
                }
            }
            Checks.that(found, "no candidate or family is called \"%s\"", name);
        }
        return new Simplicity(all, SimplerBy.RANK, values, sizes);
    }

    private static double mean(DoubleStream values) {
        return values.average().orElse(Double.NaN);
    }

    private static double median(DoubleStream values) {
        double[] sorted = values.sorted().toArray();
        int n = sorted.length;
        return n == 0 ? Double.NaN : (sorted[(n - 1) / 2] + sorted[n / 2]) / 2;
    }

    /** Returns the measure of simplicity. */
    public SimplerBy by() {
        return by;
    }

    /** Returns the value by which a candidate is ordered, NaN if it has none. */
    public double value(int candidate) {
        return values[candidate];
    }

    private static double medianSize(List<Fit> fits) {
        return median(fits.stream().mapToDouble(Fit::size).filter(s -> !Double.isNaN(s)));
    }

    /** Returns the median size of a candidate's fits, NaN if it has none. */
    public double size(int candidate) {
        return sizes[candidate];
    }

    /**
     * Returns candidates in order, the simplest first.
     *
     * @param turnedMean mean by candidate, turned so that higher is better
     */
    public List<Integer> ordered(List<Integer> some, IntToDoubleFunction turnedMean) {
        return some.stream().sorted((a, b) -> compare(a, b, turnedMean)).toList();
    }

    /**
     * Compares two candidates; negative if the first is simpler.
     *
     * @param turnedMean mean by candidate, turned so that higher is better
     */
    int compare(int a, int b, IntToDoubleFunction turnedMean) {
        int byValue = Double.compare(keys[a], keys[b]);
        if (byValue != 0) {
            return byValue;
        }
        int bySize = by == SimplerBy.KIND ? Double.compare(roundedSizes[a], roundedSizes[b]) : 0;
        if (bySize != 0) {
            return bySize;
        }
        int byDirection = direction(a, b);
        if (byDirection != 0) {
            return byDirection;
        }
        int byMean = Double.compare(turnedMean.applyAsDouble(b), turnedMean.applyAsDouble(a));
        return byMean != 0 ? byMean : Integer.compare(a, b);
    }

    /** A size to two significant digits; no size, and one beyond all numbers, is infinite. */
    static double rounded(double size) {
        if (Double.isNaN(size) || Double.isInfinite(size)) {
            return Double.POSITIVE_INFINITY;
        }
        return new java.math.BigDecimal(size)
                .round(new java.math.MathContext(2))
                .doubleValue();
    }

    /** Asked for again and again, draw by draw. */
    private int direction(int a, int b) {
        if (directions[a][b] == UNKNOWN) {
            directions[a][b] = direction(candidates.get(a), candidates.get(b));
        }
        return directions[a][b];
    }

    private static int direction(Candidate a, Candidate b) {
        if (!a.family().equals(b.family())) {
            return 0;
        }
        for (String name : a.varied()) {
            Optional<Setting> setting = a.recipe().setting(name);
            int order = setting.map(s -> s.simplest(
                            a.settings().values().getOrDefault(name, ""),
                            b.settings().values().getOrDefault(name, "")))
                    .orElse(0);
            if (order != 0) {
                return order;
            }
        }
        return 0;
    }
}

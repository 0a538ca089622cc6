package keenfold.core.pick;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.IntToDoubleFunction;
import keenfold.core.infer.Panel;
import keenfold.core.prepare.Setting;
import keenfold.core.run.Candidate;
import keenfold.core.run.Fit;

/**
 * Which of two candidates is simpler: the smaller size to two significant digits; within a family then the known
 * direction of the varied settings; then the better mean; then the order of the plan.
 *
 * <p>Size measures flexibility, not readability, and leaves out the search for splits, columns and settings. A candidate
 * without a size is the least simple.
 */
public final class Simplicity {
    private final List<Candidate> candidates;
    private final double[] sizes;

    private Simplicity(List<Candidate> candidates, double[] sizes) {
        this.candidates = candidates;
        this.sizes = sizes;
    }

    /** Returns the order of a panel's candidates, by the median size of their fits. */
    public static Simplicity of(Panel panel) {
        double[] sizes = new double[panel.candidates().size()];
        Arrays.setAll(sizes, c -> medianSize(panel.fitsOf(c)));
        return new Simplicity(panel.candidates(), sizes);
    }

    private static double medianSize(List<Fit> fits) {
        double[] sorted = fits.stream()
                .mapToDouble(Fit::size)
                .filter(s -> !Double.isNaN(s))
                .sorted()
                .toArray();
        int n = sorted.length;
        return n == 0 ? Double.NaN : (sorted[(n - 1) / 2] + sorted[n / 2]) / 2;
    }

    /** Returns the median size of a candidate's fits, NaN if it has none. */
    public double size(int candidate) {
        return sizes[candidate];
    }

    /**
     * Compares two candidates; negative if the first is simpler.
     *
     * @param turnedMean mean by candidate, turned so that higher is better
     */
    int compare(int a, int b, IntToDoubleFunction turnedMean) {
        int bySize = Double.compare(rounded(sizes[a]), rounded(sizes[b]));
        if (bySize != 0) {
            return bySize;
        }
        int byDirection = direction(candidates.get(a), candidates.get(b));
        if (byDirection != 0) {
            return byDirection;
        }
        int byMean = Double.compare(turnedMean.applyAsDouble(b), turnedMean.applyAsDouble(a));
        return byMean != 0 ? byMean : Integer.compare(a, b);
    }

    /** A size to two significant digits; no size is infinite. */
    static double rounded(double size) {
        if (Double.isNaN(size)) {
            return Double.POSITIVE_INFINITY;
        }
        return new java.math.BigDecimal(size)
                .round(new java.math.MathContext(2))
                .doubleValue();
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

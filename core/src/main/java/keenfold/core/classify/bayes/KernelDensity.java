package keenfold.core.classify.bayes;

import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Numbers;
import keenfold.core.data.Vector;
import keenfold.core.data.WeightedSort;
import keenfold.core.learned.ColumnDensities;
import keenfold.core.learned.FitFailure;
import keenfold.core.prepare.Training;

/**
 * The density of one class's values of a column as a sum of normal kernels, one at each value.
 *
 * <p>Definition: f(x) = Σ wᵢ·φ((x − xᵢ)/h)/(W·h), with h = 0.9·min(s, IQR/1.34)·W^(−1/5), s the weighted standard deviation
 * (divisor W) and IQR the distance of the weighted quartiles (s alone where they are equal); never below {@code least}.
 * Terms below e⁻⁴⁰ of the greatest are left out.
 *
 * <p>Reference: Silverman (1986), Density Estimation for Statistics and Data Analysis, section 3.4.2; in naive Bayes, John
 * and Langley (1995), UAI.
 */
final class KernelDensity {
    private static final double NEGLIGIBLE = 40;
    private static final double LOG_ROOT_TWO_PI = StrictMath.log(2 * Math.PI) / 2;
    private static final int PROBES = 200;

    private final double[] value;
    private final double[] weight;
    private final double total;
    private final double width;

    private KernelDensity(double[] value, double[] weight, double total, double width) {
        this.value = value;
        this.weight = weight;
        this.total = total;
        this.width = width;
    }

    /** The density of the values that rows of a class have; none, if they have no value. */
    static Optional<KernelDensity> of(Numbers column, Training training, int c, double least) {
        int[] rows = IntStream.range(0, column.rows())
                .filter(i -> training.target(i) == c && !column.missing(i))
                .toArray();
        if (rows.length == 0) {
            return Optional.empty();
        }
        double[] own = IntStream.of(rows).mapToDouble(column::get).toArray();
        int[] order = WeightedSort.order(own);
        double[] value = new double[rows.length];
        double[] weight = new double[rows.length];
        double total = 0;
        double sum = 0;
        for (int i = 0; i < rows.length; i++) {
            value[i] = own[order[i]];
            weight[i] = training.weight(rows[order[i]]);
            total += weight[i];
            sum += weight[i] * value[i];
        }
        double squares = 0;
        for (int i = 0; i < rows.length; i++) {
            squares += weight[i] * (value[i] - sum / total) * (value[i] - sum / total);
        }
        double sd = Math.sqrt(squares / total);
        double quartiles = (quantile(value, weight, 0.75 * total) - quantile(value, weight, 0.25 * total)) / 1.34;
        double scale = quartiles > 0 ? Math.min(sd, quartiles) : sd;
        double width = Math.max(least, 0.9 * scale * StrictMath.pow(total, -0.2));
        return Optional.of(new KernelDensity(value, weight, total, width));
    }

    /** The normal density, as one kernel. */
    static KernelDensity normal(double mean, double sd) {
        return new KernelDensity(new double[] {mean}, new double[] {1}, 1, sd);
    }

    /** The first value at which the weight so far reaches a share. */
    private static double quantile(double[] value, double[] weight, double share) {
        double sum = 0;
        for (int i = 0; i < value.length; i++) {
            sum += weight[i];
            if (sum >= share) {
                return value[i];
            }
        }
        return Double.NaN;
    }

    ColumnDensities.Kernel learned() {
        return new ColumnDensities.Kernel(Vector.of(value), Vector.of(weight), total, width);
    }

    static KernelDensity restored(ColumnDensities.Kernel learned) {
        return new KernelDensity(
                learned.values().toArray(), learned.weights().toArray(), learned.total(), learned.width());
    }

    /** Returns ln f(x). */
    double log(double x) {
        int at = nearest(x);
        double least = squared(x, at);
        double sum = 0;
        for (int i = at; i >= 0 && squared(x, i) - least < NEGLIGIBLE; i--) {
            sum += weight[i] * StrictMath.exp(least - squared(x, i));
        }
        for (int i = at + 1; i < value.length && squared(x, i) - least < NEGLIGIBLE; i++) {
            sum += weight[i] * StrictMath.exp(least - squared(x, i));
        }
        return StrictMath.log(sum / (total * width)) - least - LOG_ROOT_TWO_PI;
    }

    private double squared(double x, int i) {
        double off = (x - value[i]) / width;
        return off * off / 2;
    }

    private int nearest(double x) {
        int from = 0;
        int to = value.length - 1;
        while (from < to) {
            int middle = (from + to) >>> 1;
            if (value[middle] < x) {
                from = middle + 1;
            } else {
                to = middle;
            }
        }
        return from > 0 && x - value[from - 1] <= Math.abs(value[from] - x) ? from - 1 : from;
    }

    /**
     * The equivalent number of kernels: the trace of the smoother with these kernels, Σ wᵢ·φ(0)/Σ_j w_j·φ((xᵢ − x_j)/h), from
     * at most some 200 of the values, evenly spaced by rank.
     */
    double kernels() {
        double trace = 0;
        double probed = 0;
        int step = Math.max(1, value.length / PROBES);
        for (int i = 0; i < value.length; i += step) {
            FitFailure.ifInterrupted();
            // f(xᵢ)·W·h·√(2π) is the sum over j.
            double all = StrictMath.exp(log(value[i]) + LOG_ROOT_TWO_PI) * total * width;
            trace += weight[i] * weight[i] / all;
            probed += weight[i];
        }
        return trace / probed * total;
    }
}

package keenfold.core.metric;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import keenfold.core.data.Checks;

/**
 * A curve over 0 … 1 that may jump: a ROC curve, or precision against recall.
 *
 * <p>Shapes: {@code size()} points in order of rising x; two points of the same x are a jump. Immutable.
 */
public final class Curve {
    private final double[] x;
    private final double[] y;

    private Curve(double[] x, double[] y) {
        this.x = x;
        this.y = y;
    }

    /** Returns a curve through points; the arrays are kept. */
    static Curve of(double[] x, double[] y) {
        return new Curve(x, y);
    }

    /**
     * Returns the mean of curves at each x, each with a weight: the area under it is the mean of their areas.
     *
     * @param weights not negative, not all 0
     */
    public static Curve mean(List<Curve> curves, double[] weights) {
        Checks.that(!curves.isEmpty() && curves.size() == weights.length, "%d curves", curves.size());
        double[] breaks = curves.stream()
                .flatMapToDouble(c -> Arrays.stream(c.x))
                .sorted()
                .distinct()
                .toArray();
        double[] before = new double[breaks.length];
        double[] after = new double[breaks.length];
        double total = Arrays.stream(weights).sum();
        for (int c = 0; c < weights.length; c++) {
            curves.get(c).add(breaks, weights[c] / total, before, after);
        }
        List<Double> xs = new ArrayList<>();
        List<Double> ys = new ArrayList<>();
        for (int i = 0; i < breaks.length; i++) {
            xs.add(breaks[i]);
            ys.add(before[i]);
            if (after[i] != before[i]) {
                xs.add(breaks[i]);
                ys.add(after[i]);
            }
        }
        return new Curve(
                xs.stream().mapToDouble(Double::doubleValue).toArray(),
                ys.stream().mapToDouble(Double::doubleValue).toArray());
    }

    /** Adds the values on both sides of rising break points, each weighted. */
    private void add(double[] breaks, double weight, double[] before, double[] after) {
        int at = 0;
        for (int i = 0; i < breaks.length; i++) {
            while (at < x.length && x[at] < breaks[i]) {
                at++;
            }
            double first;
            double last;
            if (at < x.length && x[at] == breaks[i]) {
                first = y[at];
                while (at + 1 < x.length && x[at + 1] == breaks[i]) {
                    at++;
                }
                last = y[at];
            } else if (at == 0 || at == x.length) {
                first = at == 0 ? y[0] : y[x.length - 1];
                last = first;
            } else {
                first = y[at - 1] + (y[at] - y[at - 1]) * ((breaks[i] - x[at - 1]) / (x[at] - x[at - 1]));
                last = first;
            }
            before[i] += weight * first;
            after[i] += weight * last;
        }
    }

    /** Returns the value at some x, after the jump if there is one there. */
    public double at(double where) {
        double[] before = new double[1];
        double[] after = new double[1];
        add(new double[] {where}, 1, before, after);
        return after[0];
    }

    /** Returns the values at equally many x from 0 to 1, after jumps. */
    public double[] at(int points) {
        double[] where = new double[points];
        Arrays.setAll(where, g -> g / (points - 1.0));
        double[] before = new double[points];
        double[] after = new double[points];
        add(where, 1, before, after);
        return after;
    }

    /** Returns the area under the curve. */
    public double area() {
        double area = 0;
        for (int i = 1; i < x.length; i++) {
            area += (x[i] - x[i - 1]) * (y[i] + y[i - 1]) / 2;
        }
        return area;
    }

    /** Returns the number of points. */
    public int size() {
        return x.length;
    }

    /** Returns the x of a point. */
    public double x(int i) {
        return x[i];
    }

    /** Returns the y of a point. */
    public double y(int i) {
        return y[i];
    }
}

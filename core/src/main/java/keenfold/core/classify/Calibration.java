package keenfold.core.classify;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.data.State;
import keenfold.core.data.Vector;
import keenfold.core.data.WeightedSort;
import keenfold.core.learned.CalibrationCurve;

/** A map from class probabilities to others, learned from predictions of rows that were not trained on. */
public final class Calibration {
    private static final int MOST_STEPS = 100;

    private final List<CalibrationCurve> curves;
    private final double parameters;

    /** Returns the curves: of two classes one, for the second, of more one a class. */
    public List<CalibrationCurve> curves() {
        return curves;
    }

    /** Returns what was learned, as a model file keeps it. */
    public State state() {
        return State.of("calibration")
                .withParts(
                        "curves", curves.stream().map(CalibrationCurve::state).toList())
                .with("parameters", parameters);
    }

    /**
     * Returns the calibration of a state.
     *
     * @throws IllegalArgumentException if it is none of one
     */
    public static Calibration restored(State state, int classes) {
        List<CalibrationCurve> curves =
                state.parts("curves").stream().map(CalibrationCurve::of).toList();
        Checks.that(
                curves.size() == (classes == 2 ? 1 : classes),
                "calibration: %d curves for %d classes",
                curves.size(),
                classes);
        return new Calibration(curves, state.number("parameters"));
    }

    private Calibration(List<CalibrationCurve> curves, double parameters) {
        this.curves = List.copyOf(curves);
        this.parameters = parameters;
    }

    /**
     * Fits logistic curves.
     *
     * <p>Definition (Platt 2000): p′ = 1/(1 + exp(−a·f − b)), f the log-odds of p clipped to 1e-6 … 1 − 1e-6; a and b
     * maximise the likelihood of the targets (W₊ + 1)/(W₊ + 2) for rows of the class and 1/(W₋ + 2) for others, by Newton's
     * method. A slope below 0, which would turn the order of rows, is set to 0.
     *
     * @param probability K values per row, row after row
     * @param target class index per row
     * @param weight case weight per row
     */
    public static Calibration platt(double[] probability, int[] target, double[] weight, int classes) {
        return of(probability, target, weight, classes, true);
    }

    /**
     * Fits rising step functions by pooling neighbours that violate the order (Ayer et al. 1955); between two steps the
     * nearer one holds.
     *
     * @param probability K values per row, row after row
     * @param target class index per row
     * @param weight case weight per row
     */
    public static Calibration isotonic(double[] probability, int[] target, double[] weight, int classes) {
        return of(probability, target, weight, classes, false);
    }

    private static Calibration of(double[] probability, int[] target, double[] weight, int classes, boolean platt) {
        // Of two classes one curve serves both.
        int count = classes == 2 ? 1 : classes;
        List<CalibrationCurve> curves = new ArrayList<>();
        double parameters = 0;
        for (int k = 0; k < count; k++) {
            int c = classes == 2 ? 1 : k;
            double[] p = new double[target.length];
            Arrays.setAll(p, i -> probability[i * classes + c]);
            boolean[] is = new boolean[target.length];
            for (int i = 0; i < is.length; i++) {
                is[i] = target[i] == c;
            }
            if (platt) {
                curves.add(platt(p, is, weight));
                parameters += 2;
            } else {
                CalibrationCurve.Isotonic steps = isotonic(p, is, weight);
                curves.add(steps);
                parameters += steps.values().size();
            }
        }
        return new Calibration(curves, classes > 2 ? parameters * (classes - 1) / classes : parameters);
    }

    /** Returns how many parameters were fitted, of each class but one. */
    public double parameters() {
        return parameters;
    }

    /** Returns calibrated probabilities, K per row; rows that get none of any class keep what they had. */
    public double[] apply(double[] probability, int classes) {
        double[] made = probability.clone();
        for (int i = 0; i < made.length; i += classes) {
            if (classes == 2) {
                made[i + 1] = curves.get(0).of(probability[i + 1]);
                made[i] = 1 - made[i + 1];
                continue;
            }
            double sum = 0;
            for (int c = 0; c < classes; c++) {
                made[i + c] = curves.get(c).of(probability[i + c]);
                sum += made[i + c];
            }
            for (int c = 0; c < classes; c++) {
                made[i + c] = sum > 0 ? made[i + c] / sum : probability[i + c];
            }
        }
        return made;
    }

    private static CalibrationCurve platt(double[] p, boolean[] is, double[] weight) {
        double[] line = line(Arrays.stream(p).map(CalibrationCurve::logOdds).toArray(), is, weight);
        return new CalibrationCurve.Platt(line[0], line[1]);
    }

    /**
     * Returns a and b of 1/(1 + exp(−(a·f + b))), with a ≥ 0, that say best which rows are of a class; a class of m rows
     * counts as certain to 1/(m + 2) only.
     *
     * @param f any value per row
     * @param is whether it is of the class
     */
    public static double[] line(double[] f, boolean[] is, double[] weight) {
        double positive = 0;
        double negative = 0;
        for (int i = 0; i < f.length; i++) {
            positive += is[i] ? weight[i] : 0;
            negative += is[i] ? 0 : weight[i];
        }
        double high = (positive + 1) / (positive + 2);
        double low = 1 / (negative + 2);
        double[] best = newton(f, is, weight, high, low, true);
        return best[0] < 0 ? newton(f, is, weight, high, low, false) : best;
    }

    /** The a and b of greatest likelihood; a stays 0 without {@code slope}. */
    private static double[] newton(double[] f, boolean[] is, double[] weight, double high, double low, boolean slope) {
        double[] at = {slope ? 1 : 0, 0};
        double before = loss(f, is, weight, high, low, at);
        for (int step = 0; step < MOST_STEPS; step++) {
            double g0 = 0;
            double g1 = 0;
            double h00 = 1e-12;
            double h01 = 0;
            double h11 = 1e-12;
            for (int i = 0; i < f.length; i++) {
                double p = CalibrationCurve.logistic(at[0] * f[i] + at[1]);
                double off = weight[i] * ((is[i] ? high : low) - p);
                double bend = weight[i] * p * (1 - p);
                g0 += off * f[i];
                g1 += off;
                h00 += bend * f[i] * f[i];
                h01 += bend * f[i];
                h11 += bend;
            }
            double determinant = h00 * h11 - h01 * h01;
            // Scores that are all alike leave the slope open.
            boolean both = slope && determinant > 1e-12 * h00 * h11;
            double move0 = both ? (h11 * g0 - h01 * g1) / determinant : 0;
            double move1 = both ? (h00 * g1 - h01 * g0) / determinant : g1 / h11;
            double share = 1;
            double[] next = {at[0] + move0, at[1] + move1};
            double now = loss(f, is, weight, high, low, next);
            while (!(now <= before + 1e-13 * Math.abs(before)) && share > 1e-10) {
                share /= 2;
                next = new double[] {at[0] + share * move0, at[1] + share * move1};
                now = loss(f, is, weight, high, low, next);
            }
            at = next;
            before = now;
            if (Math.abs(move0) + Math.abs(move1) <= 1e-10 * (1 + Math.abs(at[0]) + Math.abs(at[1]))) {
                break;
            }
        }
        return at;
    }

    private static double loss(double[] f, boolean[] is, double[] weight, double high, double low, double[] at) {
        double sum = 0;
        for (int i = 0; i < f.length; i++) {
            double eta = at[0] * f[i] + at[1];
            double t = is[i] ? high : low;
            sum += weight[i] * (Math.max(0, eta) - t * eta + StrictMath.log1p(StrictMath.exp(-Math.abs(eta))));
        }
        return sum;
    }

    private static CalibrationCurve.Isotonic isotonic(double[] p, boolean[] is, double[] weight) {
        int[] order = WeightedSort.order(p);
        double[] low = new double[order.length];
        double[] high = new double[order.length];
        double[] sum = new double[order.length];
        double[] all = new double[order.length];
        int count = 0;
        for (int i = 0; i < order.length; ) {
            double here = p[order[i]];
            double own = 0;
            double whole = 0;
            for (; i < order.length && p[order[i]] == here; i++) {
                own += is[order[i]] ? weight[order[i]] : 0;
                whole += weight[order[i]];
            }
            low[count] = here;
            high[count] = here;
            sum[count] = own;
            all[count++] = whole;
            // Compared across, so that no division decides.
            while (count > 1 && sum[count - 2] * all[count - 1] >= sum[count - 1] * all[count - 2]) {
                sum[count - 2] += sum[count - 1];
                all[count - 2] += all[count - 1];
                high[count - 2] = high[count - 1];
                count--;
            }
        }
        double[] value = new double[count];
        for (int s = 0; s < count; s++) {
            value[s] = sum[s] / all[s];
        }
        return new CalibrationCurve.Isotonic(
                Vector.of(Arrays.copyOf(low, count)), Vector.of(Arrays.copyOf(high, count)), Vector.of(value));
    }
}

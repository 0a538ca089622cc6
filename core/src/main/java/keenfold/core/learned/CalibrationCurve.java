package keenfold.core.learned;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Function;
import keenfold.core.data.Checks;
import keenfold.core.data.State;
import keenfold.core.data.Vector;

/** A rising function from 0 … 1 to 0 … 1 that makes a probability mean what it says. */
public sealed interface CalibrationCurve permits CalibrationCurve.Platt, CalibrationCurve.Isotonic {
    /** The log-odds of probabilities are taken within 1e-6 … 1 − 1e-6. */
    double CLIP = 1e-6;

    /** Returns the calibrated probability. */
    double of(double p);

    /** Returns it as a model file keeps it. */
    State state();

    /** Returns what is done with a curve of its form. */
    <R> R match(Function<Platt, R> platt, Function<Isotonic, R> isotonic);

    /** Returns ln(p/(1 − p)) of a probability within 1e-6 … 1 − 1e-6. */
    static double logOdds(double p) {
        double clipped = Math.max(CLIP, Math.min(1 - CLIP, p));
        return StrictMath.log(clipped / (1 - clipped));
    }

    /** Returns 1/(1 + exp(−f)). */
    static double logistic(double f) {
        return 1 / (1 + StrictMath.exp(-f));
    }

    /** Returns the curve of a state. */
    static CalibrationCurve of(State state) {
        Map<String, Function<State, CalibrationCurve>> makers = new LinkedHashMap<>();
        makers.put("platt", s -> new Platt(s.number("slope"), s.number("offset")));
        makers.put("isotonic", Isotonic::of);
        return state.made("calibration", makers);
    }

    /**
     * A logistic curve of the log-odds (Platt 2000).
     *
     * @param slope at least 0
     * @param offset of the log-odds
     */
    record Platt(double slope, double offset) implements CalibrationCurve {
        @Override
        public double of(double p) {
            return CalibrationCurve.logistic(slope * CalibrationCurve.logOdds(p) + offset);
        }

        @Override
        public State state() {
            return State.of("platt").with("slope", slope).with("offset", offset);
        }

        @Override
        public <R> R match(Function<Platt, R> platt, Function<Isotonic, R> isotonic) {
            return platt.apply(this);
        }
    }

    /**
     * A rising step function; between two steps the nearer one holds.
     *
     * @param low least probability of each step, rising
     * @param high greatest probability of each step
     * @param values of each step, rising
     */
    record Isotonic(Vector low, Vector high, Vector values) implements CalibrationCurve {
        @Override
        public double of(double p) {
            int step = 0;
            for (int from = 0, to = low.size() - 1; from <= to; ) {
                int middle = (from + to) >>> 1;
                if (low.get(middle) <= p) {
                    step = middle;
                    from = middle + 1;
                } else {
                    to = middle - 1;
                }
            }
            boolean between = p > high.get(step) && step + 1 < low.size();
            return values.get(between && p - high.get(step) > low.get(step + 1) - p ? step + 1 : step);
        }

        @Override
        public State state() {
            return State.of("isotonic").with("low", low).with("high", high).with("values", values);
        }

        private static Isotonic of(State s) {
            Vector low = s.numbers("low");
            Checks.that(low.size() > 0, "isotonic: no step");
            return new Isotonic(low, s.numbers("high", low.size()), s.numbers("values", low.size()));
        }

        @Override
        public <R> R match(Function<Platt, R> platt, Function<Isotonic, R> isotonic) {
            return isotonic.apply(this);
        }
    }
}

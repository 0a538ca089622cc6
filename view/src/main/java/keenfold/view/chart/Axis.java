package keenfold.view.chart;

import java.util.List;

/**
 * One axis of a frame.
 *
 * @param label what it shows, with its unit; may be empty
 * @param names what stands at 0, 1, 2 …; empty for numbers
 * @param low least value shown; NaN to go by the marks
 * @param high greatest value shown; NaN to go by the marks
 * @param log whether equal ratios are equally far apart; values must then be positive
 */
public record Axis(String label, List<String> names, double low, double high, boolean log) {
    /** Copies the names. */
    public Axis {
        names = List.copyOf(names);
    }

    static Axis numbers(String label) {
        return new Axis(label, List.of(), Double.NaN, Double.NaN, false);
    }

    static Axis shares(String label) {
        return new Axis(label, List.of(), 0, 1, false);
    }

    static Axis ratios(String label) {
        return new Axis(label, List.of(), Double.NaN, Double.NaN, true);
    }

    static Axis names(String label, List<String> names) {
        return new Axis(label, names, -0.6, names.size() - 0.4, false);
    }

    Axis from(double least) {
        return new Axis(label, names, least, high, log);
    }

    Axis to(double most) {
        return new Axis(label, names, low, most, log);
    }

    boolean named() {
        return !names.isEmpty();
    }
}

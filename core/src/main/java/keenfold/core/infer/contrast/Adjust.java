package keenfold.core.infer.contrast;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** How p-values of a family of comparisons are adjusted for being many. */
public enum Adjust {
    /** Step-down maximum of the pivots, which takes the correlation of the comparisons into account. */
    MAX_T("max-t", "step-down max-T"),
    /** Holm (1979), Scand. J. Stat. 6(2): valid however they hang together. */
    HOLM("holm", "Holm"),
    /** Not at all: each comparison for itself. */
    NONE("none", "not adjusted");

    private final String label;
    private final String words;

    Adjust(String label, String words) {
        this.label = label;
        this.words = words;
    }

    /** Returns the name in plans. */
    public String label() {
        return label;
    }

    /** Returns the name in sentences. */
    public String words() {
        return words;
    }

    /** Returns the names. */
    public static List<String> labels() {
        return Arrays.stream(values()).map(Adjust::label).toList();
    }

    /** Returns the adjustment of a name. */
    public static Optional<Adjust> of(String label) {
        return Arrays.stream(values()).filter(a -> a.label.equals(label)).findFirst();
    }

    /**
     * Returns p-values adjusted by Holm's step-down: p_(j)·(K − j + 1) for the j-th smallest of K, then running maximum, at
     * most 1.
     *
     * @param p K values; NaN (not tested) stays out of the count and becomes 1
     */
    public static double[] holm(double[] p) {
        double[] adjusted = new double[p.length];
        Arrays.fill(adjusted, 1);
        Integer[] rising = java.util.stream.IntStream.range(0, p.length)
                .filter(i -> !Double.isNaN(p[i]))
                .boxed()
                .sorted(java.util.Comparator.comparingDouble(i -> p[i]))
                .toArray(Integer[]::new);
        double running = 0;
        for (int j = 0; j < rising.length; j++) {
            running = Math.max(running, Math.min(1, p[rising[j]] * (rising.length - j)));
            adjusted[rising[j]] = running;
        }
        return adjusted;
    }
}

package keenfold.core.pick;

import java.util.Arrays;
import java.util.Optional;

/** How a candidate is chosen. */
public enum Rule {
    /**
     * The simplest candidate whose mean is no more than one standard error of the best mean below it, limit inclusive.
     *
     * <p>Reference: Breiman, Friedman, Olshen and Stone (1984), Classification and Regression Trees, section 3.4.3.
     */
    ONE_SE("one-se", "the simplest within one se of the best"),
    /** The candidate with the best mean. */
    BEST_MEAN("best-mean", "the best mean");

    private final String label;
    private final String meaning;

    Rule(String label, String meaning) {
        this.label = label;
        this.meaning = meaning;
    }

    /** Returns the name that plans use. */
    public String label() {
        return label;
    }

    /** Returns what it picks, in words. */
    public String meaning() {
        return meaning;
    }

    /** Returns where the rule comes from, empty if it speaks for itself. */
    public String source() {
        return this == ONE_SE
                ? "Breiman, Friedman, Olshen and Stone (1984), Classification and Regression Trees, section 3.4.3"
                : "";
    }

    /** Returns the rule of a name. */
    public static Optional<Rule> of(String label) {
        return Arrays.stream(values()).filter(r -> r.label.equals(label)).findFirst();
    }

    /** Returns the least turned mean that is eligible, NaN if the rule knows none and takes the best. */
    double threshold(double best, double se) {
        return switch (this) {
            case ONE_SE -> best - se;
            case BEST_MEAN -> Double.NaN;
        };
    }
}

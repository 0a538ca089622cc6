package keenfold.core.pick;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** By what one candidate is simpler than another. */
public enum SimplerBy {
    /** By what a person can read and check: the tier of the kind of classifier, and within a tier size. */
    KIND("kind"),
    /** The median effective number of parameters, to two significant digits. */
    SIZE("size"),
    /** The user's own order, 1 being the simplest. */
    RANK("rank"),
    /** The mean seconds of training; differs from run to run. */
    TRAIN_TIME("train-time"),
    /** The mean seconds of prediction; differs from run to run. */
    PREDICT_TIME("predict-time"),
    /** The median number of columns that the classifier was handed. */
    COLUMNS("columns");

    private final String label;

    SimplerBy(String label) {
        this.label = label;
    }

    /** Returns the name that plans use. */
    public String label() {
        return label;
    }

    /** Returns what its value is called. */
    public String measure() {
        return this == KIND ? "tier" : label;
    }

    /** Returns whether it changes from run to run. */
    public boolean timed() {
        return this == TRAIN_TIME || this == PREDICT_TIME;
    }

    /** Returns the names. */
    public static List<String> labels() {
        return Arrays.stream(values()).map(SimplerBy::label).toList();
    }

    /** Returns the order of a name. */
    public static Optional<SimplerBy> of(String label) {
        return Arrays.stream(values()).filter(s -> s.label.equals(label)).findFirst();
    }
}

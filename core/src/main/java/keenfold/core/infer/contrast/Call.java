package keenfold.core.infer.contrast;

import java.util.Locale;

/** What a contrast comes to. */
public enum Call {
    /** The candidate is better, beyond the error rate. */
    BETTER,
    /** The candidate is worse, beyond the error rate. */
    WORSE,
    /** The difference lies within the margin, or there is none at all. */
    EQUIVALENT,
    /** Neither can be said. */
    UNDECIDED,
    /** Nothing is said, because the splits do not allow it. */
    NONE;

    /** Returns the word in outputs. */
    public String label() {
        return name().toLowerCase(Locale.ROOT);
    }

    /** Returns the call seen from the other candidate. */
    public Call flipped() {
        return switch (this) {
            case BETTER -> WORSE;
            case WORSE -> BETTER;
            case EQUIVALENT, UNDECIDED, NONE -> this;
        };
    }
}

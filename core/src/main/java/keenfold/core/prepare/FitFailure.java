package keenfold.core.prepare;

/** A fit that gave no model for a reason that lies in the rows or the settings: recorded, and the run goes on. */
public final class FitFailure extends RuntimeException {
    private static final long serialVersionUID = 1;

    /** Makes a failure with its reason in one sentence. */
    public FitFailure(String reason) {
        super(reason);
    }
}

package keenfold.core.learned;

/** A fit that gave no model for a reason that lies in the rows or the settings: recorded, and the run goes on. */
public final class FitFailure extends RuntimeException {
    private static final long serialVersionUID = 1;

    /** Makes a failure with its reason in one sentence. */
    public FitFailure(String reason) {
        super(reason);
    }

    /**
     * Ends a fit whose time is over; to be called from loops that may take long.
     *
     * @throws FitFailure if the thread was interrupted, which it stays
     */
    public static void ifInterrupted() {
        if (Thread.currentThread().isInterrupted()) {
            throw new FitFailure("interrupted");
        }
    }
}

package keenfold.io;

/** A file that cannot be used: where, what is wrong, and what would be right, in one line. */
public class InputException extends RuntimeException {
    private static final long serialVersionUID = 1;

    /**
     * Makes one.
     *
     * @param place file, and line, column or key where they are known
     * @param cause what is wrong and what would be right
     */
    public InputException(String place, String cause) {
        super(place + ": " + cause);
    }

    /** Makes one that keeps the failure behind it for {@code --trace}. */
    public InputException(String place, String cause, Throwable behind) {
        super(place + ": " + cause, behind);
    }
}

package keenfold.io;

import java.util.Optional;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import keenfold.core.data.ValueException;

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

    /**
     * Runs something whose complaints about its arguments are about a place in a file: the one way from a {@link
     * ValueException} to a line that says where. What else is thrown is a fault of the program, and passes.
     *
     * @param place file, and line, column or key where they are known
     */
    public static <T> T at(String place, Supplier<T> made) {
        return at(place, made, why -> why);
    }

    /**
     * Does the same in other words.
     *
     * @param words what is said, from what was complained of
     */
    public static <T> T at(String place, Supplier<T> made, UnaryOperator<String> words) {
        try {
            return made.get();
        } catch (ValueException e) {
            throw new InputException(
                    place, words.apply(Optional.ofNullable(e.getMessage()).orElse("cannot be used")), e);
        }
    }
}

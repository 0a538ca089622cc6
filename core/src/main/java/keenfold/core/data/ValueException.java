package keenfold.core.data;

/**
 * A value that cannot be used, in words for the person who gave it: what it is, and what would be right. Made by {@link Checks}
 * alone, so that code that turns it into a message about a file or an option never blames the user for a fault of the program
 * or of a library, which throw other exceptions.
 */
public final class ValueException extends IllegalArgumentException {
    private static final long serialVersionUID = 1;

    ValueException(String message) {
        super(message);
    }

    ValueException(String message, Throwable cause) {
        super(message, cause);
    }
}

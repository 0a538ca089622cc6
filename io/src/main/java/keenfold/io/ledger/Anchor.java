package keenfold.io.ledger;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.Objects;
import java.util.Optional;

/**
 * Tells whether a name still leads to the file that was opened under it. A file that is deleted or replaced while it is open
 * can be written for hours, and all of that is lost when it is closed.
 */
final class Anchor {
    private final Path file;
    private final Optional<Object> key;

    private Anchor(Path file, Optional<Object> key) {
        this.file = file;
        this.key = key;
    }

    /** Remembers what the name leads to now. */
    static Anchor of(Path file) throws IOException {
        return new Anchor(file, key(file));
    }

    /** The file's own number; nothing where the system has none. */
    private static Optional<Object> key(Path file) throws IOException {
        return Optional.ofNullable(
                Files.readAttributes(file, BasicFileAttributes.class).fileKey());
    }

    /** Returns what became of the file, if its name no longer leads to it. */
    Optional<String> lost() {
        try {
            return Objects.equals(key(file), key) ? Optional.empty() : Optional.of("was replaced by another file");
        } catch (NoSuchFileException e) {
            return Optional.of("was deleted");
        } catch (IOException e) {
            return Optional.of("can no longer be reached (" + e.getMessage() + ")");
        }
    }
}

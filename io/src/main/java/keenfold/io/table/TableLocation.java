package keenfold.io.table;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import keenfold.io.InputException;
import keenfold.io.Reason;
import keenfold.io.TemporaryFiles;

/**
 * Where a table is: a file, a table or query of a database file ({@code FILE#TABLE}), or standard input ({@code -}).
 *
 * @param shown what messages call it
 * @param file the file; of standard input a copy
 * @param part what stands behind the {@code #}
 */
public record TableLocation(String shown, Path file, Optional<String> part) {
    /** What stands for standard input. */
    public static final String STANDARD_INPUT = "-";

    /** Standard input belongs to the whole process, and so does its copy. */
    private static Optional<Path> spooled = Optional.empty();

    /** Returns the location of one file. */
    public static TableLocation of(Path file) {
        return new TableLocation(file.toString(), file, Optional.empty());
    }

    /**
     * Returns the location that a text names.
     *
     * @param folders where a relative file is looked for, in order
     */
    public static TableLocation of(String text, List<Path> folders) {
        if (text.equals(STANDARD_INPUT)) {
            return new TableLocation("standard input", spool(), Optional.empty());
        }
        int hash = text.indexOf('#');
        Path whole = find(text, folders);
        if (hash <= 0 || Files.exists(whole)) {
            return of(whole);
        }
        Path file = find(text.substring(0, hash), folders);
        String part = text.substring(hash + 1).strip();
        return new TableLocation(file + "#" + part, file, Optional.of(part));
    }

    private static Path find(String text, List<Path> folders) {
        try {
            return folders.stream()
                    .map(f -> f.resolve(text))
                    .filter(Files::exists)
                    .findFirst()
                    .map(Path::normalize)
                    .filter(p -> !p.toString().isEmpty())
                    .orElse(folders.get(0).resolve(text));
        } catch (InvalidPathException e) {
            throw new InputException(text, "is no name of a file", e);
        }
    }

    /** Standard input can be read once, a table is read up to three times: so it is copied to a file, once. */
    private static synchronized Path spool() {
        if (spooled.isEmpty()) {
            try (InputStream in = System.in) {
                Path copy = TemporaryFiles.file();
                Files.copy(in, copy, java.nio.file.StandardCopyOption.REPLACE_EXISTING);
                spooled = Optional.of(copy);
            } catch (IOException e) {
                throw new InputException("standard input", "cannot be read: " + Reason.ofReading(e), e);
            }
        }
        return spooled.get();
    }
}

package keenfold.io;

import java.nio.file.Files;
import java.nio.file.Path;

/** What a file must be to be read as input: an ordinary one, that can be opened more than once and ends. */
public final class InputFile {
    /** What is wanted where standard input would do as well. */
    public static final String TABLE = "a table";

    private InputFile() {}

    /**
     * Makes sure that a path leads to an ordinary file.
     *
     * @param shown what messages call it
     * @param wanted what is expected, such as "a plan (YAML)"
     * @throws InputException if it is a folder, a pipe or a device; a path that leads nowhere is left to who opens it
     */
    public static void require(Path file, String shown, String wanted) {
        if (Files.isDirectory(file)) {
            throw new InputException(shown, "is a folder: expected " + wanted);
        }
        if (Files.exists(file) && !Files.isRegularFile(file)) {
            throw new InputException(
                    shown,
                    "is a pipe or a device, which cannot be read more than once: expected " + wanted
                            + (wanted.equals(TABLE)
                                    ? "; a table can be piped into standard input, which is named -"
                                    : ""));
        }
    }
}
